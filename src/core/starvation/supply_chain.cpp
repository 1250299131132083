#include "core/starvation/supply_chain.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::starvation {

ChainOptions chain_options(const FuelSystem& car) {
  ChainOptions out;
  out.surge = car.surge.has_value();
  if (car.surge) {
    out.capacity = car.surge->volume;
    out.area = car.surge->volume / surge_height(*car.surge);
    out.back = car.surge->engine_return;
  }
  out.filter = std::clamp(car.filter_hold, 0.0, car.line_hold);
  out.line = car.line_hold - out.filter;
  out.compliance = compliance_of(car);
  out.bubble_rise = car.limits.bubble_rise;
  return out;
}

SupplyChain::SupplyChain(const ChainOptions& options, double fed)
    : options_(options),
      surge_(options.capacity),
      line_fuel_(options.line),
      filter_fuel_(options.filter),
      difference_(fed) {
  if (options_.line > 0) slugs_.push_back({options_.line, options_.line});
}

void SupplyChain::tell_state(std::vector<double>& out) const {
  // A line may hold as much in another order: by where the fuel lies too.
  double before = 0, moment = 0;
  for (size_t k = first_; k < slugs_.size(); ++k) {
    moment += slugs_[k].fuel * (before + slugs_[k].volume / 2);
    before += slugs_[k].volume;
  }
  const double line = std::max(options_.line + options_.filter, 1e-9),
               surge = std::max(options_.capacity, 1e-6);
  out.insert(out.end(), {surge_ / surge, line_fuel_ / line, filter_fuel_ / line, moment / (line * line),
                         difference_ / 1e5, carried_});
}

double SupplyChain::shift_surge(double volume) {
  const double taken = surge_ - volume;
  surge_ = volume;
  return taken;
}

double SupplyChain::through_filter(double volume, double fuel) {
  if (options_.filter <= 0 || volume <= 0) return fuel;
  const double in = fuel / volume, now = filter_fuel_ / options_.filter;
  const double after = (in + (now - in) * std::exp(-volume / options_.filter)) * options_.filter;
  const double out = filter_fuel_ + fuel - after;
  filter_fuel_ = after;
  return out;
}

double SupplyChain::through_line(double volume, double fuel) {
  if (options_.line <= 0 || volume <= 0) return fuel;
  const auto share = [](const Slug& s) { return s.volume > 0 ? s.fuel / s.volume : 1.0; };
  // What differs by rounding only becomes one slug.
  if (slugs_.size() > first_ && std::abs(share(slugs_.back()) - fuel / volume) < 1e-7) {
    slugs_.back().volume += volume;
    slugs_.back().fuel += fuel;
  } else {
    slugs_.push_back({volume, fuel});
  }
  double left = volume, out = 0;
  while (left > 0 && first_ < slugs_.size()) {
    Slug& s = slugs_[first_];
    if (s.volume <= left) {
      out += s.fuel;
      left -= s.volume;
      ++first_;
      continue;
    }
    const double part = s.fuel * (left / s.volume);
    out += part;
    s.fuel -= part;
    s.volume -= left;
    left = 0;
  }
  if (first_ > 4096) {
    slugs_.erase(slugs_.begin(), slugs_.begin() + static_cast<std::ptrdiff_t>(first_));
    first_ = 0;
  }
  line_fuel_ += fuel - out;
  return out;
}

double SupplyChain::step(const ChainStep& s) {
  const double flow = std::max(s.main, s.demand), pumped = flow * s.time;
  double share = 1.0;
  double to_tank = 0;
  if (options_.surge) {
    const double band = s.reach.covered - s.reach.bare;
    if (!options_.bottomless)
      share = band > 0 ? std::clamp((surge_ - s.reach.bare) / band, 0.0, 1.0) : (surge_ > s.reach.bare);
    // Gas that goes down with the fuel.
    const double down = options_.area > 0 ? flow / options_.area : 0.0;
    const double along = down > options_.bubble_rise ? 1 - options_.bubble_rise / down : 0.0;
    const double brought = s.fuel + s.gas > 0 ? s.gas / (s.fuel + s.gas) *
                                                    std::min(1.0, (s.fuel + s.gas) / std::max(pumped, 1e-18))
                                              : 0.0;
    const double stay = surge_ > 0 && flow > 0 ? surge_ / flow : 0.0;
    carried_ += (along * brought - carried_) * (stay > 0 ? 1 - std::exp(-s.time / stay) : 1.0);
    share *= 1 - carried_;
    drawn_ = pumped * share;
    // What comes in during the step may be drawn in it.
    if (!options_.bottomless && drawn_ > surge_ + s.fuel) {
      drawn_ = std::max(surge_ + s.fuel, 0.0);
      share = pumped > 0 ? drawn_ / pumped : 1.0;
    }
  } else {
    drawn_ = s.fuel;
    share = pumped > 0 ? std::min(s.fuel / pumped, 1.0) : 1.0;
  }
  gas_drawn_ = pumped > 0 ? std::clamp(1 - share, 0.0, 1.0) : 0.0;
  if (gas_drawn_ < 1e-9) gas_drawn_ = 0;

  const double arrives = through_line(pumped, through_filter(pumped, drawn_));
  const double wanted = s.demand * s.time, k = options_.compliance;
  const double before = difference_, fed = std::max(s.fed, 1.0);
  double spare = arrives - wanted - k * (fed - before);
  double injected = wanted;
  if (spare >= 0) {
    difference_ = fed;
  } else {
    // K p + wanted sqrt(p / fed) = arrives + K before, in the root of p.
    const double b = wanted / std::sqrt(fed), c = arrives + k * before;
    const double root = k > 0 ? 2 * c / (b + std::sqrt(b * b + 4 * k * c)) : (b > 0 ? c / b : 0.0);
    difference_ = std::max(root * root, 0.0);
    injected = arrives - k * (difference_ - before);
    spare = 0;
  }
  burnt_ += injected;
  missing_ += std::max(wanted - injected, 0.0);
  returned_ = spare;
  if (options_.surge) {
    surge_ += s.fuel - drawn_;
    if (options_.back == circuit::ReturnTo::surge_tank)
      surge_ += spare;
    else
      to_tank += spare;
    overflow_ = std::max(surge_ - options_.capacity, 0.0);
    surge_ -= overflow_;
    to_tank += overflow_;
  } else {
    to_tank += spare;
  }
  return to_tank;
}

}  // namespace uadze::starvation
