// What never comes out of a tank: by closed forms, and as the floor of every answer.
#include "core/starvation/never_drawn.h"

#include <gtest/gtest.h>

#include <random>

#include "core/starvation/band.h"
#include "core/starvation/first_answer.h"
#include "support/demo.h"
#include "support/simple_cars.h"

namespace uadze::starvation {
namespace {

using tank::Box;
using tank::OpeningPart;
using tank::TankParts;

/// A car with the tank of these parts and their pickups.
FuelSystem car_of(const TankParts& parts) {
  tank::Assembly made = tank::assemble(parts);
  EXPECT_FALSE(has_errors(made.faults));
  FuelSystem car = test::simple_car({0, 0, 0});
  car.tank = shared_tank(std::move(made.tank));
  car.pickups = parts.pickups;
  return car;
}

TankParts box(std::vector<tank::Pickup> pickups) {
  TankParts parts;
  parts.shapes = {Box{{-0.3, -0.25, 0}, {0.3, 0.25, 0.2}}};
  parts.pickups = std::move(pickups);
  return parts;
}

tank::Pickup pickup(double x, double z) { return {"pickup", {x, 0, z}, 0.01, "engine"}; }

TEST(NeverDrawn, ABoxKeepsWhatLiesUnderItsLowestPickup) {
  std::mt19937 draw(3);
  for (int k = 0; k < 50; ++k) {
    const double a = std::uniform_real_distribution<>(0.0, 0.19)(draw),
                 b = std::uniform_real_distribution<>(0.0, 0.19)(draw);
    const NeverDrawn left = never_drawn(car_of(box({pickup(-0.2, a), pickup(0.2, b)})));
    EXPECT_NEAR(left.under, 0.6 * 0.5 * std::min(a, b), 1e-12);
    EXPECT_EQ(left.foam, 0);
  }
}

TEST(NeverDrawn, ASpaceDrainsOverItsSillAndNoLowerThanWhereItDrainsTo) {
  // A wall across the middle; the hole's lower edge is its middle less its radius.
  const auto walled = [](double hole, double z, tank::Passes passes) {
    TankParts parts = box({pickup(-0.2, z)});
    parts.baffles = {
        {.name = "wall",
         .point = {0, 0, 0},
         .normal = Vec3::UnitX(),
         .openings = {{.name = "hole", .at = {0, 0, hole}, .diameter = 0.02, .passes = passes}}}};
    return never_drawn(car_of(parts)).under;
  };
  const double half = 0.3 * 0.5;
  EXPECT_NEAR(walled(0.06, 0.01, tank::Passes::both), half * 0.01 + half * 0.05, half * 2e-3);
  EXPECT_NEAR(walled(0.06, 0.08, tank::Passes::both), half * 0.08 * 2, half * 1e-9) << "it backs up";
  // Along the normal is forward: from the rear space, which the pickup is in, to the front one.
  EXPECT_NEAR(walled(0.06, 0.01, tank::Passes::against), half * 0.01 + half * 0.05, half * 2e-3);
  EXPECT_NEAR(walled(0.06, 0.01, tank::Passes::along), half * 0.01 + half * 0.2, 1e-9) << "no way out at all";
}

TEST(NeverDrawn, ATransferEmptiesItsSide) {
  TankParts parts = box({pickup(-0.2, 0.01)});
  // Only out of the pickup's side: the other one keeps all.
  parts.baffles = {
      {.name = "wall",
       .point = {0, 0, 0},
       .normal = Vec3::UnitX(),
       .openings = {{.name = "hole", .at = {0, 0, 0.15}, .diameter = 0.02, .passes = tank::Passes::along}}}};
  FuelSystem car = car_of(parts);
  EXPECT_NEAR(never_drawn(car).under, 0.15 * 0.01 + 0.15 * 0.2, 1e-9);
  car.transfer_from = car.tank->space_at({0.2, 0, 0.1});
  car.transfer_flow = 1e-5;
  EXPECT_NEAR(never_drawn(car).under, 0.15 * 0.01, 1e-9);
}

TEST(NeverDrawn, FoamKeepsItsShareAndWallsAFilm) {
  TankParts parts = box({pickup(0, 0.0)});
  const NeverDrawn bare = never_drawn(car_of(parts));
  // By hand: walls 2 (0.3 + 0.12 + 0.1) m2; film 2/3 sqrt(0.6e-6 0.2 / (9.80665 60)).
  EXPECT_NEAR(bare.film, 1.04 * 2.0 / 3 * std::sqrt(0.6e-6 * 0.2 / (9.80665 * 60)), 1e-12);
  EXPECT_LT(bare.film, 0.02e-3) << "some thousandths of a litre";
  parts.foam = {{.name = "foam", .shape = {}, .porosity = 0.97, .permeability = 1e-8, .keeps = 0.04}};
  EXPECT_NEAR(never_drawn(car_of(parts)).foam, 0.04 * 0.06, 1e-12);
  parts.foam[0].shape = Box{{-0.3, -0.25, 0}, {0, 0.25, 0.2}};
  EXPECT_NEAR(never_drawn(car_of(parts)).foam, 0.04 * 0.03, 1e-12) << "half of it";
}

/// Whatever the lap allows, no answer lies under what never comes out.
TEST(NeverDrawn, IsTheFloorOfCleanLevelBandAndFirstAnswer) {
  FuelSystem car = test::simple_car({0, 0.2, 0});
  const lap::Lap lap = test::corner_lap(0.3 * standard_gravity, 2.0);
  const Course course = test::course_of(car, lap);
  const double free = clean_level(car, course).level;
  ASSERT_LT(free, 0.02);
  car.never_drawn.under = 0.02;
  const CleanLevel floored = clean_level(car, course);
  EXPECT_TRUE(floored.exists);
  EXPECT_DOUBLE_EQ(floored.level, 0.02);
  EXPECT_DOUBLE_EQ(floored.at.level, 0.02) << "the lap shown is that of the answer";
  EXPECT_NE(clean_level_working(car, floored, {}).note.text.find("what never comes out decides"),
            std::string::npos);
  EXPECT_DOUBLE_EQ(clean_level_near(car, course, 0.05, 0.1e-3), 0.02);
  const ModelBand band = model_band(car, course, floored.level, 0.1e-3);
  EXPECT_GE(band.low, 0.02);
  for (double z : {-3.0, 0.0, 3.0}) EXPECT_GE(band.level({z, z, z, z}), 0.02);
  EXPECT_GE(first_answer(QuickLap(car, course)).level, 0.02);
  car.never_drawn.under = 1.0;
  EXPECT_LE(clean_level(car, course).level, car.tank->volume()) << "not more than the tank holds";
}

TEST(NeverDrawn, OfTheDemosIsBelievable) {
  for (const char* name : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
    const auto made = test::demo_case(name, 100);
    const double left = made->car->never_drawn.total();
    EXPECT_GT(left, 0.05e-3) << name;
    EXPECT_LT(left, 0.1 * made->car->tank->volume()) << name;
  }
}

}  // namespace
}  // namespace uadze::starvation
