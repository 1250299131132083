#include "core/sizing/choice.h"

#include <cmath>

namespace uadze::sizing {

bool dominates(const Cost& a, const Cost& b) {
  bool better = false;
  for (size_t k = 0; k < a.size(); ++k) {
    const double near = 1e-9 * (std::abs(a[k]) + std::abs(b[k]));
    if (a[k] > b[k] + near) return false;
    better = better || a[k] < b[k] - near;
  }
  return better;
}

std::vector<size_t> non_dominated(const std::vector<Cost>& costs) {
  std::vector<size_t> out;
  for (size_t i = 0; i < costs.size(); ++i) {
    bool stays = true;
    for (size_t j = 0; j < costs.size() && stays; ++j) {
      if (i == j) continue;
      stays = !dominates(costs[j], costs[i]) && !(j < i && costs[j] == costs[i]);
    }
    if (stays) out.push_back(i);
  }
  return out;
}

}  // namespace uadze::sizing
