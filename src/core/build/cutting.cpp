#include "core/build/cutting.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uadze::build {
namespace {

using circuit::FittingForm;
using circuit::Leg;
using circuit::LegKind;
using circuit::LegPlace;
using circuit::Part;
using circuit::PartKind;
using circuit::Seal;

/// Whether it can be a hose's end.
bool is_bend(FittingForm form) {
  return form == FittingForm::straight || form == FittingForm::bend_45 || form == FittingForm::bend_90 ||
         form == FittingForm::bend_120 || form == FittingForm::bend_180;
}

/// A line of a leg and what became its ends.
struct Ended {
  int part = 0;
  std::optional<FittingForm> near_form, far_form;
  std::string near_meets, far_meets;
  Seal near_seal = Seal::unknown, far_seal = Seal::unknown;
};

struct Taken {
  std::vector<Ended> lines;
  std::vector<LooseFitting> loose;
};

const char* begins_at(const circuit::Case& c, LegKind kind) {
  switch (kind) {
    case LegKind::lift:
    case LegKind::suction:
      return "pickup";
    case LegKind::overflow:
      return "surge tank";
    case LegKind::tee:
      return "tee";
    case LegKind::main:
      return c.surroundings.surge ? "surge tank" : "suction";
    case LegKind::feed:
      return "main pumps";
    case LegKind::back:
      return "regulator";
    case LegKind::transfer:
      return "far side";
    case LegKind::rail:
      return "rail";
  }
  return "";
}

std::string ends_at(const circuit::Case& c, LegKind kind) {
  switch (kind) {
    case LegKind::lift:
      return "surge tank";
    case LegKind::overflow:
      return c.circuit.tee.empty() ? "main tank" : "tee";
    case LegKind::tee:
      return "main tank";
    case LegKind::suction:
      return "main pumps";
    case LegKind::main:
      return "feed line";
    case LegKind::feed:
      return c.circuit.engine_supply == circuit::EngineSupply::carburettor     ? "carburettor"
             : c.circuit.engine_supply == circuit::EngineSupply::high_pressure ? "high-pressure pump"
                                                                               : "rail";
    case LegKind::back:
      return c.surroundings.surge && c.surroundings.return_to == circuit::ReturnTo::surge_tank ? "surge tank"
                                                                                               : "main tank";
    case LegKind::transfer:
      return "pump's side";
    case LegKind::rail:
      return "regulator";
  }
  return "";
}

Seal seal_at(const circuit::Case& c, const std::string& place) {
  if (place == "rail" || place == "regulator") {
    const auto* type = circuit::find(c.catalogue->regulators, c.circuit.regulator.type);
    return place == "regulator" && type && type->ratings ? type->ratings->seal : Seal::o_ring_boss;
  }
  return Seal::flare;
}

Taken taken(const circuit::Case& c, const LegPlace& place) {
  Taken out;
  const Leg* found = circuit::leg_at(c.circuit, place);
  if (!found) return out;
  const Leg& leg = *found;
  std::string before = begins_at(c, place.kind);
  Seal before_seal = seal_at(c, before);
  std::vector<std::pair<FittingForm, int>> waiting;  // bends since the last body, and their parts
  int open = -1;  // index of the line in `out.lines` that has no far end yet
  const auto settle = [&](const std::string& meets, Seal seal) {
    // What stands behind a line is its far end, then its near end, then a fitting by itself.
    if (open >= 0) {
      Ended& line = out.lines[static_cast<size_t>(open)];
      for (const auto& [form, part] : waiting) {
        if (!line.far_form)
          line.far_form = form;
        else if (!line.near_form)
          line.near_form = form;
        else
          out.loose.push_back({place, part, form, leg[static_cast<size_t>(line.part)].dash});
      }
      waiting.clear();
      line.far_meets = meets, line.far_seal = seal;
      open = -1;
    }
  };
  for (size_t i = 0; i < leg.size(); ++i) {
    const Part& p = leg[i];
    if (p.kind == PartKind::fitting && is_bend(p.form)) {
      for (int k = 0; k < p.count; ++k) waiting.push_back({p.form, static_cast<int>(i)});
      continue;
    }
    if (p.kind == PartKind::fitting && (p.form == FittingForm::entry || p.form == FittingForm::exit))
      continue;  // a mouth in a wall, nothing to be bought
    if (p.kind == PartKind::line) {
      const std::string self = p.name.empty() ? p.type : p.name;
      settle("\"" + self + "\"", Seal::flare);
      Ended line{.part = static_cast<int>(i)};
      line.near_meets = before, line.near_seal = before_seal;
      // Bends between a body and this line are its near end.
      for (const auto& [form, part] : waiting) {
        if (!line.near_form)
          line.near_form = form;
        else
          out.loose.push_back({place, part, form, p.dash});
      }
      waiting.clear();
      out.lines.push_back(std::move(line));
      open = static_cast<int>(out.lines.size()) - 1;
      before = "\"" + self + "\"", before_seal = Seal::flare;
      continue;
    }
    const circuit::Ratings* r = ratings_of(p, *c.catalogue);
    const Seal seal = p.kind == PartKind::fitting     ? Seal::flare
                      : r && r->seal != Seal::unknown ? r->seal
                                                      : Seal::flare;
    settle(called(p), seal);
    if (p.kind == PartKind::fitting)
      out.loose.push_back({place, static_cast<int>(i), p.form, p.dash, p.count});
    before = called(p), before_seal = seal;
  }
  const std::string end = ends_at(c, place.kind);
  settle(end, seal_at(c, end));
  // Bends of a leg without a line behind them stand between two bodies.
  for (const auto& [form, part] : waiting)
    out.loose.push_back({place, part, form, leg[static_cast<size_t>(part)].dash});
  // A fitting of no size of its own is that of the line beside it.
  for (LooseFitting& f : out.loose)
    for (size_t k = 0; f.dash == 0 && k < leg.size(); ++k) {
      const auto at = static_cast<size_t>(f.part);
      for (const size_t j : {at + k, at - k})
        if (j < leg.size() && leg[j].kind == PartKind::line && f.dash == 0) f.dash = leg[j].dash;
    }
  return out;
}

bool is_rigid(const Part& line, const circuit::Catalogue& catalogue) {
  const auto* hose = circuit::find(catalogue.hoses, line.type);
  return hose && hose->ratings && hose->ratings->material != circuit::Material::unknown;
}

HoseEnd end_of(const Part& line, bool rigid, std::optional<FittingForm> form, Seal seal,
               const std::string& meets) {
  HoseEnd out{.form = form.value_or(FittingForm::straight), .meets = meets};
  out.kind = rigid ? EndKind::tube_nut : seal == Seal::barb ? EndKind::barb : EndKind::flare;
  // Tube is bent, not fitted with bends: its nut sits on its own end.
  if (rigid) out.form = FittingForm::straight;
  out.takes = takes_of(out.kind, out.form, line.dash);
  return out;
}

bool hot(LegKind kind) { return kind == LegKind::feed || kind == LegKind::back || kind == LegKind::rail; }

}  // namespace

double takes_of(EndKind kind, FittingForm form, int dash) {
  if (kind == EndKind::tube_nut) return 0.0;
  const bool bent = form != FittingForm::straight;
  if (kind == EndKind::barb) return (bent ? 18e-3 + 2e-3 * dash : 0.0) - 25e-3;
  switch (form) {
    case FittingForm::bend_45:
      return 30e-3 + 2.6e-3 * dash;
    case FittingForm::bend_90:
      return 32e-3 + 3.2e-3 * dash;
    case FittingForm::bend_120:
      return 40e-3 + 3.6e-3 * dash;
    case FittingForm::bend_180:
      return 55e-3 + 4.2e-3 * dash;
    default:
      return 12e-3 + 1.6e-3 * dash;
  }
}

const circuit::Ratings* ratings_of(const Part& part, const circuit::Catalogue& catalogue) {
  const auto of = [&](const auto& list) -> const circuit::Ratings* {
    const auto* type = circuit::find(list, part.type);
    return type && type->ratings ? &*type->ratings : nullptr;
  };
  switch (part.kind) {
    case PartKind::line:
      return of(catalogue.hoses);
    case PartKind::pump:
      return of(catalogue.pumps);
    case PartKind::filter:
      return of(catalogue.filters);
    case PartKind::check_valve:
      return of(catalogue.check_valves);
    case PartKind::sensor:
      return of(catalogue.sensors);
    case PartKind::diffuser:
      return of(catalogue.diffusers);
    case PartKind::fitting:
    case PartKind::restriction:
      return nullptr;
  }
  return nullptr;
}

std::string called(const Part& part) {
  if (!part.name.empty()) return part.name;
  if (!part.type.empty()) return part.type;
  return part.kind == PartKind::fitting ? words_of(part.form) : name_of(part.kind);
}

bool inside_tank(const circuit::Case& c, const LegPlace& leg, const Part& part) {
  if (part.in_fuel) return true;
  const bool in_main =
      leg.kind == LegKind::lift || leg.kind == LegKind::overflow || leg.kind == LegKind::transfer;
  return in_main && (!c.surroundings.surge || c.circuit.surge_inside);
}

std::vector<HoseCut> cutting_list(const circuit::Case& c) {
  std::vector<HoseCut> out;
  for (const LegPlace& place : circuit::legs_of(c.circuit, c.surroundings)) {
    const Leg* leg = circuit::leg_at(c.circuit, place);
    if (!leg) continue;
    int number = 0;
    const Taken made = taken(c, place);
    for (const Ended& ended : made.lines) {
      const Part& line = (*leg)[static_cast<size_t>(ended.part)];
      HoseCut cut{.leg = place, .part = ended.part, .type = line.type, .dash = line.dash};
      ++number;
      cut.label = !line.name.empty()      ? line.name
                  : made.lines.size() > 1 ? fmt::format("{} {}", place.title(c.circuit), number)
                                          : place.title(c.circuit);
      cut.rigid = is_rigid(line, *c.catalogue);
      cut.near_end = end_of(line, cut.rigid, ended.near_form, ended.near_seal, ended.near_meets);
      cut.far_end = end_of(line, cut.rigid, ended.far_form, ended.far_seal, ended.far_meets);
      cut.route = line.length;
      cut.slack = cut.rigid ? 0.0 : std::max(10e-3, 0.03 * line.length);
      cut.cut = std::max(cut.route - cut.near_end.takes - cut.far_end.takes + cut.slack, 0.0);
      const auto bent = [](const HoseEnd& e) { return e.form != FittingForm::straight; };
      cut.clocked = bent(cut.near_end) && bent(cut.far_end);
      const bool inside = inside_tank(c, place, line);
      cut.sleeved = !inside && (line.in_cabin || hot(place.kind));
      cut.clips = inside ? 0 : static_cast<int>(std::floor(line.length / clip_spacing));
      cut.straight = line.run.norm();
      out.push_back(std::move(cut));
    }
  }
  return out;
}

std::vector<LooseFitting> loose_fittings(const circuit::Case& c) {
  std::vector<LooseFitting> out;
  for (const LegPlace& place : circuit::legs_of(c.circuit, c.surroundings))
    for (const LooseFitting& f : taken(c, place).loose) out.push_back(f);
  return out;
}

std::vector<Joint> joints(const circuit::Case& c) {
  std::vector<Joint> out;
  for (const LegPlace& place : circuit::legs_of(c.circuit, c.surroundings)) {
    const Leg* leg = circuit::leg_at(c.circuit, place);
    if (!leg || leg->empty()) continue;
    const auto bought = [](const Part& p) {
      return !(p.kind == PartKind::fitting &&
               (is_bend(p.form) || p.form == FittingForm::entry || p.form == FittingForm::exit));
    };
    std::string before = begins_at(c, place.kind);
    Seal before_seal = seal_at(c, before);
    int dash = 0;
    // A pump or a sock at the begin draws by its own mouth: nothing is joined there.
    const bool mouth =
        place.kind == LegKind::lift || place.kind == LegKind::main || place.kind == LegKind::suction;
    const auto first = std::find_if(leg->begin(), leg->end(), bought);
    const bool open_begin = mouth && first != leg->end() && first->kind != PartKind::line;
    for (const Part& p : *leg) {
      if (p.kind == PartKind::line) dash = dash ? dash : p.dash;
    }
    // A fitting is where the part before it is; one at the begin, where the first part is.
    const auto body =
        std::find_if(leg->begin(), leg->end(), [](const Part& p) { return p.kind != PartKind::fitting; });
    bool inside = body != leg->end() && inside_tank(c, place, *body);
    // A seal is that of the port: the part's, not the hose's.
    const auto join = [&](const std::string& to, Seal to_seal, bool in) {
      const Seal seal = before_seal != Seal::flare ? before_seal : to_seal;
      out.push_back({place, before, to, dash, seal, in});
    };
    bool any = false;
    for (const Part& p : *leg) {
      if (!bought(p)) continue;
      if (p.kind == PartKind::line && p.dash > 0) dash = p.dash;
      if (p.kind != PartKind::fitting) inside = inside_tank(c, place, p);
      const circuit::Ratings* r = ratings_of(p, *c.catalogue);
      const Seal own =
          p.kind == PartKind::line || p.kind == PartKind::fitting || !r || r->seal == Seal::unknown
              ? Seal::flare
              : r->seal;
      for (int k = 0; k < (p.kind == PartKind::fitting ? p.count : 1); ++k) {
        if (any || k > 0 || !open_begin) join(called(p), own, inside);
        before = called(p), before_seal = own;
      }
      any = true;
    }
    if (any) {
      const std::string end = ends_at(c, place.kind);
      join(end, seal_at(c, end), inside);
    }
  }
  return out;
}

}  // namespace uadze::build
