#include "core/circuit/catalogue.h"

#include <cmath>

namespace uadze::circuit {

double AlternatorType::current(double rotation) const {
  if (output.empty() || rotation < output.front().first) return 0.0;
  for (size_t i = 1; i < output.size(); ++i)
    if (rotation <= output[i].first)
      return std::lerp(output[i - 1].second, output[i].second,
                       (rotation - output[i - 1].first) / (output[i].first - output[i - 1].first));
  return output.back().second;
}

double mass_of(const HoseType& hose, int dash) {
  const auto known = hose.mass_by_size.find(dash);
  return known != hose.mass_by_size.end() ? known->second : hose.mass * (dash > 0 ? dash / 8.0 : 1.0);
}

double bore_of(const HoseType& hose, int dash) {
  const auto found = hose.bore.find(dash);
  return found == hose.bore.end() ? 0.0 : found->second;
}

}  // namespace uadze::circuit
