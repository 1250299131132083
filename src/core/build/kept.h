#pragma once
// What of the build is on the shelf, and what of it was done, as the project keeps it.
//
// A step is known by its title, and what was done by the content that the step had then: where the circuit
// has changed since, so that the step asks for something else, it is to be done again.
//
// Example:
//   build::Step step{.title = "Close the tank", .how = {"New lid seal."}};
//   const std::vector<build::Done> done{{"P4", step.title, "R. Fell", "2026-11-27", build::content_of(step)}};
//   EXPECT_EQ(build::state_of(step, "P4", done), build::StepState::done);
//   step.how.push_back("Vent with roll-over valve.");
//   EXPECT_EQ(build::state_of(step, "P4", done), build::StepState::again);
//   EXPECT_EQ(build::state_of(step, "another", done), build::StepState::open);
#include <optional>
#include <string>
#include <vector>

#include "core/base/vector.h"

namespace uadze::build {

struct Step;

/// Parts lying on the shelf or on their way; known by what they are and their size.
struct Stock {
  std::string what, size;
  double have = 0.0, ordered = 0.0;  ///< pieces, or m
  bool operator==(const Stock&) const = default;
};

struct Done {
  std::string setup, step;
  std::string by, on;   ///< who, and the day
  std::string content;  ///< of the step as it was done
  std::string torque;   ///< that was reached, as it was read: "12 N m"
  bool operator==(const Done&) const = default;
};

/// A step of one's own, among those that follow from the circuit.
struct OwnStep {
  std::string setup, title;
  std::vector<std::string> how;
  std::string after;  ///< title of the step behind which it comes; empty: at the end
  double minutes = 15.0;
  bool opens_fuel = false;
  bool operator==(const OwnStep&) const = default;
};

/// What is done otherwise at a step that follows from the circuit.
struct StepChange {
  std::string setup, step;
  std::vector<std::string> also;  ///< to be done there besides
  std::optional<double> minutes;
  std::string after;  ///< title of a step that is to come before it, though it need not
  bool operator==(const StepChange&) const = default;
};

/// How a wire is joined to its terminal: schools differ, both have their own faults.
enum class WireJoint { crimp, solder };
constexpr const char* name_of(WireJoint value) {
  switch (value) {
    case WireJoint::crimp:
      return "crimp";
    case WireJoint::solder:
      return "solder";
  }
  return nullptr;
}

/// The team's own way of wiring.
struct Scheme {
  std::string feed = "red", ground = "black", coil = "violet";  ///< colours
  WireJoint joint = WireJoint::crimp;
  bool operator==(const Scheme&) const = default;
};

/// What no line may come near: exhaust, driveline, what moves, the ground.
struct KeepOut {
  std::string name;
  Vec3 low = Vec3::Zero(), high = Vec3::Zero();  ///< m in the car, corners of its box
  double clearance = 50e-3;                      ///< m, that a line's middle keeps from it
  bool operator==(const KeepOut&) const = default;
};

enum class StepState { open, done, again };
constexpr const char* name_of(StepState value) {
  switch (value) {
    case StepState::open:
      return "open";
    case StepState::done:
      return "done";
    case StepState::again:
      return "to be done again";
  }
  return nullptr;
}

/// Of what is to be done and what it needs; not of its place in the order.
std::string content_of(const Step& step);
StepState state_of(const Step& step, const std::string& setup, const std::vector<Done>& done);
/// For can_start() and longest_chain().
std::vector<char> done_flags(const std::vector<Step>& steps, const std::string& setup,
                             const std::vector<Done>& done);

}  // namespace uadze::build
