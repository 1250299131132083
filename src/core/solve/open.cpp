#include "core/solve/open.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/files.h"
#include "core/project/places.h"
#include "core/solve/setup.h"
#include "core/starvation/march.h"

namespace uadze::solve {
namespace {

constexpr double litre = 1e-3, millimetre = 1e-3;

/// Faults and where they are, which needs the values that they are members of.
class Checker {
 public:
  Checker(const project::Project& project, const std::string& file, Sources& sources)
      : project_(project), file_(file), sources_(sources), places_(project::places_in(project)) {}

  Messages run() {
    CataloguePtr catalogue;
    try {
      catalogue = sources_.catalogues.get(project_.catalogue_files, &out_);
    } catch (const InputError& error) {
      out_.insert(out_.end(), error.messages().begin(), error.messages().end());
    }
    for (const project::Setup& s : project_.setups) {
      tank(s);
      if (s.circuit && catalogue)
        add(places_.messages(circuit::circuit_faults(*s.circuit, surroundings_of(s), catalogue->value),
                             file_));
    }
    return std::move(out_);
  }

 private:
  void add(Messages messages) {
    out_.insert(out_.end(), std::make_move_iterator(messages.begin()),
                std::make_move_iterator(messages.end()));
  }
  template <class Member>
  void say(Severity severity, const Member& member, std::string expected, std::string found) {
    add(places_.messages({{severity, place_of(member), std::move(expected), std::move(found)}}, file_));
  }

  void tank(const project::Setup& s) {
    std::shared_ptr<const tank::Assembly> assembly;
    try {
      assembly = sources_.tanks.assembled(s.tank);
    } catch (const InputError& error) {
      say(Severity::error, s.tank, "a mesh that can be a tank", "this:");
      out_.insert(out_.end(), error.messages().begin(), error.messages().end());
      return;
    }
    add(project::places_in(*assembly->parts, places_.pointer(place_of(s.tank)))
            .messages(assembly->faults, file_));
    const double volume = assembly->tank.volume();
    if (s.surge && volume > 0 && s.surge->volume > volume)
      say(Severity::error, s.surge->volume,
          fmt::format("a surge tank of at most the main tank's {:.4g} L", volume / litre),
          fmt::format("{:.4g} L", s.surge->volume / litre));
    if (volume > 0 && (volume < 0.2e-3 || volume > 2.0))
      say(Severity::warning, s.tank, "a tank of 0.2 to 2000 L",
          fmt::format("{:.4g} L: are the dimensions in mm?", volume / litre));
    for (const tank::Pickup& p : s.tank.pickups) pickup(p, assembly->tank);
  }

  void pickup(const tank::Pickup& p, const tank::Tank& tank) {
    if (tank.space_at(p.position) >= 0) return;
    const Vec3 a = tank.lower_corner() / millimetre, b = tank.upper_corner() / millimetre;
    say(Severity::error, p.position,
        fmt::format(
            "a point inside the tank (within x {:.0f} to {:.0f}, y {:.0f} to {:.0f}, z {:.0f} to {:.0f})",
            a.x(), b.x(), a.y(), b.y(), a.z(), b.z()),
        fmt::format("({:.6g}, {:.6g}, {:.6g}), outside", p.position.x() / millimetre,
                    p.position.y() / millimetre, p.position.z() / millimetre));
  }

  const project::Project& project_;
  const std::string& file_;
  Sources& sources_;
  project::Places places_;
  Messages out_;
};

}  // namespace

project::Opened open_project(const std::filesystem::path& path, Sources& sources, Outside outside) {
  std::string text = read_file(path);
  const std::string file = path.string();
  auto [project, notes] = project::parse_project(text, file);
  if (outside == Outside::refused) {
    Messages strangers;
    for (const auto& named : files_of(project, sources.folder()))
      if (!lies_inside(named, sources.folder()))
        strangers.push_back({Severity::error, file, "", "files in the project's folder or below it",
                             "\"" + named.string() + "\""});
    if (!strangers.empty()) throw OutsideFiles(std::move(strangers));
  }
  for (Message& m : check(project, file, sources)) notes.push_back(std::move(m));
  if (has_errors(notes)) throw InputError(std::move(notes));
  return {std::move(project), {path, std::move(text)}, std::move(notes)};
}

Messages check(const project::Project& project, const std::string& file, Sources& sources) {
  return Checker(project, file, sources).run();
}

Messages check_laps(const project::Project& project, const std::string& file, Sources& sources) {
  Messages out;
  const project::Places places = project::places_in(project);
  const auto say = [&](Severity severity, const auto& member, std::string expected, std::string found) {
    for (Message& m :
         places.messages({{severity, place_of(member), std::move(expected), std::move(found)}}, file))
      out.push_back(std::move(m));
  };
  for (const project::LapReference& reference : project.laps) {
    LapPtr lap;
    try {
      lap = sources.laps.get(reference);
    } catch (const InputError& error) {
      say(Severity::error, reference.file, "a lap file that can be read", "\"" + reference.file + "\"");
      out.insert(out.end(), error.messages().begin(), error.messages().end());
      continue;
    }
    out.insert(out.end(), lap->notes.begin(), lap->notes.end());
    const Messages hands =
        lap::check_hands(lap->value, reference.corners, (sources.folder() / reference.file).string());
    out.insert(out.end(), hands.begin(), hands.end());
    const double length = lap->value.distance.back();
    for (const lap::Corner& corner : reference.corners)
      if (corner.to > length + 1)
        say(Severity::warning, corner.to, fmt::format("a distance within the lap's {:.0f} m", length),
            fmt::format("{:.6g}", corner.to));
    // What solving would refuse, said here already.
    if (reference.repeated && lap->value.duration() < starvation::shortest_lap)
      say(Severity::error, reference.file,
          fmt::format("a lap of {:.0f} s or more, as it is driven again and again", starvation::shortest_lap),
          fmt::format("{:.3g} s", lap->value.duration()));
    const auto none = [](const std::vector<double>& flow) {
      return std::ranges::none_of(flow, [](double q) { return q > 0; });
    };
    if (lap->value.has_flow() && none(lap->value.fuel_flow) && none(lap->value.fuel_mass_flow))
      say(Severity::error, reference.file, "fuel burnt somewhere on the lap", "fuel_flow of 0 throughout");
    // No demand can be had of this lap with that engine.
    for (const project::Setup& setup : project.setups) {
      const bool flow = setup.engine.demand == starvation::DemandFrom::logged_flow && lap->value.has_flow();
      if (flow) continue;
      if (lap->value.throttle.empty())
        say(Severity::error, reference.file,
            fmt::format("a column throttle{} for setup \"{}\"",
                        setup.engine.demand == starvation::DemandFrom::logged_flow ? " or fuel_flow" : "",
                        setup.name),
            "none: what the engine burns is not known");
    }
  }
  for (const project::Setup& setup : project.setups) {
    bool by_power = setup.engine.demand == starvation::DemandFrom::power || project.laps.empty();
    for (const project::LapReference& reference : project.laps) try {
        by_power = by_power || !sources.laps.get(reference)->value.has_flow();
      } catch (const InputError&) {
        // Said above.
      }
    if (!by_power) continue;
    // A tank alone can be settled and sloshed; from laps or sessions no answer can be had.
    const Severity severity =
        project.laps.empty() && project.sessions.empty() ? Severity::warning : Severity::error;
    if (!(setup.engine.power > 0))
      say(severity, setup.engine.power, "power above 0, as no logged flow says what the engine burns",
          "0: no engine is entered");
    else if (!(setup.engine.consumption > 0))
      say(severity, setup.engine.consumption,
          "specific consumption above 0, as no logged flow says what the engine burns", "0");
  }
  return out;
}

}  // namespace uadze::solve
