#pragma once
// A circuit made ready once and run at many operating points: along a lap, a sweep, a search.
//
// Example:
//   circuit::Runner runner(test::plain_case());
//   const circuit::State idle = runner.run();
//   runner.at().demand *= 1.5;
//   const circuit::State more = runner.run(&idle);               // the same as from cold, sooner
//   EXPECT_LT(more.rail_difference, idle.rail_difference + 1.0);
//   EXPECT_GT(runner.available(), 0.0);
#include "core/circuit/reading.h"

namespace uadze::circuit {

class Runner {
 public:
  /// Throws InputError for circuits with errors (see circuit_faults).
  explicit Runner(Case c);
  Runner(const Runner&) = delete;
  Runner& operator=(const Runner&) = delete;

  const Case& c() const { return case_; }
  OperatingPoint& at() { return case_.at; }

  /// As circuit::run() and available_flow() at the operating point as it is now.
  State run(const State* start = nullptr, Tell tell = Tell::all);
  double available();

 private:
  const Built& ready(std::optional<Built>& built, const BuildOptions& options);
  double spare(double demand, Solution& last);

  Case case_;
  double spring_ = 0.0, filter_load_ = 0.0;
  std::optional<Built> open_, shut_;  ///< as it is; with the regulator shut
};

/// Puts a runner's operating point back as it was.
class PointKept {
 public:
  explicit PointKept(Runner& runner) : runner_(runner), was_(runner.at()) {}
  ~PointKept() { runner_.at() = std::move(was_); }
  PointKept(const PointKept&) = delete;
  PointKept& operator=(const PointKept&) = delete;
  const OperatingPoint& was() const { return was_; }

 private:
  Runner& runner_;
  OperatingPoint was_;
};

}  // namespace uadze::circuit
