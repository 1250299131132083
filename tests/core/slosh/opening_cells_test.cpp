// Cells eight at a time, against the law written out for one cell after the other.
#include "core/slosh/opening_cells.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/random_shapes.h"

namespace uadze::slosh {
namespace {

struct One {
  double wet = 0.0, head = 0.0, spread = 0.0;
};
One look(const SideView& v, const Vec3& at) {
  One out;
  const double depth = v.plane.offset - v.plane.normal.dot(at);
  if (!v.wet || depth <= -v.half) return out;
  out.wet = depth >= v.half ? 1.0 : 0.5 + depth / (2 * v.half);
  const double below = depth >= v.half ? depth : (depth + v.half) / 2;
  out.head =
      std::max(0.0, v.pull * below + v.lateral.dot(at - v.reference) * std::min(1.0, below * v.per_depth));
  out.spread = v.pull * v.half * out.wet;
  return out;
}

Passed by_cells(const std::vector<tank::Cell>& cells, const SideView& a, const SideView& b,
                const PassOptions& o) {
  Passed out;
  for (const tank::Cell& cell : cells) {
    const One here = look(a, cell.at), there = look(b, cell.at);
    const auto part = [&](double area, double drive, bool wet_a, bool wet_b, double spread) {
      if (area <= 0 || drive == 0 || !(drive > 0 ? o.forward : o.backward)) return;
      double flow = area * std::sqrt(2 * std::abs(drive));
      flow *= 1 - std::pow(std::min(1.0, spread / std::abs(drive)), 2) / 24;
      if (!(drive > 0 ? wet_a : wet_b)) {
        (drive > 0 ? out.gas_forward : out.gas_back) += flow;
        return;
      }
      out.fuel += drive > 0 ? flow : -flow;
      out.all += flow;
      out.weighted += flow * std::abs(drive);
      out.place += flow * cell.at;
      if (wet_a && wet_b) out.met += flow;
    };
    const double both = std::min(here.wet, there.wet), any = std::max(here.wet, there.wet);
    part(both * cell.area, o.gas_drive + here.head - there.head, true, true, 0.0);
    if (here.wet > there.wet)
      part((any - both) * cell.area, o.gas_drive + here.head, true, false, here.spread);
    else
      part((any - both) * cell.area, o.gas_drive - there.head, false, true, there.spread);
  }
  return out;
}

TEST(OpeningCells, AgreeWithTheLawForOneCellAfterTheOther) {
  test::Random random(37);
  const auto side = [&] {
    SideView v;
    v.plane = {random.direction(), random.uniform(-0.2, 0.3)};
    v.half = random.uniform(1e-6, 0.03);
    v.pull = random.uniform(0, 20);
    v.per_depth = random.uniform(0, 20);
    v.lateral = random.uniform(-10, 10) * random.direction();
    v.reference = 0.2 * random.direction();
    v.wet = random.uniform(0, 1) < 0.9;
    return v;
  };
  for (int n = 0; n < 2000; ++n) {
    std::vector<tank::Cell> list;
    for (int k = random.whole(1, 20); k > 0; --k)
      list.push_back({0.2 * random.direction(), random.uniform(1e-6, 1e-3)});
    const OpeningCells cells(list);
    const SideView a = side(), b = side();
    const double drive = random.whole(0, 2) ? random.uniform(-3, 3) : 0.0;
    const PassOptions how{drive, random.uniform(0, 1) < 0.8, random.uniform(0, 1) < 0.8};
    std::vector<StandBlock> stands(cells.blocks.size());
    const double dry = survey(cells, a, b, stands.data());
    double dry_by_cells = 0;
    for (const tank::Cell& cell : list)
      dry_by_cells += (1 - std::max(look(a, cell.at).wet, look(b, cell.at).wet)) * cell.area;
    EXPECT_NEAR(dry, dry_by_cells, 1e-15) << n;
    const Passed lanes_say = pass(cells, stands.data(), how), one = by_cells(list, a, b, how);
    // The root makes much of what little rounding leaves where both heads are alike.
    const double close = 1e-9 * (one.all + one.gas_forward + one.gas_back) + 1e-12;
    EXPECT_NEAR(lanes_say.fuel, one.fuel, close) << n;
    EXPECT_NEAR(lanes_say.all, one.all, close) << n;
    EXPECT_NEAR(lanes_say.weighted, one.weighted, 30 * close) << n;
    EXPECT_NEAR(lanes_say.met, one.met, close) << n;
    EXPECT_NEAR(lanes_say.gas_forward, one.gas_forward, close) << n;
    EXPECT_NEAR(lanes_say.gas_back, one.gas_back, close) << n;
    EXPECT_NEAR((lanes_say.place - one.place).norm(), 0, close) << n;
  }
}

// Torricelli at a wholly covered opening, and nothing through a valve that is shut that way.
TEST(OpeningCells, AFlapLetsThroughOneWayOnly) {
  const OpeningCells cells({{Vec3(0, 0, 0), 1e-4}, {Vec3(0, 0.01, 0), 1e-4}});
  std::vector<StandBlock> stands(1);
  const SideView full{.plane = {Vec3::UnitZ(), 0.2}, .half = 1e-5, .pull = 9.81, .wet = true}, empty;
  EXPECT_EQ(survey(cells, full, empty, stands.data()), 0.0);
  EXPECT_NEAR(pass(cells, stands.data(), {}).fuel, 2e-4 * std::sqrt(2 * 9.81 * 0.2), 1e-12);
  EXPECT_EQ(pass(cells, stands.data(), {.forward = false}).fuel, 0.0);
  // Gas that presses harder than the fuel's head comes in against it.
  const Passed blown = pass(cells, stands.data(), {.gas_drive = -3.0});
  EXPECT_EQ(blown.fuel, 0.0);
  EXPECT_NEAR(blown.gas_back, 2e-4 * std::sqrt(2 * (3.0 - 9.81 * 0.2)), 1e-9);
}

}  // namespace
}  // namespace uadze::slosh
