#include "core/tank/clip_mesh.h"

#include "core/tank/prism.h"

namespace uadze::tank {

ClippedMesh clip_mesh(const Solid& solid, const Plane& plane) {
  ClippedMesh out;
  for (const Triangle& t : solid.triangles()) {
    // Sutherland and Hodgman 1974, one plane.
    std::vector<Vec3> kept;
    for (int i = 0; i < 3; ++i) {
      const Vec3 &a = solid.vertices()[t[i]], &b = solid.vertices()[t[(i + 1) % 3]];
      const double da = plane.normal.dot(a) - plane.offset, db = plane.normal.dot(b) - plane.offset;
      if (da < 0) kept.push_back(a);
      if ((da < 0) != (db < 0)) kept.push_back(a + (b - a) * (da / (da - db)));
    }
    for (size_t i = 2; i < kept.size(); ++i) out.wall.insert(out.wall.end(), {kept[0], kept[i - 1], kept[i]});
  }
  const Vec3 u = plane.normal.unitOrthogonal(), v = plane.normal.cross(u);
  for (const auto& outline : section_outlines(solid, plane)) {
    std::vector<Vec2> flat;
    for (const Vec3& p : outline) flat.emplace_back(u.dot(p), v.dot(p));
    for (const Triangle& t : triangulate(flat))
      out.surface.insert(out.surface.end(), {outline[t[0]], outline[t[1]], outline[t[2]]});
  }
  return out;
}

}  // namespace uadze::tank
