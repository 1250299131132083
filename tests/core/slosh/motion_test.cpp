#include "core/slosh/motion.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/tank/prism.h"
#include "support/figures.h"

namespace uadze::slosh {
namespace {

using test::g;

using ::testing::HasSubstr;

std::string failure_of(const std::string& text) {
  try {
    lap::parse_acceleration(text, "a.csv");
  } catch (const InputError& error) {
    return error.what();
  }
  return "no failure";
}

TEST(ForceTrace, IsGravityLessTheVehiclesAcceleration) {
  const auto trace =
      lap::parse_acceleration("ay [g];time [s];az [m/s2];ax [g]\r\n0;0;0;0\r\n1;0.5;9.80665;-2\r\n", "a.csv")
          .value;
  EXPECT_EQ(trace.at(-1), Vec3(0, 0, -g)) << "standing: gravity alone, and held before the first row";
  EXPECT_NEAR((trace.at(9) - Vec3(2 * g, -g, -2 * g)).norm(), 0, 1e-12);
  EXPECT_NEAR((trace.at(0.25) - Vec3(g, -0.5 * g, -1.5 * g)).norm(), 0, 1e-12) << "linear between";
}

TEST(ForceTrace, FaultsNameLineAndColumn) {
  const std::string head = "time [s],ax [g],ay [g],az [g]\n";
  EXPECT_THAT(failure_of("time [s],ax [g],ay [g]\n0,0,0\n1,0,0\n"),
              HasSubstr("a.csv: header: expected a column az [g]"));
  EXPECT_THAT(failure_of("time [s],ax,ay [g],az [g]\n0,0,0,0\n1,0,0,0\n"), HasSubstr("a column ax [g]"));
  EXPECT_THAT(failure_of(head + "0,0,0,0\n1,x,0,0\n"),
              HasSubstr("line 3, column ax: expected a number with a decimal point, found \"x\""));
  EXPECT_THAT(failure_of(head + "0,0,0,0\n1,0,400,0\n"),
              HasSubstr("line 3, column ay: expected an acceleration of 100 g at most"));
  EXPECT_THAT(failure_of(head + "0,0,0,0\n0,0,0,0\n"),
              HasSubstr("line 3, column time: expected a time after 0 s"));
  EXPECT_THAT(failure_of(head + "0,0,0,0\n"), HasSubstr("at least 2 rows of data, found 1"));
  EXPECT_THAT(failure_of(""), HasSubstr("an empty file"));
}

class Motion : public ::testing::Test {
 protected:
  const tank::Tank solid = [] {
    tank::TankParts parts;
    parts.shapes = {tank::Prism{tank::Axis::y, {{-0.3, 0}, {0.3, 0}, {0.2, 0.3}, {-0.3, 0.3}}, -0.25, 0.25}};
    parts.pickups = {{"left", {0, 0.2, 0.005}, 0.02, "engine"}};
    return tank::assemble(parts).tank;
  }();
  const std::vector<tank::Pickup> pickups{{"left", {0, 0.2, 0.005}, 0.02, "engine"}};
  lap::ForceTrace turn() const {
    return {{0, 1, 1.2, 4}, {{0, 0, -g}, {0, 0, -g}, {0, -g, -g}, {0, -g, -g}}};
  }
};

TEST_F(Motion, StandsStillWhileNothingPushes) {
  for (const Model model : {Model::settled, Model::planar}) {
    const auto motion = slosh_motion(solid, pickups, 0.02, turn(), {.model = model, .step = 0.1});
    ASSERT_EQ(motion.size(), 41u);
    for (size_t k = 0; k <= 10; ++k) EXPECT_NEAR((motion[k].centroid - motion[0].centroid).norm(), 0, 1e-9);
    for (const Instant& now : motion) EXPECT_NEAR(now.total, 0.02, 1e-14);
  }
}

TEST_F(Motion, ThePlanarFuelArrivesAfterTheSettled) {
  const auto settled = slosh_motion(solid, pickups, 0.02, turn(), {.model = Model::settled, .step = 0.05});
  const auto planar = slosh_motion(solid, pickups, 0.02, turn(), {.step = 0.05});
  const size_t k = 24;  // just when the turn is full
  EXPECT_LT(settled[k].centroid.y(), planar[k].centroid.y() - 0.02) << "it goes to the right, and later";
  double furthest = 0;
  for (const Instant& now : planar) furthest = std::min(furthest, now.centroid.y());
  EXPECT_LT(furthest, settled.back().centroid.y()) << "and overshoots";
  EXPECT_LT(planar.back().wet[0], 0.5) << "the left pickup is bare in a left-hand turn";
}

TEST_F(Motion, TheStepBetweenRowsDoesNotChangeTheMotion) {
  const auto fine = slosh_motion(solid, pickups, 0.02, turn(), {.step = 0.01});
  const auto coarse = slosh_motion(solid, pickups, 0.02, turn(), {.step = 0.2});
  for (size_t k = 0; k < coarse.size(); ++k)
    EXPECT_NEAR((coarse[k].centroid - fine[20 * k].centroid).norm(), 0, 0.003) << coarse[k].time;
}

TEST_F(Motion, AStartUnderTheFirstForceIsAtRest) {
  const lap::ForceTrace steady{{0, 2}, {{0, -g, -g}, {0, -g, -g}}};
  const auto motion = slosh_motion(solid, pickups, 0.02, steady, {.start = Start::settled, .step = 0.1});
  for (const Instant& now : motion) EXPECT_NEAR((now.centroid - motion[0].centroid).norm(), 0, 1e-6);
}

}  // namespace
}  // namespace uadze::slosh
