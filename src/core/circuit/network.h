#pragma once
// A steady network: pressures at nodes, flows in branches.
//
//   Network net;
//   const int tank = net.fixed("tank", 101325), rail = net.node("rail", 30e-6);   // 30 ml/s leave there
//   net.add({.name = "pump", .from = tank, .to = rail, .law = Pump{&curves, {13.5, 0.05}}});
//   const Solution now = solve(net, fuel);
//   if (!now.converged) say(now.reason);
//
//   fixed                      free, with withdrawal
//   (tank)---chain---(o)---pump---(o)---chain---(rail)---regulator---chain---(tank)
//
// Unknown are the free nodes' pressures and all flows. Each branch is one equation, each free node's mass
// balance another; Newton's method on both at once, the branches eliminated (the global gradient method,
// Todini and Pilati 1988), with steps halved while the residual grows.
#include <span>
#include <string>
#include <variant>
#include <vector>

#include "core/circuit/element.h"
#include "core/circuit/pump.h"

namespace uadze::circuit {

/// A pump between two nodes. Under its inlet margin it loses flow, down to nothing where the fuel has
/// flashed to gas.
struct Pump {
  const PumpCurves* curves = nullptr;
  PumpDrive drive;
  bool running = true;  ///< standing still it is a leak
};

/// Holds `from` at set + slope q by letting fuel go to `to`; wide open it is a resistance, and can not go
/// below `to` plus that loss.
struct Relief {
  double set = 4e5;    ///< Pa, absolute, at no flow
  double slope = 0.0;  ///< Pa s/m3
  Resistance open;
};

struct Branch {
  std::string name;
  int from = 0, to = 0;
  double head = 0.0;  ///< Pa gained from `from` to `to` by acceleration and height: rho f.dx
  std::variant<Chain, Pump, Relief> law;
  bool one_way = false;   ///< a chain with a check valve
  double cracking = 0.0;  ///< Pa that open it
  bool gas = false;       ///< passes air only
  bool gas_back = false;  ///< a chain open to gas at its far end: backward it passes air, almost freely
};

struct Node {
  std::string name;
  bool fixed = false;
  double pressure = 0.0;    ///< Pa, absolute, of a fixed one
  double withdrawal = 0.0;  ///< m3/s that leave a free one
};

struct Network {
  std::vector<Node> nodes;
  std::vector<Branch> branches;

  int node(std::string name, double withdrawal = 0.0);
  int fixed(std::string name, double pressure);
  int add(Branch branch);
};

struct Solution {
  std::vector<double> pressure;  ///< Pa, absolute, of each node
  std::vector<double> flow;      ///< m3/s of each branch, + from `from` to `to`
  bool converged = false;
  int iterations = 0;
  double balance = 0.0;   ///< m3/s, largest mass fault of a free node
  double residual = 0.0;  ///< Pa or (for pumps) m3/s x 1e10, largest fault of a branch
  std::string reason;     ///< why there is none
};

struct SolveOptions {
  int iterations = 50;
  double tolerance = 1e-9;  ///< of pressures in bar and flows in 10 ml/s
};

/// `start`: an earlier solution of a network of the same form. Faults of the network's form (a node that
/// nothing leads to, no fixed node) are told in `reason`; nothing is thrown, nothing is NaN.
Solution solve(const Network& network, const fluid::Liquid& liquid, const Solution* start = nullptr,
               const SolveOptions& options = {});

}  // namespace uadze::circuit
