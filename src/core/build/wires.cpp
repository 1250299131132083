#include "core/build/wires.h"

#include "core/circuit/wiring.h"

namespace uadze::build {

std::vector<WireRun> wire_list(const circuit::Case& c, const Scheme& scheme) {
  std::vector<WireRun> out;
  for (const circuit::LegPlace& place : circuit::legs_of(c.circuit, c.surroundings)) {
    const circuit::Leg* leg = circuit::leg_at(c.circuit, place);
    if (!leg) continue;
    int count = 0;
    for (const circuit::Part& p : *leg) {
      if (p.kind != circuit::PartKind::pump) continue;
      ++count;
      const auto* type = circuit::find(c.catalogue->pumps, p.type);
      if (type && type->curves.engine_driven) continue;
      std::string name = !p.name.empty() ? p.name : place.title(c.circuit);
      if (count > 1 && p.name.empty()) name += " " + std::to_string(count);
      const circuit::Wiring& w = p.wiring;
      WireRun feed{.pump = name,
                   .what = "feed",
                   .from = "battery",
                   .to = name,
                   .area = w.feed_area,
                   .length = w.feed_length,
                   .colour = scheme.feed,
                   .label = name + " +",
                   .fuse = w.fuse,
                   .relay = w.relay};
      feed.pieces = 1 + (w.fuse.empty() ? 0 : 1) + (w.relay.empty() ? 0 : 1);
      feed.terminals = 2 * feed.pieces;
      out.push_back(feed);
      out.push_back({.pump = name,
                     .what = "ground",
                     .from = name,
                     .to = "battery",
                     .area = w.ground_area,
                     .length = w.ground_length,
                     .colour = scheme.ground,
                     .label = name + " -"});
      if (!w.relay.empty())
        out.push_back({.pump = name,
                       .what = "relay's coil",
                       .from = "switch",
                       .to = w.relay,
                       .area = circuit::gauge_area(20),
                       .colour = scheme.coil,
                       .label = name + " on"});
    }
  }
  return out;
}

}  // namespace uadze::build
