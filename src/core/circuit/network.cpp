#include "core/circuit/network.h"

#include <fmt/format.h>

#include <Eigen/Core>
#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace uadze::circuit {
namespace {

constexpr double pressure_scale = 1e5, flow_scale = 1e-5;
constexpr fluid::Liquid air{.density = 1.2, .viscosity = 1.8e-5};

/// A branch's equation F(p_from, p_to, q) = 0 with its derivatives, in Pa (chains, reliefs) or scaled m3/s.
struct Equation {
  double value, by_from, by_to, by_flow;
};

/// How the solution is looked for: at first perhaps with laws gentler than the real ones.
struct Relaxation {
  /// How a shut valve's flow weighs against the pressure that would open it, Pa per m3/s, when it is judged
  /// which of the two states holds (primal-dual active sets, Hintermueller, Ito and Kunisch 2002). Any does
  /// at the solution; on the way one may go to and fro where another does not.
  double seat_weight = 1e8;
  /// 1..0: how much gentler than they are valves open, shut ones hold and pumps lose their prime, for
  /// reaching a difficult state by degrees.
  double amount = 0.0;
  double shut_resistance() const {
    return amount > 0 ? std::min(circuit::shut_resistance, 1e10 / amount) : circuit::shut_resistance;
  }
};

Equation shut(double driving, double q, double by_from, double by_to, const Relaxation& how) {
  return {driving - how.shut_resistance() * q, by_from, by_to, -how.shut_resistance()};
}

/// Air, and a chain of nothing, would be without any resistance, and the flow through them without any
/// definition: a thousandth of a millibar at 100 L/h gives them one.
constexpr double least_resistance = 4e3;

Drop drop_of(const Chain& chain, double q, const fluid::Liquid& liquid, bool gas) {
  Drop d = drop(chain, q, gas ? air : liquid);
  if (gas || chain.empty()) d.value += least_resistance * q, d.slope += least_resistance;
  return d;
}

Equation equation(const Chain& chain, const Branch& b, double from, double to, double q,
                  const fluid::Liquid& liquid, const Relaxation& how) {
  if (b.gas_back) {
    // Backward comes air. Forward fuel has to be pressed up a rise first, in between nothing flows; a fall
    // gives no suction, as air breaks it.
    const double rise = std::min(b.head, 0.0), push = from - to;
    if (push + rise + how.seat_weight * q > 0) {
      const Drop d = drop_of(chain, q, liquid, false);
      return {push + rise - d.value, 1.0, -1.0, -std::max(d.slope, 1.0)};
    }
    if (push + how.seat_weight * q >= 0) return shut(push + rise / 2, q, 1.0, -1.0, how);
    const Drop d = drop_of(chain, q, liquid, true);
    return {push - d.value, 1.0, -1.0, -std::max(d.slope, 1.0)};
  }
  const double driving = from + b.head - to - b.cracking;
  if (b.one_way && driving + how.seat_weight * q < 0) return shut(driving, q, 1.0, -1.0, how);
  const Drop d = drop_of(chain, q, liquid, b.gas);
  return {driving - d.value, 1.0, -1.0, -std::max(d.slope, 1.0)};
}

constexpr double pump_scale = pressure_scale / flow_scale;
// A pump on gas moves nothing whatever the pressures; so that these stay defined it leaks as a shut valve
// does.
constexpr double shut_leak = 1 / shut_resistance;

/// What is left of a pump's flow at a margin of its inlet over vapour pressure.
std::pair<double, double> wet_share(const PumpCurves& pump, double margin, const fluid::Liquid& liquid) {
  const double width = std::max(pump.inlet_margin + liquid.flash_range, 1.0);
  const double share = (margin + liquid.flash_range) / width;
  if (share >= 1) return {1.0, 0.0};
  if (share <= 0) return {0.0, 0.0};
  return {share, 1 / width};
}

Equation equation(const Pump& pump, const Branch& b, double from, double to, double q,
                  const fluid::Liquid& liquid, const Relaxation& how) {
  const double rise = to - from - b.head;
  if (!pump.running || pump.drive.supply <= 0) {
    const Drop d = drop(Element{rated(std::max(pump.curves->idle_leak, 1e-9), 1e5)}, q, liquid);
    return {-rise - d.value, 1.0, -1.0, -std::max(d.slope, 1.0)};
  }
  const Operation now = wired(*pump.curves, rise, pump.drive);
  auto [share, by_margin] =
      wet_share(*pump.curves, from - pump.swing * std::max(q, 0.0) - liquid.vapour_pressure, liquid);
  share += how.amount * (1 - share);
  by_margin *= 1 - how.amount;
  const double fuel = 1 - pump.gas;
  const double forward = std::max(now.flow, 0.0), leak = (1 - (fuel > 0 ? share : 0.0)) * shut_leak;
  // Only what goes forward is lost to gas.
  const double flow = (now.flow > 0 ? fuel * share * now.flow : now.flow) - leak * rise;
  const double slope = (now.flow > 0 ? fuel * share : 1.0) * now.flow_by_rise - leak;
  const double by_inlet = fuel * forward * by_margin;
  return {pump_scale * (q - flow), pump_scale * (slope - by_inlet), -pump_scale * slope,
          pump_scale * (1 + (q > 0 ? by_inlet * pump.swing : 0.0))};
}

Equation equation(const Reducer& r, const Branch& b, double from, double to, double q,
                  const fluid::Liquid& liquid, const Relaxation& how) {
  // Shut, what lies behind it stays at what it was shut at.
  if (r.set - to + how.seat_weight * q < 0) return shut(r.set - to, q, 0.0, -1.0, how);
  const double slope = std::max(r.slope, 1e6 + how.amount * 1e10);
  const Drop open = drop(Element{r.open}, q, liquid);
  if (r.set - slope * q <= from + b.head - open.value) return {r.set - slope * q - to, 0.0, -1.0, -slope};
  return {from + b.head - to - open.value, 1.0, -1.0, -std::max(open.slope, 1e6)};
}

Equation equation(const Relief& r, const Branch& b, double from, double to, double q,
                  const fluid::Liquid& liquid, const Relaxation& how) {
  // Shut it still weeps to where it leads: what it holds in falls to that by and by.
  if (from - r.set + how.seat_weight * q < 0) return shut(from - to + b.head, q, 1.0, -1.0, how);
  const double slope = std::max(r.slope, 1e6 + how.amount * 1e10);
  const Drop open = drop(Element{r.open}, q, liquid);
  if (r.set + slope * q >= to - b.head + open.value) return {from - r.set - slope * q, 1.0, 0.0, -slope};
  return {from - (to - b.head) - open.value, 1.0, -1.0, -std::max(open.slope, 1e6)};
}

// Steps taken where none is better: unequal ones, so that it does not go to and fro between two states.
constexpr std::array stuck_lengths{1.0, 0.5, 0.3, 0.8, 0.15};

/// Pressures of all nodes and flows of all branches, on the way to the solution.
struct Iterate {
  std::vector<double> p, q;
};

/// Solves a x = b for x in b's place; false where there is no one solution. Gaussian elimination with partial
/// pivoting that passes over zeros: a circuit is nearly a chain, so most are.
bool eliminate(Eigen::MatrixXd& a, Eigen::VectorXd& b) {
  const Eigen::Index n = b.size();
  for (Eigen::Index k = 0; k < n; ++k) {
    Eigen::Index pivot = k;
    for (Eigen::Index i = k + 1; i < n; ++i)
      if (std::abs(a(k, i)) > std::abs(a(k, pivot))) pivot = i;
    if (a(k, pivot) == 0) return false;
    // Stored with the equations side by side, each a column.
    if (pivot != k) a.col(k).swap(a.col(pivot)), std::swap(b[k], b[pivot]);
    Eigen::Index end = n;
    while (end > k + 1 && a(end - 1, k) == 0) --end;
    for (Eigen::Index i = k + 1; i < n; ++i) {
      if (a(k, i) == 0) continue;
      const double factor = a(k, i) / a(k, k);
      for (Eigen::Index j = k + 1; j < end; ++j) a(j, i) -= factor * a(j, k);
      b[i] -= factor * b[k];
    }
  }
  for (Eigen::Index k = n; k-- > 0;) {
    for (Eigen::Index j = k + 1; j < n; ++j) b[k] -= a(j, k) * b[j];
    b[k] /= a(k, k);
  }
  return b.allFinite();
}

class Solver {
 public:
  Solver(const Network& net, const fluid::Liquid& liquid) : net_(net), liquid_(liquid) {
    place_.assign(net.nodes.size(), -1);
    for (size_t i = 0; i < net.nodes.size(); ++i)
      if (!net.nodes[i].fixed) place_[i] = free_++;
    equations_.resize(net.branches.size());
    balance_.resize(static_cast<size_t>(free_));
  }

  /// Largest scaled fault; also fills equations_ and balance_. `total` is the sum of squares.
  double fault(const Iterate& s, double& total) {
    ++evaluations_;
    double worst = 0;
    total = 0;
    const auto take = [&](double scaled) {
      worst = std::max(worst, std::abs(scaled));
      total += scaled * scaled;
    };
    std::fill(balance_.begin(), balance_.end(), 0.0);
    for (size_t i = 0; i < net_.nodes.size(); ++i)
      if (place_[i] >= 0) balance_[static_cast<size_t>(place_[i])] = -net_.nodes[i].withdrawal;
    for (size_t k = 0; k < net_.branches.size(); ++k) {
      const Branch& b = net_.branches[k];
      const auto from = static_cast<size_t>(b.from), to = static_cast<size_t>(b.to);
      equations_[k] = std::visit(
          [&](const auto& law) { return equation(law, b, s.p[from], s.p[to], s.q[k], liquid_, relaxation); },
          b.law);
      // A shut valve's equation is in Pa of an enormous slope: judged by the flow that it is wrong by.
      const Equation& e = equations_[k];
      take(std::min(std::abs(e.value) / pressure_scale, std::abs(e.value / e.by_flow) / flow_scale));
      if (place_[from] >= 0) balance_[static_cast<size_t>(place_[from])] -= s.q[k];
      if (place_[to] >= 0) balance_[static_cast<size_t>(place_[to])] += s.q[k];
    }
    for (double m : balance_) take(m / flow_scale);
    return worst;
  }

  /// One Newton step from the faults just computed; false if the matrix is singular.
  bool step(Iterate& change) {
    equation_.setZero(free_, free_);
    right_.setZero(free_);
    for (int i = 0; i < free_; ++i) {
      right_[i] = -balance_[static_cast<size_t>(i)];
    }
    for (size_t k = 0; k < net_.branches.size(); ++k) {
      const Branch& b = net_.branches[k];
      const Equation& e = equations_[k];
      // dq = -(F + F_a dp_a + F_b dp_b)/F_q goes into both ends' balances.
      const double constant = -e.value / e.by_flow, a = -e.by_from / e.by_flow, c = -e.by_to / e.by_flow;
      const int i = place_[static_cast<size_t>(b.from)], j = place_[static_cast<size_t>(b.to)];
      if (i >= 0) {
        right_[i] += constant;
        equation_(i, i) -= a;
        if (j >= 0) equation_(j, i) -= c;
      }
      if (j >= 0) {
        right_[j] -= constant;
        equation_(j, j) += c;
        if (i >= 0) equation_(i, j) += a;
      }
    }
    if (!eliminate(equation_, right_)) return false;
    for (size_t i = 0; i < net_.nodes.size(); ++i) change.p[i] = place_[i] >= 0 ? right_[place_[i]] : 0.0;
    for (size_t k = 0; k < net_.branches.size(); ++k) {
      const Branch& b = net_.branches[k];
      const Equation& e = equations_[k];
      change.q[k] = -(e.value + e.by_from * change.p[static_cast<size_t>(b.from)] +
                      e.by_to * change.p[static_cast<size_t>(b.to)]) /
                    e.by_flow;
    }
    return std::all_of(change.q.begin(), change.q.end(), [](double q) { return std::isfinite(q); });
  }

  void report(Solution& out) const {
    for (double m : balance_) out.balance = std::max(out.balance, std::abs(m));
    // Each equation's fault in the unit in which it is the smaller, as it is judged.
    for (const Equation& e : equations_) {
      const double pressure = std::abs(e.value), flow = std::abs(e.value / e.by_flow);
      if (flow / flow_scale <= pressure / pressure_scale)
        out.flow_residual = std::max(out.flow_residual, flow);
      else
        out.pressure_residual = std::max(out.pressure_residual, pressure);
    }
    out.evaluations = evaluations_;
  }

 private:
  const Network& net_;
  const fluid::Liquid& liquid_;

 public:
  Relaxation relaxation;

 private:
  int free_ = 0, evaluations_ = 0;
  std::vector<int> place_;
  std::vector<Equation> equations_;
  std::vector<double> balance_;
  Eigen::MatrixXd equation_;  ///< of each free node, a column
  Eigen::VectorXd right_;
};

/// Why the network can have no solution, by its form alone.
std::string fault_of_form(const Network& net) {
  const size_t n = net.nodes.size();
  std::vector<size_t> group(n);
  std::iota(group.begin(), group.end(), size_t{0});
  const auto root = [&](size_t i) {
    while (group[i] != i) i = group[i];
    return i;
  };
  for (const Branch& b : net.branches) {
    if (b.from < 0 || b.to < 0 || static_cast<size_t>(b.from) >= n || static_cast<size_t>(b.to) >= n)
      return fmt::format("\"{}\" has an end that leads nowhere", b.name);
    if (b.from == b.to)
      return fmt::format("\"{}\" leads from \"{}\" back to itself", b.name,
                         net.nodes[static_cast<size_t>(b.from)].name);
    group[root(static_cast<size_t>(b.from))] = root(static_cast<size_t>(b.to));
  }
  std::vector<char> held(n, 0);
  for (size_t i = 0; i < n; ++i) {
    const Node& node = net.nodes[i];
    if (!std::isfinite(node.pressure) || !std::isfinite(node.withdrawal))
      return fmt::format("\"{}\" has a pressure or a withdrawal that is no number", node.name);
    if (node.fixed) held[root(i)] = 1;
  }
  for (size_t i = 0; i < n; ++i)
    if (!held[root(i)])
      return fmt::format("\"{}\" is joined to nothing that holds a pressure (tank, surge tank)",
                         net.nodes[i].name);
  return {};
}

}  // namespace

int Network::node(std::string name, double withdrawal) {
  nodes.push_back({std::move(name), false, 0.0, withdrawal});
  return static_cast<int>(nodes.size()) - 1;
}

int Network::fixed(std::string name, double pressure) {
  nodes.push_back({std::move(name), true, pressure, 0.0});
  return static_cast<int>(nodes.size()) - 1;
}

int Network::add(Branch branch) {
  branches.push_back(std::move(branch));
  return static_cast<int>(branches.size()) - 1;
}

Solution solve(const Network& net, const fluid::Liquid& liquid, const Solution* start,
               const SolveOptions& options) {
  Solution out;
  out.reason = fault_of_form(net);
  Iterate cold{std::vector<double>(net.nodes.size(), 1e5), std::vector<double>(net.branches.size(), 2e-5)};
  Iterate s = cold;
  if (start && start->pressure.size() == s.p.size() && start->flow.size() == s.q.size())
    s = {start->pressure, start->flow};
  for (size_t i = 0; i < net.nodes.size(); ++i)
    if (net.nodes[i].fixed) cold.p[i] = s.p[i] = net.nodes[i].pressure;
  if (!out.reason.empty()) {
    out.pressure = s.p;
    out.flow.assign(net.branches.size(), 0.0);
    return out;
  }
  Solver solver(net, liquid);
  double total = 0, next_total = 0, worst = 0, next = 0;
  Iterate change{std::vector<double>(s.p.size(), 0.0), std::vector<double>(s.q.size(), 0.0)}, trial = s;
  const auto move = [&](double length) {
    for (size_t i = 0; i < s.p.size(); ++i) trial.p[i] = s.p[i] + length * change.p[i];
    for (size_t k = 0; k < s.q.size(); ++k) trial.q[k] = s.q[k] + length * change.q[k];
    next = solver.fault(trial, next_total);
    return next_total < total * (1 - 1e-4 * length) || next <= options.tolerance;
  };
  const auto iterate = [&](int most) {
    worst = solver.fault(s, total);
    for (int k = 0; k < most && !(worst <= options.tolerance); ++k) {
      ++out.iterations;
      if (!solver.step(change)) return false;
      // Halving keeps Newton from jumping between the two sides of a valve's seat or a curve's corner. Where
      // no shorter step helps one is taken all the same: kinks are crossed that way.
      bool better = false;
      for (double length = 1; !better && length > 0.01; length /= 2) better = move(length);
      if (!better) move(stuck_lengths[static_cast<size_t>(k) % stuck_lengths.size()]);
      s = trial;
      worst = next;
      total = next_total;
    }
    return worst <= options.tolerance;
  };
  const auto by_degrees = [&](double weight) {
    s = cold;
    solver.relaxation.seat_weight = weight;
    bool done = false;
    for (double amount : {1.0, 0.5, 0.2, 0.1, 0.05, 0.02, 0.01, 0.003, 0.001, 1e-4, 1e-5, 0.0}) {
      solver.relaxation.amount = amount;
      done = iterate(options.iterations);
    }
    return done;
  };
  // From the given start if there is one, then from cold, then by other ways to the same state.
  out.way = SolveWay::from_start;
  bool done = start && iterate(options.iterations / 2);
  for (double weight : {1e8, 1e7, 1e10}) {
    if (done) break;
    out.way = weight == 1e8 ? SolveWay::from_cold : SolveWay::other_weight;
    s = cold;
    solver.relaxation.seat_weight = weight;
    done = iterate(options.iterations);
  }
  if (!done) out.way = SolveWay::by_degrees;
  for (double weight : {1e8, 1e10, 1e7})
    if (!done) done = by_degrees(weight);
  // Between a curve's corner and a valve's seat the steps may stay short: it comes, but late.
  for (double weight : {1e8, 1e10, 1e7}) {
    // Far below no pressure more is asked for than can come: no patience brings it.
    if (done || *std::min_element(s.p.begin(), s.p.end()) < -1e6) break;
    out.way = SolveWay::patiently;
    s = cold;
    solver.relaxation = {.seat_weight = weight, .amount = 0.0};
    done = iterate(6 * options.iterations);
  }
  // The equations are those of the last state tried, which is the one that stands.
  solver.report(out);
  out.converged = worst <= options.tolerance;
  const auto lowest = std::min_element(s.p.begin(), s.p.end());
  if (!out.converged && lowest != s.p.end() && *lowest < -1e6)
    out.reason = fmt::format("\"{}\" is asked for more than can come to it",
                             net.nodes[static_cast<size_t>(lowest - s.p.begin())].name);
  if (!out.converged && out.reason.empty())
    out.reason = fmt::format("no steady state was found in {} steps: the balance is still off by {:.3g} L/h",
                             out.iterations, out.balance * 3.6e6);
  out.pressure = std::move(s.p);
  out.flow = std::move(s.q);
  return out;
}

}  // namespace uadze::circuit
