#include "core/report/study_report.h"

#include <fmt/format.h>

namespace uadze::report {

Table choices_table(const solve::Gathered& gathered, int tasks, const UnitSystem& units) {
  Table out{.columns = {"choice", "fuel", "longest bare", "judged", "worst case", "tasks"}, .rows = {}};
  for (const solve::Choice& c : gathered.choices)
    out.rows.push_back({c.name, format(c.level, Quantity::volume, units),
                        c.done ? format(c.longest, Quantity::duration, units) : "",
                        c.done < tasks ? "not yet"
                        : c.best       ? "● best"
                                       : "○",
                        c.worst_case, fmt::format("{} of {}", c.done, tasks)});
  return out;
}

}  // namespace uadze::report
