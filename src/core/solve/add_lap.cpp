#include "core/solve/add_lap.h"

#include <algorithm>
#include <cmath>

namespace uadze::solve {

void add_proposed_corners(std::vector<lap::Corner>& corners, const lap::Lap& lap) {
  for (lap::Corner& c : lap::propose_corners(lap)) {
    const auto meets = [&](const lap::Corner& known) { return known.from < c.to && known.to > c.from; };
    if (std::ranges::none_of(corners, meets)) corners.push_back(std::move(c));
  }
  std::ranges::stable_sort(corners, {}, &lap::Corner::from);
}

project::LapReference lap_reference(const project::Project& project, const lap::Lap& lap,
                                    const std::string& name, const std::string& file) {
  project::LapReference out;
  out.name = name;
  for (int k = 2; project.find_lap(out.name); ++k) out.name = name + " (" + std::to_string(k) + ")";
  out.file = file;
  // A track is known by where its last corner ends and that its corners are this lap's: hands must agree.
  for (const project::LapReference& known : project.laps) {
    if (known.corners.empty()) continue;
    if (known.corners.back().to > lap.length() || known.corners.back().to < 0.5 * lap.length()) continue;
    if (!lap::check_hands(lap, known.corners, "").empty()) continue;
    out.corners = known.corners;
    return out;
  }
  add_proposed_corners(out.corners, lap);
  return out;
}

}  // namespace uadze::solve
