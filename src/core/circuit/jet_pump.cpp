#include "core/circuit/jet_pump.h"

#include "core/base/root.h"
#include "core/circuit/element.h"

namespace uadze::circuit {

double jet_rise(const JetPump& jet, double q1, double q2, const fluid::Liquid& liquid) {
  const double an = area(jet.nozzle), at = area(jet.throat), as = at - an, q = q1 + q2;
  const double rho = liquid.density;
  const double chamber = -(1 + jet.suction_loss) * rho / 2 * (q2 / as) * (q2 / as);
  const double mixing = rho / at * (q1 * q1 / an + q2 * q2 / as - q * q / at);
  const double rest = rho / 2 * (q / at) * (q / at) * (1 - jet.diffuser_loss - jet.throat_loss);
  return chamber + mixing + rest;
}

double entrained_flow(const JetPump& jet, double motive, double lift, const fluid::Liquid& liquid,
                      double line) {
  if (!(motive > 0) || !(jet.throat > jet.nozzle)) return 0.0;
  const auto spare = [&](double q) { return jet_rise(jet, motive, q, liquid) - lift - line * q * q; };
  if (spare(0.0) <= 0) return 0.0;
  double low = 0, high = motive;
  while (spare(high) > 0 && high < 1000 * motive) low = high, high *= 2;
  return root_between(spare, low, high, 1e-15).value;
}

double nozzle_drop(const JetPump& jet, double motive, const fluid::Liquid& liquid) {
  const double v = motive / area(jet.nozzle);
  return (1 + jet.nozzle_loss) * liquid.density / 2 * v * v;
}

}  // namespace uadze::circuit
