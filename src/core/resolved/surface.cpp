#include "core/resolved/surface.h"

#include <fmt/format.h>

#include <cmath>
#include <unordered_map>

namespace uadze::resolved {
namespace {

/// The six tetrahedra round a cube's diagonal; corners by their bits: x 4, y 2, z 1.
constexpr int tetrahedra[6][4]{{0, 7, 4, 6}, {0, 7, 6, 2}, {0, 7, 2, 3},
                               {0, 7, 3, 1}, {0, 7, 1, 5}, {0, 7, 5, 4}};

class Cutter {
 public:
  explicit Cutter(const Fuel& fuel) : fuel_(fuel), g_(fuel.lattice()) {
    values_ = fuel.depth();
    // What lies beyond a wall continues what is before it, round edges and corners too.
    std::vector<char> known(values_.size());
    for (int c = 0; c < g_.count(); ++c) known[static_cast<size_t>(c)] = g_.open(c);
    for (int sweep = 0; sweep < 3; ++sweep) {
      const auto before = known;
      for (int i = 0; i < g_.axis[0].count(); ++i)
        for (int j = 0; j < g_.axis[1].count(); ++j)
          for (int k = 0; k < g_.axis[2].count(); ++k) {
            const int c = g_.index(i, j, k), at[3]{i, j, k};
            if (before[static_cast<size_t>(c)]) continue;
            double sum = 0;
            int count = 0;
            for (int a = 0; a < 3; ++a)
              for (const int side : {-1, 1}) {
                if (at[a] + side < 0 || at[a] + side >= g_.axis[a].count()) continue;
                const auto n = static_cast<size_t>(c + side * g_.step(a));
                if (before[n]) sum += values_[n], ++count;
              }
            if (count > 0) values_[static_cast<size_t>(c)] = sum / count, known[static_cast<size_t>(c)] = 1;
          }
    }
  }

  Surface run() {
    for (int i = 0; i + 1 < g_.axis[0].count(); ++i)
      for (int j = 0; j + 1 < g_.axis[1].count(); ++j)
        for (int k = 0; k + 1 < g_.axis[2].count(); ++k) cube(i, j, k);
    for (const Particle& p : fuel_.particles())
      if (fuel_.depth()[static_cast<size_t>(g_.index(p.at[0], p.at[1], p.at[2]))] <= 0)
        out_.drops.emplace_back(p.x[0], p.x[1], p.x[2]);
    return std::move(out_);
  }

 private:
  double middle(int a, int i) const {
    const Axis& axis = g_.axis[a];
    if (i == 0) return axis.line[1];
    if (i == axis.count() - 1) return axis.line[static_cast<size_t>(i)];
    return axis.middle(i);
  }
  Vec3 place(int c) const {
    return {middle(0, c / g_.step(0)), middle(1, c % g_.step(0) / g_.step(1)), middle(2, c % g_.step(1))};
  }

  /// The point where the surface cuts the edge between two cells' middles, once.
  int point(int a, int b) {
    if (a > b) std::swap(a, b);
    const auto key = static_cast<std::uint64_t>(a) << 32 | static_cast<std::uint64_t>(b);
    const auto [at, fresh] = made_.try_emplace(key, static_cast<int>(out_.points.size()));
    if (fresh) {
      const double va = values_[static_cast<size_t>(a)], vb = values_[static_cast<size_t>(b)];
      out_.points.push_back(place(a) + va / (va - vb) * (place(b) - place(a)));
    }
    return at->second;
  }

  void triangle(int a, int b, int c, const Vec3& out_of) {
    if (a == b || b == c || a == c) return;
    const Vec3 &p = out_.points[static_cast<size_t>(a)], &q = out_.points[static_cast<size_t>(b)],
               &r = out_.points[static_cast<size_t>(c)];
    // Seen from the gas it turns to the left.
    if ((q - p).cross(r - p).dot(out_of) < 0) std::swap(b, c);
    out_.triangles.push_back({a, b, c});
  }

  void cube(int i, int j, int k) {
    int corner[8];
    int wet = 0, dry = 0;
    for (int m = 0; m < 8; ++m) {
      corner[m] = g_.index(i + (m >> 2 & 1), j + (m >> 1 & 1), k + (m & 1));
      (values_[static_cast<size_t>(corner[m])] > 0 ? wet : dry)++;
    }
    if (wet == 0 || dry == 0) return;
    for (const auto& t : tetrahedra) {
      int in[4], out[4], n = 0, o = 0;
      for (const int m : t)
        values_[static_cast<size_t>(corner[m])] > 0 ? in[n++] = corner[m] : out[o++] = corner[m];
      if (n == 0 || o == 0) continue;
      Vec3 way = Vec3::Zero();
      for (int m = 0; m < o; ++m) way += place(out[m]) / o;
      for (int m = 0; m < n; ++m) way -= place(in[m]) / n;
      if (n == 1)
        triangle(point(in[0], out[0]), point(in[0], out[1]), point(in[0], out[2]), way);
      else if (n == 3)
        triangle(point(in[0], out[0]), point(in[1], out[0]), point(in[2], out[0]), way);
      else {
        const int a = point(in[0], out[0]), b = point(in[0], out[1]), c = point(in[1], out[1]),
                  d = point(in[1], out[0]);
        triangle(a, b, c, way);
        triangle(a, c, d, way);
      }
    }
  }

  const Fuel& fuel_;
  const Lattice& g_;
  std::vector<double> values_;
  std::unordered_map<std::uint64_t, int> made_;
  Surface out_;
};

}  // namespace

Surface surface_of(const Fuel& fuel) { return Cutter(fuel).run(); }

double area(const Surface& surface) {
  double out = 0;
  for (const auto& t : surface.triangles) {
    const Vec3& a = surface.points[static_cast<size_t>(t[0])];
    out += (surface.points[static_cast<size_t>(t[1])] - a)
               .cross(surface.points[static_cast<size_t>(t[2])] - a)
               .norm() /
           2;
  }
  return out;
}

std::string obj_of(const Surface& s) {
  std::string out;
  for (const auto* list : {&s.points, &s.drops})
    for (const Vec3& p : *list) out += fmt::format("v {:.6g} {:.6g} {:.6g}\n", p.x(), p.y(), p.z());
  for (const auto& t : s.triangles) out += fmt::format("f {} {} {}\n", t[0] + 1, t[1] + 1, t[2] + 1);
  for (size_t k = 0; k < s.drops.size(); ++k) out += fmt::format("p {}\n", s.points.size() + k + 1);
  return out;
}

std::string vtu_of(const Surface& s) {
  std::string out = fmt::format(
      "<?xml version=\"1.0\"?>\n<VTKFile type=\"UnstructuredGrid\" version=\"0.1\" "
      "byte_order=\"LittleEndian\">\n<UnstructuredGrid>\n<Piece NumberOfPoints=\"{}\" NumberOfCells=\"{}\">\n"
      "<Points>\n<DataArray type=\"Float64\" NumberOfComponents=\"3\" format=\"ascii\">\n",
      s.points.size() + s.drops.size(), s.triangles.size() + s.drops.size());
  for (const auto* list : {&s.points, &s.drops})
    for (const Vec3& p : *list) out += fmt::format("{:.6g} {:.6g} {:.6g}\n", p.x(), p.y(), p.z());
  out +=
      "</DataArray>\n</Points>\n<Cells>\n<DataArray type=\"Int32\" Name=\"connectivity\" format=\"ascii\">\n";
  for (const auto& t : s.triangles) out += fmt::format("{} {} {}\n", t[0], t[1], t[2]);
  for (size_t k = 0; k < s.drops.size(); ++k) out += fmt::format("{}\n", s.points.size() + k);
  out += "</DataArray>\n<DataArray type=\"Int32\" Name=\"offsets\" format=\"ascii\">\n";
  for (size_t k = 0; k < s.triangles.size(); ++k) out += fmt::format("{}\n", 3 * (k + 1));
  for (size_t k = 0; k < s.drops.size(); ++k) out += fmt::format("{}\n", 3 * s.triangles.size() + k + 1);
  out += "</DataArray>\n<DataArray type=\"UInt8\" Name=\"types\" format=\"ascii\">\n";
  for (size_t k = 0; k < s.triangles.size(); ++k) out += "5\n";  // a triangle
  for (size_t k = 0; k < s.drops.size(); ++k) out += "1\n";      // a point
  return out + "</DataArray>\n</Cells>\n</Piece>\n</UnstructuredGrid>\n</VTKFile>\n";
}

}  // namespace uadze::resolved
