#include "core/circuit/element.h"

#include <cmath>
#include <numbers>

#include "core/circuit/friction.h"

namespace uadze::circuit {
namespace {

// Below this flow (0.004 L/h) a quadratic loss is drawn straight, so that its slope never vanishes.
constexpr double straight = 1e-9;

Drop of(const Line& line, double q, const fluid::Liquid& l) {
  const double a = area(line.bore);
  const double laminar = 32 * l.viscosity * line.length / (line.bore * line.bore * a);
  const double re = reynolds(std::abs(q), line.bore, l);
  if (re <= laminar_end) return {laminar * q, laminar};
  const Friction f = friction_factor(re, line.roughness / line.bore);
  const double value = f.value * line.length / line.bore * l.density * q * std::abs(q) / (2 * a * a);
  return {value, value / q * (2 + f.slope)};
}

Drop of(const Resistance& r, double q, const fluid::Liquid& l) {
  const double linear = r.linear * l.viscosity / reference_viscosity;
  const double quadratic = r.quadratic * l.density / reference_density;
  const double size = std::sqrt(q * q + straight * straight);
  return {linear * q + quadratic * q * size, linear + quadratic * (size + q * q / size)};
}

}  // namespace

Drop drop(const Element& element, double flow, const fluid::Liquid& liquid) {
  return std::visit([&](const auto& e) { return of(e, flow, liquid); }, element);
}

Drop drop(std::span<const Element> chain, double flow, const fluid::Liquid& liquid) {
  Drop sum;
  for (const Element& e : chain) {
    const Drop d = drop(e, flow, liquid);
    sum.value += d.value;
    sum.slope += d.slope;
  }
  return sum;
}

double area(double bore) { return std::numbers::pi / 4 * bore * bore; }

double velocity(double flow, double bore) { return flow / area(bore); }

double reynolds(double flow, double bore, const fluid::Liquid& liquid) {
  return liquid.density * std::abs(velocity(flow, bore)) * bore / liquid.viscosity;
}

Resistance loss(double coefficient, double bore) {
  return {0.0, coefficient * reference_density / (2 * area(bore) * area(bore))};
}

Resistance orifice(double discharge, double bore) { return loss(1 / (discharge * discharge), bore); }

Resistance rated(double flow, double drop, double viscous) {
  return {viscous * drop / flow, (1 - viscous) * drop / (flow * flow)};
}

Resistance doubled(const Resistance& one) { return {one.linear / 2, one.quadratic / 4}; }

}  // namespace uadze::circuit
