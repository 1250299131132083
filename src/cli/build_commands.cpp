// uadze build: what is cut, joined, wired and bought, in which order, and what of it can not stay so.
#include "cli/common.h"
#include "core/report/build_report.h"
#include "core/solve/circuit_point.h"

namespace uadze::cli {

int build(const BuildOptions& options) {
  const Job job = open_job(options.file);
  const project::Setup& setup = solve::chosen_setup(job.project(), options.setup);
  const circuit::Case c = solve::circuit_case(setup, job.sources->catalogue(job.project()));
  const auto show = [&](const report::Table& table) {
    write_or_put(options.output, options.csv ? report::csv_of(table) : report::text_of(table));
  };
  if (options.what == "check") {
    write_or_put(options.output, report::checks_text(c));
    for (const circuit::Finding& f : uadze::build::check(c))
      if (f.severity == Severity::error) return 1;
  } else if (options.what == "cut") {
    show(report::cutting_table(c));
  } else if (options.what == "joints") {
    show(report::joints_table(c));
  } else if (options.what == "wires") {
    show(report::wires_table(c));
  } else {
    const auto steps = uadze::build::assembly(c);
    if (options.what == "steps")
      write_or_put(options.output, report::steps_text(steps));
    else
      show(report::order_table(uadze::build::order_list(c, steps, job.project().stock), steps));
  }
  return 0;
}

}  // namespace uadze::cli
