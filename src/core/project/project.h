#pragma once
// A project: cars' setups, laps, sessions, as plain values in SI. Nothing computed is kept in it.
//
//   const Opened opened = open_project("demo/ostrel-p4.uadze.json");
//   opened.project.setups[0].tank.shapes ...
//   save_project(opened.file, changed);             // atomic; leaves every byte whose meaning did not change
#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/circuit/circuit.h"
#include "core/fluid/blend.h"
#include "core/lap/corner.h"
#include "core/session/plan.h"
#include "core/starvation/fuel_system.h"
#include "core/tank/parts.h"

namespace uadze::project {

struct Setup {
  std::string name;
  std::string notes;
  fluid::Blend fuel;
  starvation::Engine engine;
  tank::TankParts tank;
  std::vector<starvation::LiftPump> lift_pumps;
  std::optional<starvation::SurgeTank> surge;
  double main_pump_flow = 0.0;  ///< m3/s
  double line_hold = 0.0;       ///< m3
  starvation::Limits limits;
  std::optional<fluid::WaterShift> tube;  ///< a measured ethanol content, in place of the entered one
  std::optional<circuit::Circuit> circuit;
  bool operator==(const Setup&) const = default;
};

/// The fuel as it is: with the measured ethanol content, if there is one.
fluid::Blend fuel_of(const Setup& setup);

/// Demand times this: what a measured ethanol content changes against the entered one, at the same air.
double demand_factor(const Setup& setup);

/// The setup's surroundings as the circuit sees them. `tank_volume`: m3.
circuit::Surroundings surroundings_of(const Setup& setup, double tank_volume = 50e-3);

struct LapReference {
  std::string name;
  std::string file;      ///< relative to the project's folder
  bool repeated = true;  ///< a circuit, driven again and again; false: one run from rest
  lap::VerticalZero vertical_zero = lap::VerticalZero::accelerometer;
  std::vector<lap::Corner> corners;
  bool operator==(const LapReference&) const = default;
};

struct Project {
  std::string name;
  std::string notes;
  std::vector<Setup> setups;
  std::vector<LapReference> laps;
  std::vector<session::Session> sessions;
  std::vector<std::string> catalogue_files;  ///< relative to the project's folder
  /// The shipped catalogue with those files on top; nothing while those can not be found.
  std::shared_ptr<const circuit::Catalogue> catalogue;
  /// By what the file says; the catalogue follows from its files' names.
  bool operator==(const Project& other) const {
    return name == other.name && notes == other.notes && setups == other.setups && laps == other.laps &&
           sessions == other.sessions && catalogue_files == other.catalogue_files;
  }

  const Setup* find_setup(const std::string& wanted) const;
  const LapReference* find_lap(const std::string& wanted) const;
};

/// What was on the disk, kept so that saving changes only what changed.
struct ProjectFile {
  std::filesystem::path path;
  std::string text;
};

struct Opened {
  Project project;
  ProjectFile file;
  Messages notes;
};

class TankStore;

/// Reads text as a project. Throws InputError with every fault found, each at its JSON pointer; unknown keys
/// are kept in the file and warned of in the notes. With a store, meshes are read (beside `file`) and tanks
/// are assembled and checked.
Read<Project> parse_project(const std::string& text, const std::string& file, TankStore* tanks = nullptr);

/// Without a store of its own it uses one for the time being.
Opened open_project(const std::filesystem::path& path, TankStore* tanks = nullptr);

/// The project as text: `before` with only those parts changed whose meaning changed; empty: a new file.
std::string project_text(const Project& project, const std::string& before);

/// Writes atomically and returns what is on the disk now.
ProjectFile save_project(const std::filesystem::path& path, const Project& project,
                         const std::string& before);

/// The project with its lap files named relative to another folder.
Project moved(Project project, const std::filesystem::path& from_folder,
              const std::filesystem::path& to_folder);

}  // namespace uadze::project
