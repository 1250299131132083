#include "core/slosh/modes.h"

#include <Eigen/Eigenvalues>
#include <algorithm>
#include <boost/math/special_functions/legendre.hpp>
#include <cmath>
#include <numbers>

#include "core/slosh/planar_tank.h"
#include "core/tank/clip.h"

namespace uadze::slosh {
namespace {

using Matrix = Eigen::MatrixXd;

/// Gauss-Legendre points and weights on 0..1.
std::vector<std::pair<double, double>> gauss(int n) {
  std::vector<std::pair<double, double>> out;
  for (double x : boost::math::legendre_p_zeros<double>(n)) {
    const double slope = boost::math::legendre_p_prime(n, x), weight = 1 / ((1 - x * x) * slope * slope);
    out.emplace_back((1 - x) / 2, weight);
    if (x > 0) out.emplace_back((1 + x) / 2, weight);
  }
  return out;
}

/// Real regular solid harmonics of degree 1 to `degree` at a point, with their gradients. R_l^m by the usual
/// recurrences; in this normalisation its derivatives are again single solid harmonics of degree l - 1
/// (Epton and Dembart 1995, Multipole translation theory for the three-dimensional Laplace equation).
class Harmonics {
 public:
  explicit Harmonics(int degree)
      : degree_(degree),
        c_(size(degree)),
        s_(size(degree)),
        by_height_(size(degree)),
        by_square_(size(degree)) {
    for (int l = 1; l <= degree; ++l)
      for (int m = 0; m < l; ++m) {
        const double k = 1.0 / ((l + m) * (l - m));
        by_height_[index(l, m)] = k * (2 * l - 1), by_square_[index(l, m)] = l - 2 >= m ? k : 0.0;
      }
  }
  int count() const { return (degree_ + 1) * (degree_ + 1) - 1; }

  void at(const Vec3& p, double* value, double* gx, double* gy, double* gz) {
    const double x = p.x(), y = p.y(), z = p.z(), r2 = p.squaredNorm();
    c_[0] = 1, s_[0] = 0;
    for (int m = 0; m <= degree_; ++m) {
      if (m > 0) {
        const double c = c_[index(m - 1, m - 1)], s = s_[index(m - 1, m - 1)];
        c_[index(m, m)] = (x * c - y * s) / (2 * m);
        s_[index(m, m)] = (x * s + y * c) / (2 * m);
      }
      for (int l = m + 1; l <= degree_; ++l) {
        const double high = by_height_[index(l, m)] * z, square = by_square_[index(l, m)] * r2;
        const size_t here = index(l, m), below = index(l - 1, m), under = index(std::max(l - 2, m), m);
        c_[here] = high * c_[below] - square * c_[under];
        s_[here] = high * s_[below] - square * s_[under];
      }
    }
    int n = 0;
    const auto c = [&](int l, int m) { return m > l ? 0.0 : c_[index(l, m)]; };
    const auto s = [&](int l, int m) { return m > l ? 0.0 : s_[index(l, m)]; };
    for (int l = 1; l <= degree_; ++l) {
      value[n] = c(l, 0), gx[n] = -c(l - 1, 1), gy[n] = -s(l - 1, 1), gz[n] = c(l - 1, 0);
      ++n;
      for (int m = 1; m <= l; ++m) {
        value[n] = c(l, m);
        gx[n] = (c(l - 1, m - 1) - c(l - 1, m + 1)) / 2;
        gy[n] = (-s(l - 1, m - 1) - s(l - 1, m + 1)) / 2;
        gz[n] = c(l - 1, m);
        ++n;
        value[n] = s(l, m);
        gx[n] = (s(l - 1, m - 1) - s(l - 1, m + 1)) / 2;
        gy[n] = (c(l - 1, m - 1) + c(l - 1, m + 1)) / 2;
        gz[n] = s(l - 1, m);
        ++n;
      }
    }
  }

 private:
  static size_t size(int degree) { return static_cast<size_t>((degree + 1) * (degree + 2) / 2); }
  static size_t index(int l, int m) { return static_cast<size_t>(l * (l + 1) / 2 + m); }
  int degree_;
  std::vector<double> c_, s_, by_height_, by_square_;
};

struct Point {
  Vec3 at, normal;
  double weight;   // m2
  double surface;  // 1 on the free surface, -1 where what is cut out of the fuel takes of it, 0 on walls
};

/// Points over the boundary of the fuel; more of them on larger triangles.
std::vector<Point> boundary_points(const tank::Solid& fuel, const tank::Plane& surface, double size,
                                   int degree) {
  std::vector<Point> out;
  const double flat = 1e-9 * size;
  for (size_t i = 0; i < fuel.triangles().size(); ++i) {
    const Vec3 area = fuel.triangle_areas()[i];
    const double a = area.norm();
    if (a < 1e-14) continue;
    const auto corner = [&](int k) {
      return fuel.vertices()[static_cast<size_t>(fuel.triangles()[i][static_cast<size_t>(k)])];
    };
    const Vec3 p = corner(0), q = corner(1), r = corner(2);
    const double longest = std::max({(q - p).norm(), (r - q).norm(), (p - r).norm()}) / size;
    // One more than the degree takes the squares of the functions exactly.
    const int n = longest > 0.25    ? degree + 1
                  : longest > 0.08  ? degree / 2 + 2
                  : longest > 0.03  ? 3
                  : longest > 0.015 ? 2
                                    : 1;
    const auto over = [&](const Vec3& v) { return std::abs(surface.normal.dot(v) - surface.offset) < flat; };
    const bool on_surface = over(p) && over(q) && over(r);
    const double side = !on_surface ? 0.0 : area.dot(surface.normal) > 0 ? 1.0 : -1.0;
    const auto rule = gauss(n);
    // The square folded onto the triangle (Duffy).
    for (const auto& [u, wu] : rule)
      for (const auto& [v, wv] : rule)
        out.push_back({p + u * ((q - p) + v * (r - q)), area / a, 2 * a * u * wu * wv, side});
  }
  return out;
}

}  // namespace

Modes first_modes(const tank::Solid& solid, double volume, const Vec3& f, const ModeOptions& options) {
  Modes out;
  const double pull = f.norm();
  const auto ends = [&](ModeState state) {
    out.state = state;
    return out;
  };
  if (!(volume > 1e-6 * solid.volume())) return ends(ModeState::no_fuel);
  if (!(pull > 0) || !(volume < (1 - 1e-6) * solid.volume())) return ends(ModeState::no_surface);
  const Vec3 n = -f / pull;
  tank::PlaneCutter cutter(solid);
  cutter.aim(n);
  const tank::Plane surface{n, cutter.offset_for(volume).offset};
  const tank::Solid fuel = clipped(solid, surface);
  const Vec3 middle = fuel.middle();
  const double size = fuel.size() / 2;
  const std::vector<Point> points = boundary_points(fuel, surface, 2 * size, options.degree);
  if (!(size > 0) || points.empty()) return ends(ModeState::failed);

  // Axes of the harmonics along the surface, so that up is their z.
  Mat3 turn;
  turn.col(2) = n;
  turn.col(0) = n.unitOrthogonal();
  turn.col(1) = n.cross(turn.col(0));
  Harmonics harmonics(options.degree);
  const int count = harmonics.count(), total = static_cast<int>(points.size());
  Matrix value(count, total), flux(count, total);
  Eigen::VectorXd gx(count), gy(count), gz(count);
  int wet = 0;
  for (int k = 0; k < total; ++k) {
    const Point& p = points[static_cast<size_t>(k)];
    const Vec3 local = turn.transpose() * (p.at - middle) / size, normal = turn.transpose() * p.normal;
    harmonics.at(local, value.col(k).data(), gx.data(), gy.data(), gz.data());
    flux.col(k) = (gx * normal.x() + gy * normal.y() + gz * normal.z()) * (p.weight / size);
    wet += p.surface != 0;
  }
  // On the free surface each function less its mean: a common rise moves no fuel.
  Matrix on_surface(count, wet), weighted(count, wet);
  Matrix moments(count, 2);  // with the level coordinates: which way a mode moves the centroid
  moments.setZero();
  Eigen::Vector2d first_moment = Eigen::Vector2d::Zero();
  Eigen::Matrix2d second_moment = Eigen::Matrix2d::Zero();
  double area = 0;
  Eigen::VectorXd mean = Eigen::VectorXd::Zero(count);
  for (int k = 0, w = 0; k < total; ++k) {
    const Point& p = points[static_cast<size_t>(k)];
    if (p.surface == 0) continue;
    on_surface.col(w) = value.col(k);
    const double weight = p.weight * p.surface;
    weighted.col(w++) = value.col(k) * weight;
    mean += value.col(k) * weight;
    area += weight;
  }
  if (!(area > 0)) return ends(ModeState::no_surface);
  mean /= area;
  for (int k = 0, w = 0; k < total; ++k) {
    const Point& p = points[static_cast<size_t>(k)];
    if (p.surface == 0) continue;
    on_surface.col(w) -= mean;
    weighted.col(w) -= mean * p.weight * p.surface;
    const Vec3 local = turn.transpose() * (p.at - middle);
    moments.col(0) += weighted.col(w) * local.x();
    moments.col(1) += weighted.col(w) * local.y();
    first_moment += p.weight * p.surface * local.head<2>();
    second_moment += p.weight * p.surface * local.head<2>() * local.head<2>().transpose();
    ++w;
  }
  second_moment -= first_moment * first_moment.transpose() / area;
  Matrix stiffness = value * flux.transpose();
  stiffness = ((stiffness + stiffness.transpose()) / 2).eval();
  const Matrix mass = on_surface * weighted.transpose();

  // Functions that hardly differ over this fuel are left out: their part of the stiffness is rounding.
  const Eigen::VectorXd scale = stiffness.diagonal().cwiseMax(1e-300).cwiseSqrt().cwiseInverse();
  const Eigen::SelfAdjointEigenSolver<Matrix> kinetic(scale.asDiagonal() * stiffness * scale.asDiagonal());
  const double largest = kinetic.eigenvalues().maxCoeff();
  int first = 0;
  while (first < count && kinetic.eigenvalues()[first] < 1e-11 * largest) ++first;
  const int kept = count - first;
  const Matrix basis = scale.asDiagonal() * kinetic.eigenvectors().rightCols(kept) *
                       kinetic.eigenvalues().tail(kept).cwiseSqrt().cwiseInverse().asDiagonal();
  const Eigen::SelfAdjointEigenSolver<Matrix> sloshing(basis.transpose() * mass * basis);
  out.functions = kept;
  out.points = total;
  for (int i = kept - 1; i >= 0 && static_cast<int>(out.frequency.size()) < options.count; --i) {
    const double period = sloshing.eigenvalues()[i];  // g/w2
    if (!(period > 0)) break;
    out.frequency.push_back(std::sqrt(pull / period));
    const Eigen::VectorXd shape = basis * sloshing.eigenvectors().col(i);
    Eigen::Vector2d way = moments.transpose() * shape;
    // Against what the mode could move at most with this surface (Cauchy-Schwarz).
    const double strength =
        way.norm() / (std::sqrt(std::max(shape.dot(mass * shape), 1e-300)) * std::sqrt(area) * size);
    Vec3 direction = Vec3::Zero();
    double share = 0;
    if (strength > 0.02) {
      const double most = shape.dot(mass * shape) * way.normalized().dot(second_moment * way.normalized());
      share = most > 0 ? std::min(way.squaredNorm() / most, 1.0) : 0.0;
      way.normalize();
      direction = turn.col(0) * way.x() + turn.col(1) * way.y();
      int main = 0;
      direction.cwiseAbs().maxCoeff(&main);
      if (direction[main] < 0) direction = -direction;
    }
    out.direction.push_back(direction);
    out.share.push_back(share);
  }
  const bool good = kinetic.info() == Eigen::Success && sloshing.info() == Eigen::Success &&
                    !out.frequency.empty() && std::isfinite(out.frequency[0]);
  if (!good) {
    out.frequency.clear(), out.direction.clear(), out.share.clear();
    return ends(ModeState::failed);
  }
  if (options.estimate_change) {
    ModeOptions finer = options;
    finer.degree += 2;
    finer.estimate_change = false;
    const Modes more = first_modes(solid, volume, f, finer);
    if (!more.frequency.empty()) out.change = more.frequency[0] / out.frequency[0] - 1;
  }
  return out;
}

PlaneSwing plane_swing(const tank::Solid& solid, double volume, const ModeOptions& options) {
  constexpr double least = 0.03;
  tank::PlaneCutter cutter(solid);
  cutter.aim(Vec3::UnitZ());
  PlaneSwing out{section_modes(cutter.cut(cutter.offset_for(volume).offset).section, volume, Vec3::UnitZ(),
                               solid.size()),
                 {}};
  const SectionModes& section = out.section;
  const Modes modes = first_modes(solid, volume, Vec3(0, 0, -standard_gravity), options);
  std::array<double, 2> periods{}, shares{};  // periods: 1/w2, weighted
  for (size_t k = 0; k < modes.frequency.size(); ++k) {
    double part[2], along = 0;
    for (size_t i = 0; i < 2; ++i) {
      part[i] = modes.direction[k].dot(section.axis[i]);
      along += section.second[i] * part[i] * part[i];
    }
    for (size_t i = 0; i < 2; ++i) {
      const double share = modes.share[k] * along / section.second[i] * part[i] * part[i];
      if (share < least) continue;
      shares[i] += share;
      periods[i] += share / (modes.frequency[k] * modes.frequency[k]);
    }
  }
  for (size_t i = 0; i < 2; ++i)
    if (shares[i] > 0) out.frequency[i] = std::sqrt(shares[i] / periods[i]);
  return out;
}

InertiaTable inertia_table(const tank::Solid& solid) {
  InertiaTable out;
  for (const double fill : {0.08, 0.2, 0.35, 0.5, 0.65, 0.8, 0.92}) {
    const double volume = fill * solid.volume();
    const auto [box, w] = plane_swing(solid, volume);
    InertiaTable::Row row{fill, box.axis[0], 1.0, 1.0};
    for (size_t i = 0; i < 2; ++i)
      if (w[i] > 0)
        (i == 0 ? row.along : row.across) =
            std::clamp(standard_gravity * volume / (box.second[i] * w[i] * w[i]) / box.inertia[i], 0.3, 4.0);
    out.rows.push_back(row);
  }
  return out;
}

TankInertia tank_inertia(const tank::Tank& tank) {
  TankInertia out;
  for (const tank::Space& s : tank.spaces) out.push_back(inertia_table(s.body));
  return out;
}

}  // namespace uadze::slosh
