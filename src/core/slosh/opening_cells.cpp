#include "core/slosh/opening_cells.h"

#include <cmath>

namespace uadze::slosh {
namespace {

/// A side's view as plain numbers.
struct Side {
  explicit Side(const SideView& v)
      : nx(v.plane.normal.x()),
        ny(v.plane.normal.y()),
        nz(v.plane.normal.z()),
        offset(v.plane.offset),
        half(v.half),
        pull(v.pull),
        per_depth(v.per_depth),
        lx(v.lateral.x()),
        ly(v.lateral.y()),
        lz(v.lateral.z()),
        at_reference(v.lateral.dot(v.reference)),
        there(v.wet ? 1.0 : 0.0) {}
  double nx, ny, nz, offset, half, pull, per_depth, lx, ly, lz, at_reference, there;
};

}  // namespace

OpeningCells::OpeningCells(const std::vector<tank::Cell>& cells) : blocks(lane_blocks(cells.size())) {
  for (size_t i = 0; i < lanes * blocks.size() && !cells.empty(); ++i) {
    const tank::Cell& cell = i < cells.size() ? cells[i] : cells.back();
    CellBlock& b = blocks[i / lanes];
    const size_t k = i % lanes;
    b.x[k] = cell.at.x(), b.y[k] = cell.at.y(), b.z[k] = cell.at.z();
    b.area[k] = i < cells.size() ? cell.area : 0.0;
  }
}

UADZE_WIDE double survey(const OpeningCells& cells, const SideView& view_a, const SideView& view_b,
                         StandBlock* out) {
  const size_t count = cells.blocks.size();
  const auto look = [&](const Side v, Lane StandBlock::*wet, Lane StandBlock::*head, Lane StandBlock::*spread)
      __attribute__((always_inline)) {
    const double per_height = 1 / (2 * v.half);
    for (size_t g = 0; g < count; ++g) {
      const CellBlock& in = cells.blocks[g];
      Lane &to_wet = out[g].*wet, &to_head = out[g].*head, &to_spread = out[g].*spread;
#pragma GCC ivdep
      for (size_t k = 0; k < lanes; ++k) {
        const double depth = v.offset - (v.nx * in.x[k] + v.ny * in.y[k] + v.nz * in.z[k]);
        const double share = 0.5 + depth * per_height;
        const double some = share > 0 ? share : 0.0, wetted = v.there * (some < 1 ? some : 1.0);
        // From where a cell is wholly covered the depth of its middle counts, before that of its wet part.
        const double tip = (depth + v.half) / 2, middle = tip > depth ? tip : depth;
        const double below = middle > 0 ? middle : 0.0;
        // The push of fuel that is being moved along grows from nothing at the surface to all at mean depth.
        const double deep = below * v.per_depth, part = deep < 1.0 ? deep : 1.0;
        const double aside = (v.lx * in.x[k] + v.ly * in.y[k] + v.lz * in.z[k] - v.at_reference) * part;
        const double push = v.pull * below + aside;
        to_wet[k] = wetted;
        to_head[k] = v.there * (push > 0 ? push : 0.0);
        to_spread[k] = v.pull * v.half * wetted;
      }
    }
  };
  look(Side(view_a), &StandBlock::wet_a, &StandBlock::head_a, &StandBlock::spread_a);
  look(Side(view_b), &StandBlock::wet_b, &StandBlock::head_b, &StandBlock::spread_b);
  Lane dry{};
  for (size_t g = 0; g < count; ++g)
#pragma GCC ivdep
    for (size_t k = 0; k < lanes; ++k) {
      const double wa = out[g].wet_a[k], wb = out[g].wet_b[k];
      dry[k] += (1 - (wa > wb ? wa : wb)) * cells.blocks[g].area[k];
    }
  return total(dry);
}

namespace {

template <bool with_place>
__attribute__((always_inline)) inline Passed pass_all(const OpeningCells& cells, const StandBlock* stands,
                                                      const PassOptions& options) {
  const double gas = options.gas_drive;
  const double forward = options.forward ? 1.0 : 0.0, backward = options.backward ? 1.0 : 0.0;
  Lane fuel{}, gas_forward{}, gas_back{}, all{}, weighted{}, met{}, px{}, py{}, pz{};
  const size_t count = cells.blocks.size();
  for (size_t g = 0; g < count; ++g) {
    const CellBlock& in = cells.blocks[g];
    const StandBlock& s = stands[g];
#pragma GCC ivdep
    for (size_t k = 0; k < lanes; ++k) {
      // Choices as factors of 0 and 1: branches would keep the lanes apart.
      const double wa = s.wet_a[k], wb = s.wet_b[k];
      const double on_a = 0.5 + std::copysign(0.5, wa - wb), on_b = 1 - on_a;
      const double both = wa < wb ? wa : wb, any = wa < wb ? wb : wa;
      // Fuel on both sides.
      const double drive = gas + s.head_a[k] - s.head_b[k], size = std::abs(drive);
      const double ahead = 0.5 + std::copysign(0.5, drive);
      const double way = ahead * forward + (1 - ahead) * backward;
      const double flow = way * both * in.area[k] * std::sqrt(2 * size);
      // Fuel on one side only.
      const double head = on_a * s.head_a[k] - on_b * s.head_b[k];
      const double spread = on_a * s.spread_a[k] + on_b * s.spread_b[k];
      const double single = gas + head, single_size = std::abs(single);
      const double single_ahead = 0.5 + std::copysign(0.5, single), single_back = 1 - single_ahead;
      const double single_way = single_ahead * forward + single_back * backward;
      // The mean of the root over a part in which the drive varies, to second order: for the law of a weir.
      const double over = spread / (single_size > 1e-300 ? single_size : 1e-300);
      const double relative = over < 1.0 ? over : 1.0;
      const double single_flow = single_way * (any - both) * in.area[k] * std::sqrt(2 * single_size) *
                                 (1 - relative * relative / 24);
      const double of_fuel = single_ahead * on_a + single_back * on_b;
      const double wet_flow = of_fuel * single_flow, dry_flow = single_flow - wet_flow;
      gas_forward[k] += single_ahead * dry_flow;
      gas_back[k] += single_back * dry_flow;
      fuel[k] += std::copysign(flow, drive) + std::copysign(wet_flow, single);
      const double sum = flow + wet_flow;
      all[k] += sum;
      weighted[k] += flow * size + wet_flow * single_size;
      met[k] += flow;
      if constexpr (with_place) px[k] += sum * in.x[k], py[k] += sum * in.y[k], pz[k] += sum * in.z[k];
    }
  }
  const Vec3 place = with_place ? Vec3(total(px), total(py), total(pz)) : Vec3(Vec3::Zero());
  return {total(fuel), total(gas_forward), total(gas_back), total(all), total(weighted), total(met), place};
}

}  // namespace

UADZE_WIDE Passed pass(const OpeningCells& cells, const StandBlock* stands, const PassOptions& options) {
  return options.with_place ? pass_all<true>(cells, stands, options)
                            : pass_all<false>(cells, stands, options);
}

}  // namespace uadze::slosh
