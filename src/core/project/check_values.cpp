// What a project's values alone can show to be wrong.
#include <fmt/format.h>

#include <set>

#include "core/base/names.h"
#include "core/project/places.h"
#include "core/project/project_file.h"
#include "core/session/after.h"
#include "core/session/plan.h"
#include "core/starvation/surge.h"
#include "core/tank/shape.h"

namespace uadze::project {
namespace {

class Checker {
 public:
  explicit Checker(const Project& project) : project_(project) {}

  Faults run() {
    names(project_.setups);
    names(project_.laps);
    names(project_.sessions);
    for (const Setup& s : project_.setups) setup(s);
    for (const Setup& s : project_.setups)
      for (const build::KeepOut& k : s.keep_outs)
        if (!((k.high - k.low).array() > 0).all())
          fail(k.high, "a corner ahead, to the left and above of low_mm", "one that is not");
    for (const build::OwnStep& s : project_.own_steps) setup_named(s.setup);
    for (const build::StepChange& s : project_.step_changes) setup_named(s.setup);
    for (const LapReference& l : project_.laps)
      for (const lap::Corner& c : l.corners)
        if (c.to <= c.from)
          fail(c.to, fmt::format("more than from_m, {:.6g}", c.from), fmt::format("{:.6g}", c.to));
    for (const session::Session& s : project_.sessions) session(s);
    for (const session::Record& r : project_.records) record(r);
    std::set<std::pair<std::string, std::string>> stock;
    for (const build::Stock& s : project_.stock)
      if (!stock.insert({s.what, s.size}).second)
        fail(s.what, "each part once",
             "\"" + s.what + (s.size.empty() ? "" : " " + s.size) + "\" a second time");
    std::set<std::string> logs;
    for (const LogNote& l : project_.logs) {
      if (!logs.insert(l.file).second) fail(l.file, "each log once", "\"" + l.file + "\" a second time");
      if (l.put_in && l.drained && *l.drained > *l.put_in)
        fail(*l.drained, fmt::format("at most what was put in, {:.6g}", *l.put_in * 1e3),
             fmt::format("{:.6g}", *l.drained * 1e3));
    }
    return std::move(out_);
  }

 private:
  template <class Member>
  void say(Severity severity, const Member& member, std::string expected, std::string found) {
    add_fault(out_, severity, place_of(member), std::move(expected), std::move(found));
  }
  template <class Member>
  void fail(const Member& member, std::string expected, std::string found) {
    say(Severity::error, member, std::move(expected), std::move(found));
  }
  template <class Member>
  void warn(const Member& member, std::string expected, std::string found) {
    say(Severity::warning, member, std::move(expected), std::move(found));
  }

  void setup_named(const std::string& name) {
    if (!project_.find_setup(name)) warn(name, "the name of one of the setups", "\"" + name + "\"");
  }

  template <class List>
  void names(const List& list) {
    std::set<std::string> seen;
    for (const auto& item : list)
      if (!item.name.empty() && !seen.insert(item.name).second)
        fail(item.name, "a name of its own", "\"" + item.name + "\" a second time");
  }

  void session(const session::Session& s) {
    for (Fault f : session::session_faults(s)) {
      // A project that is being put together may have a session before it has a lap.
      if (f.at == place_of(s.lap)) f.severity = Severity::warning;
      out_.push_back(std::move(f));
    }
    if (!s.lap.empty() && !project_.find_lap(s.lap))
      fail(s.lap, "the name of one of the laps", "\"" + s.lap + "\"");
  }

  void record(const session::Record& r) {
    for (Fault& f : session::record_faults(r)) out_.push_back(std::move(f));
    if (!r.session.empty() && !project_.find_session(r.session))
      warn(r.session, "the name of one of the sessions: it teaches nothing otherwise",
           "\"" + r.session + "\"");
  }

  template <class Fuel>
  void alcohols(const Fuel& fuel) {
    if (fuel.ethanol + fuel.methanol > 1 + 1e-9)
      fail(fuel.methanol,
           fmt::format("at most the {:.4g} % that the ethanol leaves", (1 - fuel.ethanol) * 100),
           fmt::format("{:.4g} %", fuel.methanol * 100));
  }

  /// A consumption by mass belongs to a fuel: a petrol's figure with an alcohol's heating value is an engine
  /// that nobody has.
  void consumption(const Setup& s) {
    if (!(s.engine.consumption > 0)) return;
    fluid::Blend fuel = s.fuel;
    if (const auto& of = s.engine.figures_of) fuel.ethanol = of->ethanol, fuel.methanol = of->methanol;
    const double reached = fluid::efficiency(fuel, s.engine.consumption);
    if (reached <= fluid::most_efficiency) return;
    const double least = 1.0 / (fluid::most_efficiency * fluid::lower_heating_value(fuel));
    warn(s.engine.consumption,
         fmt::format(
             "{:.0f} g/kWh or more with this fuel (an efficiency of {:.0f} %); figures_of says of which "
             "fuel it is",
             least * 3.6e9, fluid::most_efficiency * 100),
         fmt::format("{:.0f} g/kWh, an efficiency of {:.0f} %", s.engine.consumption * 3.6e9, reached * 100));
  }

  void setup(const Setup& s) {
    names(s.tank.pickups);
    names(s.lift_pumps);
    names(s.tank.baffles);
    names(s.tank.collectors);
    shapes(s.tank);
    alcohols(s.fuel);
    if (s.engine.figures_of) alcohols(*s.engine.figures_of);
    consumption(s);
    if (s.tube) tube(*s.tube);
    for (const tank::Pickup& p : s.tank.pickups) pickup(s, p);
    for (size_t i = 1; i < s.tank.filled.size(); ++i)
      if (s.tank.filled[i].volume <= s.tank.filled[i - 1].volume)
        fail(s.tank.filled[i].volume,
             fmt::format("more than the step before, {:.6g}", s.tank.filled[i - 1].volume * 1e3),
             fmt::format("{:.6g}", s.tank.filled[i].volume * 1e3));
    if (s.surge) {
      if (s.surge->pickup.norm() > starvation::surge_radius(*s.surge))
        fail(s.surge->pickup.x(),
             fmt::format("a place inside the surge tank, within {:.0f} mm of its axis",
                         starvation::surge_radius(*s.surge) * 1e3),
             fmt::format("{:.0f} mm from it", s.surge->pickup.norm() * 1e3));
      if (s.lift_pumps.empty()) warn(s.lift_pumps, "a lift pump that fills the surge tank", "none");
      if (s.surge->engine_return != circuit::ReturnTo::surge_tank && !(s.main_pump_flow > 0))
        fail(s.main_pump_flow, "above 0, as the engine's return goes to the main tank", "0");
    }
    for (const starvation::LiftPump& pump : s.lift_pumps) {
      bool fed = false;
      for (const auto& p : s.tank.pickups) fed = fed || p.feeds == pump.name;
      if (!fed) warn(pump, "a pickup that feeds it", "none: it lifts nothing");
    }
  }

  void tube(const fluid::WaterShift& t) {
    try {
      fluid::water_shift_content(t);
    } catch (const InputError& error) {
      const Message& m = error.messages().front();
      fail(m.place == "water" ? t.water : m.place == "fuel" ? t.fuel : t.boundary, m.expected, m.found);
    }
  }

  void shapes(const tank::TankParts& t) {
    const auto check = [&](const tank::Shape& shape) {
      for (Fault& f : tank::shape_faults(shape)) out_.push_back(std::move(f));
    };
    for (const tank::Shape& shape : t.shapes) check(shape);
    for (const auto& c : t.collectors) check(c.shape);
    for (const auto& b : t.bodies) check(b.shape);
    for (const auto& f : t.foam)
      if (f.shape) check(*f.shape);
    const auto door = [&](const tank::OpeningPart& o, NameTable<tank::Passes> ways) {
      if (o.door != tank::Door::none && o.passes == tank::Passes::both)
        fail(o.passes,
             fmt::format("\"{}\" or \"{}\", as it has a door", ways(tank::Passes::along),
                         ways(tank::Passes::against)),
             "\"both\"");
    };
    for (const auto& b : t.baffles)
      for (const auto& o : b.openings) door(o, [](tank::Passes p) { return name_of(p); });
    for (const auto& c : t.collectors)
      for (const auto& o : c.openings) door(o, &tank::collector_name_of);
  }

  void pickup(const Setup& s, const tank::Pickup& p) {
    std::string choices = "\"engine\"";
    bool known = p.feeds == "engine";
    for (const auto& pump : s.lift_pumps)
      choices += ", \"" + pump.name + "\"", known = known || pump.name == p.feeds;
    if (!known) fail(p.feeds, "one of " + choices, "\"" + p.feeds + "\"");
    if (known && (p.feeds == "engine") == s.surge.has_value())
      warn(p.feeds,
           s.surge ? "a lift pump, as there is a surge tank" : "\"engine\", as there is no surge tank",
           "\"" + p.feeds + "\": this pickup is not used");
  }

  const Project& project_;
  Faults out_;
};

}  // namespace

Messages check_values(const Project& project, const std::string& file) {
  const Places places = places_in(project);
  Messages out = places.messages(places.out_of_range(), file);
  // What is out of range would only be said again in other words.
  if (!out.empty()) return out;
  return places.messages(Checker(project).run(), file);
}

}  // namespace uadze::project
