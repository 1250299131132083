#include "core/circuit/aeration.h"

#include <algorithm>
#include <cmath>

#include "core/circuit/element.h"

namespace uadze::circuit {
namespace {

constexpr double inception = 0.8;      // m/s
constexpr double diffuser_area = 4.0;  // times the bore's
constexpr double through_foam = 0.2;

}  // namespace

Aeration aeration(const AerationInput& in) {
  Aeration out;
  if (in.fall <= 0 || in.flow <= 0 || in.bore <= 0) return out;
  const double bore = in.bore * (in.diffuser ? std::sqrt(diffuser_area) : 1.0),
               start = velocity(in.flow, bore);
  out.speed = std::sqrt(start * start + 2 * in.gravity * in.fall);
  if (out.speed < inception) return out;
  const double thin = bore * std::sqrt(start / out.speed);
  const double slender = in.fall / thin, froude = out.speed * out.speed / (in.gravity * thin);
  const double law = std::pow(froude, 0.28) * std::pow(slender, 0.4);
  out.in_range = slender <= 100 && law >= 10;
  out.entrained = 0.04 * law * in.flow * (in.foam ? through_foam : 1.0);
  out.share = out.entrained / (in.bubble_rise * in.surface + in.drawn + out.entrained);
  return out;
}

Derivation aeration_working(const AerationInput& in) {
  const Aeration now = aeration(in);
  return {.name = "Gas in what the pumps draw",
          .value = now.share,
          .quantity = Quantity::fraction,
          .formula = "s = Qg / (w A + Q + Qg),  Qg = 0.04 Fr^0.28 (L/d)^0.4 Qr",
          .inputs = {{"Qr", "return", in.flow, Quantity::flow, "computed"},
                     {"Qg", "gas that it carries down", now.entrained, Quantity::flow, "computed"},
                     {"L", "fall", in.fall, Quantity::length, "entered"},
                     {"A", "surface of the fuel there", in.surface, Quantity::area, "geometry"},
                     {"w", "rise of the bubbles", in.bubble_rise, Quantity::velocity, "entered"},
                     {"Q", "drawn from there", in.drawn, Quantity::flow, "computed"}},
          .source = "Bin 1993, plunging jets; well-mixed space",
          .note = now.in_range ? "An estimate." : "An estimate, outside the range that was measured."};
}

}  // namespace uadze::circuit
