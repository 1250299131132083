// Which way the plan goes: whatever asks for more fuel never lowers it, at the same draws.
#include <gtest/gtest.h>

#include <functional>

#include "core/session/random.h"
#include "core/session/risk.h"
#include "support/random_shapes.h"

namespace uadze::session {
namespace {

struct Asked {
  Session session;
  PlanInput in;
};

Asked random_session(test::Random& r) {
  Asked out;
  Session& s = out.session;
  s.name = "drawn", s.lap = "lap";
  if (r.whole(0, 1))
    s.laps = r.whole(1, 40);
  else
    s.duration = r.uniform(200, 8000);
  s.refuel_stops = r.whole(0, 2), s.stop_time = r.uniform(0, 60);
  s.formation_laps = r.whole(0, 2), s.out_laps = r.whole(0, 2), s.in_laps = r.whole(0, 2),
  s.cool_laps = r.whole(0, 1);
  s.slow_lap_share = r.uniform(0.3, 1);
  s.sample = r.uniform(0, 2e-3), s.gauge_error = r.uniform(0, 1e-3);
  s.risk = r.uniform(1e-3, 0.2);
  s.scatter = {r.uniform(0, 0.05), r.uniform(0, 0.03), r.uniform(0, 0.02), r.uniform(0, 0.05)};
  out.in = {.least_end = r.uniform(0, 10e-3),
            .consumption_per_lap = r.uniform(0.5e-3, 4e-3),
            .lap_time = r.uniform(40, 140),
            .density = r.uniform(700, 800),
            .tank_volume = 80e-3,
            .usable_volume = 76e-3};
  return out;
}

double start_of(const Asked& a) { return plan_at_risk(a.session, a.in, nullptr, {2000, 5}).start; }

TEST(Direction, WhatAsksForMoreNeverLowersTheStart) {
  const std::vector<std::pair<const char*, std::function<void(Asked&)>>> more{
      {"a higher least end", [](Asked& a) { a.in.least_end += 1e-3; }},
      {"more burnt a lap", [](Asked& a) { a.in.consumption_per_lap *= 1.1; }},
      {"a sample", [](Asked& a) { a.session.sample += 1e-3; }},
      {"less risk", [](Asked& a) { a.session.risk /= 3; }},
      // The first one takes the out laps' place where there are stops.
      {"another formation lap", [](Asked& a) { a.session.formation_laps += a.session.formation_laps > 0; }},
      {"thirstier slow laps",
       [](Asked& a) { a.session.slow_lap_share = std::min(1.0, a.session.slow_lap_share + 0.1); }},
      {"longer",
       [](Asked& a) {
         if (a.session.laps)
           *a.session.laps += 3;
         else
           *a.session.duration += 5 * a.in.lap_time;
       }},
      {"one stop fewer", [](Asked& a) { a.session.refuel_stops = std::max(a.session.refuel_stops - 1, 0); }}};
  test::Random random(61);
  for (int n = 0; n < 60; ++n) {
    const Asked asked = random_session(random);
    const double before = start_of(asked);
    EXPECT_GE(before, asked.in.least_end + asked.session.sample - 1e-12) << n;
    for (const auto& [what, change] : more) {
      Asked other = asked;
      change(other);
      EXPECT_GE(start_of(other), before - 1e-12) << n << ": " << what;
    }
    // Of parts that scatter apart a finite number of draws may fall a little either way.
    Asked worse = asked;
    worse.session.gauge_error += 1e-3;
    EXPECT_GE(start_of(worse), before * (1 - 2e-3)) << n << ": a worse gauge";
  }
}

// Litres in, litres out: everything that is a volume twice as large makes everything twice as large.
TEST(Direction, TwiceTheCarIsTwiceTheFuel) {
  test::Random random(62);
  for (int n = 0; n < 60; ++n) {
    const Asked one = random_session(random);
    Asked two = one;
    two.in.least_end *= 2, two.in.consumption_per_lap *= 2, two.in.tank_volume *= 2,
        two.in.usable_volume *= 2;
    two.session.sample *= 2, two.session.gauge_error *= 2;
    EXPECT_NEAR(start_of(two), 2 * start_of(one), 1e-12) << n;
  }
}

TEST(Direction, DrivingTimeIsTheLapsAndWhatSlowsThem) {
  Session s{.name = "x", .lap = "lap", .laps = 12};
  EXPECT_EQ(driving_time(s, 90), 12 * 90);
  s.neutral_laps = 2, s.neutral_time = 1.6;
  EXPECT_NEAR(driving_time(s, 90), 12 * 90 + 2 * 0.6 * 90, 1e-9);
  Session timed{.name = "y", .lap = "lap", .duration = 1000};
  timed.stop_time = 40, timed.refuel_stops = 1;
  EXPECT_EQ(driving_time(timed, 100), 1000) << "ten laps: the tenth runs when 960 s are over";
}

TEST(Direction, KeptDrawsAreTheDrawsOfTheirPlaces) {
  const auto all = normal_draws(9, 4, 500);
  ASSERT_EQ(all->size(), 500u);
  for (size_t i : {size_t{0}, size_t{17}, size_t{499}}) EXPECT_EQ((*all)[i], normal_draw(9, 4, i));
  EXPECT_EQ(normal_draws(9, 4, 500), all) << "once for all who ask";
  EXPECT_NE((*normal_draws(10, 4, 500))[3], (*all)[3]);
  EXPECT_NE((*normal_draws(9, 5, 500))[3], (*all)[3]);
  EXPECT_EQ((*normal_draws(9, 4, 20))[13], (*all)[13]) << "fewer are the first of more";
}

}  // namespace
}  // namespace uadze::session
