#include "gui/stations/tank_view.h"

#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QSurfaceFormat>
#include <cmath>
#include <functional>
#include <map>
#include <numbers>

#include "core/tank/clip_mesh.h"
#include "gui/widgets/lap_picture.h"

namespace uadze::gui {
namespace {

constexpr const char* vertex_shader = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
uniform mat4 transform;
out vec3 n;
void main() { n = normal; gl_Position = transform * vec4(position, 1.0); })";

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

void push(std::vector<float>& data, const Vec3& p, const Vec3& n) {
  for (const Vec3& v : {p, n})
    for (int k = 0; k < 3; ++k) data.push_back(static_cast<float>(v[k]));
}

void push_triangle(std::vector<float>& data, const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 n = (b - a).cross(c - a).normalized();
  for (const Vec3& v : {a, b, c}) push(data, v, n);
}

/// Edges where two faces meet at an angle, as pairs of points.
std::vector<Vec3> sharp_edges(const tank::Solid& solid) {
  std::map<std::pair<int, int>, std::vector<Vec3>> normals;
  for (size_t i = 0; i < solid.triangles().size(); ++i)
    for (int k = 0; k < 3; ++k) {
      const auto edge = std::minmax(solid.triangles()[i][k], solid.triangles()[i][(k + 1) % 3]);
      normals[edge].push_back(solid.triangle_areas()[i].normalized());
    }
  std::vector<Vec3> out;
  for (const auto& [edge, n] : normals)
    if (n.size() != 2 || n[0].dot(n[1]) < 0.999) {
      out.push_back(solid.vertices()[edge.first]);
      out.push_back(solid.vertices()[edge.second]);
    }
  return out;
}

QVector3D qt(const Vec3& v) {
  return {static_cast<float>(v.x()), static_cast<float>(v.y()), static_cast<float>(v.z())};
}

/// Names and marks over the picture, in a widget of their own: text stays crisp whatever the OpenGL driver
/// does.
class Overlay : public QWidget {
 public:
  Overlay(QWidget* parent, std::function<void(QPainter&)> paint) : QWidget(parent), paint_(std::move(paint)) {
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setFocusPolicy(Qt::NoFocus);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    paint_(p);
  }

 private:
  std::function<void(QPainter&)> paint_;
};

}  // namespace

TankView::TankView(Workspace& workspace, QWidget* parent)
    : QOpenGLWidget(parent), workspace_(workspace), buffer_(QOpenGLBuffer::VertexBuffer) {
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  format.setDepthBufferSize(24);
  format.setSamples(4);
  setFormat(format);
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(420, 300);
  setObjectName("tank view");
  setAccessibleName("Tank: Tab chooses a pickup, arrow keys move it");
  for (auto signal : {&Workspace::changed, &Workspace::cursor_moved, &Workspace::level_changed,
                      &Workspace::appearance_changed})
    connect(&workspace_, signal, this, &TankView::redraw);
  overlay_ = new Overlay(this, [this](QPainter& p) { paint_overlay(p); });
}

void TankView::redraw() {
  update();
  overlay_->update();
}

void TankView::resizeGL(int w, int h) { overlay_->resize(w, h); }

TankView::~TankView() {
  makeCurrent();
  buffer_.destroy();
  array_.destroy();
  doneCurrent();
}

void TankView::look(Look from) {
  constexpr double quarter = std::numbers::pi / 2;
  switch (from) {
    case Look::corner:
      yaw_ = -0.65, pitch_ = 0.42;
      break;
    case Look::side:
      yaw_ = -quarter, pitch_ = 0;
      break;
    case Look::front:
      yaw_ = 0, pitch_ = 0;
      break;
    case Look::top:
      yaw_ = -quarter, pitch_ = quarter;
      break;
  }
  zoom_ = 1;
  redraw();
}

void TankView::choose_pickup(int index) {
  if (index == chosen_) return;
  chosen_ = index;
  emit pickup_chosen(index);
  redraw();
}

// The eye looks from this direction at the tank's middle; yaw 0 is from the front.
Vec3 TankView::eye_direction() const {
  return {std::cos(pitch_) * std::cos(yaw_), std::cos(pitch_) * std::sin(yaw_), std::sin(pitch_)};
}

QMatrix4x4 TankView::view() const {
  QMatrix4x4 m;
  const auto car = workspace_.car();
  const Vec3 middle =
      car ? Vec3((car->tank.lower_corner() + car->tank.upper_corner()) / 2) : Vec3(Vec3::Zero());
  const Vec3 up(-std::sin(pitch_) * std::cos(yaw_), -std::sin(pitch_) * std::sin(yaw_), std::cos(pitch_));
  m.lookAt(qt(middle + 10 * eye_direction()), qt(middle), qt(up));
  return m;
}

QMatrix4x4 TankView::projection() const {
  QMatrix4x4 m;
  const auto car = workspace_.car();
  const double size = car ? (car->tank.upper_corner() - car->tank.lower_corner()).norm() : 1.0;
  const double half = 0.56 * size / zoom_;
  const double aspect = static_cast<double>(width()) / std::max(height(), 1);
  const double h = aspect > 1 ? half : half / aspect;
  m.ortho(static_cast<float>(-h * aspect), static_cast<float>(h * aspect), static_cast<float>(-h),
          static_cast<float>(h), 1.0f, 25.0f);
  return m;
}

QPointF TankView::on_screen(const Vec3& point) const {
  const QVector3D p = (projection() * view()).map(qt(point));
  return {(static_cast<double>(p.x()) + 1) / 2 * width(), (1 - static_cast<double>(p.y())) / 2 * height()};
}

void TankView::initializeGL() {
  initializeOpenGLFunctions();
  program_.addShaderFromSourceCode(QOpenGLShader::Vertex, vertex_shader);
  program_.addShaderFromSourceCode(QOpenGLShader::Fragment, fragment_shader);
  program_.link();
  array_.create();
  buffer_.create();
  buffer_.setUsagePattern(QOpenGLBuffer::DynamicDraw);
}

void TankView::upload() {
  walls_ = edges_ = fuel_ = surface_ = outline_ = {};
  const auto car = workspace_.car();
  if (!car) return;
  std::vector<float> numbers;
  const auto count = [&] { return static_cast<int>(numbers.size() / 6); };
  const auto close = [&](Batch& batch, int first) { batch = {first, count() - first}; };
  int first = count();
  for (const auto& t : car->tank.triangles())
    push_triangle(numbers, car->tank.vertices()[t[0]], car->tank.vertices()[t[1]],
                  car->tank.vertices()[t[2]]);
  close(walls_, first);
  first = count();
  for (const Vec3& p : sharp_edges(car->tank)) push(numbers, p, Vec3::UnitZ());
  close(edges_, first);
  if (const auto surface = workspace_.surface_at_cursor(); surface && workspace_.level() > 0) {
    const tank::ClippedMesh mesh = tank::clip_mesh(car->tank, *surface);
    first = count();
    for (size_t i = 0; i + 2 < mesh.wall.size(); i += 3)
      push_triangle(numbers, mesh.wall[i], mesh.wall[i + 1], mesh.wall[i + 2]);
    close(fuel_, first);
    first = count();
    for (size_t i = 0; i + 2 < mesh.surface.size(); i += 3)
      push_triangle(numbers, mesh.surface[i], mesh.surface[i + 1], mesh.surface[i + 2]);
    close(surface_, first);
    first = count();
    for (const auto& outline : tank::section_outlines(car->tank, *surface))
      for (size_t i = 0; i < outline.size(); ++i) {
        push(numbers, outline[i], Vec3::UnitZ());
        push(numbers, outline[(i + 1) % outline.size()], Vec3::UnitZ());
      }
    close(outline_, first);
  }
  buffer_.allocate(numbers.data(), static_cast<int>(numbers.size() * sizeof(float)));
}

void TankView::draw(const Batch& batch, GLenum mode, const QColor& colour, double alpha, bool lit) {
  if (batch.count == 0) return;
  program_.setUniformValue(
      "paint", QVector4D(colour.redF(), colour.greenF(), colour.blueF(), static_cast<float>(alpha)));
  program_.setUniformValue("lit", lit ? 1.0f : 0.0f);
  glDrawArrays(mode, batch.first, batch.count);
}

void TankView::paintGL() {
  const Theme& t = workspace_.theme();
  glClearColor(t.paper.redF(), t.paper.greenF(), t.paper.blueF(), 1);
  glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
  program_.bind();
  QOpenGLVertexArrayObject::Binder binder(&array_);
  buffer_.bind();
  upload();
  glEnableVertexAttribArray(0);
  glEnableVertexAttribArray(1);
  constexpr int stride = 6 * sizeof(float);
  glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, stride, nullptr);
  glVertexAttribPointer(1, 3, GL_FLOAT, GL_FALSE, stride, reinterpret_cast<const void*>(3 * sizeof(float)));
  program_.setUniformValue("transform", projection() * view());
  program_.setUniformValue("light", qt((eye_direction() + Vec3(0.3, 0.2, 0.6)).normalized()));
  glEnable(GL_DEPTH_TEST);
  glDisable(GL_BLEND);
  glEnable(GL_POLYGON_OFFSET_FILL);
  glPolygonOffset(1, 1);
  draw(fuel_, GL_TRIANGLES, t.covered, 1, true);
  draw(surface_, GL_TRIANGLES, t.covered.lighter(t.dark ? 125 : 155), 1, false);
  glDisable(GL_POLYGON_OFFSET_FILL);
  draw(outline_, GL_LINES, t.ink, 1, false);
  glEnable(GL_BLEND);
  glBlendFunc(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA);
  glDepthMask(GL_FALSE);
  draw(walls_, GL_TRIANGLES, t.ink, 0.05, true);
  draw(edges_, GL_LINES, t.ink, 0.75, false);
  glDepthMask(GL_TRUE);
  glDisable(GL_DEPTH_TEST);
  draw(edges_, GL_LINES, t.ink, 0.28, false);
  program_.release();
  glDisable(GL_BLEND);
}

void TankView::paint_overlay(QPainter& p) {
  const Theme& t = workspace_.theme();
  const auto car = workspace_.car();
  const auto surface = workspace_.surface_at_cursor();
  if (!car || !surface) return;
  // Dimensions of the whole, and which way is forward.
  const Vec3 low = car->tank.lower_corner(), high = car->tank.upper_corner();
  p.setFont(figure_font(0.85));
  p.setPen(t.faint);
  const auto dimension = [&](const Vec3& a, const Vec3& b, double length) {
    const QPointF m = (on_screen(a) + on_screen(b)) / 2, d = on_screen(b) - on_screen(a);
    if (std::hypot(d.x(), d.y()) < 40) return;
    const QPointF middle = on_screen((low + high) / 2);
    const QPointF out = m - middle;
    const double n = std::max(1.0, std::hypot(out.x(), out.y()));
    p.drawText(
        QRectF(m.x() + out.x() / n * 26 - 50, m.y() + out.y() / n * 16 - 8, 100, 16), Qt::AlignCenter,
        workspace_.show(length, Quantity::length, workspace_.units().length == LengthUnit::inch ? 2 : 0));
  };
  dimension({low.x(), low.y(), low.z()}, {high.x(), low.y(), low.z()}, high.x() - low.x());
  dimension({low.x(), low.y(), low.z()}, {low.x(), high.y(), low.z()}, high.y() - low.y());
  dimension({high.x(), low.y(), low.z()}, {high.x(), low.y(), high.z()}, high.z() - low.z());

  const QPointF base(54, height() - 52);
  const QPointF o = on_screen(Vec3::Zero());
  p.setFont(text_font(0.85));
  for (const auto& [axis, name] : {std::pair{Vec3(Vec3::UnitX()), "front"},
                                   {Vec3(Vec3::UnitY()), "left"},
                                   {Vec3(Vec3::UnitZ()), "up"}}) {
    const QPointF d = on_screen(axis * 0.1) - o;
    const double scale = (on_screen(Vec3(eye_direction().unitOrthogonal() * 0.1)) - o).manhattanLength();
    const QPointF tip = base + d * (26 / std::max(scale, 1.0));
    p.setPen(QPen(t.ink, 1.4));
    p.drawLine(base, tip);
    if ((tip - base).manhattanLength() > 8)
      p.drawText(
          QRectF(tip.x() - 24 + (tip.x() - base.x()) * 0.5, tip.y() - 8 + (tip.y() - base.y()) * 0.4, 48, 16),
          Qt::AlignCenter, name);
  }
  // The fuel's pull as an arrow from the middle.
  if (const auto entry = workspace_.lap()) {
    const Vec3 f = entry->value.effective_gravity(std::min(workspace_.cursor(), entry->value.size() - 1));
    const QPointF from(width() - 70, 60);
    const double unit =
        26 / std::max(1.0, (on_screen(Vec3(eye_direction().unitOrthogonal() * 0.1)) - o).manhattanLength());
    const QPointF d = (on_screen(f / standard_gravity * 0.1) - o) * unit;
    const double n = std::hypot(d.x(), d.y());
    p.setPen(QPen(t.trouble, 2));
    p.drawLine(from, from + d);
    if (n > 4) {
      const QPointF u = d / n, v(-u.y(), u.x());
      p.setBrush(t.trouble);
      p.drawPolygon(QPolygonF{from + d + u * 4, from + d - u * 6 + v * 4, from + d - u * 6 - v * 4});
    }
    p.setPen(t.faint);
    p.drawText(QRectF(width() - 190, 6, 182, 16), Qt::AlignRight,
               "pull on the fuel " + workspace_.show(f.norm(), Quantity::acceleration));
  }
  for (size_t i = 0; i < car->pickups.size(); ++i) {
    const tank::Pickup& pickup = car->pickups[i];
    const double wet = wet_fraction(pickup, *surface);
    // The sock as it lies, then the mark: covered a full disc, thin a half one, bare an open ring with a
    // cross.
    QPolygonF sock;
    for (int k = 0; k < 36; ++k)
      sock << on_screen(pickup.position + pickup.sock_radius * Vec3(std::cos(k * std::numbers::pi / 18),
                                                                    std::sin(k * std::numbers::pi / 18), 0));
    p.setPen(QPen(t.ink, static_cast<int>(i) == chosen_ ? 2.4 : 1.2));
    QColor wash = t.wet(wet);
    wash.setAlpha(150);
    p.setBrush(wash);
    p.drawPolygon(sock);
    const QPointF c = on_screen(pickup.position);
    p.setBrush(wet > 0.98 ? t.covered : t.paper);
    p.setPen(QPen(wet > 0.98 ? QColor(Qt::white) : wet > 0.02 ? t.ink : t.trouble, 1.8));
    p.drawEllipse(c, 6, 6);
    if (wet <= 0.02) {
      p.drawLine(c + QPointF(-4, -4), c + QPointF(4, 4));
      p.drawLine(c + QPointF(-4, 4), c + QPointF(4, -4));
    } else if (wet <= 0.98) {
      p.setBrush(t.ink);
      p.drawPie(QRectF(c.x() - 6, c.y() - 6, 12, 12), 180 * 16, 180 * 16);
    }
    const QString state = wet > 0.98   ? "covered"
                          : wet > 0.02 ? workspace_.show(wet, Quantity::fraction, 0) + " covered"
                                       : "bare";
    const QString text = QString::fromStdString(pickup.name) + ": " + state;
    p.setFont(text_font(0.9, static_cast<int>(i) == chosen_));
    const double wide = p.fontMetrics().horizontalAdvance(text) + 8;
    const QRectF box(std::clamp(c.x() + 12, 2.0, width() - wide - 2), c.y() - 22, wide, 16);
    QColor back = t.paper;
    back.setAlpha(215);
    p.fillRect(box, back);
    p.setPen(t.ink);
    p.drawText(box, Qt::AlignCenter, text);
  }
  if (hasFocus()) draw_focus_ring(p, rect(), t);
}

// The nearest within reach of the pointer; where two lie over each other, the one nearer to the eye.
int TankView::pickup_at(const QPointF& point) const {
  const auto car = workspace_.car();
  int best = -1;
  double least = 0;
  for (size_t i = 0; car && i < car->pickups.size(); ++i) {
    const Vec3& position = car->pickups[i].position;
    const double away = QLineF(on_screen(position), point).length();
    if (away > 14) continue;
    const double cost = away - 4 * eye_direction().dot(position);
    if (best < 0 || cost < least) least = cost, best = static_cast<int>(i);
  }
  return best;
}

void TankView::mousePressEvent(QMouseEvent* event) {
  last_ = event->position();
  if (event->button() != Qt::LeftButton) return;
  dragged_ = pickup_at(last_);
  if (dragged_ < 0) return;
  choose_pickup(dragged_);
  grab_offset_ = on_screen(workspace_.car()->pickups[static_cast<size_t>(dragged_)].position) - last_;
  workspace_.document.end_merge();
}

void TankView::mouseMoveEvent(QMouseEvent* event) {
  if (dragged_ >= 0) {
    drag_pickup(event->position() + grab_offset_);
  } else if (event->buttons() & (Qt::LeftButton | Qt::RightButton)) {
    const QPointF d = event->position() - last_;
    yaw_ -= d.x() * 0.008;
    pitch_ = std::clamp(pitch_ + d.y() * 0.008, -1.5, std::numbers::pi / 2);
    redraw();
  } else {
    setCursor(pickup_at(event->position()) >= 0 ? Qt::SizeAllCursor : Qt::ArrowCursor);
  }
  last_ = event->position();
}

void TankView::mouseReleaseEvent(QMouseEvent*) {
  dragged_ = -1;
  workspace_.document.end_merge();
}

void TankView::wheelEvent(QWheelEvent* event) {
  zoom_ = std::clamp(zoom_ * std::pow(1.0015, event->angleDelta().y()), 0.3, 12.0);
  redraw();
}

// The pickup slides in the level through it, or, where that is seen edge on, in the upright plane that faces
// the eye.
void TankView::drag_pickup(const QPointF& point) {
  const Vec3 at = workspace_.car()->pickups[static_cast<size_t>(dragged_)].position;
  const Vec3 eye = eye_direction();
  Vec3 normal = Vec3::UnitZ();
  if (std::abs(eye.z()) < 0.25)
    normal = std::abs(eye.x()) > std::abs(eye.y()) ? Vec3(Vec3::UnitX()) : Vec3(Vec3::UnitY());
  // An orthographic picture: the ray through the pixel runs along the eye's direction.
  bool good = false;
  const QMatrix4x4 back = (projection() * view()).inverted(&good);
  if (!good) return;
  const QVector3D q = back.map(QVector3D(static_cast<float>(point.x() / width() * 2 - 1),
                                         static_cast<float>(1 - point.y() / height() * 2), 0));
  const Vec3 ray(q.x(), q.y(), q.z());
  const double along = normal.dot(at - ray) / normal.dot(eye);
  move_pickup(dragged_, ray + along * eye);
}

bool TankView::move_pickup(int index, const Vec3& wanted) {
  const auto car = workspace_.car();
  const Vec3 old = car->pickups[static_cast<size_t>(index)].position;
  // To whole millimetres; along a wall the pickup slides by the coordinates that stay inside.
  const auto rounded = [](double v) { return std::round(v * 1000) / 1000; };
  Vec3 next = old;
  for (int k = 0; k < 3; ++k) {
    if (std::abs(wanted[k] - old[k]) < 1e-4) continue;  // untouched: keeps its own digits
    Vec3 tried = next;
    tried[k] = rounded(wanted[k]);
    if (car->tank.contains(tried)) next = tried;
  }
  if (next == old) return false;
  const int setup = workspace_.setup_index();
  return workspace_.document.edit(
      QString("Move pickup %1").arg(QString::fromStdString(car->pickups[static_cast<size_t>(index)].name)),
      [&](project::Project& p) {
        p.setups[static_cast<size_t>(setup)].tank.pickups[static_cast<size_t>(index)].position = next;
      },
      1000 + index);
}

bool TankView::focusNextPrevChild(bool next) {
  const auto car = workspace_.car();
  const int count = car ? static_cast<int>(car->pickups.size()) : 0;
  const int wanted = chosen_ + (next ? 1 : -1);
  if (wanted >= 0 && wanted < count) {
    choose_pickup(wanted);
    return true;
  }
  choose_pickup(-1);
  return QOpenGLWidget::focusNextPrevChild(next);
}

void TankView::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 0.001 : 0.005;
  const std::map<int, Vec3> moves{{Qt::Key_Up, Vec3::UnitX()},     {Qt::Key_Down, -Vec3::UnitX()},
                                  {Qt::Key_Left, Vec3::UnitY()},   {Qt::Key_Right, -Vec3::UnitY()},
                                  {Qt::Key_PageUp, Vec3::UnitZ()}, {Qt::Key_PageDown, -Vec3::UnitZ()}};
  const auto move = moves.find(event->key());
  const auto car = workspace_.car();
  if (move == moves.end() || !car) return QOpenGLWidget::keyPressEvent(event);
  if (chosen_ >= 0 && chosen_ < static_cast<int>(car->pickups.size())) {
    workspace_.document.end_merge();
    move_pickup(chosen_, car->pickups[static_cast<size_t>(chosen_)].position + step * move->second);
  } else {
    yaw_ += move->second.y() * 0.08;
    pitch_ = std::clamp(pitch_ + move->second.x() * 0.08, -1.5, std::numbers::pi / 2);
    redraw();
  }
}

}  // namespace uadze::gui
