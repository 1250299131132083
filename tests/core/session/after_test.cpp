// What a session teaches, against the conjugate update by hand and a long run of sessions.
#include "core/session/after.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "core/session/random.h"
#include "core/solve/plan.h"
#include "support/box_project.h"
#include "support/demo.h"
#include "support/refusal.h"

namespace uadze::session {
namespace {

using ::testing::HasSubstr;

TEST(After, TheUpdateByHand) {
  // Before 10 with 1; measured 12 and 14. Mean (10 + 26)/3 = 12. Squares: 4 x 1 + (1 + 1) + 1 x 2/3 x (13 -
  // 10)^2 = 4 + 2 + 6 = 12, over 4 + 2.
  const Normal after = updated({10, 1}, std::vector<double>{12, 14});
  EXPECT_NEAR(after.mean, 12, 1e-12);
  EXPECT_NEAR(after.deviation, std::sqrt(2.0), 1e-12);
  const Normal same = updated({10, 1}, {});
  EXPECT_EQ(same.mean, 10);
  EXPECT_EQ(same.deviation, 1);
}

TEST(After, ManySessionsBringTheirOwnMeanAndScatter) {
  std::vector<double> measured;
  for (int i = 0; i < 4000; ++i)
    measured.push_back(3.0 + 0.09 * normal_draw(7, 1, static_cast<std::uint64_t>(i)));
  const Normal after = updated({2.0, 0.5}, measured);
  EXPECT_NEAR(after.mean, 3.0, 0.006);
  EXPECT_NEAR(after.deviation, 0.09, 0.01);
}

struct Told {
  Session planned{.name = "Sprint", .kind = Kind::sprint, .lap = "dry", .laps = 10};
  std::vector<Session> all;
  Told() {
    planned.in_laps = 1;
    planned.gauge_error = 0.6e-3;
    Session other = planned;
    other.name = "Practice", other.kind = Kind::practice;
    all = {planned, other};
  }
};

TEST(After, ConsumptionFollowsThePerLapFigureOfItsKindOnly) {
  Told t;
  // 10 flying laps and an in lap at 60 %: 10.6 laps' worth, 31.8 L burnt are 3.0 a lap.
  const std::vector<Record> records{{"Sprint", 0, 36e-3, 4.2e-3, 31e-3},
                                    {"Practice", 0, 50e-3, 1e-3, std::nullopt},
                                    {"Sprint", 5, 20.8e-3, 4e-3, std::nullopt}};
  const auto l = learnt(t.planned, t.all, records, 2.7e-3, 95);
  ASSERT_TRUE(l);
  ASSERT_EQ(l->per_lap.size(), 2u) << "the practice is of another kind";
  EXPECT_NEAR(l->per_lap[0], 3.0e-3, 1e-12);
  EXPECT_NEAR(l->per_lap[1], 3.0e-3, 1e-12) << "5.6 laps' worth of 16.8 L";
  EXPECT_NEAR(l->consumption.mean, (2.7e-3 + 6.0e-3) / 3, 1e-12);
  ASSERT_EQ(l->reads_over.size(), 1u);
  EXPECT_NEAR(l->reads_over[0], 0.8e-3, 1e-12) << "it counted 31 of 31.8";
  EXPECT_NEAR(l->count.mean, 0.4e-3, 1e-12) << "half way from nothing";
  const Session now = with_learnt(t.planned, *l);
  EXPECT_EQ(*now.consumption_per_lap, l->consumption.mean);
  EXPECT_GT(now.gauge_error, t.planned.gauge_error);
  EXPECT_GT(now.scatter.consumption, t.planned.scatter.consumption) << "11 % off what was thought";
  EXPECT_EQ(l->working.value, l->consumption.mean);
  EXPECT_FALSE(learnt(t.planned, t.all, {}, 2.7e-3, 95));
}

TEST(After, ARecordThatCanNotBeIsSaidAtItsPlace) {
  const auto with = [](const std::string& record) {
    return test::box_project(test::least_circuit, "\"records\": [" + record + "],");
  };
  EXPECT_THAT(test::refusal([&] {
                project::parse_project(with(R"({"session": "x", "put_in_l": 20, "drained_l": 21})"),
                                       "b.json");
              }),
              HasSubstr("/records/0/drained_l"));
  EXPECT_THAT(test::refusal([&] {
                project::parse_project(with(R"({"session": "x", "put_in_l": -1, "drained_l": 0})"), "b.json");
              }),
              HasSubstr("/records/0/put_in_l"));
  EXPECT_THAT(test::refusal([&] { project::parse_project(with(R"({"put_in_l": 5})"), "b.json"); }),
              HasSubstr("/records/0"));
  const auto read =
      project::parse_project(with(R"({"session": "x", "put_in_l": 20, "drained_l": 1})"), "b.json");
  EXPECT_TRUE(
      std::ranges::any_of(read.notes, [](const Message& m) { return m.place == "/records/0/session"; }));
}

TEST(After, ThePlanIsMadeWithWhatWasLearnt) {
  auto opened = test::demo("ostrel-wisp");
  const Session& s = opened.project.sessions[1];
  const solve::PlanOptions how{.lap = {.ladder = {.levels = 10, .resolution = 1e-3}},
                               .draws = {.draws = 500}};
  const auto planned = [&] {
    return solve::plan(opened.project, {.session = s.name}, how, *opened.sources).at(0);
  };
  const auto before = planned();
  EXPECT_FALSE(before.learnt);
  const double burnt = laps_worth(s, *s.laps, first_stint(s)) * before.lap->consumption * 1.2;
  opened.project.records = {{s.name, 0, 8e-3, 8e-3 - burnt, burnt}};
  const auto after = planned();
  ASSERT_TRUE(after.learnt);
  EXPECT_NEAR(after.plan.consumption, 1.1 * before.plan.consumption, 1e-9) << "half way to a fifth more";
  EXPECT_GT(after.risk.margin, 0);
  EXPECT_LT(after.entered.gauge_error, s.gauge_error) << "the count was right";
}

}  // namespace
}  // namespace uadze::session
