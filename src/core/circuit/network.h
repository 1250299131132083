#pragma once
// A steady network: pressures at nodes, flows in branches.
//
//   fixed                      free, with withdrawal
//   (tank)---chain---(o)---pump---(o)---chain---(rail)---regulator---chain---(tank)
//
// Unknown are the free nodes' pressures and all flows. Each branch is one equation, each free node's mass
// balance another; Newton's method on both at once, the branches eliminated (the global gradient method,
// Todini and Pilati 1988), with steps halved while the residual grows.
//
// Example:
//   circuit::Network net;
//   const int tank = net.fixed("tank", 101325), rail = net.node("rail", 30e-6);   // 30 ml/s leave there
//   net.add({.name = "line", .from = tank, .to = rail, .law = circuit::Chain{circuit::Line{.length = 1.0, .bore = 8e-3}}});
//   const circuit::Solution now = circuit::solve(net, fluid::liquid({}, 293.15));
//   ASSERT_TRUE(now.converged) << now.reason;
//   EXPECT_NEAR(now.flow[0], 30e-6, 1e-12);
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
  double swing = 0.0;   ///< Pa s/m3: its inlet falls so far below the mean at each stroke, by the flow
  double gas = 0.0;     ///< share of what it draws that is gas
};

/// Holds `from` at set + slope q by letting fuel go to `to`; wide open it is a resistance, and can not go
/// below `to` plus that loss.
struct Relief {
  double set = 4e5;    ///< Pa, absolute, at no flow
  double slope = 0.0;  ///< Pa s/m3
  Resistance open;
};

/// Holds `to` at set - slope q, as far as `from` less the loss of the open valve allows; shuts where `to`
/// stands higher. Nothing goes backward.
struct Reducer {
  double set = 3e5;    ///< Pa, absolute, at no flow
  double slope = 0.0;  ///< Pa s/m3
  Resistance open;
};

struct Branch {
  std::string name;
  int from = 0, to = 0;
  double head = 0.0;  ///< Pa gained from `from` to `to` by acceleration and height: rho f.dx
  std::variant<Chain, Pump, Relief, Reducer> law;
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

/// The way that led to the solution, or the last that was tried.
enum class SolveWay { from_start, from_cold, other_weight, by_degrees, patiently };
constexpr const char* name_of(SolveWay way) {
  switch (way) {
    case SolveWay::from_start:
      return "from the state before";
    case SolveWay::from_cold:
      return "from cold";
    case SolveWay::other_weight:
      return "from cold with another weight of the valves' seats";
    case SolveWay::by_degrees:
      return "by degrees from gentler valves and pumps";
    case SolveWay::patiently:
      return "from cold in many short steps";
  }
  return nullptr;
}

struct Solution {
  std::vector<double> pressure;  ///< Pa, absolute, of each node
  std::vector<double> flow;      ///< m3/s of each branch, + from `from` to `to`
  bool converged = false;
  SolveWay way = SolveWay::from_cold;
  int iterations = 0;              ///< Newton steps, of all ways tried
  int evaluations = 0;             ///< of all branches' equations
  double balance = 0.0;            ///< m3/s, largest mass fault of a free node
  double pressure_residual = 0.0;  ///< Pa, largest fault of a branch that is judged by its pressure
  double flow_residual = 0.0;      ///< m3/s, of one that is judged by its flow
  std::string reason;              ///< why there is none
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
