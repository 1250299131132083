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
#include <string>
#include <vector>

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
  bool operator==(const Done&) const = default;
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
