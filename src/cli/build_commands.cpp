// uadze build: what is cut, joined, wired and bought, in which order, and what of it can not stay so.
#include "cli/common.h"
#include "core/report/build_report.h"
#include "core/solve/garage.h"

namespace uadze::cli {

int build(const BuildOptions& options) {
  const Job job = open_job(options.file);
  const project::Setup& setup = solve::chosen_setup(job.project(), options.setup);
  const auto in = solve::in_garage(job.project(), setup, job.sources->catalogue(job.project()), {}, now());
  const circuit::Case& c = in.at;
  const auto show = [&](const report::Table& table) {
    write_or_put(options.output, options.csv ? report::csv_of(table) : report::text_of(table));
  };
  if (options.what == "check") {
    write_or_put(options.output, report::checks_text(in.findings, units));
    for (const circuit::Finding& f : in.findings)
      if (f.severity == Severity::error) return 1;
  } else if (options.what == "cut") {
    show(report::cutting_table(c, units));
  } else if (options.what == "joints") {
    show(report::joints_table(c));
  } else if (options.what == "wires") {
    show(report::wires_table(c, job.project().scheme, units));
  } else if (options.what == "ports") {
    show(report::ports_table(c));
  } else if (options.what == "fuses") {
    show(report::fuses_table(c, job.project().scheme));
  } else if (options.what == "labels") {
    show(report::labels_table(c, job.project().scheme));
  } else {
    Messages refused;
    for (const Phrase& p : in.refused)
      refused.push_back({.severity = Severity::warning, .file = options.file, .found = p.in(units)});
    say(refused);
    if (options.what == "steps")
      write_or_put(
          options.output,
          report::steps_text(in.steps, uadze::build::done_flags(in.steps, setup.name, job.project().done),
                             60 * options.hours.value_or(0), units));
    else
      show(report::order_table(in.items, in.steps, units));
  }
  return 0;
}

}  // namespace uadze::cli
