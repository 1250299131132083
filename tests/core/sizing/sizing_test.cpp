// Surge tank, pumps and the choice among alternatives: closed forms, a direct run, brute force.
#include <gtest/gtest.h>

#include <numbers>

#include "core/sizing/choice.h"
#include "core/sizing/pump_size.h"
#include "core/sizing/surge_size.h"
#include "core/starvation/surge.h"
#include "support/circuits.h"
#include "support/figures.h"
#include "support/random_shapes.h"
#include "support/simple_cars.h"

namespace uadze::sizing {
namespace {

using test::g;

/// Nothing left out for giving too much or too little.
const PumpSizeOptions whole_list{.plenty = 1e9, .hopeless = 0};

using circuit::ReturnTo;
using starvation::Course;
using starvation::FuelSystem;

TEST(SurgeSize, IsTheDrawOverTheBareSeconds) {
  // Bare for 5 s at 0.04 L/s.
  const FuelSystem car = test::surge_car(1e-3, 6e-5);
  const lap::Lap lap = test::corner_lap(1.5 * g, 5);
  const Course course = test::course_of(car, lap);
  const double needed = needed_volume(car, {&course}, 3e-3, 1.0, circuit::ReturnTo::surge_tank);
  EXPECT_NEAR(needed, 5 * 4e-5, 0.02 * 2e-4);
  // With the return to the main tank the main pump's whole flow is drawn.
  EXPECT_NEAR(needed_volume(car, {&course}, 3e-3, 1.2, circuit::ReturnTo::main_tank), 5 * 5e-5,
              0.02 * 2.5e-4);
  // Two laps: the harder one decides.
  const lap::Lap longer = test::corner_lap(1.5 * g, 7);
  const Course second = test::course_of(car, longer);
  EXPECT_NEAR(needed_volume(car, {&course, &second}, 3e-3, 1.0, circuit::ReturnTo::surge_tank), 7 * 4e-5,
              0.02 * 2.8e-4);
}

TEST(SurgeSize, NoVolumeIsEnoughForTooLittleLift) {
  // 5 of 25 s bare: 0.8 of the lift flow comes, 0.04 L/s are burnt.
  const FuelSystem car = test::surge_car(1e-3, 6e-5);
  const lap::Lap lap = test::corner_lap(1.5 * g, 5);
  const Course course = test::course_of(car, lap);
  EXPECT_TRUE(std::isinf(needed_volume(car, {&course}, 3e-3, 0.8, circuit::ReturnTo::surge_tank)));
  EXPECT_TRUE(std::isfinite(needed_volume(car, {&course}, 3e-3, 0.9, circuit::ReturnTo::surge_tank)));
}

TEST(SurgeSize, JustLastsInADirectRunAndAHundredthLessDoesNot) {
  for (double turn : {3.0, 6.0}) {
    FuelSystem car = test::surge_car(1e-3, 7e-5);
    const lap::Lap lap = test::corner_lap(1.5 * g, turn);
    const Course course = test::course_of(car, lap);
    const double needed =
        needed_volume(car, {&course}, 3e-3, 1.0, circuit::ReturnTo::surge_tank, {.resolution = 1e-4});
    for (const auto& [share, clean] : {std::pair{1.0, true}, {0.99, false}}) {
      car.surge->volume = share * needed;
      EXPECT_EQ(is_clean(car, test::course_of(car, lap), 3e-3), clean) << turn << " " << share;
    }
  }
}

TEST(SurgeSize, MoreLiftNeverNeedsMoreAndTheBridgeStays) {
  const FuelSystem car = test::surge_car(0.3e-3, 6e-5);
  const lap::Lap lap = test::corner_lap(1.5 * g, 5);
  const Course course = test::course_of(car, lap);
  const SurgeSizing size = size_surge(car, {&course}, 3e-3, {.lost_lift = 0});
  EXPECT_EQ(size.by_lap, size.needed);
  ASSERT_EQ(size.curves.size(), 2u);
  for (const auto& curve : size.curves)
    for (size_t k = 1; k < curve.points.size(); ++k)
      EXPECT_LE(curve.points[k].volume, curve.points[k - 1].volume * 1.01);
  EXPECT_NEAR(size.bridge, 2e-4, 0.03e-4);
  EXPECT_NEAR(size.bare_seconds, 5, 0.1);
  EXPECT_EQ(size.bare_place, "Long Left");
  EXPECT_EQ(size.bare_side, "pickup");
  EXPECT_NE(size.text.in().find("must be bridged"), std::string::npos) << size.text.in();
  EXPECT_LE(size.lift_enough, 6e-5 * (1 + 1e-9));
  EXPECT_EQ(size.working.value, size.needed);
  const auto deficit = std::find_if(size.working.inputs.begin(), size.working.inputs.end(),
                                    [](const Term& t) { return t.symbol == "C_deficit"; });
  ASSERT_NE(deficit, size.working.inputs.end());
  EXPECT_NEAR(deficit->value, size.needed, 0.03 * size.needed) << "a tall tank: tilt hardly counts";
  for (const auto& s : size.shapes) {
    EXPECT_NEAR(std::numbers::pi / 4 * s.diameter * s.diameter * s.height, std::max(size.needed, 0.2e-3),
                1e-9);
  }
  EXPECT_GT(size.shapes.front().sink, size.shapes.back().sink) << "slender first";
}

TEST(SurgeSize, IsNotUnderWhatItIsAlsoFor) {
  // 0.04 L/s burnt by hand: the one lift pump lost for 10 s, or late by 1 s. A tall tank keeps next to
  // nothing from its pickup.
  FuelSystem car = test::surge_car(1e-3, 6e-5);
  const lap::Lap lap = test::corner_lap(0.1 * g, 5);
  const Course course = test::course_of(car, lap);
  const SurgeSizing size = size_surge(car, {&course}, 30e-3, {.lift_factors = {1.0, 2.0}});
  EXPECT_LT(size.by_lap, 0.1e-3) << "always covered";
  EXPECT_NEAR(size.needed, size.by_lap + 0.4e-3, 0.01e-3) << "on top of the lap";
  ASSERT_EQ(size.floors.size(), 3u);
  EXPECT_EQ(size.floors[0].name, "the largest lift pump lost for 10 s");
  EXPECT_NEAR(size.floors[1].volume, 0.04e-3, 0.005e-3);
  EXPECT_EQ(size.floors[1].name, "the lift pumps' spin-up of 1 s");
  EXPECT_NE(size.text.in().find("largest lift pump lost"), std::string::npos) << size.text.in();
  // Bubbles of 0.1 m/s against 0.05 L/s: an area of 5 cm2 over 5 m of height.
  car.limits.bubble_rise = 0.1;
  const auto floors = surge_floors(car, course, 0, {.lost_lift = 0});
  EXPECT_NEAR(floors[0].volume, 5e-4 * 5, 1e-9);
  // Two like pumps: with one lost the other still brings 0.06 of 0.04.
  FuelSystem two = test::surge_car(1e-3, 6e-5);
  two.lift_pumps.push_back({"second", 6e-5});
  two.pickups.push_back(two.pickups[0]);
  two.pickups[1].feeds = "second";
  const Course both = test::course_of(two, lap);
  for (const SurgeFloor& f : surge_floors(two, both, 0))
    if (f.name.starts_with("the largest")) {
      EXPECT_EQ(f.volume, 0.0);
    }
}

TEST(SurgeSize, WantsLiftPumps) {
  const FuelSystem car = test::simple_car({0, 0.2, 0});
  const lap::Lap lap = test::corner_lap(1.5 * g, 5);
  const Course course = test::course_of(car, lap);
  EXPECT_THROW(size_surge(car, {&course}, 3e-3), InputError);
}

TEST(SurgeSize, CanBeCancelled) {
  const FuelSystem car = test::surge_car(0.3e-3, 6e-5);
  const lap::Lap lap = test::corner_lap(1.5 * g, 5);
  const Course course = test::course_of(car, lap);
  Progress progress;
  progress.cancel();
  EXPECT_THROW(size_surge(car, {&course}, 3e-3, {}, &progress), Cancelled);
}

TEST(Choice, KeepsExactlyWhatNothingBeats) {
  test::Random random(3);
  for (int n = 0; n < 40; ++n) {
    std::vector<Cost> costs;
    for (int k = 0; k < 30; ++k) {
      Cost c;
      for (double& v : c) v = std::floor(random.uniform(0, 6));
      costs.push_back(c);
    }
    const auto kept = non_dominated(costs);
    for (size_t i = 0; i < costs.size(); ++i) {
      bool beaten = false;
      for (size_t j = 0; j < costs.size(); ++j) {
        bool no_worse = true, better = false;
        for (size_t k = 0; k < 5; ++k)
          no_worse &= costs[j][k] <= costs[i][k], better |= costs[j][k] < costs[i][k];
        beaten |= no_worse && (better || (j < i && costs[j] == costs[i]));
      }
      EXPECT_EQ(std::count(kept.begin(), kept.end(), i) == 0, beaten);
    }
  }
}

TEST(PumpSize, ChoicesGiveWhatTheCircuitGivesWithThemAndMeetTheMargin) {
  const circuit::Case c = test::plain_case();
  const double demand = c.at.demand;
  const auto choices = main_pump_choices(c, demand, {.margin = 0.2, .low_supply = 0, .hot = 0});
  ASSERT_GT(choices.size(), 6u);
  for (const auto& p : choices) {
    EXPECT_EQ(p.meets, p.flow >= 1.2 * demand);
    EXPECT_NEAR(p.flow, circuit::available_flow(with_main_pumps(c, p)), 1e-9) << p.name();
    EXPECT_EQ(p.current > 0, p.turns == 0) << p.name();
  }
  for (size_t k = 1; k < choices.size(); ++k) {
    if (choices[k - 1].meets && choices[k].meets) {
      EXPECT_LE(choices[k - 1].turns > 0, choices[k].turns > 0) << "engine-driven ones stand behind";
    }
    if (choices[k - 1].meets && choices[k].meets && choices[k].turns == 0) {
      EXPECT_LE(choices[k - 1].current, choices[k].current);
    }
    EXPECT_FALSE(!choices[k - 1].meets && choices[k].meets) << "those that are enough come first";
  }
  // A tired alternator and hot fuel never give more.
  const auto harder = main_pump_choices(c, demand, {.margin = 0.2, .low_supply = 1.5, .hot = 20});
  for (const auto& p : choices)
    for (const auto& h : harder)
      if (h.name() == p.name() && p.flow > 0 && p.turns == 0) {
        EXPECT_LT(h.flow, p.flow);
      }
}

TEST(PumpSize, IsOfferedByItsRoleWhateverItsName) {
  circuit::Case c = test::plain_case();
  circuit::Catalogue own = *c.catalogue;
  circuit::PumpType pump = *find(own.pumps, "main pump, 340 l/h class");
  pump.name = "the red one";
  own.pumps.push_back(pump);
  pump.name = "the blue one", pump.role = circuit::PumpRole::feed;
  own.pumps.push_back(pump);
  pump.name = "the green one", pump.role = circuit::PumpRole::any;
  own.pumps.push_back(pump);
  c.catalogue = std::make_shared<const circuit::Catalogue>(own);
  const auto offered = [](const std::vector<PumpChoice>& choices, const char* name) {
    return std::any_of(choices.begin(), choices.end(), [&](const PumpChoice& p) { return p.type == name; });
  };
  const auto mains = main_pump_choices(c, c.at.demand, whole_list),
             lifts = lift_pump_choices(c, c.at.demand, whole_list);
  EXPECT_TRUE(offered(mains, "the red one"));
  EXPECT_FALSE(offered(lifts, "the red one"));
  EXPECT_TRUE(offered(mains, "the green one") && offered(lifts, "the green one"));
  c.circuit.engine_supply = circuit::EngineSupply::carburettor;
  EXPECT_TRUE(offered(main_pump_choices(c, c.at.demand, whole_list), "the blue one"));
}

// A car that asks for more than any single pump gives: one to four alike, a small with a staged one, pulses,
// two speeds.
TEST(PumpSize, OffersFourAlikeMixedStagesPulsesAndTwoSpeeds) {
  circuit::Case c = test::plain_case();
  c.circuit.back = {test::line(12, 1.0)}, c.circuit.feed = {test::line(12, 1.5)};
  const PumpSizeOptions how{.margin = 0.1, .low_supply = 0, .hot = 0, .plenty = 1e9, .hopeless = 0};
  const double demand = c.at.demand = 420 * test::litre_per_hour;
  const auto choices = main_pump_choices(c, demand, how);
  int alike[5] = {}, mixed = 0, held_back[3] = {};
  for (const PumpChoice& p : choices) {
    if (p.second.empty() && p.slow >= 1 && p.turns == 0) ++alike[p.count];
    const circuit::Case with = with_main_pumps(c, p);
    circuit::Case third = with;
    third.at.demand = demand / 3;
    if (!p.second.empty()) {
      ++mixed;
      EXPECT_TRUE(p.meets) << p.name();
      EXPECT_EQ(with.circuit.mains.size(), 2u);
      EXPECT_GE(circuit::available_flow(with_main_pumps(third, p.type, 1)), 1.1 * demand / 3) << p.name();
    }
    if (p.slow < 1) {
      ++held_back[static_cast<int>(p.control)];
      EXPECT_TRUE(p.meets) << p.name();
      EXPECT_EQ(circuit::run(with).pumps.back().share, 1.0) << "free at full demand";
      EXPECT_NEAR(circuit::run(third).pumps.back().share, p.slow, 1e-9);
      if (p.control == circuit::SpeedControl::stepped) {
        circuit::Case fast = with;
        fast.at.demand = 0.401 * demand;
        EXPECT_EQ(circuit::run(fast).pumps.back().share, 1.0) << "the second speed from two fifths on";
        fast.at.demand = 0.399 * demand;
        EXPECT_EQ(circuit::run(fast).regulator.mode, circuit::RegulatorMode::regulating) << p.name();
      }
      // As slow as still carries a third of the demand with the margin.
      EXPECT_EQ(circuit::run(third).regulator.mode, circuit::RegulatorMode::regulating) << p.name();
      for (const PumpChoice& free : choices)
        if (free.type == p.type && free.count == p.count && free.second.empty() && free.slow >= 1) {
          EXPECT_LT(p.electric, free.electric) << p.name();
        }
    }
  }
  for (int count = 1; count <= 4; ++count) EXPECT_EQ(alike[count], alike[1]) << count;
  EXPECT_GT(mixed, 0);
  EXPECT_GT(held_back[static_cast<int>(circuit::SpeedControl::modulated)], 0);
  EXPECT_GT(held_back[static_cast<int>(circuit::SpeedControl::stepped)], 0);
}

// A gear pump by hand: 600 L/h at 4000 turns less 9 L/h for each bar, straight in the speed.
TEST(PumpSize, AnEngineDrivenPumpGivesByItsTurnsAndHeatsByWhatItLifts) {
  circuit::Case c = test::plain_case();
  const auto at = [&](double rotation) {
    c.at.rotation = rotation;
    for (const PumpChoice& p : main_pump_choices(c, c.at.demand, {.low_supply = 0, .hot = 0, .plenty = 1e9}))
      if (p.type == "engine-driven gear pump, 600 l/h class") return p;
    return PumpChoice{};
  };
  const PumpChoice fast = at(8000 / 60.0), slow = at(5000 / 60.0);
  EXPECT_EQ(fast.turns, 0.5);
  EXPECT_EQ(fast.current, 0.0);
  EXPECT_EQ(fast.count, 1);
  EXPECT_NEAR(fast.flow - slow.flow, 225 * test::litre_per_hour, 12 * test::litre_per_hour);
  c.at.rotation = 8000 / 60.0, c.at.demand /= 3;
  const circuit::State third = circuit::run(with_main_pumps(c, fast));
  EXPECT_NEAR(fast.electric, third.pumps.back().flow * third.pumps.back().rise, 0.5);
  EXPECT_TRUE(at(0.0).type.empty()) << "how fast it turns is not known";
  // Where one is fitted its own turns count.
  c.circuit.mains[0].parts[0].type = fast.type, c.circuit.mains[0].parts[0].turns = 0.8;
  const PumpChoice own = at(5000 / 60.0);
  EXPECT_TRUE(own.fitted);
  EXPECT_EQ(own.turns, 0.8);
  EXPECT_NEAR(own.flow - fast.flow, 0.0, 6 * test::litre_per_hour) << "4000 turns either way";
}

// Against the whole list: what is left out gives plenty or next to nothing, and a car is never left without.
TEST(PumpSize, LeavesOutWhatNobodyWouldFit) {
  circuit::Case c = test::plain_case();
  const auto names = [](const std::vector<PumpChoice>& list, auto&& keep) {
    std::vector<std::string> out;
    for (const PumpChoice& p : list)
      if (keep(p)) out.push_back(p.name());
    return out;
  };
  const auto all = [](const PumpChoice&) { return true; };
  const PumpSizeOptions whole{.mixed = 0, .plenty = 1e9, .hopeless = 0};
  for (const double demand : {60.0, 150.0, 420.0, 900.0}) {
    SCOPED_TRACE(demand);
    const double need = demand * 1.1 * test::litre_per_hour;
    const auto of = [&](const std::vector<PumpChoice>& list) {
      return names(list, [&](const PumpChoice& p) {
        return p.fitted || (p.flow >= 0.5 * need && p.flow <= 3 * need);
      });
    };
    const auto full = main_pump_choices(c, demand * test::litre_per_hour, whole);
    const auto offered = main_pump_choices(c, demand * test::litre_per_hour, {.mixed = 0});
    EXPECT_EQ(names(offered, all), of(full));
    EXPECT_LT(offered.size(), full.size());
  }
  // Next to nothing is needed: the three smallest that do. More than all give: the three that give most.
  const auto little = main_pump_choices(c, 1 * test::litre_per_hour, {.mixed = 0});
  auto by_flow = main_pump_choices(c, 1 * test::litre_per_hour, whole);
  std::ranges::stable_sort(by_flow, {}, &PumpChoice::flow);
  std::erase_if(by_flow, [](const PumpChoice& p) { return !p.meets || !p.alcohol; });
  const auto serving = std::ranges::count_if(little, [](const PumpChoice& p) { return p.meets; });
  EXPECT_EQ(serving, 3);
  for (const PumpChoice& p : little)
    EXPECT_TRUE(p.fitted || p.flow <= by_flow[2].flow * (1 + 1e-12)) << p.name();
  const auto much = main_pump_choices(c, 9000 * test::litre_per_hour, {.mixed = 0});
  EXPECT_EQ(std::ranges::count(much, false, &PumpChoice::fitted), 3);
  EXPECT_FALSE(std::ranges::any_of(much, &PumpChoice::meets));
  // What the fuel eats stands behind all that it does not.
  c.fuel.ethanol = 0.85;
  const auto alcohol = main_pump_choices(c, 150 * test::litre_per_hour, {.mixed = 0});
  const auto eaten = std::ranges::find(alcohol, false, &PumpChoice::alcohol);
  ASSERT_NE(eaten, alcohol.end());
  EXPECT_TRUE(std::none_of(eaten, alcohol.end(), [](const PumpChoice& p) { return p.meets && p.alcohol; }));
}

TEST(PumpSize, APairIsStagedWhereItsFirstDoesNotDoAlone) {
  const auto choice = [](const char* type, int count, bool meets, bool fitted = false) {
    return PumpChoice{.type = type, .count = count, .meets = meets, .fitted = fitted};
  };
  std::vector<PumpChoice> list{choice("a", 1, true), choice("a", 2, true), choice("b", 2, true),
                               choice("b", 1, false)};
  ASSERT_TRUE(pair_to_stage(list));
  EXPECT_EQ(pair_to_stage(list)->type, "b") << "of the other one does, and the second is a spare";
  list[2].alcohol = false;
  EXPECT_EQ(pair_to_stage(list), nullptr);
  list[1].fitted = true;
  EXPECT_EQ(pair_to_stage(list)->type, "a") << "what is there is told of";
}

TEST(PumpSize, StagingBringsTheSecondPumpInBeforeTheFirstIsSpent) {
  const circuit::Case c = test::plain_case();
  PumpChoice pair{.type = c.catalogue->pumps[4].name, .count = 2};
  const double alone = circuit::available_flow(with_main_pumps(c, pair.type, 1));
  const double demand = 1.4 * alone;
  pair.electric = 1000;
  const Staging stage = propose_staging(c, pair, demand, {.margin = 0.1, .low_supply = 0, .hot = 0});
  EXPECT_NEAR(stage.on * demand, alone / 1.1, 1e-3 * alone);
  EXPECT_LT(stage.off, stage.on);
  EXPECT_TRUE(stage.worth_it);
  EXPECT_FALSE(propose_staging(c, {.type = pair.type, .count = 1}, demand).worth_it);
}

}  // namespace
}  // namespace uadze::sizing
