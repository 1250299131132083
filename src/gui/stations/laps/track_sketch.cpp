#include "gui/stations/laps/track_sketch.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace uadze::gui {

TrackSketch::TrackSketch(Workspace& workspace, QWidget* parent) : QWidget(parent), w_(workspace) {
  setObjectName("track sketch");
  setAccessibleName("The track as its segments lie");
  setMinimumSize(340, 260);
}

void TrackSketch::show_track(const lap::Track& track, int chosen) {
  track_ = track;
  path_ = lap::track_path(track);
  chosen_ = chosen;
  low_ = high_ = path_.points.empty() ? Vec2(Vec2::Zero()) : path_.points.front();
  for (const Vec2& p : path_.points) low_ = low_.cwiseMin(p), high_ = high_.cwiseMax(p);
  update();
}

QPointF TrackSketch::on_screen(const Vec2& at) const {
  const Vec2 size = high_ - low_, middle = (low_ + high_) / 2;
  const double margin = 30, beside = 92,
               scale = std::min((width() - 2 * beside) / std::max(size.x(), 1.0),
                                (height() - 2 * margin) / std::max(size.y(), 1.0));
  return {width() / 2.0 + scale * (at.x() - middle.x()), height() / 2.0 - scale * (at.y() - middle.y())};
}

void TrackSketch::paintEvent(QPaintEvent*) {
  const Theme& t = w_.theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.paper);
  if (path_.points.size() < 2) {
    p.setPen(t.faint);
    p.drawText(rect(), Qt::AlignCenter, "The track appears as its segments are typed.");
    return;
  }
  QPainterPath way;
  way.moveTo(on_screen(path_.points.front()));
  for (const Vec2& at : path_.points) way.lineTo(on_screen(at));
  p.setPen(QPen(t.rule, 7, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.drawPath(way);
  p.setPen(QPen(t.ink, 1.4));
  p.drawPath(way);
  if (track_.closed && path_.gap > 1) {
    p.setPen(QPen(t.trouble, 1.6, Qt::DashLine));
    p.drawLine(on_screen(path_.points.back()), on_screen(path_.points.front()));
  }
  const auto past = [&](size_t k) {
    return k + 1 < path_.first.size() ? path_.first[k + 1] : path_.points.size() - 1;
  };
  if (chosen_ >= 0 && chosen_ < static_cast<int>(path_.first.size())) {
    const auto k = static_cast<size_t>(chosen_);
    QPainterPath part;
    part.moveTo(on_screen(path_.points[path_.first[k]]));
    for (size_t i = path_.first[k]; i <= past(k); ++i) part.lineTo(on_screen(path_.points[i]));
    p.setPen(QPen(t.covered, 5, Qt::SolidLine, Qt::RoundCap));
    p.drawPath(part);
  }
  // The start, with the way it is driven.
  const QPointF start = on_screen(path_.points[0]), next = on_screen(path_.points[1]);
  const double way_angle = std::atan2(next.y() - start.y(), next.x() - start.x());
  p.save();
  p.translate(start);
  p.rotate(way_angle * 180 / 3.14159265358979);
  p.setPen(QPen(t.ink, 2));
  p.drawLine(QPointF(0, -9), QPointF(0, 9));
  p.setBrush(t.ink);
  p.drawPolygon(QPolygonF{{14, 0}, {6, -4}, {6, 4}});
  p.restore();
  p.setFont(text_font(0.85));
  for (size_t k = 0; k < track_.segments.size() && k < path_.first.size(); ++k) {
    if (track_.segments[k].name.empty()) continue;
    const size_t m = (path_.first[k] + past(k)) / 2, before = m > 0 ? m - 1 : 0;
    const QPointF at = on_screen(path_.points[m]), from = on_screen(path_.points[before]);
    // Outside of the corner, where the line does not run.
    QPointF aside(-(at.y() - from.y()), at.x() - from.x());
    const double length = std::hypot(aside.x(), aside.y());
    if (length > 0) aside /= length;
    if (track_.segments[k].radius < 0) aside = -aside;
    const QString name = QString::fromStdString(track_.segments[k].name);
    QRectF box(0, 0, p.fontMetrics().horizontalAdvance(name) + 6, 16);
    box.moveCenter(at + aside * (10 + std::abs(aside.x()) * box.width() / 2 + std::abs(aside.y()) * 8));
    box.moveLeft(std::clamp(box.left(), 0.0, std::max(width() - box.width(), 0.0)));
    p.setPen(t.ink);
    p.drawText(box, Qt::AlignCenter, name);
  }
}

void TrackSketch::mousePressEvent(QMouseEvent* event) {
  double nearest = 20 * 20;
  int found = -1;
  for (size_t k = 0; k < path_.first.size(); ++k) {
    const size_t past = k + 1 < path_.first.size() ? path_.first[k + 1] : path_.points.size() - 1;
    for (size_t i = path_.first[k]; i <= past; ++i) {
      const QPointF by = on_screen(path_.points[i]) - event->position();
      const double d = QPointF::dotProduct(by, by);
      if (d < nearest) nearest = d, found = static_cast<int>(k);
    }
  }
  if (found >= 0) emit segment_chosen(found);
}

}  // namespace uadze::gui
