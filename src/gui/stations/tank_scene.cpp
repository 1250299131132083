#include "gui/stations/tank_scene.h"

#include <QVector4D>
#include <map>

#include "core/tank/prism.h"

namespace uadze::gui {
namespace {

constexpr const char* vertex_shader = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
uniform mat4 transform;
uniform vec4 clip0;
uniform vec4 clip1;
out vec3 n;
void main() {
  n = normal;
  gl_ClipDistance[0] = clip0.w - dot(clip0.xyz, position);
  gl_ClipDistance[1] = clip1.w - dot(clip1.xyz, position);
  gl_Position = transform * vec4(position, 1.0);
})";

constexpr const char* fragment_shader = R"(#version 330 core
in vec3 n;
out vec4 colour;
uniform vec4 paint;
uniform vec3 light;
uniform float lit;
void main() {
  float shade = mix(1.0, 0.72 + 0.28 * abs(dot(normalize(n), light)), lit);
  colour = vec4(paint.rgb * shade, paint.a);
})";

QVector3D qt(const Vec3& v) {
  return {static_cast<float>(v.x()), static_cast<float>(v.y()), static_cast<float>(v.z())};
}

void push(std::vector<float>& data, const Vec3& p, const Vec3& n) {
  for (const Vec3& v : {p, n})
    for (int k = 0; k < 3; ++k) data.push_back(static_cast<float>(v[k]));
}

void push_triangle(std::vector<float>& data, const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 n = (b - a).cross(c - a);
  if (!(n.norm() > 0)) return;
  for (const Vec3& v : {a, b, c}) push(data, v, n.normalized());
}

void push_solid(std::vector<float>& data, const tank::Solid& solid) {
  const auto& v = solid.vertices();
  for (const auto& t : solid.triangles())
    push_triangle(data, v[static_cast<size_t>(t[0])], v[static_cast<size_t>(t[1])], v[static_cast<size_t>(t[2])]);
}

void push_lines(std::vector<float>& data, const std::vector<Vec3>& outline) {
  for (size_t i = 0; i < outline.size(); ++i) {
    push(data, outline[i], Vec3::UnitZ());
    push(data, outline[(i + 1) % outline.size()], Vec3::UnitZ());
  }
}

/// Edges where two faces meet at an angle of more than about 25 degrees.
void push_sharp_edges(std::vector<float>& data, const tank::Solid& solid) {
  std::map<std::pair<int, int>, std::vector<Vec3>> normals;
  for (size_t i = 0; i < solid.triangles().size(); ++i)
    for (size_t k = 0; k < 3; ++k) {
      const auto edge = std::minmax(solid.triangles()[i][k], solid.triangles()[i][(k + 1) % 3]);
      normals[edge].push_back(solid.triangle_areas()[i].normalized());
    }
  for (const auto& [edge, n] : normals)
    if (n.size() != 2 || n[0].dot(n[1]) < 0.9) {
      push(data, solid.vertices()[static_cast<size_t>(edge.first)], Vec3::UnitZ());
      push(data, solid.vertices()[static_cast<size_t>(edge.second)], Vec3::UnitZ());
    }
}

}  // namespace

void TankScene::initialize() {
  initializeOpenGLFunctions();
  program_.addShaderFromSourceCode(QOpenGLShader::Vertex, vertex_shader);
  program_.addShaderFromSourceCode(QOpenGLShader::Fragment, fragment_shader);
  program_.link();
  for (auto* pair : {&still_, &moving_}) pair->create();
  still_.setUsagePattern(QOpenGLBuffer::StaticDraw);
  moving_.setUsagePattern(QOpenGLBuffer::DynamicDraw);
  for (auto [array, buffer] : {std::pair{&still_array_, &still_}, {&moving_array_, &moving_}}) {
    array->create();
    QOpenGLVertexArrayObject::Binder binder(array);
    buffer->bind();
    constexpr int stride = 6 * sizeof(float);
    glEnableVertexAttribArray(0);
    glEnableVertexAttribArray(1);
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, stride, nullptr);
    glVertexAttribPointer(1, 3, GL_FLOAT, GL_FALSE, stride, reinterpret_cast<const void*>(3 * sizeof(float)));
  }
  uploaded_ = nullptr;
}

void TankScene::release() {
  still_.destroy();
  moving_.destroy();
  still_array_.destroy();
  moving_array_.destroy();
}

void TankScene::show(const std::shared_ptr<const tank::Tank>& tank) { tank_ = tank; }

void TankScene::upload() {
  if (uploaded_ == tank_.get()) return;
  uploaded_ = tank_.get();
  walls_ = edges_ = plates_ = plate_edges_ = boxes_ = box_edges_ = {};
  spaces_.clear();
  if (!tank_) return;
  std::vector<float> numbers;
  const auto batch = [&](Batch& out, auto&& fill) {
    out.first = static_cast<int>(numbers.size() / 6);
    fill();
    out.count = static_cast<int>(numbers.size() / 6) - out.first;
  };
  batch(walls_, [&] { for (const auto& s : tank_->walls) push_solid(numbers, s); });
  batch(edges_, [&] { for (const auto& s : tank_->walls) push_sharp_edges(numbers, s); });
  batch(boxes_, [&] { for (const auto& s : tank_->boxes) push_solid(numbers, s); });
  batch(box_edges_, [&] { for (const auto& s : tank_->boxes) push_sharp_edges(numbers, s); });
  batch(plates_, [&] {
    for (const auto& plate : tank_->plates)
      for (const auto& outline : plate) {
        Vec3 normal = Vec3::Zero();
        for (size_t i = 0; i < outline.size(); ++i)
          normal += (outline[i] - outline[0]).cross(outline[(i + 1) % outline.size()] - outline[0]);
        if (!(normal.norm() > 0)) continue;
        normal.normalize();
        const Vec3 u = normal.unitOrthogonal(), v = normal.cross(u);
        std::vector<Vec2> flat;
        for (const Vec3& p : outline) flat.emplace_back(u.dot(p), v.dot(p));
        if (flat.size() > 400) continue;
        for (const auto& t : tank::triangulate(flat))
          push_triangle(numbers, outline[static_cast<size_t>(t[0])], outline[static_cast<size_t>(t[1])],
                        outline[static_cast<size_t>(t[2])]);
      }
  });
  batch(plate_edges_, [&] {
    for (const auto& plate : tank_->plates)
      for (const auto& outline : plate) push_lines(numbers, outline);
  });
  for (const auto& space : tank_->spaces) {
    spaces_.emplace_back();
    batch(spaces_.back(), [&] { push_solid(numbers, space.body); });
  }
  still_.bind();
  still_.allocate(numbers.data(), static_cast<int>(numbers.size() * sizeof(float)));
}

void TankScene::draw(const Batch& batch, GLenum mode, const QColor& colour, double alpha, bool lit) {
  if (batch.count == 0) return;
  program_.setUniformValue(
      "paint", QVector4D(colour.redF(), colour.greenF(), colour.blueF(), static_cast<float>(alpha)));
  program_.setUniformValue("lit", lit ? 1.0f : 0.0f);
  glDrawArrays(mode, batch.first, batch.count);
}

void TankScene::clip(int index, const tank::Plane* plane) {
  // Always on, with a plane that leaves out nothing where there is none: some drivers keep the last one.
  program_.setUniformValue(index == 0 ? "clip0" : "clip1",
                           plane ? QVector4D(qt(plane->normal), static_cast<float>(plane->offset))
                                 : QVector4D(0, 0, 0, 1));
}

// Count what is left of the body when the plane alone cuts it; the plane shows where the count is not even.
void TankScene::cap(size_t space, const tank::Plane& plane, const tank::Plane* other, const QColor& colour) {
  const tank::Solid& solid = tank_->spaces[space].body;
  clip(0, &plane);
  clip(1, nullptr);
  glEnable(GL_STENCIL_TEST);
  glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
  glDepthMask(GL_FALSE);
  glDisable(GL_DEPTH_TEST);
  glStencilFunc(GL_ALWAYS, 0, 0xff);
  glStencilOpSeparate(GL_FRONT, GL_KEEP, GL_KEEP, GL_DECR_WRAP);
  glStencilOpSeparate(GL_BACK, GL_KEEP, GL_KEEP, GL_INCR_WRAP);
  draw(spaces_[space], GL_TRIANGLES, colour, 1, false);
  glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
  glDepthMask(GL_TRUE);
  glEnable(GL_DEPTH_TEST);
  glStencilFunc(GL_NOTEQUAL, 0, 0xff);
  glStencilOp(GL_ZERO, GL_ZERO, GL_ZERO);
  // A square of the plane that covers the body, wiping the count as it is drawn.
  const Vec3 u = plane.normal.unitOrthogonal(), v = plane.normal.cross(u);
  const Vec3 middle = solid.middle() - (plane.normal.dot(solid.middle()) - plane.offset) * plane.normal;
  const double r = solid.size();
  std::vector<float> numbers;
  const Vec3 corner[4] = {middle + r * (u + v), middle + r * (v - u), middle - r * (u + v), middle + r * (u - v)};
  for (int k : {0, 1, 2, 0, 2, 3}) push(numbers, corner[k], plane.normal);
  clip(0, nullptr);
  clip(1, other);
  {
    QOpenGLVertexArrayObject::Binder binder(&moving_array_);
    moving_.bind();
    moving_.allocate(numbers.data(), static_cast<int>(numbers.size() * sizeof(float)));
    draw({0, 6}, GL_TRIANGLES, colour, 1, false);
  }
  still_array_.bind();
  glDisable(GL_STENCIL_TEST);
  glClear(GL_STENCIL_BUFFER_BIT);
}

void TankScene::paint_fuel(size_t i, const tank::Plane& surface, const SceneLook& look, const Theme& t) {
  const tank::Plane* cut = look.cut ? &*look.cut : nullptr;
  clip(0, &surface);
  clip(1, cut);
  draw(spaces_[i], GL_TRIANGLES, t.covered, 1, true);
  cap(i, surface, cut, t.covered.lighter(t.dark ? 125 : 155));
  if (cut) cap(i, *cut, &surface, t.covered.darker(115));
  clip(0, nullptr);
  // The surface's edge, while that is quick to find.
  if (tank_->spaces[i].body.triangles().size() > 3000) return;
  std::vector<float> numbers;
  for (const auto& outline : section_outlines(tank_->spaces[i].body, surface)) push_lines(numbers, outline);
  QOpenGLVertexArrayObject::Binder binder(&moving_array_);
  moving_.bind();
  moving_.allocate(numbers.data(), static_cast<int>(numbers.size() * sizeof(float)));
  clip(1, cut);
  draw({0, static_cast<int>(numbers.size() / 6)}, GL_LINES, t.ink, 1, false);
  clip(1, nullptr);
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
  glDisable(GL_POLYGON_OFFSET_FILL);
  const tank::Plane* cut = look.cut ? &*look.cut : nullptr;
  clip(0, nullptr);
  clip(1, cut);
  glEnable(GL_BLEND);
  // The picture itself stays opaque.
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  const bool solid = look.wall_opacity > 0.98;
  glDepthMask(solid ? GL_TRUE : GL_FALSE);
  draw(plates_, GL_TRIANGLES, t.thin, std::max(0.30, look.wall_opacity), true);
  draw(boxes_, GL_TRIANGLES, t.thin, std::max(0.16, look.wall_opacity), true);
  draw(walls_, GL_TRIANGLES, t.ink, look.wall_opacity, true);
  glDepthMask(GL_FALSE);
  draw(edges_, GL_LINES, t.ink, 0.75, false);
  draw(plate_edges_, GL_LINES, t.ink, 0.7, false);
  draw(box_edges_, GL_LINES, t.ink, 0.6, false);
  glDepthMask(GL_TRUE);
  glDisable(GL_DEPTH_TEST);
  if (!solid) {
    draw(edges_, GL_LINES, t.ink, 0.28, false);
    draw(plate_edges_, GL_LINES, t.ink, 0.25, false);
    draw(box_edges_, GL_LINES, t.ink, 0.25, false);
  }
  for (int k = 0; k < 2; ++k) glDisable(static_cast<GLenum>(GL_CLIP_DISTANCE0 + k));
  still_array_.release();
  program_.release();
  glDisable(GL_BLEND);
}

}  // namespace uadze::gui
