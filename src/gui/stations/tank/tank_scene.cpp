#include "gui/stations/tank/tank_scene.h"

#include <QVector4D>
#include <map>

#include "core/tank/prism.h"

namespace uadze::gui {
namespace {

constexpr const char* vertex_shader = R"(#version 330 core
layout(location = 0) in vec3 position;
uniform mat4 transform;
uniform vec4 clip0;
uniform vec4 clip1;
out vec3 place;
void main() {
  place = position;
  gl_ClipDistance[0] = clip0.w - dot(clip0.xyz, position);
  gl_ClipDistance[1] = clip1.w - dot(clip1.xyz, position);
  gl_Position = transform * vec4(position, 1.0);
})";

// Each face's own normal from how the place changes over it: corners are shared, and fewer.
constexpr const char* fragment_shader = R"(#version 330 core
in vec3 place;
out vec4 colour;
uniform vec4 paint;
uniform vec3 light;
uniform float lit;
void main() {
  float shade = 1.0;
  if (lit > 0.5) {
    vec3 n = cross(dFdx(place), dFdy(place));
    float size = length(n);
    shade = size > 0.0 ? 0.72 + 0.28 * abs(dot(n / size, light)) : 1.0;
  }
  colour = vec4(paint.rgb * shade, paint.a);
})";

/// A fine mesh with its corners gathered in the cells of a grid, so that it is still closed and quick to
/// draw.
tank::Solid coarse(const tank::Solid& solid) {
  constexpr size_t enough = 9000;
  if (solid.triangles().size() <= enough) return solid;
  for (double cells = 90; cells > 4; cells *= 0.85) {
    const double side = solid.size() / cells;
    std::map<std::array<int, 3>, int> index;
    std::vector<Vec3> sum;
    std::vector<int> count, to;
    for (const Vec3& v : solid.vertices()) {
      const Vec3 c = (v - solid.lower_corner()) / side;
      const auto [found, fresh] =
          index.try_emplace({static_cast<int>(c.x()), static_cast<int>(c.y()), static_cast<int>(c.z())},
                            static_cast<int>(sum.size()));
      if (fresh) sum.push_back(Vec3::Zero()), count.push_back(0);
      to.push_back(found->second);
      sum[static_cast<size_t>(found->second)] += v;
      ++count[static_cast<size_t>(found->second)];
    }
    std::vector<tank::Triangle> triangles;
    for (const auto& t : solid.triangles()) {
      const int a = to[static_cast<size_t>(t[0])], b = to[static_cast<size_t>(t[1])],
                c = to[static_cast<size_t>(t[2])];
      if (a != b && b != c && c != a) triangles.push_back({a, b, c});
    }
    if (triangles.size() > enough) continue;
    for (size_t i = 0; i < sum.size(); ++i) sum[i] /= count[i];
    return {std::move(sum), std::move(triangles)};
  }
  return solid;
}

/// Corners and triangles of all that is drawn.
struct Data {
  std::vector<float> places;
  std::vector<unsigned> corners;

  unsigned add(const Vec3& p) {
    for (int k = 0; k < 3; ++k) places.push_back(static_cast<float>(p[k]));
    return static_cast<unsigned>(places.size() / 3 - 1);
  }
  void add(const tank::Solid& solid) {
    const auto base = static_cast<unsigned>(places.size() / 3);
    for (const Vec3& p : solid.vertices()) add(p);
    for (const auto& t : solid.triangles())
      for (int v : t) corners.push_back(base + static_cast<unsigned>(v));
  }
  /// A flat outline.
  void add(const std::vector<Vec3>& outline) {
    Vec3 normal = Vec3::Zero();
    for (size_t i = 0; i < outline.size(); ++i)
      normal += (outline[i] - outline[0]).cross(outline[(i + 1) % outline.size()] - outline[0]);
    if (!(normal.norm() > 0) || outline.size() > 400) return;
    normal.normalize();
    const Vec3 u = normal.unitOrthogonal(), v = normal.cross(u);
    std::vector<Vec2> flat;
    const auto base = static_cast<unsigned>(places.size() / 3);
    for (const Vec3& p : outline) flat.emplace_back(u.dot(p), v.dot(p)), add(p);
    for (const auto& t : tank::triangulate(flat))
      for (int k : t) corners.push_back(base + static_cast<unsigned>(k));
  }
};

/// Edges where two faces meet at an angle of more than about 25 degrees.
void add_sharp_edges(std::vector<std::pair<Vec3, Vec3>>& out, const tank::Solid& solid) {
  std::map<std::pair<int, int>, std::vector<Vec3>> normals;
  for (size_t i = 0; i < solid.triangles().size(); ++i)
    for (size_t k = 0; k < 3; ++k) {
      const auto edge = std::minmax(solid.triangles()[i][k], solid.triangles()[i][(k + 1) % 3]);
      normals[edge].push_back(solid.triangle_areas()[i].normalized());
    }
  for (const auto& [edge, n] : normals)
    if (n.size() != 2 || n[0].dot(n[1]) < 0.9)
      out.emplace_back(solid.vertices()[static_cast<size_t>(edge.first)],
                       solid.vertices()[static_cast<size_t>(edge.second)]);
}

}  // namespace

bool TankScene::initialize() {
  if (!initializeOpenGLFunctions() ||
      !program_.addShaderFromSourceCode(QOpenGLShader::Vertex, vertex_shader) ||
      !program_.addShaderFromSourceCode(QOpenGLShader::Fragment, fragment_shader) || !program_.link())
    return false;
  for (auto* buffer : {&still_, &moving_, &corners_}) buffer->create();
  moving_.setUsagePattern(QOpenGLBuffer::DynamicDraw);
  for (auto [array, buffer] : {std::pair{&still_array_, &still_}, {&moving_array_, &moving_}}) {
    array->create();
    QOpenGLVertexArrayObject::Binder binder(array);
    buffer->bind();
    if (array == &still_array_) corners_.bind();
    glEnableVertexAttribArray(0);
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 3 * sizeof(float), nullptr);
  }
  uploaded_ = nullptr;
  return true;
}

void TankScene::release() {
  for (auto* buffer : {&still_, &moving_, &corners_}) buffer->destroy();
  still_array_.destroy();
  moving_array_.destroy();
}

void TankScene::show(const std::shared_ptr<const tank::Tank>& tank) { tank_ = tank; }

void TankScene::upload() {
  if (uploaded_ == tank_.get()) return;
  uploaded_ = tank_.get();
  walls_ = plates_ = boxes_ = {};
  spaces_.clear();
  if (!tank_) return;
  Data data;
  const auto batch = [&](Batch& out, auto&& fill) {
    out.first = static_cast<int>(data.corners.size());
    fill();
    out.count = static_cast<int>(data.corners.size()) - out.first;
  };
  batch(walls_, [&] {
    for (const auto& s : tank_->walls) data.add(coarse(s));
  });
  batch(boxes_, [&] {
    for (const auto& s : tank_->boxes) data.add(s);
  });
  batch(plates_, [&] {
    for (const auto& plate : tank_->plates)
      for (const auto& outline : plate) data.add(outline);
  });
  for (const auto& space : tank_->spaces) {
    spaces_.emplace_back();
    batch(spaces_.back(), [&] { data.add(coarse(space.body)); });
  }
  still_array_.bind();
  still_.bind();
  still_.allocate(data.places.data(), static_cast<int>(data.places.size() * sizeof(float)));
  corners_.bind();
  corners_.allocate(data.corners.data(), static_cast<int>(data.corners.size() * sizeof(unsigned)));
}

void TankScene::draw(const Batch& batch, const QColor& colour, double alpha, bool lit) {
  if (batch.count == 0) return;
  program_.setUniformValue(
      "paint", QVector4D(colour.redF(), colour.greenF(), colour.blueF(), static_cast<float>(alpha)));
  program_.setUniformValue("lit", lit ? 1.0f : 0.0f);
  glDrawElements(GL_TRIANGLES, batch.count, GL_UNSIGNED_INT,
                 reinterpret_cast<const void*>(static_cast<size_t>(batch.first) * sizeof(unsigned)));
}

void TankScene::clip(int index, const tank::Plane* plane) {
  // Always on, with a plane that leaves out nothing where there is none: some drivers keep the last one.
  program_.setUniformValue(
      index == 0 ? "clip0" : "clip1",
      plane ? QVector4D(qt(plane->normal), static_cast<float>(plane->offset)) : QVector4D(0, 0, 0, 1));
}

// What is left of the body is counted, back faces less front faces, seen or not.
void TankScene::count_faces() {
  glEnable(GL_STENCIL_TEST);
  glStencilFunc(GL_ALWAYS, 0, 0xff);
  glStencilOpSeparate(GL_FRONT, GL_KEEP, GL_DECR_WRAP, GL_DECR_WRAP);
  glStencilOpSeparate(GL_BACK, GL_KEEP, GL_INCR_WRAP, GL_INCR_WRAP);
}

// The plane shows where the count is not even. A square of it that covers the body wipes the count as it is
// drawn.
void TankScene::cap(size_t space, const tank::Plane& plane, const tank::Plane* other, const QColor& colour) {
  const tank::Solid& solid = tank_->spaces[space].body;
  glStencilFunc(GL_NOTEQUAL, 0, 0xff);
  glStencilOp(GL_ZERO, GL_ZERO, GL_ZERO);
  const Vec3 u = plane.normal.unitOrthogonal(), v = plane.normal.cross(u);
  const Vec3 middle = solid.middle() - (plane.normal.dot(solid.middle()) - plane.offset) * plane.normal;
  const double r = solid.size();
  std::vector<float> places;
  for (const Vec3& p : {Vec3(middle + r * (u + v)), Vec3(middle + r * (v - u)), Vec3(middle + r * (u - v)),
                        Vec3(middle - r * (u + v))})
    for (int a = 0; a < 3; ++a) places.push_back(static_cast<float>(p[a]));
  clip(0, nullptr);
  clip(1, other);
  {
    QOpenGLVertexArrayObject::Binder binder(&moving_array_);
    moving_.bind();
    moving_.allocate(places.data(), static_cast<int>(places.size() * sizeof(float)));
    program_.setUniformValue("paint", QVector4D(colour.redF(), colour.greenF(), colour.blueF(), 1));
    program_.setUniformValue("lit", 0.0f);
    glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
  }
  still_array_.bind();
  glDisable(GL_STENCIL_TEST);
  if (other) glClear(GL_STENCIL_BUFFER_BIT);  // the square was cut short
}

/// The free surface alone: the fuel's body is seen by what it covers.
void TankScene::paint_splash(const resolved::Surface& surface, const SceneLook& look, const Theme& t) {
  std::vector<float> places;
  places.reserve(9 * surface.triangles.size());
  for (const auto& triangle : surface.triangles)
    for (const int corner : triangle)
      for (int a = 0; a < 3; ++a)
        places.push_back(static_cast<float>(surface.points[static_cast<size_t>(corner)][a]));
  clip(0, nullptr);
  clip(1, look.cut ? &*look.cut : nullptr);
  {
    QOpenGLVertexArrayObject::Binder binder(&moving_array_);
    moving_.bind();
    moving_.allocate(places.data(), static_cast<int>(places.size() * sizeof(float)));
    program_.setUniformValue("paint", QVector4D(t.covered.redF(), t.covered.greenF(), t.covered.blueF(), 1));
    program_.setUniformValue("lit", 1.0f);
    glDrawArrays(GL_TRIANGLES, 0, static_cast<int>(places.size() / 3));
  }
  still_array_.bind();
}

void TankScene::paint_fuel(size_t i, const tank::Plane& surface, const SceneLook& look, const Theme& t) {
  const tank::Plane* cut = look.cut ? &*look.cut : nullptr;
  const QColor top = t.covered.lighter(t.dark ? 125 : 155);
  clip(0, &surface);
  clip(1, cut);
  if (!cut) count_faces();
  draw(spaces_[i], t.covered, 1, true);
  if (!cut) return cap(i, surface, nullptr, top);
  // Cut twice, each plane has a count of its own.
  for (const auto& [plane, other, colour] :
       {std::tuple{&surface, cut, top}, {cut, &surface, t.covered.darker(115)}}) {
    clip(0, plane);
    clip(1, nullptr);
    count_faces();
    glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
    glDepthMask(GL_FALSE);
    draw(spaces_[i], colour, 1, false);
    glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
    glDepthMask(GL_TRUE);
    cap(i, *plane, other, colour);
  }
}

void TankScene::paint(const SceneLook& look, const Theme& t) {
  glClearColor(t.paper.redF(), t.paper.greenF(), t.paper.blueF(), 1);
  glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT);
  if (!tank_) return;
  program_.bind();
  upload();
  program_.setUniformValue("transform", look.transform);
  program_.setUniformValue("light", qt(look.light));
  for (int k = 0; k < 2; ++k) {
    glEnable(static_cast<GLenum>(GL_CLIP_DISTANCE0 + k));
    clip(k, nullptr);
  }
  glEnable(GL_DEPTH_TEST);
  glDisable(GL_BLEND);
  glEnable(GL_POLYGON_OFFSET_FILL);
  glPolygonOffset(1, 1);
  still_array_.bind();
  for (size_t i = 0; i < spaces_.size() && i < look.surface.size(); ++i)
    if (look.surface[i]) {
      paint_fuel(i, *look.surface[i], look, t);
      still_array_.bind();
    }
  if (look.splash) paint_splash(*look.splash, look, t);
  glDisable(GL_POLYGON_OFFSET_FILL);
  const tank::Plane* cut = look.cut ? &*look.cut : nullptr;
  clip(0, nullptr);
  clip(1, cut);
  glEnable(GL_BLEND);
  // The picture itself stays opaque.
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  const bool solid = look.wall_opacity > 0.98;
  glDepthMask(solid ? GL_TRUE : GL_FALSE);
  draw(plates_, t.thin, std::max(0.30, look.wall_opacity), true);
  draw(boxes_, t.thin, std::max(0.16, look.wall_opacity), true);
  draw(walls_, t.ink, look.wall_opacity, true);
  glDepthMask(GL_TRUE);
  for (int k = 0; k < 2; ++k) glDisable(static_cast<GLenum>(GL_CLIP_DISTANCE0 + k));
  still_array_.release();
  program_.release();
  glDisable(GL_BLEND);
}

void TankScene::paint_lines(QPainter& p, const SceneLook& look, const Theme& t,
                            const std::function<QPointF(const Vec3&)>& on_screen) {
  if (!tank_) return;
  if (look.splash) {
    p.setPen(QPen(t.covered, 2));
    for (const Vec3& drop : look.splash->drops) p.drawPoint(on_screen(drop));
  }
  if (lines_of_ != tank_.get()) {
    lines_of_ = tank_.get();
    edges_.clear(), part_edges_.clear();
    for (const auto& s : tank_->walls) add_sharp_edges(edges_, s);
    for (const auto& s : tank_->boxes) add_sharp_edges(part_edges_, s);
    for (const auto& plate : tank_->plates)
      for (const auto& outline : plate)
        for (size_t i = 0; i < outline.size(); ++i)
          part_edges_.emplace_back(outline[i], outline[(i + 1) % outline.size()]);
  }
  const auto lines = [&](const std::vector<std::pair<Vec3, Vec3>>& list, double width, int alpha) {
    QColor ink = t.ink;
    ink.setAlpha(alpha);
    p.setPen(QPen(ink, width));
    for (auto [a, b] : list) {
      if (look.cut) {  // the part below the cut
        double da = look.cut->normal.dot(a) - look.cut->offset,
               db = look.cut->normal.dot(b) - look.cut->offset;
        if (da >= 0 && db >= 0) continue;
        if (da > 0) std::swap(a, b), std::swap(da, db);
        if (db > 0) b = a + (b - a) * (da / (da - db));
      }
      p.drawLine(on_screen(a), on_screen(b));
    }
  };
  // A fine mesh has its shape shown by its shading.
  constexpr size_t many = 4000;
  if (edges_.size() < many) lines(edges_, 1.0, 150);
  lines(part_edges_, 1.0, 110);
  std::vector<std::pair<Vec3, Vec3>> outline;
  for (size_t i = 0; i < look.surface.size(); ++i) {
    if (!look.surface[i] || tank_->spaces[i].body.triangles().size() > many) continue;
    for (const auto& loop : section_outlines(tank_->spaces[i].body, *look.surface[i]))
      for (size_t k = 0; k < loop.size(); ++k) outline.emplace_back(loop[k], loop[(k + 1) % loop.size()]);
  }
  lines(outline, 1.3, 255);
}

}  // namespace uadze::gui
