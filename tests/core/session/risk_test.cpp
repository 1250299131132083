// The plan at a stated risk against closed forms, its shares, its seed.
#include "core/session/risk.h"

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <numeric>

#include "core/session/random.h"

namespace uadze::session {
namespace {

const PlanInput race{.least_end = 6e-3,
                     .consumption_per_lap = 2.5e-3,
                     .lap_time = 90,
                     .density = 745,
                     .tank_volume = 60e-3,
                     .usable_volume = 58e-3};

Session ten_laps() {
  Session s{.name = "ten", .lap = "lap", .laps = 10, .out_laps = 1, .sample = 1e-3, .gauge_error = 0.8e-3};
  s.scatter = {.consumption = 0.03, .lap_consumption = 0.02, .lap_time = 0.0, .grip = 0.025};
  return s;
}

/// Straight lines: every term a litre either way at its ends.
starvation::ModelBand straight_band() {
  starvation::ModelBand band{.nominal = 6e-3, .low = 5e-3, .high = 7e-3};
  for (const char* name : {"grip", "damping"}) band.terms.push_back({name, 0.95, 1.05, 5e-3, 7e-3});
  return band;
}

TEST(Random, IsStandardNormalByItsMoments) {
  double sum = 0, square = 0, fourth = 0;
  constexpr int n = 200000;
  for (int i = 0; i < n; ++i) {
    const double z = normal_draw(7, 3, static_cast<std::uint64_t>(i));
    sum += z, square += z * z, fourth += z * z * z * z;
  }
  EXPECT_NEAR(sum / n, 0, 0.01);
  EXPECT_NEAR(square / n, 1, 0.02);
  EXPECT_NEAR(fourth / n, 3, 0.1);
}

TEST(Random, QuantilesAreThoseOfTheTables) {
  for (const auto& [p, z] : {std::pair{0.5, 0.0},
                             {0.975, 1.959963984540054},
                             {0.99, 2.3263478740408408},
                             {0.001, -3.090232306167813},
                             {1e-9, -5.997807015007685}})
    EXPECT_NEAR(normal_quantile(p), z, 1e-12) << p;
}

TEST(RiskPlan, OfNormalPartsIsTheirClosedForm) {
  const Session s = ten_laps();
  const auto band = straight_band();
  const double worth = 10.6, c = 2.5e-3, z = 2.3263478740408408;
  const double deviation = std::sqrt(std::pow(worth * c * 0.03, 2) + worth * std::pow(c * 0.02, 2) +
                                     std::pow(0.4e-3, 2) + std::pow(0.5e-3, 2) + std::pow(0.5e-3, 2));
  const RiskPlan plan = plan_at_risk(s, race, &band, {.count = 400000, .seed = 3});
  EXPECT_NEAR(plan.start_mean, 6e-3 + worth * c + 1e-3, 5e-6);
  EXPECT_NEAR(plan.start, 6e-3 + worth * c + 1e-3 + z * deviation, 4 * plan.start_error);
  EXPECT_LT(plan.start_error, 0.01e-3);
  const double back = std::sqrt(std::pow(0.4e-3, 2) + 2 * std::pow(0.5e-3, 2));
  EXPECT_NEAR(plan.bring_back, 7e-3 + z * back, 0.03e-3);
  EXPECT_TRUE(plan.with_band);
}

TEST(RiskPlan, SharesOfTheCausesMakeTheWhole) {
  const auto band = straight_band();
  Session s = ten_laps();
  s.laps.reset();
  s.duration = 905;
  s.scatter.lap_time = 0.01;
  const RiskPlan plan = plan_at_risk(s, race, &band);
  double shares = 0, margins = 0;
  for (const Cause& c : plan.causes) shares += c.share, margins += c.margin;
  EXPECT_NEAR(shares, 1, 1e-9);
  EXPECT_NEAR(margins, plan.margin, 1e-9);
  EXPECT_EQ(plan.least_laps, 10);
  EXPECT_EQ(plan.most_laps, 11);
  EXPECT_TRUE(std::is_sorted(plan.causes.begin(), plan.causes.end(),
                             [](const Cause& a, const Cause& b) { return a.share > b.share; }));
}

TEST(RiskPlan, IsTheSameOnAnyNumberOfThreadsAndAnotherWithAnotherSeed) {
  const auto band = straight_band();
  const Session s = ten_laps();
  const auto run = [&](size_t threads, std::uint64_t seed) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return plan_at_risk(s, race, &band, {.count = 20000, .seed = seed});
  };
  const RiskPlan one = run(1, 1), many = run(4, 1), other = run(2, 2);
  EXPECT_EQ(one.start, many.start);
  EXPECT_EQ(one.bring_back, many.bring_back);
  for (size_t k = 0; k < one.causes.size(); ++k) EXPECT_EQ(one.causes[k].share, many.causes[k].share);
  EXPECT_NE(one.start, other.start);
  EXPECT_NEAR(one.start, other.start, 6 * one.start_error);
}

TEST(RiskPlan, LessRiskAsksForMoreAndNoScatterForTheSum) {
  const auto band = straight_band();
  Session s = ten_laps();
  double last = 0;
  for (double risk : {0.3, 0.1, 0.01, 0.001}) {
    s.risk = risk;
    const double start = plan_at_risk(s, race, &band).start;
    EXPECT_GT(start, last) << risk;
    last = start;
  }
  // One draw in a thousand exceeds it: 10,000 of them tell that, 2,000 do not.
  const RiskPlan few = plan_at_risk(s, race, &band, {.count = 2000});
  EXPECT_EQ(few.least_draws(), 10000);
  EXPECT_LT(few.draws, few.least_draws());
  EXPECT_NE(risk_working(few, race, make_plan(s, race)).note.in().find("Too few draws"), std::string::npos);
  s.scatter = {0, 0, 0, 0};
  s.gauge_error = 0;
  const RiskPlan sure = plan_at_risk(s, race, nullptr);
  EXPECT_NEAR(sure.start, make_plan(s, race).start, 1e-13);
  EXPECT_NEAR(sure.margin, 0, 1e-13);
  EXPECT_FALSE(sure.with_band);
}

TEST(Stints, ShareOutTheLapsAndSayHowFarTheTankGoes) {
  Session s = ten_laps();
  s.laps = 23;
  s.refuel_stops = 2;
  s.out_laps = 0;
  s.scatter = {0, 0, 0, 0};
  s.gauge_error = 0;
  const auto stints = stint_plans(s, race, nullptr);
  ASSERT_EQ(stints.size(), 3u);
  int laps = 0;
  for (const auto& stint : stints) laps += stint.laps;
  EXPECT_EQ(laps, 23);
  EXPECT_EQ(stints[0].laps, 8);
  EXPECT_NEAR(stints[0].need, 7e-3 + 8 * 2.5e-3, 1e-12);
  EXPECT_NEAR(stints[1].add, 8 * 2.5e-3, 1e-12) << "7 L are brought back";
  EXPECT_NEAR(stints[0].one_more, 2.5e-3, 1e-12);
  EXPECT_EQ(stints[0].one_more_risk, 1.0);
  // 58 L may be filled: (58 - 7) / 2.5.
  EXPECT_EQ(stints[0].latest_lap, 20);
}

TEST(RuleOfThumb, SavesMassOrIsFoundToStarve) {
  const Session s = ten_laps();
  const RuleCheck safe = check_rule(0.25, s, race, 35e-3);
  EXPECT_FALSE(safe.starves);
  EXPECT_NEAR(safe.start, 15e-3 + 10.6 * 2.5e-3, 1e-12);
  EXPECT_NEAR(safe.saved, (41.5e-3 - 35e-3) * 745, 1e-9);
  const RuleCheck low = check_rule(0.06, s, race, 35e-3);
  EXPECT_TRUE(low.starves) << "3.6 L of 6 L";
}

TEST(Laps, NeutralisedOnesTakeTimeAndBurnLess) {
  Session s{.name = "timed", .lap = "lap", .duration = 3600};
  EXPECT_EQ(laps_of(s, 90), 40);
  s.neutral_laps = 5;
  s.neutral_time = 2;
  EXPECT_EQ(laps_of(s, 90), 35);
  s.neutral_share = 0.4;
  EXPECT_NEAR(laps_worth(s, 35, {}), 30 + 5 * 0.4, 1e-12);
  s.refuel_stops = 1;
  EXPECT_NEAR(laps_worth(s, 18, {}), 18, 1e-12) << "not counted on in a stint";
  s.cool_laps = 2;
  s.cool_share = 0.3;
  EXPECT_NEAR(laps_worth(s, 18, {}), 18.6, 1e-12);
}

TEST(Stints, EachPaysForTheLapsThatBelongToIt) {
  Session s;
  s.lap = "x", s.laps = 20, s.refuel_stops = 3, s.formation_laps = 1, s.cool_laps = 1, s.slow_lap_share = 1;
  s.scatter = {.consumption = 0, .lap_consumption = 0, .lap_time = 0, .grip = 0};
  const PlanInput in{.least_end = 5e-3,
                     .consumption_per_lap = 2.5e-3,
                     .lap_time = 90,
                     .density = 745,
                     .tank_volume = 60e-3,
                     .usable_volume = 60e-3};
  const auto put_in = [&] {
    double sum = 0;
    for (const StintPlan& stint : stint_plans(s, in, nullptr, {.count = 10})) sum += stint.add;
    return sum;
  };
  // 20 laps, one of formation and one to cool down, and what must be left: 22 x 2.5 + 5.
  EXPECT_NEAR(put_in(), 60e-3, 1e-12);
  // A lap in and one out at each of three stops.
  s.in_laps = s.out_laps = 1;
  EXPECT_NEAR(put_in(), 75e-3, 1e-12);
  // Without formation and cool-down it leaves the pits and comes back to them.
  s.formation_laps = s.cool_laps = 0;
  EXPECT_NEAR(put_in(), 75e-3, 1e-12);
  EXPECT_NEAR(make_plan(s, in).start, 5e-3 + 7 * 2.5e-3, 1e-12) << "the first stint's";
  // Without stops all that is entered is driven in one go.
  s.refuel_stops = 0, s.formation_laps = s.cool_laps = 1;
  EXPECT_NEAR(make_plan(s, in).start, 5e-3 + 24 * 2.5e-3, 1e-12);
  EXPECT_NEAR(put_in(), make_plan(s, in).start, 1e-12);
}

TEST(SessionFaults, AreSaidAtTheirPlace) {
  const auto first = [](const Session& s) {
    const Faults f = session_faults(s);
    return f.empty() ? ValuePlace{} : f.front().at;
  };
  Session s = ten_laps();
  EXPECT_EQ(first(s), ValuePlace{});
  s.lap.clear();
  EXPECT_EQ(first(s), place_of(s.lap));
  s.kind = Kind::test_bench;
  EXPECT_EQ(first(s), ValuePlace{});
  s.refuel_stops = 10;
  EXPECT_EQ(first(s), place_of(s.refuel_stops));
  s = ten_laps();
  s.neutral_laps = 11;
  EXPECT_EQ(first(s), place_of(s.neutral_laps));
  s = ten_laps();
  s.risk = 0;
  EXPECT_EQ(first(s), place_of(s.risk));
  s = ten_laps();
  s.duration = 60;
  EXPECT_EQ(first(s), place_of(s));
  s.laps.reset(), s.duration.reset();
  EXPECT_EQ(first(s), place_of(s));
}

}  // namespace
}  // namespace uadze::session
