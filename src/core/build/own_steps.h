#pragma once
// The order of work as the team does it: the steps that follow from the circuit, with steps of their own and
// changes, as far as what must come before what allows.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   build::Kept kept;
//   kept.own.push_back({.setup = "P4", .title = "Weigh the tank", .after = "Close the tank"});
//   const auto steps = build::work_order(c, "P4", kept).steps;
//   const auto at = std::find_if(steps.begin(), steps.end(), [](const build::Step& s) { return s.title == "Weigh the tank"; });
//   ASSERT_NE(at, steps.end());
//   EXPECT_EQ((at - 1)->title, "Close the tank");
#include "core/build/order.h"

namespace uadze::build {

/// What the project keeps of the build's way.
struct Kept {
  std::vector<OwnStep> own;
  std::vector<StepChange> changes;
  Scheme scheme;
};

struct WorkOrder {
  std::vector<Step> steps;
  std::vector<Phrase> refused;  ///< what can not be had: a step that is not there, an order in a circle
};
WorkOrder work_order(const circuit::Case& c, const std::string& setup, const Kept& kept);

}  // namespace uadze::build
