#include "core/circuit/heat.h"

#include <Eigen/LU>

#include "core/base/require.h"

namespace uadze::circuit {

double loop_rise(const HeatBalance& heat, const HeatMoves& m) {
  return m.main > 1e-15 ? heat.loop * m.time / (heat.heat_capacity * m.main) : 0.0;
}

Temperatures warmed(const Temperatures& before, const HeatBalance& heat, const HeatMoves& m) {
  UADZE_REQUIRE(m.tank_volume > 0 && heat.heat_capacity > 0, "a lump has a heat capacity");
  const double rc = heat.heat_capacity, tank = rc * m.tank_volume;
  const double returned = rc * m.back * loop_rise(heat, m), lost = heat.tank_loss * m.time;
  if (m.surge_volume <= 0) {
    const double after = (tank * before.tank + returned + lost * heat.ambient) / (tank + lost);
    return {after, after};
  }
  const double surge = rc * m.surge_volume, wall = heat.surge_loss * m.time;
  const double overflow = rc * m.overflow, lifted = rc * m.lifted;
  // Rows: tank, surge tank; columns: their temperatures after the step.
  Eigen::Matrix2d a;
  Eigen::Vector2d b;
  a << tank + lost + overflow, -overflow, -lifted, surge + lifted + wall;
  b << tank * before.tank + lost * heat.ambient, surge * before.surge + heat.lift * m.time;
  if (heat.surge_inside) {
    a(1, 0) -= wall;
    a(0, 0) += wall;
    a(0, 1) -= wall;
  } else {
    b[1] += wall * heat.ambient;
  }
  if (m.back_to_surge) {
    b[1] += returned;
  } else {
    a(0, 0) += rc * m.back;
    a(0, 1) -= rc * m.back;
    b[0] += returned;
  }
  const Eigen::Vector2d after = a.inverse() * b;
  return {after[0], after[1]};
}

}  // namespace uadze::circuit
