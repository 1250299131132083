#include "core/circuit/what_if.h"

#include <algorithm>
#include <functional>

namespace uadze::circuit {
namespace {

constexpr double hot = 333.15;  // K
constexpr double high = 2000;   // m

/// The next smaller size a hose is made in; 0 if there is none.
int size_below(const HoseType& hose, int dash) {
  int out = 0;
  for (const auto& [size, bore] : hose.bore)
    if (size < dash) out = size;
  return out;
}

bool shrink(Leg& leg, const Catalogue& catalogue) {
  bool done = false;
  for (Part& p : leg) {
    if (p.kind != PartKind::line && p.kind != PartKind::fitting) continue;
    if (p.bore > 0) {
      p.bore *= 0.75;
      done = true;
    } else if (const HoseType* hose = find(catalogue.hoses, p.type)) {
      if (const int below = size_below(*hose, p.dash)) p.dash = below, done = true;
    }
  }
  return done;
}

void all_pumps(Circuit& c, const std::function<void(Part&)>& then) {
  const auto leg = [&](Leg& parts) {
    for (Part& p : parts)
      if (p.kind == PartKind::pump) then(p);
  };
  for (auto& l : c.lifts) leg(l.parts);
  for (auto& m : c.mains) leg(m.parts);
}

}  // namespace

const std::vector<WhatIfInfo>& what_ifs() {
  static const std::vector<WhatIfInfo> list{
      {"loaded-filter", "Filters loaded", "Every sock and filter at the drop at which it is due"},
      {"low-voltage", "12.0 V", "The supply at 12.0 V, as with a failed alternator"},
      {"hot-fuel",
       {"Fuel at {0}", {{hot, Quantity::temperature}}},
       {"Fuel at {0} throughout", {{hot, Quantity::temperature}}}},
      {"high-altitude",
       {"{}", {{high, Quantity::distance}}},
       {"The air of {}; the engine's demand as it was", {{high, Quantity::distance}}}},
      {"main-dead", "A main pump dead", "The last of the main pumps that run stands still"},
      {"lift-dead", "A lift pump dead", "The first lift pump stands still"},
      {"no-check-valve", "No check valve",
       "The last main pump stands still without its check valve; with a "
       "single one, no pump has a check valve"},
      {"small-return", "Return a size smaller", "The return line and its fittings one size smaller"},
      {"vent-blocked", "Vent blocked",
       "The main tank's vent blocked for the last five minutes at this demand"}};
  return list;
}

std::optional<WhatIf> find_what_if(const std::string& name) {
  const auto& list = what_ifs();
  for (size_t i = 0; i < list.size(); ++i)
    if (list[i].name == name) return static_cast<WhatIf>(i);
  return std::nullopt;
}

bool apply(WhatIf what, Case& c) {
  switch (what) {
    case WhatIf::loaded_filter:
      c.at.filter_load = 1.0;
      return true;
    case WhatIf::low_voltage:
      c.at.supply = 12.0;
      return true;
    case WhatIf::hot_fuel:
      // The same mass of fuel in more volume.
      c.at.demand *= density(c.fuel, c.at.temperature) / density(c.fuel, hot);
      c.at.temperature = hot;
      return true;
    case WhatIf::high_altitude: {
      // A manifold under air pressure falls with the air; boost is held by the turbine.
      if (c.at.manifold <= ambient_pressure(c.at.altitude))
        c.at.manifold *= ambient_pressure(high) / ambient_pressure(c.at.altitude);
      c.at.altitude = high;
      return true;
    }
    case WhatIf::main_dead: {
      auto& dead = c.at.mains_dead;
      dead.resize(c.circuit.mains.size(), 0);
      for (size_t i = dead.size(); i-- > 0;)
        if (!dead[i] && stage_wants(c.circuit.mains[i].stage, c.at, false)) {
          dead[i] = 1;
          return true;
        }
      return false;
    }
    case WhatIf::lift_dead:
      if (!c.surroundings.surge || c.circuit.lifts.empty()) return false;
      c.at.lifts_dead.resize(c.circuit.lifts.size(), 0);
      c.at.lifts_dead[0] = 1;
      return true;
    case WhatIf::no_check_valve: {
      if (c.circuit.mains.size() < 2) {
        all_pumps(c.circuit, [](Part& p) { p.check_valve = false; });
        return true;
      }
      Leg& leg = c.circuit.mains.back().parts;
      std::erase_if(leg, [](const Part& p) { return p.kind == PartKind::check_valve; });
      for (Part& p : leg) p.check_valve = false;
      c.at.mains_dead.resize(c.circuit.mains.size(), 0);
      c.at.mains_dead.back() = 1;
      return true;
    }
    case WhatIf::small_return:
      return shrink(c.circuit.back, *c.catalogue);
    case WhatIf::vent_blocked:
      c.at.vent_blocked_for = 300;
      return true;
  }
  return false;
}

}  // namespace uadze::circuit
