#include "core/lap/force_trace.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/csv.h"
#include "core/base/files.h"
#include "core/base/series.h"
#include "core/base/units.h"

namespace uadze::lap {

Vec3 ForceTrace::at(double t) const { return between(time, force, t); }

Vec3 Push::felt_at(const Vec3& place) const {
  return gravity + Vec3(yaw * yaw * place.x() + yaw_change * place.y(),
                        yaw * yaw * place.y() - yaw_change * place.x(), 0);
}

Push ForceTrace::push(double t) const {
  Push out{.gravity = at(t)};
  if (yaw.empty()) return out;
  const auto next = static_cast<size_t>(std::upper_bound(time.begin(), time.end(), t) - time.begin());
  if (next == 0 || next >= time.size()) {
    out.yaw = next == 0 ? yaw.front() : yaw.back();
    return out;
  }
  out.yaw_change = (yaw[next] - yaw[next - 1]) / (time[next] - time[next - 1]);
  out.yaw = yaw[next - 1] + out.yaw_change * (t - time[next - 1]);
  return out;
}

ForceTrace ForceTrace::part(double from, double to) const {
  ForceTrace out;
  const auto put = [&](double t) {
    const Push p = push(t);
    out.time.push_back(t), out.force.push_back(p.gravity);
    if (!yaw.empty()) out.yaw.push_back(p.yaw);
  };
  put(from);
  for (const double t : time)
    if (t > from + 1e-9 && t < to - 1e-9) put(t);
  put(to);
  return out;
}

ForceTrace force_trace(const Lap& lap) {
  ForceTrace out{lap.time, {}, {}};
  for (size_t i = 0; i < lap.size(); ++i) out.force.push_back(lap.effective_gravity(i));
  if (lap.speed.size() == lap.size() && lap.lateral.size() == lap.size())
    for (size_t i = 0; i < lap.size(); ++i)
      out.yaw.push_back(lap.speed[i] > 3 ? lap.lateral[i] / lap.speed[i] : 0.0);
  return out;
}

Lap as_lap(const ForceTrace& trace) {
  Lap out;
  out.time = trace.time;
  double speed = 0, distance = 0;
  for (size_t i = 0; i < trace.time.size(); ++i) {
    const Vec3 a = -trace.force[i];
    const double dt = i > 0 ? trace.time[i] - trace.time[i - 1] : 0.0;
    speed = std::max(speed + a.x() * dt, 0.0);
    distance += speed * dt;
    out.longitudinal.push_back(a.x());
    out.lateral.push_back(a.y());
    out.vertical.push_back(a.z());
    out.speed.push_back(speed);
    out.distance.push_back(distance);
    out.throttle.push_back(1.0);
  }
  return out;
}

Read<ForceTrace> parse_acceleration(std::string_view text, const std::string& file) {
  const CsvTable table = parse_csv(text, file);
  Messages messages;
  const auto fail = [&](std::string place, std::string expected, std::string found) {
    if (messages.size() < 8)
      messages.push_back({Severity::error, file, std::move(place), std::move(expected), std::move(found)});
  };
  const char* names[] = {"time", "ax", "ay", "az"};
  size_t columns[4] = {};
  Unit units[4] = {};
  std::string header;
  for (const auto& h : table.header) header += (header.empty() ? "" : ", ") + h;
  for (int k = 0; k < 4; ++k) {
    const Quantity quantity = k == 0 ? Quantity::duration : Quantity::acceleration;
    const auto found = std::find_if(table.header.begin(), table.header.end(), [&](const std::string& h) {
      return channel_heading(h).name == names[k];
    });
    const auto unit =
        found == table.header.end() ? std::nullopt : find_unit(channel_heading(*found).unit, quantity);
    if (!unit || channel_heading(*found).unit.empty()) {
      fail("header", fmt::format("a column {} [{}]", names[k], k == 0 ? "s" : "g"), "only: " + header);
      continue;
    }
    columns[k] = static_cast<size_t>(found - table.header.begin());
    units[k] = *unit;
  }
  if (table.rows.size() < 2) fail("line 2", "at least 2 rows of data", fmt::format("{}", table.rows.size()));
  if (!messages.empty()) throw InputError(std::move(messages));

  ForceTrace out;
  for (size_t row = 0; row < table.rows.size(); ++row) {
    double values[4] = {};
    for (int k = 0; k < 4; ++k) {
      const std::string& cell = table.rows[row][columns[k]];
      const auto number = parse_number(cell);
      const std::string place = fmt::format("line {}, column {}", table.lines[row], names[k]);
      if (!number)
        fail(place, "a number with a decimal point", cell.empty() ? "an empty field" : "\"" + cell + "\"");
      else if (values[k] = units[k].to_si(*number); k > 0 && std::abs(values[k]) > 100 * standard_gravity)
        fail(place, "an acceleration of 100 g at most", cell);
    }
    if (!out.time.empty() && !(values[0] > out.time.back()) && messages.empty())
      fail(fmt::format("line {}, column time", table.lines[row]),
           fmt::format("a time after {:.6g} s", out.time.back()), fmt::format("{:.6g} s", values[0]));
    if (!out.time.empty() && values[0] - out.time.back() > longest_gap && messages.empty())
      fail(fmt::format("line {}, column time", table.lines[row]),
           fmt::format("a time at most {:g} s after the last", longest_gap),
           fmt::format("{:.6g} s after it", values[0] - out.time.back()));
    out.time.push_back(values[0]);
    out.force.push_back(Vec3(0, 0, -standard_gravity) - Vec3(values[1], values[2], values[3]));
  }
  if (const double whole = out.time.back() - out.time.front(); whole > longest_lap)
    fail("column time", fmt::format("{:g} s at most in all", longest_lap), fmt::format("{:.6g} s", whole));
  if (!messages.empty()) throw InputError(std::move(messages));
  return {std::move(out), {}};
}

Read<ForceTrace> read_acceleration(const std::filesystem::path& path) {
  return parse_acceleration(read_file(path), path.string());
}

}  // namespace uadze::lap
