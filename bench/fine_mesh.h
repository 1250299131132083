#pragma once
// A fine tank mesh to measure with.
#include <cmath>
#include <filesystem>
#include <numbers>
#include <string>

#include "core/base/files.h"
#include "core/base/vector.h"

namespace uadze::bench {

/// A closed lumpy body of about twice `around` x `rings` triangles, written as a binary STL; inside out.
inline void fine_mesh(const std::filesystem::path& path, int around, int rings) {
  const auto point = [&](int i, int j) {
    const double a = std::numbers::pi * i / rings, b = 2 * std::numbers::pi * (j % around) / around;
    const double r = 1 + 0.04 * std::sin(5 * b) * std::sin(3 * a);
    return Vec3(300 * r * std::cos(b) * std::sin(a), 230 * r * std::sin(b) * std::sin(a),
                120 * (1 - std::cos(a)));
  };
  std::string facets;
  std::uint32_t count = 0;
  const auto put = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
    float values[12] = {};
    for (int k = 0; k < 3; ++k) {
      values[3 + k] = static_cast<float>(a[k]), values[6 + k] = static_cast<float>(b[k]),
                 values[9 + k] = static_cast<float>(c[k]);
    }
    facets.append(reinterpret_cast<const char*>(values), sizeof(values));
    facets.append(2, '\0');
    ++count;
  };
  const Vec3 bottom = point(0, 0), top(0, 0, 240);
  for (int i = 0; i < rings; ++i)
    for (int j = 0; j < around; ++j) {
      const Vec3 a = i == 0 ? bottom : point(i, j), b = i == 0 ? bottom : point(i, j + 1),
                 c = i == rings - 1 ? top : point(i + 1, j + 1), d = i == rings - 1 ? top : point(i + 1, j);
      if (i > 0) put(a, b, d);
      if (i < rings - 1) put(b, c, d);
    }
  std::string bytes(80, ' ');
  bytes.append(reinterpret_cast<const char*>(&count), 4);
  write_file_atomically(path, bytes + facets);
}

}  // namespace uadze::bench
