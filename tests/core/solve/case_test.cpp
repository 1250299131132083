// Cases by name, and what a size asks.
#include "core/solve/case.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/solve/run.h"
#include "core/solve/settle.h"
#include "core/solve/size.h"
#include "support/demo.h"

namespace uadze::solve {
namespace {

using ::testing::HasSubstr;

class Cases : public ::testing::Test {
 protected:
  const test::Demo opened = test::demo("ostrel-p4");
  const project::Project& project = opened.project;
};

TEST_F(Cases, AreTheFirstOnesWhereNothingIsNamed) {
  const Resolved r = resolve(project, {});
  EXPECT_EQ(r.setup, &project.setups[0]);
  EXPECT_EQ(r.session, &project.sessions[0]);
  EXPECT_EQ(r.lap, project.find_lap(project.sessions[0].lap));
  const Resolved alone = resolve(project, {.alone = true});
  EXPECT_EQ(alone.session, nullptr);
  EXPECT_EQ(alone.conditions, Conditions{});
}

TEST_F(Cases, ASessionBringsItsLapAndConditions) {
  project::Project p = project;
  p.sessions[1].grip = 0.7;
  p.sessions[1].temperature = 310.0;
  const Resolved r = resolve(p, {.session = p.sessions[1].name});
  EXPECT_EQ(r.conditions.grip, 0.7);
  EXPECT_EQ(*r.conditions.temperature, 310.0);
  EXPECT_EQ(resolve(p, {.session = p.sessions[1].name, .grip = 0.9}).conditions.grip, 0.9);
  // Another grip is another case, the same grip the same.
  Sources& sources = *opened.sources;
  EXPECT_NE(key_of_case(p, r, sources), key_of_case(p, resolve(p, {.session = p.sessions[0].name}), sources));
  EXPECT_EQ(key_of_case(p, r, sources), key_of_case(p, resolve(p, {.session = p.sessions[1].name}), sources));
}

TEST_F(Cases, WhereNoCornerIsNamedPlacesAreThoseThatTheLapShows) {
  project::Project p = project;
  p.laps[0].corners.clear();
  const Case bare{.setup = p.setups[1].name};
  const RunResult low = run(p, bare, {.level = 5e-3, .points = 100}, *opened.sources);
  ASSERT_GT(low.run.events.size(), 3u);
  for (const starvation::Event& e : low.run.events) EXPECT_THAT(e.place, HasSubstr("Corner ")) << e.start;
  EXPECT_THAT(low.run.tightest_place, HasSubstr("Corner "));
  // Those of the project as ever, and a lap that can not be read shows none.
  EXPECT_EQ(opened.sources->laps.corners(project.laps[0]), project.laps[0].corners);
  EXPECT_TRUE(opened.sources->laps.corners({.name = "gone", .file = "laps/gone.csv"}).empty());
}

TEST_F(Cases, AManoeuvreGoesNowhereAndIsToldByItsTime) {
  const RunResult braking =
      run(project, {.setup = project.setups[1].name},
          {.level = 2e-3, .manoeuvre = lap::Manoeuvre::braking, .points = 100}, *opened.sources);
  ASSERT_FALSE(braking.run.events.empty());
  const starvation::Event& e = braking.run.events.front();
  EXPECT_EQ(e.place, fmt::format("at {:.1f} s", e.start));
}

// The last lap of a session decides its fuel: it is driven at the voltage that is left then.
TEST_F(Cases, WhereTheAlternatorDoesNotCarryTheCarTheSessionsLastLapCounts) {
  project::Project p = project;
  const auto charge = [&](std::optional<int> laps) {
    Resolved r = resolve(p, {.session = p.sessions[0].name});
    if (laps) p.sessions[0].laps = *laps;
    if (!laps) r.session = nullptr;
    return lap_case(p, r, *opened.sources, {.points = 100})->course.delivery;
  };
  const auto key = [&](int laps) {
    p.sessions[0].laps = laps;
    return key_of_case(p, resolve(p, {.session = p.sessions[0].name}), *opened.sources);
  };
  EXPECT_EQ(charge(40)->charge, 1.0) << "its own alternator does";
  EXPECT_EQ(key(4), key(40)) << "so sessions on the same lap share their answers";
  p.setups[0].circuit->charging.alternator = "alternator, 40 A class";
  EXPECT_NE(key(4), key(40));
  const auto alone = charge({}), few = charge(4), many = charge(12);
  EXPECT_EQ(alone->charge, 1.0);
  EXPECT_LT(few->charge, 1.0);
  // By hand: three laps are gone when the last of four begins, eleven of twelve; the pumps take a little less
  // at the lower voltage.
  EXPECT_NEAR((1 - many->charge) / (1 - few->charge), 11.0 / 3, 0.25);
  EXPECT_LT(many->main[50], few->main[50]);
  EXPECT_LT(few->main[50], alone->main[50]);
  EXPECT_TRUE(std::any_of(many->faults.begin(), many->faults.end(), [](const circuit::LapFault& f) {
    return f.text.in().find("This lap is the session's last") != std::string::npos;
  }));
}

TEST_F(Cases, UnknownNamesAreSaidWithThoseThereAre) {
  for (const Case& wanted : {Case{.setup = "P5"}, Case{.lap = "P5"}, Case{.session = "P5"}}) {
    try {
      resolve(project, wanted);
      FAIL();
    } catch (const UnknownName& error) {
      EXPECT_THAT(error.what(), HasSubstr("\"P5\"; there is \""));
    }
  }
  EXPECT_THROW(resolve({}, {}), InputError);
}

TEST_F(Cases, ALevelThatTheTankDoesNotHoldIsRefused) {
  for (double level : {-1e-3, 0.2, std::nan("")}) {
    EXPECT_THROW(run(project, {}, {.level = level, .points = 50}, *opened.sources), InputError) << level;
    EXPECT_THROW(settle(project, {}, {.level = level}, *opened.sources), InputError) << level;
  }
  EXPECT_THROW(
      settle(project, {}, {.level = 0.02, .acceleration = {0, 0, -standard_gravity}}, *opened.sources),
      InputError)
      << "weightless";
}

TEST(Size, ServesEveryLapUnlessOneIsNamed) {
  test::TempFolder folder;
  copy_short_demo(folder, 30);
  Sources sources(folder.path());
  project::Project p = open_project(folder / "ostrel-p4.uadze.json", sources).project;
  // A second lap, faster round the corners by a quarter.
  lap::Lap hard = sources.laps.get(p.laps[0])->value;
  for (double& v : hard.lateral) v *= 1.25;
  folder.write("laps/hard.csv", write_lap(hard));
  p.laps.push_back(p.laps[0]);
  p.laps[1].name = "hard", p.laps[1].file = "laps/hard.csv";
  SizeOptions options;
  options.level = 10e-3;
  options.points = 100;
  const auto needed = [&](const Case& wanted) { return size(p, wanted, options, sources)->surge->needed; };
  const double both = needed({}), first = needed({.lap = p.laps[0].name}), second = needed({.lap = "hard"});
  ASSERT_TRUE(std::isfinite(first) && std::isfinite(second));
  EXPECT_NEAR(both, std::max(first, second), 1e-5);
  EXPECT_EQ(size(p, {}, options, sources), size(p, {}, options, sources)) << "kept";
}

}  // namespace
}  // namespace uadze::solve
