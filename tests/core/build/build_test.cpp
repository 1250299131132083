// The build's lists against hand counts and against what must hold of any circuit.
#include <gtest/gtest.h>

#include <fstream>
#include <set>

#include "core/build/checks.h"
#include "core/build/order.h"
#include "core/project/catalogue_file.h"
#include "core/project/project_file.h"
#include "core/report/build_report.h"
#include "core/solve/circuit_point.h"
#include "support/circuits.h"
#include "support/random_shapes.h"
#include "support/temp_folder.h"

namespace uadze::build {
namespace {

using circuit::FittingForm;
using circuit::LegKind;
using circuit::Part;
using circuit::PartKind;

circuit::Case demo(const std::string& file, size_t setup = 0) {
  const auto read = project::parse_project(test::slurp(test::source("demo/" + file)), file);
  return solve::circuit_case(read.value.setups.at(setup), project::shipped_catalogue());
}

const OrderItem* item(const std::vector<OrderItem>& list, const std::string& what, const std::string& size) {
  const auto at = std::find_if(list.begin(), list.end(),
                               [&](const OrderItem& i) { return i.what == what && i.size == size; });
  return at == list.end() ? nullptr : &*at;
}

// --- By hand ---

TEST(CuttingList, OfTheP4ByHand) {
  // Route less what the ends take (barb bent -6: 18 + 12 - 25 = 5; 90 at -8: 32 + 25.6 = 57.6, at -6: 32
  // + 19.2 = 51.2; 45 at -8: 30 + 20.8 = 50.8; straight -8: 24.8, -6: 21.6) and 3 % of slack, 10 mm at the
  // least.
  const std::vector<std::pair<std::string, double>> by_hand{
      {"lift left", 350 - 2 * 5 + 10.5},    {"lift right", 350 - 2 * 5 + 10.5},
      {"overflow", 300 - 24.8 - 57.6 + 10}, {"main 1", 250 - 21.6 - 51.2 + 10},
      {"main 2", 250 - 21.6 - 51.2 + 10},   {"feed line 1", 1100 - 2 * 57.6 + 33},
      {"feed line 2", 500 - 2 * 50.8 + 15}, {"return line", 1500 - 2 * 51.2 + 45}};
  const auto cuts = cutting_list(demo("ostrel-p4.uadze.json"));
  ASSERT_EQ(cuts.size(), by_hand.size());
  for (size_t i = 0; i < cuts.size(); ++i) {
    EXPECT_EQ(cuts[i].label, by_hand[i].first);
    EXPECT_NEAR(1e3 * cuts[i].cut, by_hand[i].second, 1e-6) << cuts[i].label;
  }
  EXPECT_EQ(cuts[5].clips, 3) << "1.1 m at a clip each 0.3 m";
  EXPECT_EQ(cuts[0].clips, 0) << "in the tank";
  EXPECT_TRUE(cuts[7].sleeved);
  EXPECT_EQ(report::end_words(cuts[5].far_end), "90° hose end to fine filter, 10 micron, large");
}

TEST(Joints, AFittingIsWhereThePartBeforeItIs) {
  // The P4's main pumps meet in a tee in the tank; the feed leaves it by the bulkhead.
  for (const Joint& j : joints(demo("ostrel-p4.uadze.json"))) {
    const bool in_tank =
        j.leg.kind == LegKind::lift || j.leg.kind == LegKind::overflow || j.leg.kind == LegKind::main;
    EXPECT_EQ(j.inside, in_tank) << j.from << " to " << j.to;
  }
}

TEST(OrderList, OfTheP4ByHand) {
  const circuit::Case c = demo("ostrel-p4.uadze.json");
  const auto steps = assembly(c);
  const auto list = order_list(c, steps, {});
  struct Hand {
    const char *what, *size;
    double needed, spare;
  };
  for (const Hand& h : {Hand{"lift pump, 130 l/h class", "", 2, 0}, Hand{"pickup sock, 100 micron", "", 2, 0},
                        Hand{"hose clamp", "-6", 4, 4}, Hand{"main pump, 190 l/h class", "", 2, 0},
                        Hand{"crush washer", "-6", 4, 1},  // two banjos at the pumps' outlets
                        Hand{"fitting, tee", "-6", 1, 0}, Hand{"injector O-ring", "", 12, 12},
                        Hand{"fuse, 5 A", "", 2, 1}, Hand{"relay, 30 A", "", 2, 0},
                        // Feed of three pieces, ground of one, at two pumps.
                        Hand{"terminal, AWG 14", "", 2 * (6 + 2), 16}, Hand{"hose end, 45°", "-8", 2, 0}}) {
    const OrderItem* found = item(list, h.what, h.size);
    ASSERT_TRUE(found) << h.what;
    EXPECT_EQ(found->needed, h.needed) << h.what;
    EXPECT_EQ(found->spare, h.spare) << h.what;
    EXPECT_TRUE(found->stops);
  }
  // With the stock of half of it: what is lacking is ordered, and stops the step that comes to it.
  const auto with = order_list(c, steps,
                               {{"lift pump, 130 l/h class", "", 1, 0},
                                {"hose clamp", "-6", 9, 0},
                                {"injector, 40 l/h class", "", 2, 4}});
  EXPECT_EQ(item(with, "lift pump, 130 l/h class", "")->to_order, 1);
  EXPECT_EQ(steps[static_cast<size_t>(*item(with, "lift pump, 130 l/h class", "")->stops)].title,
            "lift right: parts and lines");
  EXPECT_EQ(item(with, "hose clamp", "-6")->to_order, 0);
  EXPECT_FALSE(item(with, "hose clamp", "-6")->stops);
  EXPECT_EQ(item(with, "injector, 40 l/h class", "")->to_order, 0);
  EXPECT_TRUE(item(with, "injector, 40 l/h class", "")->stops) << "ordered is not there yet";
}

TEST(Worst, DeadHeadIsTheReliefOrTheCurvesEnd) {
  const auto& pumps = project::shipped_catalogue()->pumps;
  // 7 bar of relief, all let by a tenth above; a lift pump's own end grows with the square of the volts.
  EXPECT_NEAR(dead_head(circuit::find(pumps, "main pump, 190 l/h class")->curves, 14.8), 7.7e5, 1e2);
  const auto& lift = circuit::find(pumps, "lift pump, 130 l/h class")->curves;
  EXPECT_NEAR(dead_head(lift, 13.5), 1.8e5, 2e3) << "the catalogue's last point";
  EXPECT_NEAR(dead_head(lift, 15.0), 2.108e5, 3e3);
  EXPECT_GT(dead_head(lift, 14.0), dead_head(lift, 13.0));
  circuit::PumpCurves gears = circuit::find(pumps, "engine-driven gear pump, 600 l/h class")->curves;
  gears.relief = 0;
  EXPECT_GT(dead_head(gears, 100), 30e5) << "without a relief valve only its slip ends it";
}

// --- Faults that are put in are found, each at its place ---

struct Wrong {
  const char* name;
  void (*make)(circuit::Case&);
  const char* said;
};
const Wrong wrongs[] = {
    {"fine before the pump",
     [](circuit::Case& c) {
       c.circuit.lifts[0].parts.front() = {.kind = PartKind::filter, .type = "fine filter, 10 micron"};
     },
     "stands before the pump (lift left)"},
    {"coarse only",
     [](circuit::Case& c) {
       for (Part& p : c.circuit.feed)
         if (p.kind == PartKind::filter) p.type = "coarse filter, 100 micron";
     },
     "No fine filter stands between main 1"},
    {"hose not for fuel", [](circuit::Case& c) { c.circuit.overflow[1].type = "rubber, braided"; },
     "\"rubber, braided\" (overflow) is not made to lie in fuel"},
    {"too weak",
     [](circuit::Case& c) {
       auto own = std::make_shared<circuit::Catalogue>(*c.catalogue);
       for (auto& h : own->hoses)
         if (h.name == "PTFE, smooth bore") h.ratings->pressure = 5e5;
       c.catalogue = own;
     },
     "is rated for 5.00 bar; with the way out blocked it meets 7.70 bar"},
    {"alcohol", [](circuit::Case& c) { c.fuel.ethanol = 0.82, c.circuit.back[0].type = "rubber, braided"; },
     "stands 10.0 % of ethanol; this fuel may have 87.0 %"},
    {"no check valve", [](circuit::Case& c) { c.circuit.mains[1].parts[0].check_valve = false; },
     "main 2 has no check valve: while it stands the others pump back"},
    {"can not reach", [](circuit::Case& c) { c.circuit.back[0].length = 0.5; }, "can not reach over"},
    {"copper",
     [](circuit::Case& c) {
       auto own = std::make_shared<circuit::Catalogue>(*c.catalogue);
       auto tube = *circuit::find(own->hoses, "rigid tube, 0.035 in wall");
       tube.name = "copper tube", tube.ratings->material = circuit::Material::copper;
       own->hoses.push_back(tube);
       c.catalogue = own;
       c.circuit.feed[1].type = "copper tube";
     },
     "\"copper tube\" of copper joins \"fine filter, 10 micron, large\" of aluminium (feed line)"},
    {"cabin",
     [](circuit::Case& c) {
       c.circuit.feed.insert(c.circuit.feed.begin() + 2, c.circuit.feed[1]);
       c.circuit.feed[1].in_cabin = c.circuit.feed[2].in_cabin = true;
     },
     "A joint stands in the cabin (feed line)"},
};

TEST(BuildChecks, FindWhatIsWrongAndOnlyThat) {
  const circuit::Case sound = demo("ostrel-p4.uadze.json");
  const auto text = [](const circuit::Case& c) { return report::checks_text(check(c)); };
  for (const circuit::Finding& f : check(sound)) EXPECT_EQ(f.severity, Severity::note) << f.text.in();
  for (const Wrong& w : wrongs) {
    circuit::Case c = sound;
    w.make(c);
    EXPECT_NE(text(c).find(w.said), std::string::npos) << w.name << "\n" << text(c);
    EXPECT_EQ(text(sound).find(w.said), std::string::npos) << w.name;
  }
}

// --- What holds of any circuit ---

circuit::Case any_circuit(unsigned seed) {
  test::Random random(seed);
  circuit::Case c = demo(seed % 2 ? "ostrel-p4.uadze.json" : "ostrel-tarn.uadze.json");
  const auto pick = [&](std::initializer_list<const char*> words) {
    return std::string(
        *(words.begin() + static_cast<int>(random.uniform(0, 0.999) * static_cast<double>(words.size()))));
  };
  static constexpr FittingForm forms[] = {
      FittingForm::straight, FittingForm::bend_45,     FittingForm::bend_90, FittingForm::bend_120,
      FittingForm::bulkhead, FittingForm::tee_through, FittingForm::reducer, FittingForm::quick_connector};
  const auto vary = [&](circuit::Leg& leg) {
    for (Part& p : leg)
      if (p.kind == PartKind::line) {
        p.length = random.uniform(0.12, 3);
        p.type = pick(
            {"rubber, braided", "rubber, immersion rated", "PTFE, smooth bore", "rigid tube, 0.035 in wall"});
        p.dash = random.uniform(0, 1) < 0.5 ? 6 : 8;
      }
    for (int k = 0; k < 3; ++k) {
      const auto at = leg.begin() + static_cast<std::ptrdiff_t>(random.uniform(0, 0.999) *
                                                                static_cast<double>(leg.size() + 1));
      Part p;
      switch (static_cast<int>(random.uniform(0, 3))) {
        case 0:
          p = {.kind = PartKind::fitting,
               .form = forms[static_cast<size_t>(random.uniform(0, 7.999))],
               .count = 1 + static_cast<int>(random.uniform(0, 3))};
          break;
        case 1:
          p = {.kind = PartKind::line,
               .type = "PTFE, smooth bore",
               .length = random.uniform(0.1, 2),
               .dash = 8};
          break;
        default:
          p = {.kind = PartKind::check_valve, .type = "check valve, light spring"};
      }
      leg.insert(at, p);
    }
  };
  for (auto& l : c.circuit.lifts) vary(l.parts);
  for (auto& m : c.circuit.mains) vary(m.parts);
  vary(c.circuit.feed), vary(c.circuit.back);
  return c;
}

TEST(AnyCircuit, EveryEndHasItsPartnerEveryJointItsSealEveryWireTwoTerminals) {
  for (unsigned seed = 1; seed <= 60; ++seed) {
    SCOPED_TRACE(seed);
    const circuit::Case c = any_circuit(seed);
    const auto cuts = cutting_list(c);
    size_t lines = 0, bends = 0, used = 0;
    for (const circuit::LegPlace& place : circuit::legs_of(c.circuit, c.surroundings))
      if (const circuit::Leg* leg = circuit::leg_at(c.circuit, place))
        for (const Part& p : *leg) {
          lines += p.kind == PartKind::line;
          const bool bend = p.form == FittingForm::straight || p.form == FittingForm::bend_45 ||
                            p.form == FittingForm::bend_90 || p.form == FittingForm::bend_120;
          if (p.kind == PartKind::fitting && bend) bends += static_cast<size_t>(p.count);
        }
    ASSERT_EQ(cuts.size(), lines) << "each line once";
    for (const HoseCut& h : cuts) {
      EXPECT_FALSE(h.near_end.meets.empty());
      EXPECT_FALSE(h.far_end.meets.empty());
      EXPECT_GE(h.cut, 0);
      EXPECT_LE(h.cut, h.route + h.slack + 0.05 + 1e-9);
    }
    // A bend is a line's end or a fitting by itself: never lost, never bought twice.
    for (const LooseFitting& f : loose_fittings(c))
      if (f.form == FittingForm::straight || f.form == FittingForm::bend_45 ||
          f.form == FittingForm::bend_90 || f.form == FittingForm::bend_120)
        used += static_cast<size_t>(f.count);
    EXPECT_LE(used, bends);
    for (const Joint& j : joints(c)) {
      EXPECT_NE(j.seal, circuit::Seal::unknown) << j.from << " to " << j.to;
      EXPECT_FALSE(j.from.empty() || j.to.empty());
    }
    for (const WireRun& w : wire_list(c)) EXPECT_EQ(w.terminals, 2 * w.pieces) << w.pump << " " << w.what;
    // Steps come behind those that they wait for; everything that is bought is needed by one.
    const auto steps = assembly(c);
    for (size_t k = 0; k < steps.size(); ++k)
      for (int a : steps[k].after) EXPECT_LT(a, static_cast<int>(k));
    std::set<std::pair<std::string, std::string>> seen;
    for (const OrderItem& i : order_list(c, steps, {})) {
      EXPECT_TRUE(seen.insert({i.what, i.size}).second) << i.what << " twice";
      EXPECT_FALSE(i.steps.empty());
      EXPECT_GE(i.to_order, i.needed - 1e-9);
    }
  }
}

TEST(AnyCircuit, OneHoseChangedChangesWhatHangsOnItAlone) {
  for (unsigned seed = 1; seed <= 20; ++seed) {
    circuit::Case c = any_circuit(seed);
    const auto before = cutting_list(c);
    const auto joints_before = joints(c).size();
    const auto wires_before = wire_list(c);
    const auto line = std::find_if(c.circuit.feed.begin(), c.circuit.feed.end(),
                                   [](const Part& p) { return p.kind == PartKind::line; });
    line->length += 0.25;
    const auto after = cutting_list(c);
    ASSERT_EQ(after.size(), before.size());
    int changed = 0;
    for (size_t i = 0; i < after.size(); ++i) {
      if (after[i] == before[i]) continue;
      ++changed;
      EXPECT_EQ(after[i].leg.kind, LegKind::feed);
      EXPECT_NEAR(after[i].cut - before[i].cut - (after[i].slack - before[i].slack), 0.25, 1e-9);
    }
    EXPECT_EQ(changed, 1);
    EXPECT_EQ(joints(c).size(), joints_before);
    EXPECT_EQ(wire_list(c), wires_before);
  }
}

// --- Steps and their cautions ---

TEST(Assembly, EveryStepThatOpensFuelComesBehindTheSafePlace) {
  for (const char* file : {"ostrel-p4.uadze.json", "ostrel-tarn.uadze.json", "ostrel-wisp.uadze.json"}) {
    SCOPED_TRACE(file);
    const auto steps = assembly(demo(file));
    ASSERT_EQ(steps.front().title, "Make the place safe");
    std::string cautions;
    for (const auto& s : steps.front().cautions) cautions += s + "\n";
    for (const char* word :
         {"Ventilate", "No sparks", "Battery isolated", "Pressure relieved", "closed, marked cans",
          "Static earthed", "extinguisher", "Goggles", "Welding or cutting", "series' regulations"})
      EXPECT_NE(cautions.find(word), std::string::npos) << word;
    // Whatever is opened waits for it, directly or through others.
    for (size_t k = 1; k < steps.size(); ++k) {
      std::set<int> waits(steps[k].after.begin(), steps[k].after.end());
      for (auto at = waits.begin(); at != waits.end(); at = waits.begin()) {
        const int step = *at;
        if (step == 0) break;
        waits.erase(at);
        waits.insert(steps[static_cast<size_t>(step)].after.begin(),
                     steps[static_cast<size_t>(step)].after.end());
      }
      EXPECT_TRUE(waits.contains(0)) << steps[k].title;
    }
    // A step against the caution that must stand at it.
    const std::pair<const char*, const char*> table[] = {
        {"Close the tank", "bladder"},       {"Engine side", "clear of the exhaust"},
        {": wires", "Battery isolated"},     {"Leak test", "ventilated"},
        {"Pressure hold", "goggles"},        {"Base pressure", "earthed"},
        {"First run", "series' scrutineers"}};
    for (const auto& [title, caution] : table) {
      bool any = false;
      for (const Step& s : steps) {
        if (s.title.find(title) == std::string::npos) continue;
        any = true;
        std::string all;
        for (const auto& words : s.cautions) all += words + "\n";
        EXPECT_NE(all.find(caution), std::string::npos) << s.title;
      }
      EXPECT_TRUE(any || std::string(title) == ": wires") << title;
    }
  }
}

TEST(Assembly, WhatCanBeStartedFollowsStockAndWhatIsDone) {
  const circuit::Case c = demo("ostrel-p4.uadze.json");
  const auto steps = assembly(c);
  std::vector<Stock> all;
  for (const OrderItem& i : order_list(c, steps, {})) all.push_back({i.what, i.size, i.needed, 0});
  const auto list = order_list(c, steps, all);
  for (const OrderItem& i : list) EXPECT_FALSE(i.stops) << i.what;
  EXPECT_EQ(can_start(steps, list, {}), std::vector<int>{0});
  std::vector<char> done(steps.size(), 0);
  done[0] = 1;
  EXPECT_GT(can_start(steps, list, done).size(), 4u);
  // Done in the order that is offered, all of it comes to an end, and the chain shrinks to nothing.
  double last = longest_chain(steps, done);
  for (size_t n = 1; n < steps.size(); ++n) {
    const auto next = can_start(steps, list, done);
    ASSERT_FALSE(next.empty());
    done[static_cast<size_t>(next.front())] = 1;
    EXPECT_LE(longest_chain(steps, done), last);
    last = longest_chain(steps, done);
  }
  EXPECT_EQ(last, 0);
  // Nothing in: only what needs nothing.
  const std::vector<char> safe{1};
  EXPECT_TRUE(can_start(steps, order_list(c, steps, {}), safe).empty());
}

TEST(Assembly, DaysTakeAllThatIsLeftInItsOrder) {
  test::Random r(3);
  for (int round = 0; round < 20; ++round) {
    const auto steps = assembly(test::random_case(r));
    std::vector<char> done(steps.size());
    for (auto& d : done) d = r.uniform(0, 1) < 0.3;
    const double day = r.uniform(30, 600);
    std::vector<int> all;
    for (const auto& one : by_day(steps, done, day)) {
      double minutes = 0;
      for (int k : one) minutes += steps[static_cast<size_t>(k)].minutes, all.push_back(k);
      EXPECT_TRUE(minutes <= day + 1e-9 || one.size() == 1) << minutes << " of " << day;
    }
    std::vector<int> left;
    for (size_t k = 0; k < steps.size(); ++k)
      if (!done[k]) left.push_back(static_cast<int>(k));
    EXPECT_EQ(all, left);
  }
  EXPECT_THROW(by_day({}, {}, 0), std::invalid_argument);
  EXPECT_THROW(by_day({}, {}, NAN), std::invalid_argument);
}

TEST(Assembly, WhatWasDoneIsDoneAgainWhereItsStepChanged) {
  circuit::Case c = demo("ostrel-p4.uadze.json");
  auto steps = assembly(c);
  std::vector<Done> done;
  for (const Step& s : steps) done.push_back({"P4", s.title, "R. Fell", "2026-11-27", content_of(s)});
  c.circuit.feed[1].length += 0.1;
  steps = assembly(c);
  for (const Step& s : steps)
    EXPECT_EQ(state_of(s, "P4", done), s.title.starts_with("feed line") ? StepState::again : StepState::done)
        << s.title;
}

}  // namespace
}  // namespace uadze::build
