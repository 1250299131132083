// Cars that nobody drew: a tank of any outline, its pickup anywhere, the demo's lap and circuit. From the
// file's checks to the session's plan every answer keeps to the same few truths.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/project/project_file.h"
#include "core/report/session_report.h"
#include "core/report/sound.h"
#include "core/solve/plan.h"
#include "core/solve/run.h"
#include "core/starvation/never_drawn.h"
#include "support/demo.h"
#include "support/random_shapes.h"

namespace uadze::solve {
namespace {

/// The Wisp with another tank of 5 to 40 L, its pickup somewhere in the lower half.
project::Project any_car(test::Random& r, const project::Project& wisp) {
  project::Project p = wisp;
  for (project::Setup& s : p.setups) {
    tank::Prism shape = r.prism();
    const double wanted = r.uniform(5e-3, 40e-3);
    const double scale = std::cbrt(wanted / plain_tank(make_solid(shape)).volume());
    for (Vec2& corner : shape.profile) corner *= scale;
    shape.from *= scale, shape.to *= scale;
    const tank::Tank made = plain_tank(make_solid(shape));
    const Vec3 low = made.whole.lower_corner(), high = made.whole.upper_corner();
    s.tank = {};
    s.tank.shapes = {shape};
    tank::Pickup pickup = wisp.setups[0].tank.pickups[0];
    // A place within the walls, as far down as it is tried.
    for (int k = 0; k < 4000; ++k) {
      const Vec3 at(r.uniform(low.x(), high.x()), r.uniform(low.y(), high.y()),
                    low.z() + r.uniform(0.02, 0.5) * (high.z() - low.z()));
      if (made.whole.contains(at)) {
        pickup.position = at;
        break;
      }
    }
    pickup.sock_radius = std::min(pickup.sock_radius, 0.2 * (high.z() - low.z()));
    s.tank.pickups = {pickup};
  }
  p.setups.resize(1);
  return p;
}

TEST(AnyCar, KeepsToTheSameTruthsFromFileToPlan) {
  const test::Demo opened = test::demo("ostrel-wisp");
  test::Random r(2026);
  int driven = 0;
  for (int k = 0; k < 14; ++k) {
    const project::Project p = any_car(r, opened.project);
    SCOPED_TRACE(fmt::format("car {}", k));
    // What the file's own checks refuse is no car; they say where.
    const Messages said = check(p, "any.json", *opened.sources);
    if (has_errors(said)) {
      for (const Message& m : said) EXPECT_FALSE(m.place.empty()) << m.text();
      continue;
    }
    // Through the file it is the same car.
    const std::string text = project::project_text(p, "");
    EXPECT_EQ(project::project_text(project::parse_project(text, "any.json").value, ""), text);
    ++driven;
    const auto lap = lap_result(p, resolve(p, {.alone = true}), *opened.sources,
                                {.ladder = {.levels = 7, .resolution = 0.1e-3}, .points = 250});
    const double whole = lap->car->tank->volume(), never = lap->car->never_drawn.total();
    const auto& clean = lap->clean;
    EXPECT_GE(never, 0);
    EXPECT_LE(never, whole * (1 + 1e-9));
    EXPECT_GE(clean.level, std::min(never, whole) - 1e-9);
    EXPECT_LE(clean.level, whole * (1 + 1e-9));
    EXPECT_TRUE(clean.at.clean() || !clean.exists);
    if (clean.exists && !holds_up(lap->car->never_drawn, clean.level)) {
      EXPECT_FALSE(clean.below.clean()) << "why it can not be less";
      EXPECT_LE(clean.unclean_below, clean.level + 1e-12);
      EXPECT_NEAR(clean.unclean_below, clean.level, 0.11e-3) << "to the resolution asked for";
    }
    // Every row of the map is of a level in the tank; above the clean level none starves.
    double last = 0;
    for (const auto& row : solve::map_of(*lap).rows) {
      EXPECT_GT(row.level, last);
      last = row.level;
      EXPECT_LE(row.level, whole * (1 + 1e-9));
      if (clean.exists && row.level >= clean.level - 1e-12) {
        EXPECT_TRUE(row.events.empty()) << row.level * 1e3 << " L starves, clean is " << clean.level * 1e3;
      }
    }
    // A run anywhere loses nothing.
    for (const double share : {0.15, 0.5, 0.9}) {
      const auto ran = run(p, {.alone = true}, {.level = share * whole, .points = 250}, *opened.sources);
      EXPECT_LT(std::abs(ran.run.ledger.error()), 1e-9 * whole + 1e-12);
      for (double wet : ran.run.coverage.wet[0]) {
        ASSERT_GE(wet, 0);
        ASSERT_LE(wet, 1);
      }
    }
    // The plan: more laps never start with less, and its page reads well.
    double before = 0;
    for (const int laps : {1, 2, 4}) {
      session::Session s;
      s.name = "any", s.laps = laps;
      const SessionResult plan = plan_session(lap, s, {.risk = {}, .draws = 300, .seed = 3});
      EXPECT_GE(plan.plan.start, before - 1e-9) << laps << " laps";
      before = plan.plan.start;
      EXPECT_GE(plan.risk.start, plan.plan.start - 1e-9) << "a risk never starts under the sum";
      EXPECT_GE(plan.end.end, std::min(never, clean.level) - 1e-9);
      const std::string page = report::session_text(plan, true);
      EXPECT_EQ(test::unsound_words(page), "") << page;
      EXPECT_EQ(page.find("NO FUEL IS ENOUGH") == std::string::npos, plan.possible()) << page;
    }
  }
  EXPECT_GE(driven, 8) << "most of them are cars";
}

/// Mirrored, tank and lap, a car needs the same fuel.
TEST(AnyCar, ALeftHandedCarIsARightHandedOne) {
  const test::Demo opened = test::demo("ostrel-wisp");
  test::Random r(77);
  for (int k = 0; k < 3; ++k) {
    project::Project p = any_car(r, opened.project), q = p;
    if (has_errors(check(p, "any.json", *opened.sources))) continue;
    auto& shape = std::get<tank::Prism>(q.setups[0].tank.shapes[0]);
    if (shape.axis == tank::Axis::y) {
      std::swap(shape.from, shape.to);
      shape.from = -shape.from, shape.to = -shape.to;
    } else {
      const int across = shape.axis == tank::Axis::x ? 0 : 1;  // of the profile's two coordinates
      for (Vec2& corner : shape.profile) corner[across] = -corner[across];
      std::reverse(shape.profile.begin(), shape.profile.end());
    }
    q.setups[0].tank.pickups[0].position.y() *= -1;
    // The lap turned round the same way, beside the demo's own.
    const test::TempFolder folder;
    test::copy_demo(folder);
    const lap::Lap lap = opened.sources->laps.get(p.laps[0])->value;
    folder.write("laps/turned.csv", write_lap(lap::mirrored(lap)));
    q.laps[0].file = "laps/turned.csv";
    Sources turned(folder.path());
    const auto clean = [&](const project::Project& project, Sources& sources) {
      return lap_result(project, resolve(project, {.alone = true}), sources,
                        {.ladder = {.levels = 5, .resolution = 0.05e-3}, .points = 250})
          ->clean;
    };
    const auto one = clean(p, *opened.sources), other = clean(q, turned);
    EXPECT_EQ(one.exists, other.exists) << "car " << k;
    EXPECT_NEAR(one.level, other.level, 0.051e-3) << "car " << k;
    EXPECT_EQ(one.at.tightest_place, other.at.tightest_place) << "car " << k;
  }
}

}  // namespace
}  // namespace uadze::solve
