#include "core/lap/lap.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/csv.h"
#include "core/base/files.h"
#include "core/base/series.h"
#include "core/base/units.h"

namespace uadze::lap {
namespace {

struct Channel {
  const char* name;
  Quantity quantity;
  std::vector<double> Lap::*values;
  double low, high;     // SI; outside is absurd
  const char* without;  // what is used when it is missing
};

const std::array<Channel, 10>& channels() {
  constexpr double g = standard_gravity;
  static const std::array<Channel, 10> all{{
      {"time", Quantity::duration, &Lap::time, -1e7, 1e7, nullptr},
      {"distance", Quantity::distance, &Lap::distance, -1e5, 1e6, "distance is found from the speed"},
      {"lat_acc", Quantity::acceleration, &Lap::lateral, -12 * g, 12 * g, nullptr},
      {"long_acc", Quantity::acceleration, &Lap::longitudinal, -12 * g, 12 * g, nullptr},
      {"vert_acc", Quantity::acceleration, &Lap::vertical, -20 * g, 20 * g, "1 g throughout"},
      {"speed", Quantity::speed, &Lap::speed, -1, 200, "speed is found from distance and time"},
      {"throttle", Quantity::fraction, &Lap::throttle, -0.05, 1.1, "needed only when there is no fuel_flow"},
      {"rpm", Quantity::rotation, &Lap::rotation, -1, 500, "not needed"},
      {"fuel_flow", Quantity::flow, &Lap::fuel_flow, -1e-6, 1e-2, "demand is found from throttle and power"},
      {"fuel_flow", Quantity::mass_flow, &Lap::fuel_mass_flow, -1e-3, 10, nullptr},
  }};
  return all;
}

class LapReader {
 public:
  LapReader(const CsvTable& table, std::string file) : table_(table), file_(std::move(file)) {}

  Read<Lap> run(VerticalZero zero) {
    find_columns();
    if (table_.rows.size() < 2)
      fail("line " + std::to_string(table_.lines.empty() ? 2 : table_.lines.front()),
           "at least 2 rows of data", fmt::format("{}", table_.rows.size()));
    if (has_errors(messages_)) throw InputError(messages_);
    read_numbers();
    if (has_errors(messages_)) throw InputError(messages_);
    check_time();
    if (has_errors(messages_)) throw InputError(messages_);
    complete(zero);
    check_signs(zero);
    if (has_errors(messages_)) throw InputError(messages_);
    return {std::move(lap_), std::move(messages_)};
  }

 private:
  void say(Severity severity, std::string place, std::string expected, std::string found) {
    messages_.push_back({severity, file_, std::move(place), std::move(expected), std::move(found)});
  }
  void fail(std::string place, std::string expected, std::string found) {
    say(Severity::error, std::move(place), std::move(expected), std::move(found));
  }

  void find_columns() {
    for (size_t column = 0; column < table_.header.size(); ++column) {
      const Heading heading = channel_heading(table_.header[column]);
      const std::string &name = heading.name, &unit = heading.unit;
      const auto known = std::find_if(channels().begin(), channels().end(),
                                      [&](const Channel& c) { return name == c.name; });
      if (known == channels().end()) continue;
      size_t index = static_cast<size_t>(known - channels().begin());
      // Fuel by mass is a channel of its own, after the one by volume.
      if (known->quantity == Quantity::flow && find_unit(unit, Quantity::mass_flow)) ++index;
      const Channel& channel = channels()[index];
      if (columns_.contains(index) ||
          (index > 0 && name == channels()[index - 1].name && columns_.contains(index - 1))) {
        fail("header", fmt::format("one column {}", name), "two of them");
        continue;
      }
      const auto found = find_unit(unit, channel.quantity);
      if (!found || unit.empty()) {
        std::string units;
        for (const Unit& u : known_units(channel.quantity))
          units += fmt::format("{}[{}]", units.empty() ? "" : ", ", u.name);
        fail(fmt::format("header, column {}", column + 1), fmt::format("{} with a unit: {}", name, units),
             fmt::format("\"{}\"", table_.header[column]));
        continue;
      }
      columns_[index] = {column, *found};
    }
    std::string names;
    for (const auto& h : table_.header) names += (names.empty() ? "" : ", ") + h;
    for (const char* needed : {"time", "lat_acc", "long_acc"})
      if (!has(needed) && !has_errors(messages_))
        fail("header", fmt::format("a column {} [unit]", needed), "only: " + names);
    if (!has("distance") && !has("speed") && !has_errors(messages_))
      fail("header", "a column distance [m] or speed [km/h]", "only: " + names);
    for (const Channel& c : channels())
      if (c.without && !has(c.name))
        say(Severity::note, "header", "", fmt::format("no column {}: {}", c.name, c.without));
  }

  bool has(std::string_view name) const {
    for (const auto& [index, column] : columns_)
      if (name == channels()[index].name) return true;
    return false;
  }

  void read_numbers() {
    std::map<size_t, int> bad;  // a few a column are enough
    for (const auto& [index, where] : columns_) {
      const Channel& channel = channels()[index];
      auto& values = lap_.*channel.values;
      values.resize(table_.rows.size());
      for (size_t row = 0; row < table_.rows.size(); ++row) {
        const std::string& cell = table_.rows[row][where.column];
        const auto number = parse_number(cell);
        const auto place = [&] { return fmt::format("line {}, column {}", table_.lines[row], channel.name); };
        if (!number) {
          if (bad[index]++ < 3)
            fail(place(), "a number with a decimal point",
                 cell.empty() ? "an empty field"
                              : fmt::format("\"{}\"{}", cell,
                                            cell.find(',') != std::string::npos ? " (a decimal comma)" : ""));
          continue;
        }
        values[row] = where.unit.to_si(*number);
        if (values[row] < channel.low || values[row] > channel.high)
          if (bad[index]++ < 3)
            fail(place(),
                 fmt::format("between {:.6g} and {:.6g} {}", where.unit.from_si(channel.low),
                             where.unit.from_si(channel.high), where.unit.name),
                 cell);
      }
    }
    for (const auto& [index, count] : bad)
      if (count > 3)
        fail(fmt::format("column {}", channels()[index].name), "",
             fmt::format("{} more rows with the same fault", count - 3));
    for (size_t column = 0; column < table_.header.size(); ++column) {
      const bool known = std::any_of(columns_.begin(), columns_.end(),
                                     [&](const auto& c) { return c.second.column == column; });
      if (known) continue;
      ExtraChannel extra{table_.header[column], {}};
      for (const auto& row : table_.rows) extra.cells.push_back(row[column]);
      lap_.extra.push_back(std::move(extra));
    }
    lines_ = table_.lines;
  }

  void keep_rows(const std::vector<bool>& keep) {
    const auto filter = [&](auto& values) {
      if (values.empty()) return;
      size_t out = 0;
      for (size_t i = 0; i < keep.size(); ++i)
        if (keep[i]) {
          if (out != i) values[out] = std::move(values[i]);
          ++out;
        }
      values.resize(out);
    };
    for (const Channel& c : channels()) filter(lap_.*c.values);
    for (auto& e : lap_.extra) filter(e.cells);
    filter(lines_);
  }

  void check_time() {
    std::vector<bool> keep(lap_.time.size(), true);
    int repeated = 0;
    double last = lap_.time.front();
    for (size_t i = 1; i < lap_.time.size(); ++i) {
      const double t = lap_.time[i];
      if (t == last) {
        keep[i] = false;
        if (repeated++ < 5)
          say(Severity::warning, fmt::format("line {}, column time", lines_[i]), "a later time",
              fmt::format("{:.6g} s again; this row is left out", t));
      } else if (t < last) {
        fail(fmt::format("line {}, column time", lines_[i]), fmt::format("a time after {:.6g} s", last),
             fmt::format("{:.6g} s: the clock runs backward", t));
        return;
      } else {
        last = t;
      }
    }
    if (repeated > 5)
      say(Severity::warning, "column time", "", fmt::format("{} repeated times in all", repeated));
    keep_rows(keep);
    if (lap_.size() < 2) {
      fail("column time", "at least 2 different times", "1");
      return;
    }
    std::vector<double> steps;
    for (size_t i = 1; i < lap_.size(); ++i) steps.push_back(lap_.time[i] - lap_.time[i - 1]);
    std::vector<double> sorted = steps;
    std::nth_element(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2),
                     sorted.end());
    const double usual = sorted[sorted.size() / 2];
    for (size_t i = 0; i < steps.size(); ++i)
      if (steps[i] > longest_gap)
        return fail(fmt::format("line {}, column time", lines_[i + 1]),
                    fmt::format("a time at most {:g} s after the last", longest_gap),
                    fmt::format("{:.6g} s after it", steps[i]));
    const double duration = lap_.time.back() - lap_.time.front();
    if (!(duration >= shortest_lap && duration <= longest_lap))
      return fail(
          "column time", fmt::format("a lap of {:g} s to {:g} s", shortest_lap, longest_lap),
          fmt::format("{:.6g} s{}", duration,
                      usual >= 1 ? fmt::format(", in steps of {:g} s: are these milliseconds?", usual) : ""));
    int gaps = 0;
    for (size_t i = 0; i < steps.size(); ++i)
      if (steps[i] > std::max(5 * usual, 0.1) && steps.size() > 2 && gaps++ < 5)
        say(Severity::warning, fmt::format("line {}, column time", lines_[i + 1]),
            fmt::format("steps of about {:.3g} s", usual),
            fmt::format("a gap of {:.3g} s, bridged in a straight line", steps[i]));
    if (gaps > 5) say(Severity::warning, "column time", "", fmt::format("{} gaps in all", gaps));
  }

  void complete(VerticalZero zero) {
    const size_t n = lap_.size();
    if (lap_.vertical.empty())
      lap_.vertical.assign(n, standard_gravity);
    else if (zero == VerticalZero::gravity_removed)
      for (double& v : lap_.vertical) v += standard_gravity;
    if (lap_.distance.empty()) {
      lap_.distance.assign(n, 0.0);
      for (size_t i = 1; i < n; ++i)
        lap_.distance[i] = lap_.distance[i - 1] + std::max(0.0, (lap_.speed[i] + lap_.speed[i - 1]) / 2) *
                                                      (lap_.time[i] - lap_.time[i - 1]);
    }
    for (size_t i = 1; i < n; ++i)
      if (lap_.distance[i] < lap_.distance[i - 1] - 0.5) {
        fail(fmt::format("line {}, column distance", lines_[i]),
             fmt::format("a distance of {:.1f} m or more", lap_.distance[i - 1]),
             fmt::format("{:.1f} m: the distance runs backward", lap_.distance[i]));
        return;
      } else {
        lap_.distance[i] = std::max(lap_.distance[i], lap_.distance[i - 1]);
      }
    if (has("distance") && has("speed")) {
      double driven = 0.0;
      for (size_t i = 1; i < n; ++i)
        driven += (lap_.speed[i] + lap_.speed[i - 1]) / 2 * (lap_.time[i] - lap_.time[i - 1]);
      const double said = lap_.distance.back() - lap_.distance.front(), off = std::abs(driven - said);
      if (off > 10 && off > 0.1 * said)
        say(off > 10 * std::min(driven, said) ? Severity::error : Severity::warning, "column distance",
            fmt::format("about {:.4g} m, what speed times time makes", driven),
            fmt::format("{:.4g} m", said));
    }
    if (lap_.speed.empty()) {
      lap_.speed.assign(n, 0.0);
      for (size_t i = 0; i < n; ++i) {
        const size_t a = i > 5 ? i - 5 : 0, b = std::min(i + 5, n - 1);
        lap_.speed[i] = (lap_.distance[b] - lap_.distance[a]) / (lap_.time[b] - lap_.time[a]);
      }
    }
    for (auto* flow : {&lap_.fuel_flow, &lap_.fuel_mass_flow})
      for (double& q : *flow) q = std::max(q, 0.0);
    for (double& p : lap_.throttle) p = std::clamp(p, 0.0, 1.0);
  }

  // Speed must rise where long_acc is positive; vert_acc must stand near 1 g.
  void check_signs(VerticalZero zero) {
    if (columns_.contains(4)) {
      double mean = 0;
      for (double v : lap_.vertical) mean += v / static_cast<double>(lap_.size()) / standard_gravity;
      if (std::abs(mean - 1) > 0.5)
        say(Severity::warning, "column vert_acc",
            "about 1 g on average (an accelerometer at rest reads +1 g)",
            fmt::format("{:.2f} g{}", mean,
                        zero == VerticalZero::accelerometer && std::abs(mean) < 0.5
                            ? "; if the logger takes gravity out, say so in the project: \"vertical_zero\": "
                              "\"gravity removed\""
                            : ""));
    }
    if (!columns_.contains(5)) return;
    double together = 0, size_a = 0, size_b = 0;
    for (size_t i = 5; i + 5 < lap_.size(); ++i) {
      const double rate = (lap_.speed[i + 5] - lap_.speed[i - 5]) / (lap_.time[i + 5] - lap_.time[i - 5]);
      together += rate * lap_.longitudinal[i];
      size_a += rate * rate, size_b += lap_.longitudinal[i] * lap_.longitudinal[i];
    }
    if (size_a > 0 && size_b > 0 && together < -0.5 * std::sqrt(size_a * size_b))
      say(Severity::warning, "column long_acc", "positive when the car speeds up",
          "the speed falls where it is positive: its sign is turned round");
  }

  struct Where {
    size_t column;
    Unit unit;
  };
  const CsvTable& table_;
  std::string file_;
  std::map<size_t, Where> columns_;
  std::vector<int> lines_;
  Messages messages_;
  Lap lap_;
};

}  // namespace

Heading channel_heading(const std::string& text) {
  const auto open = text.find('[');
  const auto close = text.rfind(']');
  if (open == std::string::npos || close == std::string::npos || close < open) return {text, ""};
  std::string name = text.substr(0, open);
  while (!name.empty() && name.back() == ' ') name.pop_back();
  return {name, text.substr(open + 1, close - open - 1)};
}

std::optional<Message> absurd(const Lap& lap) {
  for (const Channel& channel : channels()) {
    const auto& values = lap.*channel.values;
    for (size_t i = 0; i < values.size(); ++i)
      if (!(values[i] >= channel.low && values[i] <= channel.high)) {
        const Unit unit = shown_unit(channel.quantity, {});
        return Message{Severity::error,
                       {},
                       fmt::format("{} at {:.2f} s of the lap", channel.name, lap.time[i]),
                       fmt::format("between {:.6g} and {:.6g} {}", unit.from_si(channel.low),
                                   unit.from_si(channel.high), unit.name),
                       fmt::format("{:.6g}", unit.from_si(values[i]))};
      }
  }
  return std::nullopt;
}

size_t Lap::index_at(double t) const { return last_until(time, t); }

double Lap::distance_at(double t) const { return between(time, distance, t); }

Read<Lap> parse_lap(std::string_view text, const std::string& file, VerticalZero zero) {
  return LapReader(parse_csv(text, file), file).run(zero);
}

Read<Lap> read_lap(const std::filesystem::path& path, VerticalZero zero) {
  return parse_lap(read_file(path), path.string(), zero);
}

std::string write_lap(const Lap& lap) {
  struct Column {
    const char* heading;
    const std::vector<double>* values;
    double factor;
    int decimals;
  };
  const double g = standard_gravity;
  std::vector<Column> columns;
  for (const Column& c : {Column{"time [s]", &lap.time, 1, 3},
                          {"distance [m]", &lap.distance, 1, 2},
                          {"lat_acc [g]", &lap.lateral, 1 / g, 4},
                          {"long_acc [g]", &lap.longitudinal, 1 / g, 4},
                          {"vert_acc [g]", &lap.vertical, 1 / g, 4},
                          {"speed [km/h]", &lap.speed, 3.6, 2},
                          {"throttle [%]", &lap.throttle, 100, 1},
                          {"rpm [1/min]", &lap.rotation, 60, 0},
                          {"fuel_flow [l/h]", &lap.fuel_flow, 3.6e6, 2},
                          {"fuel_flow [kg/h]", &lap.fuel_mass_flow, 3600, 2}})
    if (!c.values->empty()) columns.push_back(c);
  std::vector<std::string> cells;
  for (const auto& c : columns) cells.emplace_back(c.heading);
  for (const auto& e : lap.extra) cells.push_back(e.header);
  std::string out = csv_row(cells);
  for (size_t i = 0; i < lap.size(); ++i) {
    cells.clear();
    for (const auto& c : columns)
      cells.push_back(fmt::format("{:.{}f}", (*c.values)[i] * c.factor, c.decimals));
    for (const auto& e : lap.extra) cells.push_back(e.cells[i]);
    out += csv_row(cells);
  }
  return out;
}

Lap mirrored(Lap lap) {
  for (double& a : lap.lateral) a = -a;
  return lap;
}

Lap thinned(const Lap& lap, size_t stride) {
  Lap out;
  const size_t n = lap.size();
  std::vector<double> Lap::*const channels[] = {
      &Lap::time,  &Lap::distance, &Lap::lateral,  &Lap::longitudinal, &Lap::vertical,
      &Lap::speed, &Lap::throttle, &Lap::rotation, &Lap::fuel_flow,    &Lap::fuel_mass_flow};
  for (const auto channel : channels) {
    const std::vector<double>& from = lap.*channel;
    std::vector<double>& to = out.*channel;
    if (from.empty()) continue;
    to.push_back(from.front());
    for (size_t i = 1; i + 1 < n; i += stride) {
      const size_t end = std::min(i + stride, n - 1);
      double sum = 0;
      for (size_t k = i; k < end; ++k) sum += from[k];
      to.push_back(sum / static_cast<double>(end - i));
    }
    to.push_back(from.back());
  }
  return out;
}

std::vector<Vec2> path(const Lap& lap, bool closed) {
  const size_t n = lap.size();
  std::vector<double> heading(n, 0.0);
  for (size_t i = 1; i < n; ++i) {
    const double v = std::max((lap.speed[i] + lap.speed[i - 1]) / 2, 3.0);
    heading[i] =
        heading[i - 1] + (lap.lateral[i] + lap.lateral[i - 1]) / 2 / v * (lap.time[i] - lap.time[i - 1]);
  }
  if (closed && n > 1) {
    // Whole turns: the usual circuit makes one, a figure of eight none.
    const double turns = std::round(heading.back() / (2 * std::numbers::pi));
    const double wanted = (turns == 0 ? std::copysign(1.0, heading.back()) : turns) * 2 * std::numbers::pi;
    const double drift = wanted - heading.back();
    for (size_t i = 0; i < n; ++i) heading[i] += drift * static_cast<double>(i) / static_cast<double>(n - 1);
  }
  std::vector<Vec2> points(n, Vec2::Zero());
  for (size_t i = 1; i < n; ++i) {
    const double mid = (heading[i] + heading[i - 1]) / 2;
    points[i] = points[i - 1] + (lap.distance[i] - lap.distance[i - 1]) * Vec2(std::cos(mid), std::sin(mid));
  }
  if (closed && n > 1) {
    const Vec2 drift = points.back();
    for (size_t i = 0; i < n; ++i)
      points[i] -= drift * (lap.distance[i] - lap.distance[0]) / std::max(lap.length(), 1e-9);
  }
  return points;
}

}  // namespace uadze::lap
