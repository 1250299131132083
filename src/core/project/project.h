#pragma once
// A project: cars' setups, laps, sessions, as plain values in SI. Nothing computed is kept in it, and nothing
// that was read from another file: meshes, laps and catalogues are named only.
//
// Example:
//   using namespace uadze;
//   project::Project p;
//   p.setups.push_back({.name = "P4, surge fitted"});
//   EXPECT_EQ(p.find_setup("P4, surge fitted"), &p.setups[0]);
//   EXPECT_EQ(p.find_lap("Brackenholt, dry"), nullptr);
#include <optional>
#include <string>
#include <vector>

#include "core/build/kept.h"
#include "core/circuit/parts.h"
#include "core/fluid/liquid.h"
#include "core/lap/corner.h"
#include "core/session/session.h"
#include "core/starvation/calibration.h"
#include "core/starvation/parts.h"
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
  std::optional<starvation::Calibration> calibration;  ///< what logs have taught of the model's figures
  std::vector<build::KeepOut> keep_outs;
  bool operator==(const Setup&) const = default;
};

struct LapReference {
  std::string name;
  std::string file;      ///< relative to the project's folder
  bool repeated = true;  ///< a circuit, driven again and again; false: one run from rest
  lap::VerticalZero vertical_zero = lap::VerticalZero::accelerometer;
  std::vector<lap::Corner> corners;
  bool operator==(const LapReference&) const = default;
};

/// What is known of a log beside its channels, by the name of its file: the log itself stays where it is.
struct LogNote {
  std::string file;               ///< name without folder, "practice-2.csv"
  std::optional<double> put_in;   ///< m3 in the tank as it begins
  std::optional<double> drained;  ///< m3 in it as it ends
  double flow_scale = 1.0;        ///< on the logged flow
  bool operator==(const LogNote&) const = default;
};

struct Project {
  std::string name;
  std::string notes;
  std::vector<Setup> setups;
  std::vector<LapReference> laps;
  std::vector<session::Session> sessions;
  std::vector<session::Record> records;  ///< of sessions that were driven
  std::vector<LogNote> logs;
  std::vector<build::Stock> stock;  ///< parts on the shelf or ordered
  std::vector<build::Done> done;    ///< steps of the build
  std::vector<build::OwnStep> own_steps;
  std::vector<build::StepChange> step_changes;
  build::Scheme scheme;                      ///< of wiring
  std::vector<std::string> catalogue_files;  ///< relative to the project's folder; on top of the shipped one
  bool operator==(const Project&) const = default;

  const Setup* find_setup(const std::string& wanted) const;
  const LapReference* find_lap(const std::string& wanted) const;
  const session::Session* find_session(const std::string& wanted) const;
  const LogNote* find_log(const std::string& file) const;
};

/// What is kept by a setup's name (the steps done on it) follows the setup when it is renamed: one that
/// stands at the same place in the list under another name, where no setup has the former name any more.
void follow_renames(const Project& before, Project& after);

}  // namespace uadze::project
