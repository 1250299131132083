#pragma once
// A jet (venturi) pump: a nozzle's jet drags fuel along through a throat.
//
//   motive --->|nozzle>===\______________/---->  delivery
//   suction ------------->   throat      diffuser
//
// Momentum balance over the throat, as for liquid jet pumps (Gosline and O'Brien 1934; Cunningham 1957): with
// q1 through the nozzle (area An) and q2 beside it (At - An), both at the suction chamber's pressure po,
//   p_throat - po = rho/At [ q1^2/An + q2^2/(At - An) - (q1 + q2)^2/At ]
//   p_delivery = p_throat + (1 - Kt - Kd) rho/2 ((q1 + q2)/At)^2
//   po = p_suction - (1 + Ks) rho/2 (q2/(At - An))^2
// so that p_delivery - p_suction is known by q1 and q2; solved for q2.
//
// Example:
//   const fluid::Liquid fuel = fluid::liquid({}, 293.15);
//   const circuit::JetPump jet{.nozzle = 1.2e-3, .throat = 3.5e-3};
//   EXPECT_GT(jet_rise(jet, 30e-6, 0.0, fuel), jet_rise(jet, 30e-6, 30e-6, fuel)) << "more entrained, less rise";
#include "core/fluid/liquid.h"

namespace uadze::circuit {

struct JetPump {
  double nozzle = 1.2e-3;  ///< m, bore
  double throat = 3.5e-3;  ///< m, bore
  // Loss coefficients of nozzle, suction entry, throat and diffuser: typical of small moulded ones.
  double nozzle_loss = 0.1, suction_loss = 0.1, throat_loss = 0.2, diffuser_loss = 0.2;
};

/// Pa that the jet gives between suction and delivery at those flows.
double jet_rise(const JetPump& jet, double motive, double suction, const fluid::Liquid& liquid);

/// m3/s that it draws against `lift` Pa (delivery over suction, with the suction line's own loss added as
/// `line` Pa s2/m6); 0 where it can not.
double entrained_flow(const JetPump& jet, double motive, double lift, const fluid::Liquid& liquid,
                      double line = 0.0);

/// Pa that the nozzle needs before it, over the suction chamber.
double nozzle_drop(const JetPump& jet, double motive, const fluid::Liquid& liquid);

}  // namespace uadze::circuit
