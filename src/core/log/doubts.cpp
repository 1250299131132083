#include "core/log/doubts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/log/filter.h"
#include "core/log/to_lap.h"

namespace uadze::log {
namespace {

/// How two series go together: the factor of the one in the other, and how well it holds (-1 to 1).
struct Together {
  double factor = 0, correlation = 0, weight = 0;
};

Together together(std::span<const double> x, std::span<const double> y, int late = 0) {
  double xx = 0, yy = 0, xy = 0, sx = 0, sy = 0, n = 0;
  for (size_t i = 0; i < x.size(); ++i) {
    const auto j = static_cast<std::ptrdiff_t>(i) + late;
    if (j < 0 || j >= static_cast<std::ptrdiff_t>(y.size())) continue;
    const double a = x[i], b = y[static_cast<size_t>(j)];
    xx += a * a, yy += b * b, xy += a * b, sx += a, sy += b, n += 1;
  }
  if (n < 50) return {};
  xx -= sx * sx / n, yy -= sy * sy / n, xy -= sx * sy / n;
  if (xx <= 0 || yy <= 0) return {};
  return {xy / xx, xy / std::sqrt(xx * yy), xx / n};
}

class Doubter {
 public:
  Doubter(const Log& log, const std::string& file) : log_(log), file_(file) {}

  Messages run() {
    for (const Channel& c : log_.channels)
      if (c.role != Role::none) look(c);
    // The longest part, at even steps.
    size_t best = 0;
    for (size_t p = 0; p < log_.parts.size(); ++p)
      if (end_of(p) - log_.parts[p] > end_of(best) - log_.parts[best]) best = p;
    begin_ = log_.time[log_.parts[best]], end_ = std::min(log_.time[end_of(best) - 1], begin_ + 1200);
    if (end_ - begin_ >= 5) {
      forward();
      sideways();
      places();
    }
    for (Role role : {Role::lat_acc, Role::long_acc})
      if (log_.channel(role) && log_.step() > 0.1 + 1e-9) {
        say(role, "ten samples a second or more: the fuel swings within half a second",
            fmt::format("one in {:.2g} s", log_.step()));
        break;
      }
    return std::move(out_);
  }

 private:
  size_t end_of(size_t part) const {
    return part + 1 < log_.parts.size() ? log_.parts[part + 1] : log_.size();
  }

  void say(Role role, std::string expected, std::string found) {
    out_.push_back({Severity::warning, file_, "channel " + log_.channel(role)->name, std::move(expected),
                    std::move(found)});
  }

  std::vector<double> even(Role role, double cut_off = 2.0) const {
    const Channel* c = log_.channel(role);
    if (!c) return {};
    return low_pass(resampled(log_, c->values, c->between, begin_, end_, step), 1 / step, cut_off);
  }

  static std::vector<double> slope(const std::vector<double>& v) {
    std::vector<double> out(v.size(), 0.0);
    for (size_t i = 1; i + 1 < v.size(); ++i) out[i] = (v[i + 1] - v[i - 1]) / (2 * step);
    return out;
  }

  void look(const Channel& c) {
    const RoleInfo& info = info_of(c.role);
    const auto [low, high] = std::minmax_element(c.values.begin(), c.values.end());
    if (*low == *high) {
      if (info.varies && log_.duration() > 5)
        say(c.role, "values that move while the car is driven",
            fmt::format("{} throughout: is the sensor dead?", shown(info, *low)));
      return;
    }
    // Both ends of a converter: many samples at exactly the highest or lowest value. A throttle or a switch
    // stands at its ends, a standing car's speed at nothing.
    const bool may_stand =
        c.between == Between::held || c.role == Role::throttle || c.role == Role::speed ||
        c.role == Role::injector_duty || c.role == Role::injector_time || c.role == Role::rpm ||
        c.role == Role::fuel_flow || c.role == Role::fuel_mass_flow || c.role == Role::distance ||
        c.role == Role::lap || c.role == Role::fuel_level || c.role == Role::fuel_temperature ||
        c.role == Role::air_temperature || c.role == Role::air_pressure || c.role == Role::battery ||
        c.role == Role::ethanol || c.role == Role::latitude || c.role == Role::longitude;
    if (!may_stand)
      for (const float end : {*low, *high}) {
        const auto n = std::count(c.values.begin(), c.values.end(), end);
        // Few steps between the ends are a coarse sensor's.
        const auto beside = std::count_if(c.values.begin(), c.values.end(), [&](float v) {
          return v != end && std::abs(v - end) < 0.03f * (*high - *low);
        });
        if (static_cast<size_t>(n) * 50 > c.values.size() && n > 2 * beside + 10)
          say(c.role, "a sensor that reads further than the car goes",
              fmt::format("{} for {:.0f} % of the time: it is clipped there", shown(info, end),
                          100.0 * static_cast<double>(n) / static_cast<double>(c.values.size())));
      }
    size_t outside = 0;
    for (float v : c.values) outside += v < info.low || v > info.high;
    if (outside * 20 > c.values.size())
      say(c.role,
          fmt::format("{} to {}", shown(info, static_cast<float>(info.low)),
                      shown(info, static_cast<float>(info.high))),
          fmt::format("{} to {}: is its unit right?", shown(info, *low), shown(info, *high)));
    if (c.role == Role::vert_acc) {
      double mean = 0;
      for (float v : c.values) mean += v / static_cast<double>(c.values.size());
      if (std::abs(mean - standard_gravity) > 0.3 * standard_gravity)
        say(c.role, "about 1 g on the mean (an accelerometer at rest reads +1 g)",
            fmt::format("{:.2f} g", mean / standard_gravity));
    }
  }

  static std::string shown(const RoleInfo& info, float value) { return format(value, info.quantity); }

  void forward() {
    const auto v = even(Role::speed), a = even(Role::long_acc);
    if (v.empty() || a.empty()) return;
    const auto change = slope(v);
    // How late the one comes after the other, within a second.
    Together best;
    int late = 0;
    for (int k = -20; k <= 20; ++k)
      if (const Together t = together(change, a, k); std::abs(t.correlation) > std::abs(best.correlation))
        best = t, late = k;
    if (best.weight < 0.3) return;  // hardly any braking
    if (std::abs(best.correlation) < 0.5) {
      say(Role::long_acc, "a reading that goes with the speed's change",
          fmt::format("a correlation of {:.2f}: is it this channel, and the right axis?", best.correlation));
      return;
    }
    if (best.correlation < 0)
      say(Role::long_acc, "positive when the car speeds up",
          "the speed falls where it is positive: its sign is turned round");
    const double size = std::abs(best.factor);
    if (size > 2 || size < 0.5)
      say(Role::long_acc, "as much as the speed changes by",
          fmt::format("{:.3g} times as much: are both units right?", size));
    if (std::abs(late) >= 6)
      say(Role::long_acc, "no delay against the speed",
          fmt::format("it comes {:.2g} s {}: the channels' clocks differ, or one is filtered",
                      std::abs(late) * step, late > 0 ? "later" : "earlier"));
  }

  void sideways() {
    const auto v = even(Role::speed), a = even(Role::lat_acc), w = even(Role::yaw_rate);
    if (v.empty() || a.empty()) return;
    if (!w.empty()) {
      std::vector<double> turn(v.size());
      for (size_t i = 0; i < v.size(); ++i) turn[i] = v[i] * w[i];
      const Together t = together(turn, a);
      if (t.weight > 0.5 && t.correlation < -0.5)
        say(Role::lat_acc, "positive in left-hand corners, as the yaw rate is",
            "the two have opposite signs: one of them is turned round");
      else if (t.weight > 0.5 && t.correlation > 0.5 && (t.factor > 2 || t.factor < 0.5))
        say(Role::lat_acc, "about yaw rate times speed",
            fmt::format("{:.3g} times as much: are the units right?", t.factor));
    }
    const auto bend = path_bend();
    if (bend.empty()) return;
    std::vector<double> pull(v.size());
    for (size_t i = 0; i < v.size(); ++i) pull[i] = bend[i] * v[i];
    const Together t = together(pull, a);
    if (t.weight > 0.5 && t.correlation < -0.5)
      say(Role::lat_acc, "positive in left-hand corners",
          "the path by its position bends the other way: its sign is turned round");
  }

  /// rad/s by which the path's direction turns, + left.
  std::vector<double> path_bend() const {
    const auto at = positions(log_);
    if (at.empty()) return {};
    std::vector<float> x, y;
    for (const Vec2& p : at) x.push_back(static_cast<float>(p.x())), y.push_back(static_cast<float>(p.y()));
    const auto smooth = [&](const std::vector<float>& c) {
      return low_pass(resampled(log_, c, Between::straight, begin_, end_, step), 1 / step, 0.7);
    };
    const auto vx = slope(smooth(x)), vy = slope(smooth(y)), ax = slope(vx), ay = slope(vy);
    std::vector<double> out(vx.size(), 0.0);
    for (size_t i = 0; i < vx.size(); ++i)
      if (const double v2 = vx[i] * vx[i] + vy[i] * vy[i]; v2 > 25)
        out[i] = (vx[i] * ay[i] - vy[i] * ax[i]) / v2;
    return out;
  }

  void places() {
    const Channel* v = log_.channel(Role::speed);
    const auto at = positions(log_);
    if (!v) return;
    double by_speed = 0, by_place = 0, by_distance = 0;
    const auto s = log_.values(Role::distance);
    for (size_t i = log_.index_at(begin_) + 1; i <= log_.index_at(end_); ++i) {
      const double dt = log_.time[i] - log_.time[i - 1],
                   step_by_speed = 0.5 * (static_cast<double>(v->values[i]) + v->values[i - 1]) * dt;
      by_speed += step_by_speed;
      if (!at.empty()) by_place += std::min((at[i] - at[i - 1]).norm(), 120 * dt + 5);
      if (!s.empty()) by_distance += s[i] >= s[i - 1] ? static_cast<double>(s[i]) - s[i - 1] : step_by_speed;
    }
    const auto judge = [&](double other, const char* what) {
      if (other < 50 || by_speed < 50) return;
      if (const double ratio = by_speed / other; ratio > 1.25 || ratio < 0.8)
        say(Role::speed, fmt::format("what the {} makes: {:.0f} m", what, other),
            fmt::format("{:.0f} m, {:.3g} times as much: is its unit right?", by_speed, ratio));
    };
    judge(by_place, "position");
    if (!s.empty()) judge(by_distance, "distance");
  }

  static constexpr double step = 0.02;  // s
  const Log& log_;
  const std::string& file_;
  double begin_ = 0, end_ = 0;
  Messages out_;
};

}  // namespace

Messages doubts(const Log& log, const std::string& file) {
  return log.size() < 2 ? Messages() : Doubter(log, file).run();
}

Messages doubts(const Log& log, const LoggedLap& lap, const std::vector<lap::Corner>& corners,
                const std::string& file) {
  return lap::check_hands(to_lap(log, lap, {}).value, corners, file);
}

}  // namespace uadze::log
