#include "core/report/plan_table.h"

#include <fmt/format.h>

#include "core/base/csv.h"

namespace uadze::report {

std::string plan_csv(const std::vector<solve::SessionResult>& sessions, const UnitSystem& units) {
  const auto unit = [&](Quantity q) { return std::string(shown_unit(q, units).name); };
  const std::string volume = " [" + unit(Quantity::volume) + "]", mass = " [" + unit(Quantity::mass) + "]";
  std::string out = csv_row({"setup",
                             "session",
                             "kind",
                             "laps",
                             "risk [%]",
                             "start" + volume,
                             "start" + mass,
                             "start [% of tank]",
                             "start gauge [%]",
                             "start dip [mm]",
                             "bring back" + volume,
                             "bring back" + mass,
                             "bring back gauge [%]",
                             "bring back dip [mm]",
                             "clean level" + volume,
                             "margin" + volume,
                             "fits",
                             "tightest",
                             "draws",
                             "seed"});
  for (const auto& s : sessions) {
    const double density = s.lap->car->fuel_density;
    // Where no fuel is enough, there is none to say.
    const auto some = [&](const std::string& text) { return s.possible() ? text : std::string(); };
    const auto figure = [&](double v, Quantity q, int decimals) {
      return fmt::format("{:.{}f}", shown_unit(q, units).from_si(v), decimals);
    };
    const auto reads = [](const std::optional<double>& v, double scale) {
      return v ? fmt::format("{:.1f}", *v * scale) : std::string();
    };
    const double start = session::rounded_up(s.risk.start, units),
                 back = session::rounded_up(s.risk.bring_back, units);
    out += csv_row({s.setup,
                    s.session,
                    name_of(s.entered.kind),
                    fmt::format("{}", s.plan.stint_laps),
                    fmt::format("{:g}", s.risk.risk * 100),
                    some(figure(start, Quantity::volume, 2)),
                    some(figure(start * density, Quantity::mass, 2)),
                    some(fmt::format("{:.1f}", start / s.lap->car->tank->volume() * 100)),
                    some(reads(s.start_reads.gauge, 100)),
                    some(reads(s.start_reads.dip, 1e3)),
                    some(figure(back, Quantity::volume, 2)),
                    some(figure(back * density, Quantity::mass, 2)),
                    some(reads(s.back_reads.gauge, 100)),
                    some(reads(s.back_reads.dip, 1e3)),
                    s.lap->clean.exists ? figure(s.lap->clean.level, Quantity::volume, 3) : std::string(),
                    some(figure(s.risk.margin, Quantity::volume, 3)),
                    s.risk.fits && s.possible() ? "yes" : "no",
                    s.lap->clean.at.tightest_place,
                    fmt::format("{}", s.risk.draws),
                    fmt::format("{}", s.risk.seed)});
  }
  return out;
}

}  // namespace uadze::report
