#include "core/circuit/catalogue.h"

#include <cmath>

#include "core/circuit/parts.h"

namespace uadze::circuit {

double AlternatorType::current(double rotation) const {
  if (output.empty() || rotation < output.front().first) return 0.0;
  for (size_t i = 1; i < output.size(); ++i)
    if (rotation <= output[i].first)
      return std::lerp(output[i - 1].second, output[i].second,
                       (rotation - output[i - 1].first) / (output[i].first - output[i - 1].first));
  return output.back().second;
}

double bore_of(const HoseType& hose, int dash) {
  const auto found = hose.bore.find(dash);
  return found == hose.bore.end() ? 0.0 : found->second;
}

const std::vector<std::string>& cost_names() {
  static const std::vector<std::string> names{"low", "middle", "high"};
  return names;
}

const std::vector<std::string>& part_kinds() {
  static const std::vector<std::string> names{"line", "fitting", "filter",   "check valve",
                                              "pump", "sensor",  "diffuser", "restriction"};
  return names;
}

const std::vector<std::string>& form_names() {
  static const std::vector<std::string> names{
      "straight",    "45",      "90",          "120",        "180",
      "smooth bend", "reducer", "tee through", "tee branch", "quick connector",
      "bulkhead",    "entry",   "exit"};
  return names;
}

const std::vector<std::string>& stage_names() {
  static const std::vector<std::string> names{"always", "throttle", "manifold", "demand", "rotation"};
  return names;
}

const std::vector<std::string>& feed_names() {
  static const std::vector<std::string> names{"returned", "returnless", "high-pressure pump", "carburettor"};
  return names;
}

const std::vector<std::string>& rail_names() {
  static const std::vector<std::string> names{"through", "both ends", "dead end"};
  return names;
}

const std::vector<std::string>& transfer_names() {
  static const std::vector<std::string> names{"none", "jet", "balance line"};
  return names;
}

}  // namespace uadze::circuit
