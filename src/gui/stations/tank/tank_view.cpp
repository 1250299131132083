#include "gui/stations/tank/tank_view.h"

#include <QKeyEvent>
#include <QPainter>
#include <cmath>
#include <map>
#include <numbers>

#include "gui/stations/tank/tank_marks.h"
#include "gui/widgets/lap_picture.h"

namespace uadze::gui {
namespace {

double rounded(double v) { return std::round(v * 1000) / 1000; }

/// Parts that can be taken hold of in the picture.
bool is_handled(TankPartKind kind) { return kind != TankPartKind::shape && kind != TankPartKind::foam; }

}  // namespace

TankView::TankView(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      source_([&workspace] { return workspace.runs.fuel_at_cursor(); }) {
  // All of it is painted anew each time.
  setAttribute(Qt::WA_OpaquePaintEvent);
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(420, 300);
  setObjectName("tank view");
  setAccessibleName("Tank: Tab chooses a part, arrow keys move it");
  for (auto signal : {&Workspace::changed, &Workspace::cursor_moved, &Workspace::level_changed,
                      &Workspace::appearance_changed})
    connect(&workspace_, signal, this, &TankView::redraw);
}

tank::MeshSource TankView::meshes() const { return workspace_.document.sources()->tanks.meshes(); }

void TankView::redraw() {
  if (chosen_ && (!workspace_.setup() || !exists(workspace_.setup()->tank, *chosen_)))
    choose_part(std::nullopt);
  update();
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

void TankView::choose_part(const std::optional<PartRef>& part) {
  if (part == chosen_) return;
  chosen_ = part;
  emit part_chosen();
  redraw();
}

void TankView::set_opacity(double walls) {
  opacity_ = walls;
  redraw();
}

void TankView::set_cut(int axis, double depth) {
  cut_axis_ = axis, cut_depth_ = depth;
  redraw();
}

// The eye looks from this direction at the tank's middle; yaw 0 is from the front.
Vec3 TankView::eye_direction() const {
  return {std::cos(pitch_) * std::cos(yaw_), std::cos(pitch_) * std::sin(yaw_), std::sin(pitch_)};
}

QMatrix4x4 TankView::view() const {
  QMatrix4x4 m;
  const auto car = workspace_.runs.car();
  const Vec3 middle = car ? car->tank->whole.middle() : Vec3(Vec3::Zero());
  const Vec3 up(-std::sin(pitch_) * std::cos(yaw_), -std::sin(pitch_) * std::sin(yaw_), std::cos(pitch_));
  m.lookAt(qt(middle + 10 * eye_direction()), qt(middle), qt(up));
  return m;
}

QMatrix4x4 TankView::projection() const {
  QMatrix4x4 m;
  const auto car = workspace_.runs.car();
  const double size = car ? car->tank->whole.size() : 1.0;
  const double half = 0.56 * size / zoom_;
  const double aspect = static_cast<double>(width()) / std::max(height(), 1);
  const double h = aspect > 1 ? half : half / aspect;
  m.ortho(static_cast<float>(-h * aspect), static_cast<float>(h * aspect), static_cast<float>(-h),
          static_cast<float>(h), 1.0f, 25.0f);
  return m;
}

QPointF TankView::on_screen(const Vec3& point) const { return on_screen(point, projection() * view()); }

QPointF TankView::on_screen(const Vec3& point, const QMatrix4x4& transform) const {
  const QVector3D p = transform.map(qt(point));
  return {(static_cast<double>(p.x()) + 1) / 2 * width(), (1 - static_cast<double>(p.y())) / 2 * height()};
}

SceneLook TankView::make_look(const std::optional<FuelMoment>& fuel) const {
  const auto car = workspace_.runs.car();
  SceneLook look;
  look.transform = projection() * view();
  look.light = (eye_direction() + Vec3(0.3, 0.2, 0.6)).normalized();
  look.wall_opacity = opacity_;
  if (fuel && fuel->splash)
    look.splash = &fuel->splash->surface;
  else if (car && fuel && fuel->surface.size() == car->tank->spaces.size())
    for (size_t i = 0; i < fuel->surface.size(); ++i)
      look.surface.push_back(fuel->volume[i] > 1e-7 ? std::optional(fuel->surface[i]) : std::nullopt);
  if (car && cut_axis_ > 0) {
    const int axis = cut_axis_ == 1 ? 1 : cut_axis_ == 2 ? 0 : 2;
    const double low = car->tank->lower_corner()[axis], high = car->tank->upper_corner()[axis];
    look.cut = tank::Plane{Vec3::Unit(axis), high - cut_depth_ * (high - low)};
  }
  return look;
}

void TankView::paintEvent(QPaintEvent*) {
  const auto car = workspace_.runs.car();
  const auto fuel = source_();
  const SceneLook look = make_look(fuel);
  const Theme& theme = workspace_.theme();
  QImage picture = scene_.of(car ? car->tank : nullptr, look, theme, size() * devicePixelRatio());
  picture.setDevicePixelRatio(devicePixelRatio());
  QPainter p(this);
  if (picture.isNull()) {
    p.fillRect(rect(), theme.paper);
    p.setPen(theme.ink);
    p.drawText(rect().adjusted(12, 12, -12, -12), Qt::AlignBottom | Qt::AlignHCenter | Qt::TextWordWrap,
               "The tank is drawn by its edges only: there is no OpenGL 3.3 here.");
  } else {
    p.drawImage(0, 0, picture);
  }
  p.setRenderHint(QPainter::Antialiasing);
  if (fuel) {
    const QMatrix4x4 transform = look.transform;
    const auto place = [&](const Vec3& v) { return on_screen(v, transform); };
    scene_.scene().show(car ? car->tank : nullptr);
    scene_.scene().paint_lines(p, look, theme, place);
    paint_marks(p, workspace_, {place, eye_direction(), size(), chosen_, &*fuel});
  }
  if (hasFocus()) draw_focus_ring(p, rect(), theme);
}

// The nearest within reach of the pointer; where two lie over each other, the one nearer to the eye.
std::optional<PartRef> TankView::part_at(const QPointF& point) const {
  std::optional<PartRef> best;
  if (!workspace_.setup()) return best;
  double least = 0;
  for (const PartRef& ref : parts_of(workspace_.setup()->tank)) {
    const auto position =
        is_handled(ref.kind) ? part_position(workspace_.setup()->tank, ref, meshes()) : std::nullopt;
    if (!position) continue;
    const double away = QLineF(on_screen(*position), point).length();
    if (away > 14) continue;
    const double cost = away - 4 * eye_direction().dot(*position);
    if (!best || cost < least) least = cost, best = ref;
  }
  return best;
}

void TankView::mousePressEvent(QMouseEvent* event) {
  last_ = event->position();
  if (event->button() != Qt::LeftButton) return;
  const auto part = part_at(last_);
  dragging_ = part.has_value();
  if (!part) return;
  choose_part(part);
  grab_offset_ = on_screen(*part_position(workspace_.setup()->tank, *part, meshes())) - last_;
  workspace_.document.end_merge();
}

void TankView::mouseMoveEvent(QMouseEvent* event) {
  if (dragging_ && chosen_) {
    drag_part(event->position() + grab_offset_);
  } else if (event->buttons() & (Qt::LeftButton | Qt::RightButton)) {
    const QPointF d = event->position() - last_;
    yaw_ -= d.x() * 0.008;
    pitch_ = std::clamp(pitch_ + d.y() * 0.008, -1.5, std::numbers::pi / 2);
    redraw();
  } else {
    setCursor(part_at(event->position()) ? Qt::SizeAllCursor : Qt::ArrowCursor);
  }
  last_ = event->position();
}

void TankView::mouseReleaseEvent(QMouseEvent*) {
  dragging_ = false;
  workspace_.document.end_merge();
}

void TankView::wheelEvent(QWheelEvent* event) {
  zoom_ = std::clamp(zoom_ * std::pow(1.0015, event->angleDelta().y()), 0.3, 12.0);
  redraw();
}

// The part slides in the level through it, or, where that is seen edge on, in the upright plane that faces
// the eye.
void TankView::drag_part(const QPointF& point) {
  const auto position = part_position(workspace_.setup()->tank, *chosen_, meshes());
  if (!position) return;
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
  move_chosen(ray + normal.dot(*position - ray) / normal.dot(eye) * eye, true);
}

/// Faces of the part within 6 mm of the tank's walls, the car's middle or another part's faces go onto them.
Vec3 TankView::snapped(const PartRef& part, const Vec3& wanted) const {
  constexpr double near = 0.006;
  const auto& parts = workspace_.setup()->tank;
  const auto car = workspace_.runs.car();
  Vec3 half_low = Vec3::Zero(), half_high = Vec3::Zero();
  if (const tank::Shape* shape = shape_of(parts, part)) {
    const tank::Solid solid = make_solid(*shape, meshes());
    half_low = solid.lower_corner() - solid.middle(), half_high = solid.upper_corner() - solid.middle();
  }
  Vec3 out = wanted;
  for (int k = 0; k < 3; ++k) {
    std::vector<double> targets{0.0, car->tank->lower_corner()[k], car->tank->upper_corner()[k]};
    for (const PartRef& other : parts_of(parts)) {
      if (other == part || (other.kind != TankPartKind::collector && other.kind != TankPartKind::body))
        continue;
      const tank::Solid solid = make_solid(*shape_of(parts, other), meshes());
      targets.push_back(solid.lower_corner()[k]), targets.push_back(solid.upper_corner()[k]);
    }
    double best = near;
    for (double target : targets)
      for (double edge : {wanted[k] + half_low[k], wanted[k] + half_high[k]})
        if (std::abs(target - edge) < best)
          best = std::abs(target - edge), out[k] = wanted[k] + target - edge;
  }
  return out;
}

bool TankView::move_chosen(const Vec3& wanted_place, bool snap) {
  const auto& parts = workspace_.setup()->tank;
  const auto position = part_position(parts, *chosen_, meshes());
  if (!position) return false;
  const auto car = workspace_.runs.car();
  const PartRef part = *chosen_;
  const bool point = part.kind == TankPartKind::pickup || part.kind == TankPartKind::return_outlet ||
                     part.kind == TankPartKind::vent;
  const Vec3 wanted = snap && !point ? snapped(part, wanted_place) : wanted_place;
  // To whole millimetres; along a wall a point slides by the coordinates that stay inside.
  Vec3 next = *position;
  for (int k = 0; k < 3; ++k) {
    if (std::abs(wanted[k] - (*position)[k]) < 1e-4) continue;  // untouched: keeps its own digits
    Vec3 tried = next;
    tried[k] = rounded(wanted[k]);
    if (!point || car->tank->contains(tried)) next = tried;
  }
  if (part.kind == TankPartKind::baffle) {
    // A plate moves along its normal only.
    const Vec3 n = parts.baffles[static_cast<size_t>(part.index)].normal.normalized();
    next = *position + n * n.dot(next - *position);
  }
  if (next == *position) return false;
  const Vec3 by = next - *position;
  const int setup = workspace_.selection.setup_index();
  return workspace_.document.edit(
      QString("Move %1").arg(part_title(parts, part)),
      [&](project::Project& p) { move_part(p.setups[static_cast<size_t>(setup)].tank, part, by); },
      1000 + static_cast<int>(part.kind) * 10000 + (part.owner + 1) * 100 + part.index);
}

bool TankView::focusNextPrevChild(bool next) {
  std::vector<PartRef> handled;
  if (workspace_.setup())
    for (const PartRef& ref : parts_of(workspace_.setup()->tank))
      if (is_handled(ref.kind)) handled.push_back(ref);
  int now = -1;
  for (size_t i = 0; i < handled.size(); ++i)
    if (chosen_ == handled[i]) now = static_cast<int>(i);
  const int wanted = now + (next ? 1 : -1);
  if (wanted >= 0 && wanted < static_cast<int>(handled.size())) {
    choose_part(handled[static_cast<size_t>(wanted)]);
    return true;
  }
  choose_part(std::nullopt);
  return QWidget::focusNextPrevChild(next);
}

void TankView::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 0.001 : 0.005;
  const std::map<int, Vec3> moves{{Qt::Key_Up, Vec3::UnitX()},     {Qt::Key_Down, -Vec3::UnitX()},
                                  {Qt::Key_Left, Vec3::UnitY()},   {Qt::Key_Right, -Vec3::UnitY()},
                                  {Qt::Key_PageUp, Vec3::UnitZ()}, {Qt::Key_PageDown, -Vec3::UnitZ()}};
  const auto move = moves.find(event->key());
  if (move == moves.end() || !workspace_.runs.car()) return QWidget::keyPressEvent(event);
  const auto position = chosen_ ? part_position(workspace_.setup()->tank, *chosen_, meshes()) : std::nullopt;
  if (position) {
    workspace_.document.end_merge();
    move_chosen(*position + step * move->second, false);
  } else {
    yaw_ += move->second.y() * 0.08;
    pitch_ = std::clamp(pitch_ + move->second.x() * 0.08, -1.5, std::numbers::pi / 2);
    redraw();
  }
}

}  // namespace uadze::gui
