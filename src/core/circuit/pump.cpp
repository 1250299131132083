#include "core/circuit/pump.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <complex>
#include <map>
#include <numbers>

#include "core/base/csv.h"
#include "core/base/files.h"
#include "core/base/units.h"

namespace uadze::circuit {
namespace {

struct Value {
  double at = 0.0, slope = 0.0;
};
struct Values {
  Value flow, current;
};

/// Straight lines between the points, the outer ones prolonged.
Values along(const std::vector<CurvePoint>& points, double pressure) {
  if (points.size() == 1) return {{points[0].flow, 0.0}, {points[0].current, 0.0}};
  size_t i = 1;
  while (i + 1 < points.size() && pressure > points[i].pressure) ++i;
  const CurvePoint &a = points[i - 1], &b = points[i];
  const auto between = [&](double from, double to) {
    const double slope = (to - from) / (b.pressure - a.pressure);
    return Value{from + slope * (pressure - a.pressure), slope};
  };
  return {between(a.flow, b.flow), between(a.current, b.current)};
}

/// One curve scaled to another drive by the affinity laws.
Operation scaled(const PumpCurve& curve, double rise, double drive) {
  const double n = std::max(drive / curve.drive, 0.02);
  const auto [q, i] = along(curve.points, rise / (n * n));
  Operation out;
  out.voltage = drive;
  out.flow = n * q.at;
  out.flow_by_rise = q.slope / n;
  out.flow_by_drive = (q.at - 2 * rise / (n * n) * q.slope) / curve.drive;
  out.current = n * n * i.at;
  out.current_by_rise = i.slope;
  out.current_by_drive = (2 * n * i.at - 2 * rise / n * i.slope) / curve.drive;
  return out;
}

/// An engine-driven pump displaces by its strokes against a spring: slower than its slowest curve it moves
/// less at the same pressure, faster than its fastest no more.
Operation displaced(const PumpCurve& curve, double rise, double drive) {
  const double n = std::clamp(drive / curve.drive, 0.0, 1.0);
  const Value q = along(curve.points, rise).flow;
  return {.flow = n * q.at, .flow_by_rise = n * q.slope, .voltage = drive};
}

}  // namespace

Faults curve_faults(const PumpCurves& pump) {
  Faults out;
  const auto fail = [&](const auto& member, std::string expected, std::string found) {
    add_fault(out, Severity::error, place_of(member), std::move(expected), std::move(found));
  };
  if (pump.curves.empty()) fail(pump.curves, "at least one curve", "none");
  for (size_t c = 0; c < pump.curves.size(); ++c) {
    const auto& curve = pump.curves[c];
    if (!(curve.drive > 0) || (c > 0 && !(curve.drive > pump.curves[c - 1].drive)))
      fail(curve, "voltages or speeds above 0, each higher than the one before",
           fmt::format("{:.6g}", curve.drive));
    if (curve.points.size() < 2) fail(curve, "at least two points", fmt::format("{}", curve.points.size()));
    for (size_t i = 0; i < curve.points.size(); ++i) {
      const CurvePoint& p = curve.points[i];
      if (!std::isfinite(p.pressure) || !std::isfinite(p.flow) || !std::isfinite(p.current) || p.flow < 0 ||
          p.current < 0 || p.pressure < 0)
        fail(p, "figures of 0 or more",
             fmt::format("{:.6g} bar, {:.6g} L/h, {:.6g} A", p.pressure / 1e5, p.flow * 3.6e6, p.current));
      if (i == 0) continue;
      const CurvePoint& before = curve.points[i - 1];
      if (!(p.pressure > before.pressure))
        fail(p, fmt::format("a pressure above the {:.6g} bar before it", before.pressure / 1e5),
             fmt::format("{:.6g} bar", p.pressure / 1e5));
      else if (p.flow > before.flow)
        fail(p,
             fmt::format("a flow that falls as pressure rises, not above the {:.6g} L/h before it",
                         before.flow * 3.6e6),
             fmt::format("{:.6g} L/h: a rising curve has no one operating point", p.flow * 3.6e6));
    }
  }
  return out;
}

namespace {

/// Without the relief valve.
Operation on_curves(const PumpCurves& pump, double rise, double drive) {
  const auto& all = pump.curves;
  if (pump.engine_driven && (drive <= all.front().drive || drive >= all.back().drive))
    return displaced(drive <= all.front().drive ? all.front() : all.back(), rise, drive);
  if (all.size() == 1 || drive <= all.front().drive) return scaled(all.front(), rise, drive);
  if (drive >= all.back().drive) return scaled(all.back(), rise, drive);
  size_t k = 1;
  while (drive > all[k].drive) ++k;
  const PumpCurve &a = all[k - 1], &b = all[k];
  const double s = (drive - a.drive) / (b.drive - a.drive);
  const auto [qa, ia] = along(a.points, rise);
  const auto [qb, ib] = along(b.points, rise);
  Operation out;
  out.voltage = drive;
  out.flow = std::lerp(qa.at, qb.at, s);
  out.flow_by_rise = std::lerp(qa.slope, qb.slope, s);
  out.flow_by_drive = (qb.at - qa.at) / (b.drive - a.drive);
  out.current = std::lerp(ia.at, ib.at, s);
  out.current_by_rise = std::lerp(ia.slope, ib.slope, s);
  out.current_by_drive = (ib.at - ia.at) / (b.drive - a.drive);
  return out;
}

}  // namespace

Operation operate(const PumpCurves& pump, double rise, double drive) {
  Operation out = on_curves(pump, rise, drive);
  if (pump.relief <= 0 || rise <= pump.relief) return out;
  // What the fastest curve moves at the opening passes a tenth above it.
  const double all = std::max(along(pump.curves.back().points, pump.relief).flow.at, 1e-6);
  const double by_rise = all / (0.1 * pump.relief);
  out.flow -= by_rise * (rise - pump.relief);
  out.flow_by_rise -= by_rise;
  return out;
}

double locked_current(const PumpCurves& pump, double voltage) {
  if (pump.engine_driven || pump.curves.empty()) return 0.0;
  double most = 0;
  for (const CurvePoint& p : pump.curves.back().points) most = std::max(most, p.current);
  return (pump.locked > 0 ? pump.locked : 4 * most) * voltage / pump.curves.back().drive;
}

bool measured(const PumpCurves& pump, double rise, double drive) {
  const double pass = pump.engine_driven ? 0.1 : 0.1 + 1e-9;
  // A single curve at its own voltage is what it was measured at; speed control lies outside it as well.
  return drive >= pump.curves.front().drive - pass && drive <= pump.curves.back().drive + pass &&
         rise >= pump.curves.front().points.front().pressure - 1e3 &&
         rise <= pump.curves.back().points.back().pressure + 1e3;
}

double inlet_swing(const PumpCurves& pump, double rotation, double inertance, double resistance) {
  if (pump.peak_flow <= 1) return 0.0;
  using Complex = std::complex<double>;
  const double w = 2 * std::numbers::pi * pump.strokes * rotation;
  const Complex column(resistance, w * inertance);
  return (pump.peak_flow - 1) * std::abs(column / (1.0 + Complex(0, w * pump.compliance) * column));
}

namespace {

Operation yielded(Operation now, double yield) {
  now.flow *= yield, now.flow_by_rise *= yield, now.flow_by_drive *= yield;
  return now;
}

}  // namespace

Operation wired(const PumpCurves& pump, double rise, const PumpDrive& given) {
  PumpDrive drive = given;
  if (!pump.engine_driven) {
    drive.supply *= drive.share;
    if (drive.modulated) drive.resistance *= drive.share;
  }
  Operation now = operate(pump, rise, drive.supply);
  if (pump.engine_driven || drive.resistance <= 0) return yielded(now, drive.yield);
  // V + R I(V) - supply is a straight line between two curves: Newton ends in a few steps. Where I falls
  // with V so steeply that the line turns, the step is bounded.
  double v = drive.supply;
  for (int k = 0; k < 50; ++k) {
    const double off = v + drive.resistance * std::max(now.current, 0.0) - drive.supply;
    const double slope = std::max(1 + drive.resistance * now.current_by_drive, 0.2);
    const double next = std::clamp(v - off / slope, 0.05 * drive.supply, drive.supply);
    const bool done = std::abs(next - v) < 1e-10;
    v = next;
    now = operate(pump, rise, v);
    if (done) break;
  }
  // Along the fixed point dV = -R I_p dp / (1 + R I_V).
  const double slope = std::max(1 + drive.resistance * now.current_by_drive, 0.2);
  const double v_by_rise = -drive.resistance * now.current_by_rise / slope;
  now.flow_by_rise = std::min(now.flow_by_rise + now.flow_by_drive * v_by_rise, 0.0);
  return yielded(now, drive.yield);
}

PumpCurves estimated_curves(const SinglePoint& point) {
  PumpCurves out;
  out.estimated = true;
  const double free = 1.15 * point.flow, top = point.pressure / std::sqrt(1 - 1 / 1.15);
  const double current =
      point.current > 0 ? point.current : point.flow * point.pressure / 0.30 / point.voltage;
  PumpCurve curve{point.voltage, {}};
  for (int k = 0; k <= 10; ++k) {
    const double p = top * k / 10;
    curve.points.push_back(
        {p, free * (1 - (p / top) * (p / top)), current / 3 * (1 + 2 * p / point.pressure)});
  }
  // The point itself is a corner of the curve, so that it is met exactly.
  CurvePoint given{point.pressure, point.flow, current};
  curve.points.insert(std::find_if(curve.points.begin(), curve.points.end(),
                                   [&](const CurvePoint& p) { return p.pressure > point.pressure; }),
                      given);
  out.curves = {std::move(curve)};
  return out;
}

PumpCurves parse_bench_curve(std::string_view text, const std::string& file) {
  const CsvTable table = parse_csv(text, file);
  struct Column {
    const char* name;
    Quantity quantity;
    int index = -1;
    Unit unit{};
  };
  std::vector<Column> columns{{"voltage", Quantity::voltage},
                              {"pressure", Quantity::pressure},
                              {"flow", Quantity::flow},
                              {"current", Quantity::current}};
  for (size_t i = 0; i < table.header.size(); ++i) {
    const std::string& head = table.header[i];
    const size_t open = head.find('['), close = head.find(']');
    std::string name = head.substr(0, open);
    while (!name.empty() && name.back() == ' ') name.pop_back();
    for (Column& c : columns) {
      if (name != c.name) continue;
      const std::string unit = open == std::string::npos || close == std::string::npos
                                   ? ""
                                   : head.substr(open + 1, close - open - 1);
      const auto found = find_unit(unit, c.quantity);
      if (!found)
        throw InputError(Message{.file = file,
                                 .place = "column " + head,
                                 .expected = fmt::format("a known unit, such as {} [{}]", c.name,
                                                         known_units(c.quantity).front().name),
                                 .found = "\"" + unit + "\""});
      c.index = static_cast<int>(i);
      c.unit = *found;
    }
  }
  for (const Column& c : columns)
    if (c.index < 0 && std::string(c.name) != "current")
      throw InputError(Message{
          .file = file, .place = "header", .expected = fmt::format("a column {}", c.name), .found = "none"});
  std::map<double, std::vector<CurvePoint>> by_drive;
  for (size_t r = 0; r < table.rows.size(); ++r) {
    const auto read = [&](const Column& c) {
      if (c.index < 0) return 0.0;
      const std::string& cell = table.rows[r][static_cast<size_t>(c.index)];
      const auto value = parse_number(cell);
      if (!value || *value < 0)
        throw InputError(Message{.file = file,
                                 .place = fmt::format("line {}, column {}", table.lines[r], c.name),
                                 .expected = "a number of 0 or more",
                                 .found = "\"" + cell + "\""});
      return c.unit.to_si(*value);
    };
    by_drive[read(columns[0])].push_back({read(columns[1]), read(columns[2]), read(columns[3])});
  }
  PumpCurves out;
  for (auto& [drive, points] : by_drive) {
    std::sort(points.begin(), points.end(),
              [](const CurvePoint& a, const CurvePoint& b) { return a.pressure < b.pressure; });
    out.curves.push_back({drive, std::move(points)});
  }
  Messages messages;
  for (const Fault& f : curve_faults(out)) {
    // Which curve it is, in words: rows may stand in any order in the file.
    std::string where = "curve";
    for (const PumpCurve& curve : out.curves) {
      if (f.at == place_of(curve)) where = fmt::format("curve at {:.6g} V", curve.drive);
      for (size_t i = 0; i < curve.points.size(); ++i)
        if (f.at == place_of(curve.points[i]))
          where = fmt::format("curve at {:.6g} V, point {}", curve.drive, i + 1);
    }
    messages.push_back({f.severity, file, where, f.expected, f.found});
  }
  if (!messages.empty()) throw InputError(std::move(messages));
  return out;
}

PumpCurves read_bench_curve(const std::filesystem::path& path) {
  return parse_bench_curve(read_file(path), path.string());
}

}  // namespace uadze::circuit
