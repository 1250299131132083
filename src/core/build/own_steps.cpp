#include "core/build/own_steps.h"

#include <algorithm>

namespace uadze::build {
namespace {

/// Whether `step` waits for `wanted`, over any steps between.
bool waits_for(const std::vector<Step>& steps, int step, int wanted) {
  if (step == wanted) return true;
  const auto& after = steps[static_cast<size_t>(step)].after;
  return std::any_of(after.begin(), after.end(), [&](int a) { return waits_for(steps, a, wanted); });
}

/// In an order in which each comes behind those it waits for; among those that may come, the earliest.
std::vector<Step> in_order(const std::vector<Step>& steps) {
  std::vector<int> place(steps.size(), -1), taken;
  while (taken.size() < steps.size())
    for (size_t k = 0; k < steps.size(); ++k) {
      if (place[k] >= 0) continue;
      if (!std::all_of(steps[k].after.begin(), steps[k].after.end(),
                       [&](int a) { return place[static_cast<size_t>(a)] >= 0; }))
        continue;
      place[k] = static_cast<int>(taken.size());
      taken.push_back(static_cast<int>(k));
      break;
    }
  std::vector<Step> out;
  for (int k : taken) {
    out.push_back(steps[static_cast<size_t>(k)]);
    for (int& a : out.back().after) a = place[static_cast<size_t>(a)];
  }
  return out;
}

}  // namespace

WorkOrder work_order(const circuit::Case& c, const std::string& setup, const Kept& kept) {
  WorkOrder out;
  std::vector<Step> steps = assembly(c, kept.scheme);
  const auto at = [&](const std::string& title) {
    const auto found =
        std::find_if(steps.begin(), steps.end(), [&](const Step& s) { return s.title == title; });
    return found == steps.end() ? -1 : static_cast<int>(found - steps.begin());
  };
  for (const OwnStep& own : kept.own) {
    if (own.setup != setup) continue;
    if (at(own.title) >= 0) {
      out.refused.push_back({"\"" + own.title + "\" is a step already.", {}});
      continue;
    }
    const int before = own.after.empty() ? static_cast<int>(steps.size()) - 1 : at(own.after);
    if (before < 0) {
      out.refused.push_back({"\"" + own.title + "\" comes after \"" + own.after +
                                 "\", which is no step of this circuit: it stands at the end.",
                             {}});
    }
    const int behind = before < 0 ? static_cast<int>(steps.size()) - 1 : before;
    Step step{.title = own.title,
              .how = {own.how.begin(), own.how.end()},
              .after = {behind},
              .minutes = own.minutes,
              .opens_fuel = own.opens_fuel};
    if (step.opens_fuel && behind != 0) step.after.insert(step.after.begin(), 0);
    // Directly behind it: what stood there waits one place more.
    const int place = behind + 1;
    for (Step& s : steps)
      for (int& a : s.after)
        if (a >= place) ++a;
    steps.insert(steps.begin() + place, std::move(step));
  }
  for (const StepChange& change : kept.changes) {
    if (change.setup != setup) continue;
    const int k = at(change.step);
    if (k < 0) {
      out.refused.push_back(
          {"\"" + change.step + "\" is no step of this circuit any more: its changes wait.", {}});
      continue;
    }
    Step& step = steps[static_cast<size_t>(k)];
    step.how.insert(step.how.end(), change.also.begin(), change.also.end());
    if (change.minutes) step.minutes = *change.minutes;
    if (change.after.empty()) continue;
    const int first = at(change.after);
    if (first < 0) {
      out.refused.push_back({"\"" + change.after + "\" is no step of this circuit.", {}});
    } else if (waits_for(steps, first, k)) {
      out.refused.push_back(
          {"\"" + change.step + "\" can not come after \"" + change.after + "\", which waits for it.", {}});
    } else {
      step.after.push_back(first);
    }
  }
  out.steps = in_order(steps);
  return out;
}

}  // namespace uadze::build
