#include "core/tank/mesh_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <unordered_map>

namespace uadze::tank {
namespace {

constexpr size_t shown_triangles = 2000;

// As the file writes it.
std::string in_file_units(const Vec3& p) {
  return fmt::format("({:.6g}, {:.6g}, {:.6g})", p.x(), p.y(), p.z());
}

struct EdgeUse {
  int triangle;
  bool forward;  // from the lower to the higher vertex
};

using Edges = std::unordered_map<std::uint64_t, std::vector<EdgeUse>>;

std::uint64_t edge_key(int a, int b) {
  const auto [low, high] = std::minmax(a, b);
  return static_cast<std::uint64_t>(low) << 32 | static_cast<std::uint32_t>(high);
}

Edges edges_of(const MeshFile& mesh) {
  Edges out;
  out.reserve(mesh.triangles.size() * 2);
  for (size_t i = 0; i < mesh.triangles.size(); ++i)
    for (size_t k = 0; k < 3; ++k) {
      const int a = mesh.triangles[i][k], b = mesh.triangles[i][(k + 1) % 3];
      if (a != b) out[edge_key(a, b)].push_back({static_cast<int>(i), a < b});
    }
  return out;
}

Vec3 corner(const MeshFile& m, int triangle, size_t k) {
  return m.vertices[static_cast<size_t>(m.triangles[static_cast<size_t>(triangle)][k])];
}

/// Shells: triangles joined over edges. Number of each triangle's shell.
std::vector<int> shells_of(const MeshFile& mesh, const Edges& edges, int& count) {
  std::vector<int> parent(mesh.triangles.size());
  std::iota(parent.begin(), parent.end(), 0);
  const auto root = [&](int i) {
    while (parent[static_cast<size_t>(i)] != i)
      i = parent[static_cast<size_t>(i)] = parent[static_cast<size_t>(parent[static_cast<size_t>(i)])];
    return i;
  };
  for (const auto& [key, uses] : edges)
    for (size_t k = 1; k < uses.size(); ++k) {
      const int a = root(uses[0].triangle), b = root(uses[k].triangle);
      parent[static_cast<size_t>(std::max(a, b))] = std::min(a, b);
    }
  std::vector<int> out(parent.size());
  std::map<int, int> number;
  for (size_t i = 0; i < parent.size(); ++i)
    out[i] = number.try_emplace(root(static_cast<int>(i)), static_cast<int>(number.size())).first->second;
  count = static_cast<int>(number.size());
  return out;
}

bool segment_meets(const Vec3& p, const Vec3& q, const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 n = (b - a).cross(c - a);
  const double dp = n.dot(p - a), dq = n.dot(q - a), little = 1e-12 * n.norm() * (q - p).norm();
  if (!(dp * dq < 0) || std::abs(dp) < little || std::abs(dq) < little) return false;
  const Vec3 x = p + (q - p) * (dp / (dp - dq));
  const double s = 1e-9 * n.squaredNorm();
  return n.dot((b - a).cross(x - a)) > s && n.dot((c - b).cross(x - b)) > s &&
         n.dot((a - c).cross(x - c)) > s;
}

/// Pairs of triangles that share no corner and cut through each other; stops after `most`.
std::vector<std::pair<int, int>> crossings(const MeshFile& mesh, size_t most) {
  const size_t n = mesh.triangles.size();
  std::vector<Vec3> low(n), high(n);
  Vec3 all_low = Vec3::Constant(1e300), all_high = Vec3::Constant(-1e300);
  double span = 0;
  for (size_t i = 0; i < n; ++i) {
    const int t = static_cast<int>(i);
    low[i] = corner(mesh, t, 0).cwiseMin(corner(mesh, t, 1)).cwiseMin(corner(mesh, t, 2));
    high[i] = corner(mesh, t, 0).cwiseMax(corner(mesh, t, 1)).cwiseMax(corner(mesh, t, 2));
    all_low = all_low.cwiseMin(low[i]), all_high = all_high.cwiseMax(high[i]);
    span += (high[i] - low[i]).maxCoeff();
  }
  // Sweep along the longest axis over strips of the second: pairs whose boxes overlap are looked at.
  int axis = 0;
  (all_high - all_low).maxCoeff(&axis);
  const int across = (axis + 1) % 3;
  const double width =
      std::max(2 * span / static_cast<double>(n), (all_high[across] - all_low[across]) / 400);
  std::map<int, std::vector<int>> strips;
  for (size_t i = 0; i < n; ++i) {
    const int first = static_cast<int>((low[i][across] - all_low[across]) / width),
              last = static_cast<int>((high[i][across] - all_low[across]) / width);
    for (int s = first; s <= last; ++s) strips[s].push_back(static_cast<int>(i));
  }
  std::set<std::pair<int, int>> found;
  for (auto& [strip, members] : strips) {
    std::sort(members.begin(), members.end(), [&](int a, int b) {
      const double la = low[static_cast<size_t>(a)][axis], lb = low[static_cast<size_t>(b)][axis];
      return la != lb ? la < lb : a < b;
    });
    for (size_t i = 0; i < members.size(); ++i) {
      const auto a = static_cast<size_t>(members[i]);
      for (size_t j = i + 1; j < members.size(); ++j) {
        const auto b = static_cast<size_t>(members[j]);
        if (low[b][axis] > high[a][axis]) break;
        if ((low[a].array() > high[b].array()).any() || (low[b].array() > high[a].array()).any()) continue;
        const Triangle &ta = mesh.triangles[a], &tb = mesh.triangles[b];
        if (std::any_of(ta.begin(), ta.end(), [&](int v) { return v == tb[0] || v == tb[1] || v == tb[2]; }))
          continue;
        bool meet = false;
        for (size_t k = 0; k < 3 && !meet; ++k) {
          const int ia = static_cast<int>(a), ib = static_cast<int>(b);
          meet = segment_meets(corner(mesh, ia, k), corner(mesh, ia, (k + 1) % 3), corner(mesh, ib, 0),
                               corner(mesh, ib, 1), corner(mesh, ib, 2)) ||
                 segment_meets(corner(mesh, ib, k), corner(mesh, ib, (k + 1) % 3), corner(mesh, ia, 0),
                               corner(mesh, ia, 1), corner(mesh, ia, 2));
        }
        if (meet) found.insert(std::minmax(members[i], members[j]));
        if (found.size() >= most) return {found.begin(), found.end()};
      }
    }
  }
  return {found.begin(), found.end()};
}

double signed_volume(const MeshFile& mesh, const std::vector<int>& shell, int wanted) {
  double sum = 0;
  const Vec3 apex = mesh.vertices.front();
  for (size_t i = 0; i < mesh.triangles.size(); ++i) {
    if (wanted >= 0 && shell[i] != wanted) continue;
    const int t = static_cast<int>(i);
    sum += (corner(mesh, t, 0) - apex).dot((corner(mesh, t, 1) - apex).cross(corner(mesh, t, 2) - apex)) / 6;
  }
  return sum;
}

double extent(const MeshFile& mesh) {
  Vec3 low = Vec3::Constant(1e300), high = Vec3::Constant(-1e300);
  for (const Vec3& v : mesh.vertices) low = low.cwiseMin(v), high = high.cwiseMax(v);
  return (high - low).norm();
}

void weld(MeshFile& mesh) {
  const double near = 1e-5 * extent(mesh);
  if (!(near > 0)) return;
  // Cells twice the distance wide; each vertex looks into the cells around it.
  std::map<std::array<long, 3>, std::vector<int>> cells;
  std::vector<Vec3> kept;
  std::vector<int> to(mesh.vertices.size());
  for (size_t i = 0; i < mesh.vertices.size(); ++i) {
    const Vec3& p = mesh.vertices[i];
    std::array<long, 3> c{};
    for (int k = 0; k < 3; ++k) c[static_cast<size_t>(k)] = static_cast<long>(std::floor(p[k] / (2 * near)));
    int same = -1;
    for (long dx = -1; dx <= 1 && same < 0; ++dx)
      for (long dy = -1; dy <= 1 && same < 0; ++dy)
        for (long dz = -1; dz <= 1 && same < 0; ++dz)
          if (const auto cell = cells.find({c[0] + dx, c[1] + dy, c[2] + dz}); cell != cells.end())
            for (int k : cell->second)
              if ((kept[static_cast<size_t>(k)] - p).norm() <= near) same = k;
    if (same < 0) {
      same = static_cast<int>(kept.size());
      kept.push_back(p);
      cells[c].push_back(same);
    }
    to[i] = same;
  }
  mesh.vertices = std::move(kept);
  for (Triangle& t : mesh.triangles)
    for (int& v : t) v = to[static_cast<size_t>(v)];
}

bool is_flat(const MeshFile& mesh, int t, double size) {
  const Vec3 a = corner(mesh, t, 0), b = corner(mesh, t, 1), c = corner(mesh, t, 2);
  return (b - a).cross(c - a).norm() <= 1e-14 * size * size;
}

void drop(MeshFile& mesh) {
  const double size = extent(mesh);
  std::set<Triangle> seen;
  std::vector<Triangle> kept;
  for (size_t i = 0; i < mesh.triangles.size(); ++i) {
    Triangle sorted = mesh.triangles[i];
    std::sort(sorted.begin(), sorted.end());
    if (sorted[0] == sorted[1] || sorted[1] == sorted[2] || is_flat(mesh, static_cast<int>(i), size))
      continue;
    if (seen.insert(sorted).second) kept.push_back(mesh.triangles[i]);
  }
  mesh.triangles = std::move(kept);
}

void orient(MeshFile& mesh) {
  const Edges edges = edges_of(mesh);
  std::vector<char> done(mesh.triangles.size(), 0);
  for (size_t start = 0; start < mesh.triangles.size(); ++start) {
    if (done[start]) continue;
    std::vector<int> waiting{static_cast<int>(start)}, part;
    done[start] = 1;
    while (!waiting.empty()) {
      const int t = waiting.back();
      waiting.pop_back();
      part.push_back(t);
      for (size_t k = 0; k < 3; ++k) {
        const int a = mesh.triangles[static_cast<size_t>(t)][k],
                  b = mesh.triangles[static_cast<size_t>(t)][(k + 1) % 3];
        const auto found = edges.find(edge_key(a, b));
        if (found == edges.end() || found->second.size() != 2) continue;
        for (const EdgeUse& use : found->second) {
          if (done[static_cast<size_t>(use.triangle)]) continue;
          Triangle& other = mesh.triangles[static_cast<size_t>(use.triangle)];
          // A neighbour runs along the common edge the other way.
          for (size_t j = 0; j < 3; ++j)
            if (other[j] == a && other[(j + 1) % 3] == b) {
              std::swap(other[0], other[1]);
              break;
            }
          done[static_cast<size_t>(use.triangle)] = 1;
          waiting.push_back(use.triangle);
        }
      }
    }
    double volume = 0;
    for (int t : part)
      volume +=
          (corner(mesh, t, 0) - mesh.vertices[0])
              .dot((corner(mesh, t, 1) - mesh.vertices[0]).cross(corner(mesh, t, 2) - mesh.vertices[0]));
    if (volume < 0)
      for (int t : part)
        std::swap(mesh.triangles[static_cast<size_t>(t)][0], mesh.triangles[static_cast<size_t>(t)][1]);
  }
}

void fill(MeshFile& mesh) {
  const double size = extent(mesh);
  std::map<int, int> next;  // along the holes' edges, the way that closing triangles run
  for (const auto& [key, uses] : edges_of(mesh))
    if (uses.size() == 1) {
      const int low = static_cast<int>(key >> 32), high = static_cast<int>(key & 0xffffffffU);
      uses[0].forward ? next.emplace(high, low) : next.emplace(low, high);
    }
  while (!next.empty()) {
    std::vector<int> loop;
    for (auto at = next.begin(); at != next.end();) {
      loop.push_back(at->first);
      const int to = at->second;
      next.erase(at);
      at = next.find(to);
      if (at == next.end() && to != loop.front()) loop.clear();
    }
    if (loop.size() < 3) continue;
    Vec3 normal = Vec3::Zero();
    const auto point = [&](size_t i) { return mesh.vertices[static_cast<size_t>(loop[i % loop.size()])]; };
    for (size_t i = 0; i < loop.size(); ++i) normal += (point(i) - point(0)).cross(point(i + 1) - point(0));
    if (!(normal.norm() > 0)) continue;
    normal.normalize();
    double off = 0;
    for (size_t i = 0; i < loop.size(); ++i) off = std::max(off, std::abs(normal.dot(point(i) - point(0))));
    if (off > 1e-3 * size) continue;
    std::vector<Vec2> flat;
    const Vec3 u = normal.unitOrthogonal(), v = normal.cross(u);
    for (size_t i = 0; i < loop.size(); ++i) flat.emplace_back(u.dot(point(i)), v.dot(point(i)));
    for (const Triangle& t : triangulate(flat))
      mesh.triangles.push_back({loop[static_cast<size_t>(t[0])], loop[static_cast<size_t>(t[1])],
                                loop[static_cast<size_t>(t[2])]});
  }
}

}  // namespace

bool MeshReport::usable() const {
  return std::none_of(findings.begin(), findings.end(),
                      [](const MeshFinding& f) { return f.severity == Severity::error; });
}

MeshReport check_mesh(const MeshFile& mesh, double unit) {
  MeshReport out;
  out.vertices = mesh.vertices.size(), out.triangles = mesh.triangles.size();
  Vec3 low = Vec3::Constant(1e300), high = Vec3::Constant(-1e300);
  for (const Vec3& v : mesh.vertices) low = low.cwiseMin(v), high = high.cwiseMax(v);
  out.size = (high - low) * unit;
  const double size = (high - low).norm();
  const auto find = [&](MeshFault fault, Severity severity, const std::vector<int>& triangles, int count,
                        const Vec3& where, std::string text, std::string mend) {
    MeshFinding f{fault, severity, count, where, triangles, std::move(text), std::move(mend)};
    if (f.triangles.size() > shown_triangles) f.triangles.resize(shown_triangles);
    out.findings.push_back(std::move(f));
  };
  if (mesh.triangles.empty()) {
    out.size = Vec3::Zero();
    find(MeshFault::no_volume, Severity::error, {}, 0, Vec3::Zero(), "no triangle left", "");
    return out;
  }
  const auto middle = [&](int t) {
    return Vec3((corner(mesh, t, 0) + corner(mesh, t, 1) + corner(mesh, t, 2)) / 3);
  };

  std::vector<int> flat, repeated;
  std::set<Triangle> seen;
  for (size_t i = 0; i < mesh.triangles.size(); ++i) {
    Triangle sorted = mesh.triangles[i];
    std::sort(sorted.begin(), sorted.end());
    if (is_flat(mesh, static_cast<int>(i), size))
      flat.push_back(static_cast<int>(i));
    else if (!seen.insert(sorted).second)
      repeated.push_back(static_cast<int>(i));
  }
  if (!flat.empty())
    find(MeshFault::flat_triangle, Severity::warning, flat, static_cast<int>(flat.size()), middle(flat[0]),
         fmt::format("{} triangles without area, the first at {}", flat.size(),
                     in_file_units(middle(flat[0]))),
         "drop");
  if (!repeated.empty())
    find(MeshFault::repeated_triangle, Severity::error, repeated, static_cast<int>(repeated.size()),
         middle(repeated[0]),
         fmt::format("{} triangles stand twice, the first at {}", repeated.size(),
                     in_file_units(middle(repeated[0]))),
         "drop");

  const Edges edges = edges_of(mesh);
  std::vector<std::pair<std::uint64_t, int>> open, crowded, turned;
  for (const auto& [key, uses] : edges) {
    if (uses.size() == 1)
      open.emplace_back(key, uses[0].triangle);
    else if (uses.size() > 2)
      crowded.emplace_back(key, uses[0].triangle);
    else if (uses[0].forward == uses[1].forward)
      turned.emplace_back(key, std::max(uses[0].triangle, uses[1].triangle));
  }
  const auto edge_finding = [&](MeshFault fault, std::vector<std::pair<std::uint64_t, int>>& list,
                                const char* what, const char* mend) {
    if (list.empty()) return;
    std::sort(list.begin(), list.end());
    const Vec3 at = (mesh.vertices[static_cast<size_t>(list[0].first >> 32)] +
                     mesh.vertices[static_cast<size_t>(list[0].first & 0xffffffffU)]) /
                    2;
    std::vector<int> triangles;
    for (const auto& [key, triangle] : list) triangles.push_back(triangle);
    find(fault, Severity::error, triangles, static_cast<int>(list.size()), at,
         fmt::format("{} {}, the first at {}", list.size(), what, in_file_units(at)), mend);
  };
  // Holes whose edge would close if near vertices were one are gaps; others want filling.
  const char* open_mend = "weld";
  if (!open.empty()) {
    MeshFile tried = mesh;
    weld(tried);
    for (const auto& [key, uses] : edges_of(tried))
      if (uses.size() == 1) {
        open_mend = "fill";
        break;
      }
  }
  edge_finding(MeshFault::open_edge, open, "edges with a triangle on one side only: the surface is open",
               open_mend);
  edge_finding(MeshFault::crowded_edge, crowded, "edges with more than two triangles", "drop");
  edge_finding(MeshFault::turned, turned, "edges over which neighbours face opposite ways", "orient");

  const std::vector<int> shell = shells_of(mesh, edges, out.shells);
  const double volume = signed_volume(mesh, shell, -1);
  out.volume = volume * unit * unit * unit;
  const bool closed = open.empty() && crowded.empty() && turned.empty();
  if (closed && volume < 0)
    find(MeshFault::inside_out, Severity::error, {0}, 1, middle(0),
         "the whole surface faces inward: it is inside out", "orient");
  if (!(std::abs(volume) > 1e-9 * size * size * size))
    find(MeshFault::no_volume, Severity::error, {0}, 1, middle(0),
         "the surface encloses no volume: it is flat", "");
  if (out.shells > 1)
    find(MeshFault::shells, Severity::warning, {}, out.shells, low,
         fmt::format("{} separate shells: fuel does not pass between them, and a shell within another counts "
                     "as a hollow only if it faces inward",
                     out.shells),
         "");
  const auto pairs = crossings(mesh, 1000);
  if (!pairs.empty()) {
    std::vector<int> triangles;
    for (const auto& [a, b] : pairs) triangles.push_back(a), triangles.push_back(b);
    find(MeshFault::crossing, Severity::error, triangles, static_cast<int>(pairs.size()),
         middle(pairs[0].first),
         fmt::format("{} pairs of triangles cut through each other{}, the first at {}", pairs.size(),
                     pairs.size() >= 1000 ? " or more" : "", in_file_units(middle(pairs[0].first))),
         "");
  }
  const double litres = std::abs(out.volume) * 1e3;
  if (litres > 0 && (litres < 0.2 || litres > 2000))
    find(MeshFault::odd_size, Severity::warning, {}, 1, low,
         fmt::format(
             "{:.4g} L, {:.4g} x {:.4g} x {:.4g} mm: no tank is of this size; is the file's unit right?",
             litres, out.size.x() * 1e3, out.size.y() * 1e3, out.size.z() * 1e3),
         "");
  return out;
}

const std::vector<std::string>& mesh_mends() {
  static const std::vector<std::string> names{"weld", "drop", "fill", "orient"};
  return names;
}

MeshFile mended(MeshFile mesh, const std::vector<std::string>& mends) {
  // Always in the order that lets each build on the one before.
  for (const std::string& mend : mesh_mends()) {
    if (mesh.triangles.empty()) break;
    if (std::find(mends.begin(), mends.end(), mend) == mends.end()) continue;
    if (mend == "weld") weld(mesh);
    if (mend == "drop") drop(mesh);
    if (mend == "fill") fill(mesh);
    if (mend == "orient") orient(mesh);
  }
  return mesh;
}

std::optional<Mat3> axes_matrix(const std::string& axes) {
  Mat3 out = Mat3::Zero();
  int row = 0;
  double sign = 1;
  for (char c : axes) {
    if (c == ' ' || c == '+') continue;
    if (c == '-') {
      sign = -1;
    } else if (c >= 'x' && c <= 'z' && row < 3) {
      out(row++, c - 'x') = sign;
      sign = 1;
    } else {
      return std::nullopt;
    }
  }
  if (row != 3 || std::abs(out.determinant() - 1) > 1e-9) return std::nullopt;
  return out;
}

std::shared_ptr<const Solid> load_mesh(const MeshShape& shape, const std::filesystem::path& folder) {
  const std::filesystem::path path = std::filesystem::path(shape.file).is_absolute()
                                         ? std::filesystem::path(shape.file)
                                         : folder / shape.file;
  MeshFile mesh = mended(read_mesh(path), shape.mends);
  const MeshReport report = check_mesh(mesh, shape.unit);
  Messages errors;
  for (const MeshFinding& f : report.findings)
    if (f.severity == Severity::error)
      errors.push_back({Severity::error, path.string(), "", "",
                        f.text + (f.mend.empty() ? "" : "; the mend \"" + f.mend + "\" may help")});
  if (!errors.empty()) throw InputError(std::move(errors));
  const auto turn = axes_matrix(shape.axes);
  if (!turn)
    throw InputError(Message{.file = path.string(),
                             .expected = "axes such as \"x y z\" or \"-y x z\" that do not mirror the mesh",
                             .found = "\"" + shape.axes + "\""});
  for (Vec3& v : mesh.vertices) v = *turn * v * shape.unit + shape.move;
  return std::make_shared<const Solid>(std::move(mesh.vertices), std::move(mesh.triangles));
}

}  // namespace uadze::tank
