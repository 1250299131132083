#include "gui/stations/circuit_form.h"

#include <QLineEdit>

#include "core/circuit/wiring.h"

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
QStringList names_of(const std::vector<Type>& types, bool with_none = false) {
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
    const Circuit* c = circuit_in(const_cast<Project&>(w_.project()), w_.setup_index());
    if (!c || !w_.project().catalogue) return;
    if (!choice_) return whole();
    if (choice_->leg.kind == LegKind::rail) return rail(*c);
    const circuit::Leg* leg = leg_at(*c, choice_->leg);
    if (!leg) return;
    if (choice_->part >= 0 && choice_->part < static_cast<int>(leg->size()))
      return part((*leg)[static_cast<size_t>(choice_->part)]);
    this->leg(*c);
  }

 private:
  const circuit::Catalogue& catalogue() const { return *w_.project().catalogue; }
  Circuit* find(Project& p) const { return circuit_in(p, w_.setup_index()); }
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
  template <class Owner>
  void number(const QString& label, Quantity quantity, std::function<double*(Owner&)> at,
              const QString& tip = {}) {
    form_.add_quantity(
        label, quantity,
        [*this, at](Project& p) {
          Owner* o = owner<Owner>(p);
          return o ? at(*o) : nullptr;
        },
        tip);
  }
  template <class Owner>
  void text(const QString& label, std::function<std::string*(Owner&)> at) {
    form_.add_text(label, [*this, at](Project& p) {
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
  template <class Owner>
  void yes_no(const QString& label, std::function<bool*(Owner&)> at, const QString& tip = {}) {
    choice<Owner>(
        label, {"no", "yes"}, [at](const Owner& o) { return *at(const_cast<Owner&>(o)) ? 1 : 0; },
        [at](Owner& o, int k) { *at(o) = k == 1; }, tip);
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
    number<Part>(
        "Bore", Quantity::length, [](Part& part) { return &part.bore; },
        "0: by hose and size; of a fitting, that of the line beside it");
  }

  void part(const Part& p) {
    form_.add_heading(QString::fromStdString(circuit::part_kinds()[static_cast<size_t>(p.kind)]));
    text<Part>("Name", [](Part& part) { return &part.name; });
    const auto type = [](Part& part) { return &part.type; };
    switch (p.kind) {
      case PartKind::line:
        pick<Part>("Hose", names_of(catalogue().hoses), type);
        sizes(p);
        number<Part>("Length", Quantity::length, [](Part& part) { return &part.length; });
        for (int k = 0; k < 3; ++k)
          number<Part>(
              QStringList{"Runs forward", "Runs left", "Runs up"}[k], Quantity::length,
              [k](Part& part) { return &part.run[k]; },
              "From its start to its end in the car: acceleration presses along it");
        yes_no<Part>("Lies in fuel", [](Part& part) { return &part.in_fuel; });
        yes_no<Part>("In the cabin", [](Part& part) { return &part.in_cabin; });
        break;
      case PartKind::fitting: {
        QStringList forms = list_of(circuit::form_names());
        choice<Part>(
            "Form", forms, [](const Part& part) { return static_cast<int>(part.form); },
            [](Part& part, int k) { part.form = static_cast<circuit::Form>(k); });
        choice<Part>(
            "How many", {"1", "2", "3", "4", "5", "6"}, [](const Part& part) { return part.count - 1; },
            [](Part& part, int k) { part.count = k + 1; });
        number<Part>(
            "Bore", Quantity::length, [](Part& part) { return &part.bore; }, "0: that of the line beside it");
        break;
      }
      case PartKind::filter:
        pick<Part>("Type", names_of(catalogue().filters), type);
        yes_no<Part>("Two side by side", [](Part& part) { return &part.doubled; });
        break;
      case PartKind::check_valve:
        pick<Part>("Type", names_of(catalogue().check_valves), type);
        break;
      case PartKind::sensor:
        pick<Part>("Type", names_of(catalogue().sensors), type);
        yes_no<Part>(
            "Parallel branch", [](Part& part) { return &part.doubled; },
            "A second way beside the sensor takes half the flow");
        break;
      case PartKind::diffuser:
        pick<Part>("Type", names_of(catalogue().diffusers), type);
        break;
      case PartKind::restriction:
        number<Part>("Bore", Quantity::length, [](Part& part) { return &part.bore; });
        number<Part>("Discharge", Quantity::plain, [](Part& part) { return &part.discharge; });
        break;
      case PartKind::pump:
        pick<Part>("Type", names_of(catalogue().pumps), type);
        choice<Part>(
            "Check valve", {"left out", "built in"},
            [](const Part& part) { return part.check_valve ? 1 : 0; },
            [](Part& part, int k) { part.check_valve = k == 1; }, "Where the type has one");
        yes_no<Part>("Lies in fuel", [](Part& part) { return &part.in_fuel; });
        wiring();
        break;
    }
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
    number<Part>("Feed length", Quantity::length, [](Part& p) { return &p.wiring.feed_length; });
    gauge("Ground", &circuit::Wiring::ground_area);
    number<Part>("Ground length", Quantity::length, [](Part& p) { return &p.wiring.ground_length; });
    choice<Part>(
        "Contact pairs", {"0", "1", "2", "3", "4", "5", "6", "7", "8"},
        [](const Part& p) { return p.wiring.connectors > 8 ? -1 : p.wiring.connectors; },
        [](Part& p, int k) { p.wiring.connectors = k; }, "Typically 3 mΩ each");
    pick<Part>(
        "Relay", names_of(catalogue().relays, true), [](Part& p) { return &p.wiring.relay; }, true);
    pick<Part>(
        "Fuse", names_of(catalogue().fuses, true), [](Part& p) { return &p.wiring.fuse; }, true);
    number<Part>("Switch and others", Quantity::resistance, [](Part& p) { return &p.wiring.extra; });
  }

  void leg(const Circuit& c) {
    form_.add_heading(QString::fromStdString(choice_->leg.title(c)));
    const auto i = static_cast<size_t>(choice_->leg.index);
    switch (choice_->leg.kind) {
      case LegKind::main:
        text<Circuit>("Name", [i](Circuit& k) { return i < k.mains.size() ? &k.mains[i].name : nullptr; });
        stage(c, i);
        break;
      case LegKind::lift:
        text<Circuit>("Lift pump",
                      [i](Circuit& k) { return i < k.lifts.size() ? &k.lifts[i].pump : nullptr; });
        break;
      case LegKind::suction:
        text<Circuit>("Pickup",
                      [i](Circuit& k) { return i < k.suctions.size() ? &k.suctions[i].pickup : nullptr; });
        break;
      case LegKind::overflow:
        choice<Circuit>(
            "Surge tank stands", {"outside", "inside"},
            [](const Circuit& k) { return k.surge_inside ? 1 : 0; },
            [](Circuit& k, int v) { k.surge_inside = v == 1; });
        number<Circuit>(
            "Its own vent", Quantity::length, [](Circuit& k) { return &k.surge_vent; },
            "Bore; 0: it breathes through the overflow");
        break;
      case LegKind::back:
        choice<Circuit>(
            "Return ends", {"under the fuel", "above the fuel"},
            [](const Circuit& k) { return k.return_above_fuel ? 1 : 0; },
            [](Circuit& k, int v) { k.return_above_fuel = v == 1; });
        break;
      case LegKind::transfer:
        number<Circuit>("Nozzle", Quantity::length, [](Circuit& k) { return &k.transfer.nozzle; });
        number<Circuit>("Throat", Quantity::length, [](Circuit& k) { return &k.transfer.throat; });
        choice<Circuit>(
            "Driven by", {"engine return", "lift pump"},
            [](const Circuit& k) { return k.transfer.by_return ? 0 : 1; },
            [](Circuit& k, int v) { k.transfer.by_return = v == 0; });
        break;
      default:
        break;
    }
  }

  void stage(const Circuit& c, size_t i) {
    using circuit::StageBy;
    const auto at = [i](Circuit& k) { return i < k.mains.size() ? &k.mains[i].stage : nullptr; };
    choice<Circuit>(
        "Runs by", list_of(circuit::stage_names()),
        [at](const Circuit& k) { return static_cast<int>(at(const_cast<Circuit&>(k))->by); },
        [at](Circuit& k, int v) {
          auto* s = at(k);
          s->by = static_cast<StageBy>(v);
          const std::pair<double, double> usual[] = {
              {0, 0}, {0.7, 0.5}, {120e3, 105e3}, {25e-6, 20e-6}, {75.0, 65.0}};
          s->on = usual[v].first, s->off = usual[v].second;
        });
    const Quantity of[] = {Quantity::plain, Quantity::fraction, Quantity::pressure, Quantity::flow,
                           Quantity::rotation};
    const StageBy by = c.mains[i].stage.by;
    if (by != StageBy::always) {
      const Quantity q = of[static_cast<size_t>(by)];
      number<Circuit>("On above", q, [at](Circuit& k) {
        auto* s = at(k);
        return s ? &s->on : nullptr;
      });
      number<Circuit>(
          "Off below", q,
          [at](Circuit& k) {
            auto* s = at(k);
            return s ? &s->off : nullptr;
          },
          "Lower than on, so that it does not switch to and fro");
      number<Circuit>("Spins up in", Quantity::duration, [at](Circuit& k) {
        auto* s = at(k);
        return s ? &s->spin_up : nullptr;
      });
    }
  }

  void rail(const Circuit& c) {
    form_.add_heading("Engine side");
    choice<Circuit>(
        "Engine feed", list_of(circuit::feed_names()),
        [](const Circuit& k) { return static_cast<int>(k.feed_kind); },
        [](Circuit& k, int v) { k.feed_kind = static_cast<circuit::EngineFeed>(v); });
    const bool injected =
        c.feed_kind == circuit::EngineFeed::returned || c.feed_kind == circuit::EngineFeed::returnless;
    pick<Circuit>(
        "Regulator", names_of(catalogue().regulators, true), [](Circuit& k) { return &k.regulator.type; },
        true);
    number<Circuit>(
        "Base pressure", Quantity::pressure, [](Circuit& k) { return &k.regulator.base; },
        "Set with the reference open to the air: the difference wished across the injectors");
    choice<Circuit>(
        "Reference", {"open", "manifold"}, [](const Circuit& k) { return k.regulator.referenced ? 1 : 0; },
        [](Circuit& k, int v) { k.regulator.referenced = v == 1; });
    if (injected) {
      pick<Circuit>("Injectors", names_of(catalogue().injectors),
                    [](Circuit& k) { return &k.rail.injector; });
      choice<Circuit>(
          "How many", {"1", "2", "3", "4", "5", "6", "7", "8", "9", "10", "11", "12"},
          [](const Circuit& k) { return k.rail.injectors > 12 ? -1 : k.rail.injectors - 1; },
          [](Circuit& k, int v) { k.rail.injectors = v + 1; });
      choice<Circuit>(
          "Rail fed", list_of(circuit::rail_names()),
          [](const Circuit& k) { return static_cast<int>(k.rail.feed); },
          [](Circuit& k, int v) { k.rail.feed = static_cast<circuit::RailFeed>(v); });
      number<Circuit>("Rail bore", Quantity::length, [](Circuit& k) { return &k.rail.bore; });
      number<Circuit>("Rail length", Quantity::length, [](Circuit& k) { return &k.rail.length; });
      number<Circuit>("Duty limit", Quantity::fraction, [](Circuit& k) { return &k.rail.duty_limit; });
    }
    if (c.feed_kind == circuit::EngineFeed::high_pressure)
      number<Circuit>(
          "Least inlet", Quantity::pressure, [](Circuit& k) { return &k.high_pressure.least_inlet; },
          "Over air, that the high-pressure pump needs");
    if (c.feed_kind == circuit::EngineFeed::carburettor) {
      number<Circuit>("Needle seats", Quantity::length, [](Circuit& k) { return &k.carburettor.seat; });
      number<Circuit>("Bowls hold", Quantity::volume, [](Circuit& k) { return &k.carburettor.bowl; });
      number<Circuit>("Needle holds", Quantity::pressure,
                      [](Circuit& k) { return &k.carburettor.most_pressure; });
    }
  }

  void whole() {
    form_.add_heading("Circuit as a whole");
    number<Circuit>(
        "Supply", Quantity::voltage, [](Circuit& k) { return &k.supply; }, "With the engine running");
    number<Circuit>(
        "Wires may take", Quantity::voltage, [](Circuit& k) { return &k.wished_drop; },
        "The gauge advised for each pump keeps to this");
    number<Circuit>("Wires at", Quantity::temperature, [](Circuit& k) { return &k.wire_temperature; });
    number<Circuit>(
        "Tank vent", Quantity::length, [](Circuit& k) { return &k.tank_vent; }, "Bore");
    number<Circuit>(
        "Manifold, idle", Quantity::pressure, [](Circuit& k) { return &k.idle_manifold; }, "Absolute");
    number<Circuit>(
        "Manifold, full load", Quantity::pressure, [](Circuit& k) { return &k.full_manifold; },
        "Absolute; over the air's it is boost");
    choice<Circuit>(
        "Transfer", list_of(circuit::transfer_names()),
        [](const Circuit& k) { return static_cast<int>(k.transfer.kind); },
        [](Circuit& k, int v) { k.transfer.kind = static_cast<circuit::TransferKind>(v); },
        "From the far side of a two-sided tank");
    form_.add_heading("Charging");
    pick<Circuit>(
        "Alternator", names_of(catalogue().alternators, true),
        [](Circuit& k) { return &k.charging.alternator; }, true);
    number<Circuit>("Its speed over the crank's", Quantity::plain,
                    [](Circuit& k) { return &k.charging.ratio; });
    number<Circuit>("Battery", Quantity::charge, [](Circuit& k) { return &k.charging.battery; });
    form_.add_heading("Heat");
    number<Circuit>("Air", Quantity::temperature, [](Circuit& k) { return &k.heat.ambient; });
    number<Circuit>("From the engine bay", Quantity::heat_flow,
                    [](Circuit& k) { return &k.heat.engine_bay; });
    form_.add_heading("Ethanol by water shift");
    const auto tube = [*this](double fluid::WaterShift::*what) {
      return [*this, what](Project& p) -> double* {
        const int i = w_.setup_index();
        if (i < 0 || i >= static_cast<int>(p.setups.size())) return nullptr;
        auto& t = p.setups[static_cast<size_t>(i)].tube;
        return t ? &((*t).*what) : nullptr;
      };
    };
    form_.add_choice(
        "Measured", {"no", "yes"},
        [*this](const Project& p) {
          const int i = w_.setup_index();
          return i < 0 || i >= static_cast<int>(p.setups.size()) ? -1
                 : p.setups[static_cast<size_t>(i)].tube         ? 1
                                                                 : 0;
        },
        [*this](Project& p, int k) {
          auto& s = p.setups.at(static_cast<size_t>(w_.setup_index()));
          s.tube.reset();
          const double fuel = 90e-6, water = 10e-6;
          if (k == 1)
            s.tube = fluid::WaterShift{water, fuel, water + fuel * std::max(s.fuel.ethanol - 0.02, 0.0)};
        },
        "A reading takes the place of the entered content, and moves the demand");
    form_.add_quantity("Water", Quantity::volume, tube(&fluid::WaterShift::water));
    form_.add_quantity("Fuel", Quantity::volume, tube(&fluid::WaterShift::fuel));
    form_.add_quantity("Boundary at", Quantity::volume, tube(&fluid::WaterShift::boundary),
                       "From the bottom, after settling");
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
  using circuit::Form;
  const auto line = [](int dash, double length) {
    Part p{.kind = PartKind::line, .type = "PTFE, smooth bore"};
    p.dash = dash, p.length = length;
    return p;
  };
  const auto of = [](PartKind kind, const char* type) { return Part{.kind = kind, .type = type}; };
  const auto fitting = [](Form form) {
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
      c.lifts.push_back({lift.name,
                         {of(PartKind::filter, "pickup sock, 100 micron"),
                          pump("lift pump, 130 l/h class", "fuse, 5 A"), line(6, 0.5), fitting(Form::exit)}});
  if (setup.surge) c.overflow = {fitting(Form::entry), line(8, 0.4), fitting(Form::exit)};
  c.mains.push_back({"main", {pump("main pump, 255 l/h class", "fuse, 15 A")}, {}});
  c.feed = {line(8, 1.5), of(PartKind::filter, "fine filter, 10 micron"), line(8, 0.5)};
  c.back = {line(6, 1.5), fitting(Form::exit)};
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
  if (setup.surge->engine_return == starvation::Return::overflow_tee && c.tee.empty()) c.tee = plain.overflow;
}

EditForm* make_circuit_form(Workspace& workspace, const std::optional<CircuitChoice>& choice) {
  auto* form = new EditForm(workspace);
  Builder(workspace, *form, choice).build();
  return form;
}

}  // namespace uadze::gui
