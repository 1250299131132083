#include "core/lap/simulate.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/root.h"

namespace uadze::lap {
namespace {

constexpr double g = standard_gravity;

struct Point {
  double curvature, banking, slope;
};

/// Grid of the track with its curvature blended by a moving average over the blend length.
std::vector<Point> grid(const Track& track, double step) {
  const size_t n = static_cast<size_t>(std::llround(track.length() / step)) + (track.closed ? 0 : 1);
  std::vector<Point> raw(n);
  size_t segment = 0;
  double end = track.segments.empty() ? 0 : track.segments[0].length;
  for (size_t i = 0; i < n; ++i) {
    const double s = static_cast<double>(i) * step;
    while (s > end + 1e-9 && segment + 1 < track.segments.size()) end += track.segments[++segment].length;
    const Segment& now = track.segments[segment];
    raw[i] = {now.radius == 0 ? 0 : 1 / now.radius, now.banking, std::atan(now.grade)};
  }
  const int half = std::max(0, static_cast<int>(track.blend_length / step / 2));
  std::vector<Point> out(n);
  const int count = static_cast<int>(n);
  for (int i = 0; i < count; ++i) {
    Point sum{0, 0, 0};
    for (int k = -half; k <= half; ++k) {
      const int j = track.closed ? ((i + k) % count + count) % count : std::clamp(i + k, 0, count - 1);
      sum.curvature += raw[j].curvature, sum.banking += raw[j].banking, sum.slope += raw[j].slope;
    }
    const double m = 2 * half + 1;
    out[i] = {sum.curvature / m, sum.banking / m, sum.slope / m};
  }
  return out;
}

struct Forces {
  double side, grip;  // m/s2
};

Forces forces(const Car& car, const Point& p, double v2) {
  const double k = std::abs(p.curvature);
  const double load = g * std::cos(p.slope) * std::cos(p.banking) + v2 * k * std::sin(p.banking) +
                      car.air_density * car.downforce_area * v2 / (2 * car.mass);
  return {v2 * k * std::cos(p.banking) - g * std::cos(p.slope) * std::sin(p.banking), car.grip * load};
}

/// m/s2 of longitudinal tyre force that the grip circle leaves.
double left_over(const Forces& f) { return std::sqrt(std::max(0.0, f.grip * f.grip - f.side * f.side)); }

double resistance(const Car& car, const Point& p, double v2) {
  return car.air_density * car.drag_area * v2 / (2 * car.mass) + g * std::sin(p.slope) +
         car.rolling * g * std::cos(p.slope);
}

/// The highest speed squared at which the side force is within the grip.
double speed_limit2(const Car& car, const Point& p) {
  constexpr double top = 130.0 * 130.0;
  const auto holds = [&](double v2) {
    const Forces f = forces(car, p, v2);
    return std::abs(f.side) <= f.grip || f.side < 0;
  };
  if (holds(top)) return top;
  return turn_between(holds, top, 0.0, 1e-11).yes;
}

// std::normal_distribution differs between libraries; this does not (Box and Muller 1958).
class Gauss {
 public:
  explicit Gauss(std::uint64_t seed) : engine_(seed) {}
  double operator()() {
    const double u = (static_cast<double>(engine_() >> 11) + 0.5) * 0x1.0p-53;
    const double w = static_cast<double>(engine_() >> 11) * 0x1.0p-53;
    return std::sqrt(-2 * std::log(u)) * std::cos(2 * std::numbers::pi * w);
  }

 private:
  std::mt19937_64 engine_;
};

}  // namespace

double Track::length() const {
  double sum = 0;
  for (const Segment& s : segments) sum += s.length;
  return sum;
}

std::vector<Corner> Track::corners() const {
  std::vector<Corner> out;
  double at = 0;
  for (const Segment& s : segments) {
    if (!s.name.empty() && s.radius != 0)
      out.push_back({s.name, at, at + s.length, s.radius > 0 ? Hand::left : Hand::right});
    at += s.length;
  }
  return out;
}

Lap simulate(const Track& track, const Car& car, const Noise& noise, double rate) {
  constexpr double step = 1.0;
  const std::vector<Point> points = grid(track, step);
  const size_t n = points.size();
  if (n < 10)
    throw InputError(Message{.file = track.name,
                             .place = "/segments",
                             .expected = "a track of 10 m or more",
                             .found = fmt::format("{:.3g} m", track.length())});
  std::vector<double> v2(n);
  for (size_t i = 0; i < n; ++i) v2[i] = speed_limit2(car, points[i]);
  if (!track.closed) v2[0] = 0;
  const size_t rounds = track.closed ? 2 : 1;

  for (size_t k = 1; k < rounds * n; ++k) {  // forward
    const size_t i = (k - 1) % n, j = k % n;
    const double v = std::sqrt(v2[i]);
    const double drive = std::min(car.traction_share * left_over(forces(car, points[i], v2[i])),
                                  car.power / (car.mass * std::max(v, 1.0)));
    v2[j] = std::min(v2[j], std::max(0.0, v2[i] + 2 * step * (drive - resistance(car, points[i], v2[i]))));
  }
  for (size_t k = rounds * n; k-- > 1;) {  // backward
    const size_t j = k % n, i = (k - 1) % n;
    if (!track.closed && k >= n) continue;
    const double brake = std::min(car.brake_limit, left_over(forces(car, points[j], v2[j])));
    v2[i] = std::min(v2[i], v2[j] + 2 * step * std::max(0.0, brake + resistance(car, points[j], v2[j])));
  }

  // Time at each point, then even samples.
  const size_t last = track.closed ? n : n - 1;
  std::vector<double> time(last + 1, 0.0), acceleration(last + 1, 0.0);
  for (size_t i = 0; i < last; ++i) {
    const double a = v2[i], b = v2[(i + 1) % n];
    const double mean = (std::sqrt(a) + std::sqrt(b)) / 2;
    if (mean < 0.05)
      throw InputError(
          Message{.file = car.name,
                  .place = fmt::format("{} at {:.0f} m", track.name, static_cast<double>(i) * step),
                  .expected = "a car that can climb and corner there",
                  .found = "it stands still"});
    time[i + 1] = time[i] + step / mean;
    acceleration[i] = (b - a) / (2 * step);
  }
  acceleration[last] = track.closed ? acceleration[0] : acceleration[last - 1];

  Lap lap;
  Gauss gauss(noise.seed);
  size_t i = 0;
  std::vector<double> instants;
  for (size_t s = 0; static_cast<double>(s) / rate < time.back() - 0.1 / rate; ++s)
    instants.push_back(static_cast<double>(s) / rate);
  instants.push_back(time.back());  // so that the lap is whole
  for (const double t : instants) {
    while (i + 1 < last && time[i + 1] <= t) ++i;
    const double part = std::clamp((t - time[i]) / (time[i + 1] - time[i]), 0.0, 1.0);
    const size_t next = (i + 1) % n;
    const double w2 = v2[i] + part * (v2[next] - v2[i]);
    const double v = std::sqrt(w2);
    const auto between = [&](double a, double b) { return a + part * (b - a); };
    const Point p{between(points[i].curvature, points[next].curvature),
                  between(points[i].banking, points[next].banking),
                  between(points[i].slope, points[next].slope)};
    const double a = between(acceleration[i], acceleration[std::min(i + 1, last)]);
    const double side = forces(car, p, w2).side * (p.curvature < 0 ? -1 : 1);
    const double up =
        g * std::cos(p.slope) * std::cos(p.banking) + w2 * std::abs(p.curvature) * std::sin(p.banking);
    const double wheel_power = std::max(0.0, (a + resistance(car, p, w2)) * car.mass * std::max(v, 1.0));
    const double throttle = std::min(1.0, wheel_power / car.power);
    const double flow = car.idle_flow + throttle * car.power * car.consumption / car.fuel_density;
    double top = car.gear_speeds.empty() ? 80.0 : car.gear_speeds.back();
    for (size_t gear = car.gear_speeds.size(); gear-- > 0;)
      if (car.gear_speeds[gear] >= v) top = car.gear_speeds[gear];
    lap.time.push_back(t);
    lap.distance.push_back((static_cast<double>(i) + part) * step);
    lap.lateral.push_back(side + noise.acceleration * gauss());
    lap.longitudinal.push_back(a + g * std::sin(p.slope) + noise.acceleration * gauss());
    lap.vertical.push_back(up + noise.acceleration * gauss());
    lap.speed.push_back(v);
    lap.throttle.push_back(throttle);
    lap.rotation.push_back(std::clamp(v / top, car.idle_rotation / car.top_rotation, 1.0) * car.top_rotation);
    lap.fuel_flow.push_back(std::max(0.0, flow * (1 + noise.flow * gauss())));
  }
  return lap;
}

}  // namespace uadze::lap
