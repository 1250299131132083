#include "gui/stations/circuit/circuit_form.h"

#include <QLineEdit>

#include "core/base/names.h"
#include "core/circuit/wiring.h"
#include "core/solve/circuit_point.h"

namespace uadze::gui {
namespace {

using circuit::Circuit;
using circuit::LegKind;
using circuit::Part;
using circuit::PartKind;
using project::Project;

QStringList list_of(const std::vector<std::string>& names) {
  QStringList out;
  for (const auto& n : names) out << QString::fromStdString(n);
  return out;
}

template <class Type>
QStringList type_names(const std::vector<Type>& types, bool with_none = false) {
  QStringList out;
  if (with_none) out << "none";
  for (const auto& t : types) out << QString::fromStdString(t.name);
  return out;
}

/// Builds the rows; accessors find circuit and part anew in whatever project they are given.
class Builder {
 public:
  Builder(Workspace& w, EditForm& form, std::optional<CircuitChoice> choice)
      : w_(w), form_(form), choice_(choice) {}

  void build() {
    const Circuit* c = circuit_in(const_cast<Project&>(w_.project()), w_.selection.setup_index());
    if (!c || !w_.runs.catalogue()) return;
    if (!choice_) return whole();
    if (choice_->leg.kind == LegKind::rail) return rail(*c);
    const circuit::Leg* leg = leg_at(*c, choice_->leg);
    if (!leg) return;
    if (choice_->part >= 0 && choice_->part < static_cast<int>(leg->size()))
      return part((*leg)[static_cast<size_t>(choice_->part)]);
    this->leg(*c);
  }

 private:
  const circuit::Catalogue& catalogue() const { return *w_.runs.catalogue(); }
  Circuit* find(Project& p) const { return circuit_in(p, w_.selection.setup_index()); }
  Part* find_part(Project& p) const {
    Circuit* c = find(p);
    circuit::Leg* leg = c ? leg_at(*c, choice_->leg) : nullptr;
    return leg && choice_->part >= 0 && choice_->part < static_cast<int>(leg->size())
               ? &(*leg)[static_cast<size_t>(choice_->part)]
               : nullptr;
  }

  /// Works on the circuit (Circuit&) or on the chosen part (Part&), as the accessor takes it.
  template <class Owner>
  Owner* owner(Project& p) const {
    if constexpr (std::is_same_v<Owner, Part>)
      return find_part(p);
    else
      return find(p);
  }
  /// Rows on the fields of the circuit, of the part, or of what `at` gives of them.
  template <class Owner>
  void rows(std::initializer_list<const char*> keys) {
    for (const char* key : keys) form_.add<Owner>(key, [*this](Project& p) { return owner<Owner>(p); });
  }
  template <class Within, class Owner>
  void rows(std::initializer_list<const char*> keys, std::function<Within*(Owner&)> at) {
    for (const char* key : keys)
      form_.add<Within>(key, [*this, at](Project& p) {
        Owner* o = owner<Owner>(p);
        return o ? at(*o) : nullptr;
      });
  }
  template <class Owner>
  void choice(const QString& label, const QStringList& choices, std::function<int(const Owner&)> get,
              std::function<void(Owner&, int)> set, const QString& tip = {}) {
    form_.add_choice(
        label, choices,
        [*this, get](const Project& p) {
          const Owner* o = owner<Owner>(const_cast<Project&>(p));
          return o ? get(*o) : -1;
        },
        [*this, set](Project& p, int k) {
          if (Owner* o = owner<Owner>(p)) set(*o, k);
        },
        tip);
  }
  template <class Owner>
  void pick(const QString& label, const QStringList& names, std::function<std::string*(Owner&)> at,
            bool with_none = false) {
    choice<Owner>(
        label, names,
        [names, at, with_none](const Owner& o) {
          const std::string& now = *at(const_cast<Owner&>(o));
          return with_none && now.empty() ? 0 : static_cast<int>(names.indexOf(QString::fromStdString(now)));
        },
        [names, at, with_none](Owner& o, int k) {
          *at(o) = with_none && k == 0 ? std::string() : names[k].toStdString();
        });
  }
  void sizes(const Part& p) {
    if (const circuit::HoseType* hose = circuit::find(catalogue().hoses, p.type)) {
      std::vector<int> dashes;
      QStringList names;
      for (const auto& [dash, bore] : hose->bore) {
        dashes.push_back(dash);
        names << QString("-%1, bore %2").arg(dash).arg(w_.show(bore, Quantity::length));
      }
      choice<Part>(
          "Size", names,
          [dashes](const Part& part) {
            const auto found = std::find(dashes.begin(), dashes.end(), part.dash);
            return found == dashes.end() ? -1 : static_cast<int>(found - dashes.begin());
          },
          [dashes](Part& part, int k) { part.dash = dashes[static_cast<size_t>(k)]; },
          "The dash number is the fitting's tube, not the hose: its true bore stands beside it");
    }
    rows<Part>({"bore_mm"});
  }

  void part(const Part& p) {
    form_.add_heading(name_of(p.kind));
    rows<Part>({"name"});
    const auto type = [](Part& part) { return &part.type; };
    switch (p.kind) {
      case PartKind::line:
        pick<Part>("Hose", type_names(catalogue().hoses), type);
        sizes(p);
        rows<Part>({"length_mm", "run_mm", "in_fuel", "in_cabin"});
        break;
      case PartKind::fitting:
        rows<Part>({"form"});
        choice<Part>(
            "How many", {"1", "2", "3", "4", "5", "6"}, [](const Part& part) { return part.count - 1; },
            [](Part& part, int k) { part.count = k + 1; });
        rows<Part>({"bore_mm"});
        break;
      case PartKind::filter:
        pick<Part>("Type", type_names(catalogue().filters), type);
        rows<Part>({"doubled"});
        break;
      case PartKind::check_valve:
        pick<Part>("Type", type_names(catalogue().check_valves), type);
        break;
      case PartKind::sensor:
        pick<Part>("Type", type_names(catalogue().sensors), type);
        rows<Part>({"doubled"});
        break;
      case PartKind::diffuser:
        pick<Part>("Type", type_names(catalogue().diffusers), type);
        break;
      case PartKind::restriction:
        rows<Part>({"bore_mm", "discharge"});
        break;
      case PartKind::pump:
        pick<Part>("Type", type_names(catalogue().pumps), type);
        rows<Part>({"check_valve", "in_fuel"});
        if (const auto* t = circuit::find(catalogue().pumps, p.type); t && t->curves.engine_driven) {
          rows<Part>({"turns"});
        } else {
          speed(p);
          wiring();
        }
        break;
    }
    if (p.kind == PartKind::pump) return;
    choice<Part>(
        "Way", {"in line", "1", "2", "3"}, [](const Part& part) { return part.way; },
        [](Part& part, int k) { part.way = k; },
        "Parts of ways 1 to 3 that follow one another lie side by side, each way in its order");
  }

  /// Off, or two points to begin with: held back to 60 % up to a quarter of full demand, free from two
  /// thirds.
  void speed(const Part& p) {
    using circuit::SpeedControl;
    const int setup = w_.selection.setup_index();
    const auto& setups = w_.project().setups;
    const double full = setup >= 0 && setup < static_cast<int>(setups.size())
                            ? solve::demand_at(setups[static_cast<size_t>(setup)],
                                               setups[static_cast<size_t>(setup)].engine.power)
                            : 30e-6;
    choice<Part>(
        "Speed", list_of(uadze::names_of<SpeedControl>()),
        [](const Part& part) { return static_cast<int>(part.speed.control); },
        [full](Part& part, int k) {
          part.speed.control = static_cast<SpeedControl>(k);
          if (k > 0 && part.speed.points.empty()) part.speed.points = {{full / 4, 0.6}, {full * 2 / 3, 1.0}};
          if (k == 0) part.speed.points.clear();
        },
        "Held back where little is burnt: by steps (two speeds, a resistor) or by pulses");
    for (size_t i = 0; i < p.speed.points.size(); ++i) {
      form_.add_heading(QString("Point %1").arg(i + 1));
      rows({"l_h", "percent"}, std::function([i](Part& part) {
             return i < part.speed.points.size() ? &part.speed.points[i] : nullptr;
           }));
    }
    if (p.speed.control == SpeedControl::none) return;
    choice<Part>(
        "Points", {"1", "2", "3", "4", "5", "6"},
        [](const Part& part) { return static_cast<int>(part.speed.points.size()) - 1; },
        [](Part& part, int k) {
          auto& points = part.speed.points;
          while (static_cast<int>(points.size()) < k + 1)
            points.push_back({points.empty() ? 0.0 : points.back().demand + 5e-6, 1.0});
          points.resize(static_cast<size_t>(k) + 1);
        });
  }

  void wiring() {
    form_.add_heading("Wiring");
    const auto gauges = [] {
      QStringList out{"no resistance"};
      for (int n : circuit::usual_gauges()) out << QString("AWG %1").arg(n);
      return out;
    }();
    const auto gauge = [&](const QString& label, double circuit::Wiring::*area) {
      choice<Part>(
          label, gauges,
          [area](const Part& p) {
            const double a = p.wiring.*area;
            if (a <= 0) return 0;
            int k = 1, best = -1;
            for (int n : circuit::usual_gauges()) {
              if (std::abs(circuit::gauge_area(n) - a) < 1e-4 * a) best = k;
              ++k;
            }
            return best;
          },
          [area](Part& p, int k) {
            p.wiring.*area =
                k == 0 ? 0.0 : circuit::gauge_area(circuit::usual_gauges()[static_cast<size_t>(k) - 1]);
            if (k == 0)
              (area == &circuit::Wiring::feed_area ? p.wiring.feed_length : p.wiring.ground_length) = 0;
          });
    };
    gauge("Feed", &circuit::Wiring::feed_area);
    const std::function<circuit::Wiring*(Part&)> wires = [](Part& p) { return &p.wiring; };
    rows({"feed_mm"}, wires);
    gauge("Ground", &circuit::Wiring::ground_area);
    rows({"ground_mm"}, wires);
    choice<Part>(
        "Contact pairs", {"0", "1", "2", "3", "4", "5", "6", "7", "8"},
        [](const Part& p) { return p.wiring.connectors > 8 ? -1 : p.wiring.connectors; },
        [](Part& p, int k) { p.wiring.connectors = k; }, "Typically 3 mΩ each");
    pick<Part>(
        "Relay", type_names(catalogue().relays, true), [](Part& p) { return &p.wiring.relay; }, true);
    pick<Part>(
        "Fuse", type_names(catalogue().fuses, true), [](Part& p) { return &p.wiring.fuse; }, true);
    rows({"extra_mohm"}, wires);
  }

  void leg(const Circuit& c) {
    form_.add_heading(QString::fromStdString(choice_->leg.title(c)));
    const auto i = static_cast<size_t>(choice_->leg.index);
    switch (choice_->leg.kind) {
      case LegKind::main:
        rows({"name"}, std::function([i](Circuit& k) { return i < k.mains.size() ? &k.mains[i] : nullptr; }));
        stage(c, i);
        break;
      case LegKind::lift:
        rows({"pump"}, std::function([i](Circuit& k) { return i < k.lifts.size() ? &k.lifts[i] : nullptr; }));
        break;
      case LegKind::suction:
        rows({"pickup"},
             std::function([i](Circuit& k) { return i < k.suctions.size() ? &k.suctions[i] : nullptr; }));
        break;
      case LegKind::overflow:
        rows<Circuit>({"surge_tank_place", "surge_vent_mm"});
        break;
      case LegKind::back:
        rows<Circuit>({"return_ends"});
        if (c.return_above_fuel) rows<Circuit>({"return_fall_mm"});
        break;
      case LegKind::transfer:
        rows({"nozzle_mm", "throat_mm", "driven_by"}, std::function([](Circuit& k) { return &k.transfer; }));
        break;
      default:
        break;
    }
  }

  void stage(const Circuit& c, size_t i) {
    using circuit::StageBy;
    const auto at = [i](Circuit& k) { return i < k.mains.size() ? &k.mains[i].stage : nullptr; };
    choice<Circuit>(
        "Runs by", list_of(uadze::names_of<StageBy>()),
        [at](const Circuit& k) { return static_cast<int>(at(const_cast<Circuit&>(k))->by); },
        [at](Circuit& k, int v) {
          auto* s = at(k);
          s->by = static_cast<StageBy>(v);
          const std::pair<double, double> usual[] = {
              {0, 0}, {0.7, 0.5}, {120e3, 105e3}, {25e-6, 20e-6}, {75.0, 65.0}};
          s->on = usual[v].first, s->off = usual[v].second;
        });
    const std::function<circuit::Stage*(Circuit&)> of = at;
    switch (c.mains[i].stage.by) {
      case StageBy::always:
        return;
      case StageBy::throttle:
        rows({"on_percent", "off_percent"}, of);
        break;
      case StageBy::manifold:
        rows({"on_kpa", "off_kpa"}, of);
        break;
      case StageBy::demand:
        rows({"on_l_h", "off_l_h"}, of);
        break;
      case StageBy::rotation:
        rows({"on_rpm", "off_rpm"}, of);
        break;
    }
    rows({"spin_up_s"}, of);
  }

  void rail(const Circuit& c) {
    form_.add_heading("Engine side");
    rows<Circuit>({"engine_feed"});
    const bool injected = c.engine_supply == circuit::EngineSupply::returned ||
                          c.engine_supply == circuit::EngineSupply::returnless;
    pick<Circuit>(
        "Regulator", type_names(catalogue().regulators, true), [](Circuit& k) { return &k.regulator.type; },
        true);
    rows({"kind", "base_kpa", "reference"}, std::function([](Circuit& k) { return &k.regulator; }));
    if (injected) {
      pick<Circuit>("Injectors", type_names(catalogue().injectors),
                    [](Circuit& k) { return &k.rail.injector; });
      choice<Circuit>(
          "How many", {"1", "2", "3", "4", "5", "6", "7", "8", "9", "10", "11", "12"},
          [](const Circuit& k) { return k.rail.injectors > 12 ? -1 : k.rail.injectors - 1; },
          [](Circuit& k, int v) { k.rail.injectors = v + 1; });
      const std::function<circuit::Rail*(Circuit&)> rail_of = [](Circuit& k) { return &k.rail; };
      choice<Circuit>(
          "Rails", list_of(uadze::names_of<circuit::Rails>()),
          [](const Circuit& k) { return static_cast<int>(k.rail.rails); },
          [](Circuit& k, int v) {
            k.rail.rails = static_cast<circuit::Rails>(v);
            // Two rails need a crossover, and are not fed at both ends at once.
            if (v > 0 && k.rail.crossover_bore <= 0)
              k.rail.crossover_bore = k.rail.bore, k.rail.crossover_length = 0.3;
            if (v > 0) k.rail.injectors = std::max(k.rail.injectors, 2);
            if (k.rail.rails == circuit::Rails::side_by_side && k.rail.entry == circuit::RailEntry::both_ends)
              k.rail.entry = circuit::RailEntry::through;
          },
          "Two: half of the injectors on each");
      rows({"feed", "bore_mm", "length_mm"}, rail_of);
      if (c.rail.rails != circuit::Rails::one) rows({"crossover_mm", "crossover_length_mm"}, rail_of);
      rows({"duty_limit_percent"}, rail_of);
    }
    if (c.engine_supply == circuit::EngineSupply::high_pressure)
      rows({"least_inlet_kpa"}, std::function([](Circuit& k) { return &k.high_pressure; }));
    if (c.engine_supply == circuit::EngineSupply::carburettor)
      rows({"seat_mm", "bowl_ml", "most_pressure_kpa"},
           std::function([](Circuit& k) { return &k.carburettor; }));
  }

  void whole() {
    form_.add_heading("Circuit as a whole");
    rows<Circuit>({"supply_v", "wished_drop_v", "wire_temperature_c", "tank_vent_mm", "idle_manifold_kpa",
                   "full_manifold_kpa"});
    rows({"kind"}, std::function([](Circuit& k) { return &k.transfer; }));
    form_.add_heading("Charging");
    pick<Circuit>(
        "Alternator", type_names(catalogue().alternators, true),
        [](Circuit& k) { return &k.charging.alternator; }, true);
    rows({"ratio", "battery_ah", "battery_full_v", "battery_flat_v", "battery_mohm"},
         std::function([](Circuit& k) { return &k.charging; }));
    form_.add_heading("Heat");
    rows({"ambient_c", "engine_bay_w"}, std::function([](Circuit& k) { return &k.heat; }));
    form_.add_heading("Ethanol by water shift");
    const auto tube = [*this](Project& p) -> fluid::WaterShift* {
      const int i = w_.selection.setup_index();
      if (i < 0 || i >= static_cast<int>(p.setups.size())) return nullptr;
      auto& t = p.setups[static_cast<size_t>(i)].tube;
      return t ? &*t : nullptr;
    };
    form_.add_choice(
        "Measured", {"no", "yes"},
        [*this](const Project& p) {
          const int i = w_.selection.setup_index();
          return i < 0 || i >= static_cast<int>(p.setups.size()) ? -1
                 : p.setups[static_cast<size_t>(i)].tube         ? 1
                                                                 : 0;
        },
        [*this](Project& p, int k) {
          auto& s = p.setups.at(static_cast<size_t>(w_.selection.setup_index()));
          s.tube.reset();
          const double fuel = 90e-6, water = 10e-6;
          if (k == 1)
            s.tube = fluid::WaterShift{water, fuel,
                                       water + fuel * std::max(s.fuel.ethanol + s.fuel.methanol - 0.02, 0.0)};
        },
        "A reading takes the place of the entered content, and moves the demand");
    for (const char* key : {"water_ml", "fuel_ml", "boundary_ml"}) form_.add<fluid::WaterShift>(key, tube);
  }

  Workspace& w_;
  EditForm& form_;
  std::optional<CircuitChoice> choice_;
};

}  // namespace

circuit::Circuit* circuit_in(Project& project, int setup) {
  if (setup < 0 || setup >= static_cast<int>(project.setups.size())) return nullptr;
  auto& c = project.setups[static_cast<size_t>(setup)].circuit;
  return c ? &*c : nullptr;
}

circuit::Circuit plain_circuit(const project::Setup& setup) {
  using circuit::FittingForm;
  const auto line = [](int dash, double length) {
    Part p{.kind = PartKind::line, .type = "PTFE, smooth bore"};
    p.dash = dash, p.length = length;
    return p;
  };
  const auto of = [](PartKind kind, const char* type) { return Part{.kind = kind, .type = type}; };
  const auto fitting = [](FittingForm form) {
    Part p{.kind = PartKind::fitting};
    p.form = form;
    return p;
  };
  const auto pump = [&](const char* type, const char* fuse) {
    Part p = of(PartKind::pump, type);
    p.wiring = {circuit::gauge_area(12), 2.0, circuit::gauge_area(12), 0.6, 4, "relay, 30 A", fuse, 0.0};
    return p;
  };
  Circuit c;
  for (const auto& lift : setup.lift_pumps)
    if (setup.surge)
      c.lifts.push_back(
          {lift.name,
           {of(PartKind::filter, "pickup sock, 100 micron"), pump("lift pump, 130 l/h class", "fuse, 5 A"),
            line(6, 0.5), fitting(FittingForm::exit)}});
  if (setup.surge) c.overflow = {fitting(FittingForm::entry), line(8, 0.4), fitting(FittingForm::exit)};
  c.mains.push_back({"main", {pump("main pump, 255 l/h class", "fuse, 15 A")}, {}});
  c.feed = {line(8, 1.5), of(PartKind::filter, "fine filter, 10 micron"), line(8, 0.5)};
  c.back = {line(6, 1.5), fitting(FittingForm::exit)};
  c.regulator.type = "regulator, large";
  c.rail.injector = "injector, 40 l/h class";
  return c;
}

void complete_circuit(project::Setup& setup) {
  if (!setup.circuit || !setup.surge) return;
  const Circuit plain = plain_circuit(setup);
  Circuit& c = *setup.circuit;
  if (c.lifts.empty()) c.lifts = plain.lifts;
  if (c.overflow.empty()) c.overflow = plain.overflow;
  if (setup.surge->engine_return == circuit::ReturnTo::overflow_tee && c.tee.empty()) c.tee = plain.overflow;
}

EditForm* make_circuit_form(Workspace& workspace, const std::optional<CircuitChoice>& choice) {
  auto* form = new EditForm(workspace);
  Builder(workspace, *form, choice).build();
  return form;
}

}  // namespace uadze::gui
