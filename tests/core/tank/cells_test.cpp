#include "core/tank/cells.h"

#include <gtest/gtest.h>

#include <numbers>

#include "support/random_shapes.h"

namespace uadze::tank {
namespace {

using test::Random;

double sum(const Cells& cells) {
  double out = 0;
  for (const Cell& c : cells.list) out += c.area;
  return out;
}

Vec3 middle(const Cells& cells) {
  Vec3 out = Vec3::Zero();
  for (const Cell& c : cells.list) out += c.area * c.at;
  return out / sum(cells);
}

TEST(Cells, HaveTheOpeningsAreaAndMiddleOnAnyPlate) {
  Random random(601);
  for (int n = 0; n < 200; ++n) {
    const Plate plate(random.direction(), random.uniform(-0.3, 0.3));
    EXPECT_NEAR(plate.level.z(), 0, 1e-12) << "level";
    EXPECT_GE(plate.up.z(), 0) << "up";
    EXPECT_NEAR(plate.level.dot(plate.plane.normal), 0, 1e-12);
    OpeningPart part{.at = random.direction()};
    part.diameter = random.uniform(0.005, 0.2);
    part.width = random.uniform(0.005, 0.4), part.height = random.uniform(0.005, 0.2);
    part.form = OpeningForm::round;
    const Cells round = cells_of(part, plate);
    EXPECT_NEAR(sum(round), std::numbers::pi / 4 * part.diameter * part.diameter, 1e-15);
    EXPECT_NEAR((middle(round) - plate.onto(part.at)).norm(), 0, 1e-12);
    part.form = OpeningForm::slot;
    const Cells slot = cells_of(part, plate);
    EXPECT_NEAR(sum(slot), part.width * part.height, 1e-15);
    EXPECT_NEAR((middle(slot) - plate.onto(part.at)).norm(), 0, 1e-12);
    part.form = OpeningForm::notch;
    const Cells notch = cells_of(part, plate);
    EXPECT_NEAR((middle(notch) - plate.onto(part.at) - part.height / 2 * plate.up).norm(), 0, 1e-12)
        << "stands on its place";
    for (const Cells* cells : {&round, &slot, &notch})
      for (const Cell& c : cells->list) EXPECT_NEAR(plate.plane.normal.dot(c.at), plate.plane.offset, 1e-12);
  }
}

TEST(Cells, OfASlotFillItWithoutOverlap) {
  const Plate plate(Vec3::UnitX(), 0.0);
  OpeningPart part{.form = OpeningForm::slot, .at = {0, 0.1, 0.2}, .width = 0.3, .height = 0.02};
  const Cells cells = cells_of(part, plate);
  double left = 1e9, right = -1e9;
  for (const Cell& c : cells.list) {
    left = std::min(left, c.at.y() - cells.half_level), right = std::max(right, c.at.y() + cells.half_level);
    EXPECT_NEAR(4 * cells.half_level * cells.half_up, c.area, 1e-15) << "a cell is its rectangle";
  }
  EXPECT_NEAR(right - left, 0.3, 1e-12);
}

TEST(Cells, OnAGridCoverWhatIsOpen) {
  const Solid box = make_solid(Box{{-0.1, -0.3, 0}, {0.1, 0.3, 0.4}});
  const Plate plate(Vec3::UnitX(), 0.0);
  const Cells all = grid_cells(plate, box, 0.24, [](const Vec3&) { return true; });
  EXPECT_NEAR(sum(all), 0.24, 1e-12);
  const Cells upper = grid_cells(plate, box, 0.12, [](const Vec3& p) { return p.z() > 0.2; });
  EXPECT_NEAR(sum(upper), 0.12, 0.03);
  Cells scaled = upper;
  scale_to(scaled, 0.12);
  EXPECT_NEAR(sum(scaled), 0.12, 1e-15);
  EXPECT_TRUE(grid_cells(plate, box, 0.1, [](const Vec3&) { return false; }).list.empty());
}

TEST(Within, IsTheInsideOfAnyPolygon) {
  Random random(603);
  for (int n = 0; n < 50; ++n) {
    const auto polygon = random.polygon(random.whole(3, 9));
    // The share of random points inside is the polygon's share of its box.
    Vec2 low = polygon[0], high = polygon[0];
    for (const Vec2& p : polygon) low = low.cwiseMin(p), high = high.cwiseMax(p);
    int inside = 0;
    constexpr int points = 4000;
    for (int k = 0; k < points; ++k)
      inside +=
          within(polygon, low + (high - low).cwiseProduct(Vec2(random.uniform(0, 1), random.uniform(0, 1))));
    const double share = std::abs(polygon_area(polygon)) / (high - low).prod();
    EXPECT_NEAR(static_cast<double>(inside) / points, share, 4.5 * std::sqrt(share * (1 - share) / points))
        << n;
  }
}

TEST(Solid, WeightsScaleEverySum) {
  Random random(605);
  for (int n = 0; n < 50; ++n) {
    const Solid solid = make_solid(random.prism()), part = together({{&solid, 0.75}});
    PlaneCutter whole(solid), weighted(part);
    const Vec3 normal = random.direction();
    whole.aim(normal), weighted.aim(normal);
    const double offset = random.uniform(whole.lowest(), whole.highest());
    const auto a = whole.cut(offset), b = weighted.cut(offset);
    EXPECT_NEAR(b.below.volume, 0.75 * a.below.volume, 1e-14);
    EXPECT_NEAR((b.below.first - 0.75 * a.below.first).norm(), 0, 1e-14);
    EXPECT_NEAR(b.section.area, 0.75 * a.section.area, 1e-13);
    EXPECT_NEAR((b.section.second() - 0.75 * a.section.second()).norm(), 0, 1e-13);
    EXPECT_NEAR((b.section.centroid - a.section.centroid).norm(), 0, 1e-11);
    EXPECT_NEAR(weighted.offset_for(0.3 * part.volume()).offset,
                whole.offset_for(0.3 * solid.volume()).offset, 1e-11)
        << "a share is a share";
  }
}

}  // namespace
}  // namespace uadze::tank
