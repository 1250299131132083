#include "core/circuit/wiring.h"

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <numbers>

#include "core/base/units.h"

namespace uadze::circuit {
namespace {

constexpr double copper = 1.724e-8, copper_per_kelvin = 3.93e-3;
constexpr std::array gauges{20, 18, 16, 14, 12, 10, 8, 6, 4};

}  // namespace

double gauge_area(int gauge) {
  const double d = 0.127e-3 * std::pow(92.0, (36 - gauge) / 39.0);
  return std::numbers::pi / 4 * d * d;
}

double wire_resistance(double area, double length, double temperature) {
  return area > 0 ? copper * (1 + copper_per_kelvin * (temperature - 293.15)) * length / area : 0.0;
}

std::optional<double> parse_gauge(const std::string& text) {
  std::string rest = text;
  for (const char* mark : {"AWG", "awg"})
    if (const size_t at = rest.find(mark); at != std::string::npos) {
      rest.erase(at, 3);
      const auto n = parse_number(rest);
      if (!n || *n != std::floor(*n) || *n < 0 || *n > 40) return std::nullopt;
      return gauge_area(static_cast<int>(*n));
    }
  const auto area = parse_quantity(rest, Quantity::wire_area);
  return area && *area > 0 && *area < 1e-3 ? area : std::nullopt;
}

std::string gauge_text(double area) {
  for (int n = 0; n <= 40; ++n)
    if (std::abs(area - gauge_area(n)) < 1e-4 * area) return fmt::format("AWG {}", n);
  return fmt::format("{:.6g} mm2", area * 1e6);
}

std::span<const int> usual_gauges() { return gauges; }

std::optional<int> smallest_gauge(double current, double length, double drop, double temperature) {
  for (int n : gauges)
    if (current * wire_resistance(gauge_area(n), 2 * length, temperature) <= drop &&
        current <= loom_density * gauge_area(n))
      return n;
  return std::nullopt;
}

}  // namespace uadze::circuit
