#include "core/tank/faces.h"

#include <algorithm>

namespace uadze::tank {
void FaceBlock::put(size_t lane, const Vec3& pa, const Vec3& pb, const Vec3& pc, const Vec3& of_area,
                    double of_weight) {
  for (int i = 0; i < 3; ++i) {
    const auto k = static_cast<size_t>(i);
    a[k][lane] = pa[i], b[k][lane] = pb[i], c[k][lane] = pc[i], area[k][lane] = of_area[i];
  }
  weight[lane] = of_weight;
}

void FaceBlock::repeat(size_t lane) {
  for (size_t k = 0; k < 3; ++k) {
    a[k][lane] = a[k][0], b[k][lane] = b[k][0], c[k][lane] = c[k][0];
    area[k][lane] = 0;
  }
  weight[lane] = 0;
}

UADZE_WIDE HeightRange turn(const FaceBlock* blocks, size_t count, const Vec3& normal, TurnedBlock* out) {
  const double nx = normal.x(), ny = normal.y(), nz = normal.z();
  Lane lowest, highest;
  lowest.fill(1e300), highest.fill(-1e300);
  for (size_t g = 0; g < count; ++g) {
    const FaceBlock& in = blocks[g];
    TurnedBlock& t = out[g];
#pragma GCC ivdep
    for (size_t k = 0; k < lanes; ++k) {
      const double ax = in.a[0][k], ay = in.a[1][k], az = in.a[2][k];
      const double bx = in.b[0][k], by = in.b[1][k], bz = in.b[2][k];
      const double cx = in.c[0][k], cy = in.c[1][k], cz = in.c[2][k];
      const double ha = nx * ax + ny * ay + nz * az, hb = nx * bx + ny * by + nz * bz,
                   hc = nx * cx + ny * cy + nz * cz;
      // Three exchanges put them in order; each one turns the triangle round.
      const bool s1 = hb < ha;
      const double h1 = s1 ? hb : ha, h2 = s1 ? ha : hb;
      const double x1 = s1 ? bx : ax, y1 = s1 ? by : ay, z1 = s1 ? bz : az;
      const double x2 = s1 ? ax : bx, y2 = s1 ? ay : by, z2 = s1 ? az : bz;
      const bool s2 = hc < h2;
      const double h3 = s2 ? hc : h2, high = s2 ? h2 : hc;
      const double x3 = s2 ? cx : x2, y3 = s2 ? cy : y2, z3 = s2 ? cz : z2;
      const bool s3 = h3 < h1;
      const double low = s3 ? h3 : h1, middle = s3 ? h1 : h3;
      t.low[k] = low, t.middle[k] = middle, t.high[k] = high;
      t.highest[0][k] = s2 ? x2 : cx, t.highest[1][k] = s2 ? y2 : cy, t.highest[2][k] = s2 ? z2 : cz;
      t.lowest[0][k] = s3 ? x3 : x1, t.lowest[1][k] = s3 ? y3 : y1, t.lowest[2][k] = s3 ? z3 : z1;
      t.between[0][k] = s3 ? x1 : x3, t.between[1][k] = s3 ? y1 : y3, t.between[2][k] = s3 ? z1 : z3;
      double sign = s1 ? -in.weight[k] : in.weight[k];
      sign = s2 ? -sign : sign;
      t.signed_weight[k] = s3 ? -sign : sign;
      // Where two heights coincide the part between them is empty and its factor is never used: any will do.
      const double to_middle = middle - low, from_middle = high - middle, all = high - low;
      const double lower = to_middle > 0 ? to_middle : 1.0, upper = from_middle > 0 ? from_middle : 1.0,
                   whole = all > 0 ? all : 1.0;
      const double per = 1 / (lower * upper * whole);
      t.per_lower[k] = per * upper, t.per_upper[k] = per * lower;
      const double area_x = in.area[0][k], area_y = in.area[1][k], area_z = in.area[2][k];
      t.area[0][k] = area_x, t.area[1][k] = area_y, t.area[2][k] = area_z;
      t.facing[k] = nx * area_x + ny * area_y + nz * area_z;
      lowest[k] = low < lowest[k] ? low : lowest[k];
      highest[k] = high > highest[k] ? high : highest[k];
    }
  }
  return {*std::min_element(lowest.begin(), lowest.end()), *std::max_element(highest.begin(), highest.end())};
}

// With p the plane's height over a triangle's lowest corner and q its depth under the highest, the share of
// the triangle below is p2/((middle - low)(high - low)) up to the middle corner and 1 - q2/((high -
// middle)(high - low)) from there on; the tip that it names has its mean depth at a third of its height.
UADZE_WIDE BelowSums sum_below(const TurnedBlock* blocks, size_t count, double offset) {
  Lane volume{}, area{}, slope{};
  for (size_t g = 0; g < count; ++g) {
    const TurnedBlock& t = blocks[g];
    for (size_t k = 0; k < lanes; ++k) {
      const double over = offset - t.low[k], under = t.high[k] - offset;
      const double p = over > 0 ? over : 0.0, q = under > 0 ? under : 0.0;
      const double lower_rate = p * t.per_lower[k], upper_rate = q * t.per_upper[k];
      const double lower_tip = p * lower_rate, upper_tip = q * upper_rate;
      const bool beyond = offset >= t.middle[k];
      const double share = beyond ? 1 - upper_tip : lower_tip;
      const double whole =
          (t.low[k] - offset) + (t.middle[k] - offset) + (t.high[k] - offset) - upper_tip * q;
      const double depths = beyond ? whole : -lower_tip * p;
      volume[k] += t.facing[k] * depths;
      area[k] -= t.facing[k] * share;
      slope[k] -= t.facing[k] * (beyond ? upper_rate : lower_rate);
    }
  }
  return {total(volume), total(area), total(slope)};
}

UADZE_WIDE void sum_cut(const TurnedBlock* blocks, size_t count, const CutFrame& frame, CutSums& sums) {
  const double offset = frame.offset;
  const double ox = frame.apex.x(), oy = frame.apex.y(), oz = frame.apex.z();
  const double e1x = frame.e1.x(), e1y = frame.e1.y(), e1z = frame.e1.z();
  const double e2x = frame.e2.x(), e2y = frame.e2.y(), e2z = frame.e2.z();
  Lane volume{}, fx{}, fy{}, fz{}, area{}, s1{}, s2{}, s11{}, s12{}, s22{};
  for (size_t g = 0; g < count; ++g) {
    const TurnedBlock& t = blocks[g];
    for (size_t k = 0; k < lanes; ++k) {
      const double lx = t.lowest[0][k] - ox, ly = t.lowest[1][k] - oy, lz = t.lowest[2][k] - oz;
      const double mx = t.between[0][k] - ox, my = t.between[1][k] - oy, mz = t.between[2][k] - oz;
      const double hx = t.highest[0][k] - ox, hy = t.highest[1][k] - oy, hz = t.highest[2][k] - oz;
      const double low = t.low[k] - offset, middle = t.middle[k] - offset, high = t.high[k] - offset;
      const bool any = low < 0, all = high < 0, beyond = middle < 0;
      // Of the tetrahedron from the apex on all of the triangle.
      const double whole = (t.area[0][k] * lx + t.area[1][k] * ly + t.area[2][k] * lz) / 3;
      // The tip is at the corner that is alone on its side.
      const double tx = beyond ? hx : lx, ty = beyond ? hy : ly, tz = beyond ? hz : lz;
      const double qx0 = beyond ? lx : hx, qy0 = beyond ? ly : hy, qz0 = beyond ? lz : hz;
      const double ht = beyond ? high : low, hq = beyond ? low : high;
      const bool cut = any & !all;
      const double dp = cut ? ht - middle : 1.0, dq = cut ? ht - hq : 1.0;
      const double tp = ht / dp, tq = ht / dq;
      const double px = tx + tp * (mx - tx), py = ty + tp * (my - ty), pz = tz + tp * (mz - tz);
      const double qx = tx + tq * (qx0 - tx), qy = ty + tq * (qy0 - ty), qz = tz + tq * (qz0 - tz);
      const double below = any & beyond ? whole : 0.0;
      const double tip_size = whole * tp * tq, tip_signed = beyond ? -tip_size : tip_size;
      const double tip = cut ? tip_signed : 0.0;
      volume[k] += below + tip;
      fx[k] += below * (lx + mx + hx) + tip * (tx + px + qx);
      fy[k] += below * (ly + my + hy) + tip * (ty + py + qy);
      fz[k] += below * (lz + mz + hz) + tip * (tz + pz + qz);
      const double p1 = e1x * px + e1y * py + e1z * pz, p2 = e2x * px + e2y * py + e2z * pz;
      const double q1 = e1x * qx + e1y * qy + e1z * qz, q2 = e2x * qx + e2y * qy + e2z * qz;
      const double edge = -0.5 * t.signed_weight[k] * (p1 * q2 - p2 * q1);
      const double piece = cut ? edge : 0.0;
      const double m1 = p1 + q1, m2 = p2 + q2;
      area[k] += piece;
      s1[k] += piece * m1, s2[k] += piece * m2;
      s11[k] += piece * (p1 * p1 + q1 * q1 + m1 * m1);
      s12[k] += piece * (p1 * p2 + q1 * q2 + m1 * m2);
      s22[k] += piece * (p2 * p2 + q2 * q2 + m2 * m2);
    }
  }
  sums.volume += total(volume);
  sums.first += Vec3(total(fx), total(fy), total(fz));
  sums.area += total(area), sums.s1 += total(s1), sums.s2 += total(s2);
  sums.s11 += total(s11), sums.s12 += total(s12), sums.s22 += total(s22);
}

}  // namespace uadze::tank
