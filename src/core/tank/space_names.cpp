#include "core/tank/space_names.h"

#include <fmt/format.h>

#include <set>

namespace uadze::tank {
namespace {

/// "rear left": of the axes that planes cross.
std::string word_of(const Vec3& middle, const std::vector<Plane>& partings) {
  static const char* const words[3][3] = {
      {"rear", "middle", "front"}, {"right", "centre", "left"}, {"lower", "halfway", "upper"}};
  std::string out;
  for (int axis = 0; axis < 3; ++axis) {
    int planes = 0, passed = 0;
    for (const Plane& plane : partings) {
      int along = 0;
      plane.normal.cwiseAbs().maxCoeff(&along);
      if (along != axis) continue;
      ++planes;
      const bool above = plane.normal.dot(middle) > plane.offset;
      passed += above == (plane.normal[axis] > 0);
    }
    if (planes == 0) continue;
    const std::string word = passed == 0        ? words[axis][0]
                             : passed == planes ? words[axis][2]
                             : planes == 2      ? words[axis][1]
                                                : fmt::format("{} {}", words[axis][1], passed);
    out += (out.empty() ? "" : " ") + word;
  }
  return out;
}

}  // namespace

std::vector<std::string> space_names(const std::vector<NamedPlace>& places,
                                     const std::vector<Plane>& partings) {
  std::set<std::string> taken;
  for (const NamedPlace& p : places) taken.insert(p.own);
  std::vector<std::string> out;
  for (const NamedPlace& p : places) {
    out.push_back(p.own);
    if (!p.own.empty()) continue;
    std::string name = word_of(p.middle, partings);
    if (!p.foam.empty()) name = name.empty() ? p.foam : fmt::format("{}, {}", p.foam, name);
    if (name.empty()) name = "tank";
    out.back() = name;
    for (int k = 2; !taken.insert(out.back()).second; ++k) out.back() = fmt::format("{} {}", name, k);
  }
  return out;
}

}  // namespace uadze::tank
