#include "gui/stations/slosh/splash_picture.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <map>

namespace uadze::gui {
namespace {

/// Edges where two faces meet at an angle: what is seen of a tank that is drawn in lines.
void add_edges(const tank::Solid& solid, std::vector<std::pair<Vec3, Vec3>>& out) {
  std::map<std::pair<int, int>, Vec3> half;
  for (size_t t = 0; t < solid.triangles().size(); ++t) {
    const Vec3 n = solid.triangle_areas()[t].normalized();
    for (int k = 0; k < 3; ++k) {
      const int a = solid.triangles()[t][static_cast<size_t>(k)],
                b = solid.triangles()[t][static_cast<size_t>((k + 1) % 3)];
      const auto other = half.find({b, a});
      if (other == half.end())
        half[{a, b}] = n;
      else if (other->second.dot(n) < 0.9)
        out.emplace_back(solid.vertices()[static_cast<size_t>(a)], solid.vertices()[static_cast<size_t>(b)]);
    }
  }
}

}  // namespace

SplashPicture::SplashPicture(Workspace& workspace, QWidget* parent) : QWidget(parent), w_(workspace) {
  setObjectName("splash");
  setAccessibleName("The resolved fuel in the tank");
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(240, 160);
  connect(&workspace, &Workspace::appearance_changed, this, qOverload<>(&QWidget::update));
}

void SplashPicture::show_tank(std::shared_ptr<const tank::Tank> tank, std::vector<tank::Pickup> pickups) {
  tank_ = std::move(tank), pickups_ = std::move(pickups);
  frame_.reset();
  edges_.clear();
  if (tank_) {
    for (const tank::Solid& wall : tank_->walls) add_edges(wall, edges_);
    for (const tank::Solid& box : tank_->boxes) add_edges(box, edges_);
    for (const auto& plate : tank_->plates)
      for (const auto& outline : plate)
        for (size_t k = 0; k < outline.size(); ++k)
          edges_.emplace_back(outline[k], outline[(k + 1) % outline.size()]);
  }
  update();
}

void SplashPicture::show_frame(std::shared_ptr<const solve::ResolvedFrame> frame) {
  frame_ = std::move(frame);
  update();
}

SplashPicture::Seen SplashPicture::seen(const Vec3& p) const {
  const Vec3 from = p - (tank_->lower_corner() + tank_->upper_corner()) / 2;
  const double scale =
      0.95 * std::min(width(), height()) / (tank_->upper_corner() - tank_->lower_corner()).norm();
  const double c = std::cos(heading_), s = std::sin(heading_), ch = std::cos(height_), sh = std::sin(height_);
  const double right = -s * from.x() + c * from.y(), away = c * from.x() + s * from.y();
  // Forward is to the left of the picture, as at the other stations' tanks.
  return {QPointF(width() / 2.0 + scale * right, height() / 2.0 - scale * (ch * from.z() - sh * away)),
          -(ch * away + sh * from.z())};
}

void SplashPicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const Theme& t = w_.theme();
  p.fillRect(rect(), t.paper);
  if (!tank_) return;
  p.setRenderHint(QPainter::Antialiasing);
  if (frame_) {
    const auto& surface = frame_->surface;
    std::vector<Seen> points;
    points.reserve(surface.points.size());
    for (const Vec3& q : surface.points) points.push_back(seen(q));
    // From the farthest to the nearest.
    std::vector<std::pair<double, size_t>> order;
    for (size_t k = 0; k < surface.triangles.size(); ++k) {
      const auto& tri = surface.triangles[k];
      double depth = 0;
      for (const int v : tri) depth += points[static_cast<size_t>(v)].depth;
      order.emplace_back(depth, k);
    }
    std::sort(order.begin(), order.end());
    const Vec3 up = -frame_->pull.normalized(), light = Vec3(-0.4, 0.3, 0.87).normalized();
    for (const auto& [depth, k] : order) {
      const auto& tri = surface.triangles[k];
      const Vec3& a = surface.points[static_cast<size_t>(tri[0])];
      Vec3 n = (surface.points[static_cast<size_t>(tri[1])] - a)
                   .cross(surface.points[static_cast<size_t>(tri[2])] - a);
      if (n.squaredNorm() < 1e-16) continue;
      n.normalize();
      // Steep against the pull is broken fuel: paler.
      const double lit = 0.55 + 0.45 * std::abs(n.dot(light)), calm = std::clamp(n.dot(up), 0.0, 1.0);
      QColor tone = t.covered;
      tone = QColor::fromRgbF(
          static_cast<float>(std::lerp(t.paper.redF(), tone.redF(), lit * (0.55 + 0.45 * calm))),
          static_cast<float>(std::lerp(t.paper.greenF(), tone.greenF(), lit * (0.55 + 0.45 * calm))),
          static_cast<float>(std::lerp(t.paper.blueF(), tone.blueF(), lit * (0.55 + 0.45 * calm))), 0.8f);
      QPointF corner[3];
      for (size_t m = 0; m < 3; ++m) corner[m] = points[static_cast<size_t>(tri[m])].at;
      p.setPen(QPen(tone, 0.6));
      p.setBrush(tone);
      p.drawPolygon(corner, 3);
    }
    p.setPen(QPen(t.covered, 2));
    for (const Vec3& d : surface.drops) p.drawPoint(seen(d).at);
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(t.ink, 1));
  for (const auto& [a, b] : edges_) p.drawLine(seen(a).at, seen(b).at);
  p.setFont(text_font(0.85));
  std::vector<QRectF> labels;
  for (size_t k = 0; k < pickups_.size(); ++k) {
    const QPointF at = seen(pickups_[k].position).at;
    const bool known = frame_ && k < frame_->wet.size();
    const bool wet = known && frame_->wet[k] >= 0.5;
    p.setPen(QPen(known && !wet ? t.trouble : t.ink, 1.6));
    // A full disc is wet, a ring is bare.
    p.setBrush(wet ? QBrush(t.covered) : QBrush(t.paper));
    p.drawEllipse(at, 6, 6);
    p.setPen(t.ink);
    const QString text = QString::fromStdString(pickups_[k].name) + (known && !wet ? ", bare" : "");
    QRectF label(at + QPointF(9, -8), QSizeF(p.fontMetrics().horizontalAdvance(text) + 2, 16));
    // Clear of those before.
    while (std::any_of(labels.begin(), labels.end(), [&](const QRectF& l) { return l.intersects(label); }))
      label.translate(0, 16);
    labels.push_back(label);
    p.drawText(label, Qt::AlignLeft | Qt::AlignVCenter, text);
  }
  const Vec3 middle = (tank_->lower_corner() + tank_->upper_corner()) / 2;
  const Vec3 front = Vec3(tank_->upper_corner().x(), middle.y(), tank_->lower_corner().z());
  p.setPen(t.faint);
  p.drawText(seen(front + Vec3(0.06, 0, 0)).at + QPointF(-16, 4), "front");
  if (frame_) {
    const Vec3 g = frame_->pull / standard_gravity;
    p.drawText(QRectF(8, 6, width() - 16, 18), Qt::AlignLeft,
               QString("%1 s    push %2 forward, %3 to the left")
                   .arg(frame_->time, 0, 'f', 2)
                   .arg(w_.show(g.x() * standard_gravity, Quantity::acceleration),
                        w_.show(g.y() * standard_gravity, Quantity::acceleration)));
  }
}

void SplashPicture::turn(double heading, double height) {
  heading_ += heading;
  height_ = std::clamp(height_ + height, -1.5, 1.5);
  update();
}

void SplashPicture::mousePressEvent(QMouseEvent* event) {
  last_ = event->pos();
  setFocus();
}

void SplashPicture::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton)) return;
  const QPoint by = event->pos() - last_;
  last_ = event->pos();
  turn(-0.01 * by.x(), 0.01 * by.y());
}

void SplashPicture::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Left:
      return turn(0.1, 0);
    case Qt::Key_Right:
      return turn(-0.1, 0);
    case Qt::Key_Up:
      return turn(0, 0.1);
    case Qt::Key_Down:
      return turn(0, -0.1);
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace uadze::gui
