#include "gui/stations/laps/track_view.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace uadze::gui {

TrackView::TrackView(Workspace& workspace, QWidget* parent)
    : LapPicture(workspace, "track", "Track", parent, true) {
  setMinimumSize(220, 200);
}

void TrackView::fit() {
  points_.clear();
  const auto entry = workspace_.runs.lap();
  if (!entry) return;
  const auto path = lap::path(entry->value, workspace_.selection.lap_reference()->repeated);
  Vec2 low = path.front(), high = path.front();
  for (const Vec2& p : path) low = low.cwiseMin(p), high = high.cwiseMax(p);
  const QRectF room = QRectF(rect()).adjusted(72, 28, -80, -52);
  const double scale = std::min(room.width() / std::max(high.x() - low.x(), 1.0),
                                room.height() / std::max(high.y() - low.y(), 1.0));
  const Vec2 middle = (low + high) / 2;
  for (const Vec2& p : path)
    points_ << QPointF(room.center().x() + (p.x() - middle.x()) * scale,
                       room.center().y() - (p.y() - middle.y()) * scale);
}

void TrackView::draw_still(QPainter& p) {
  const Theme& t = workspace_.theme();
  fit();
  const auto entry = workspace_.runs.lap();
  if (!entry || points_.isEmpty()) {
    p.setPen(t.faint);
    p.drawText(
        QRectF(rect()).adjusted(24, 0, -24, 0), Qt::AlignCenter | Qt::TextWordWrap,
        workspace_.project().laps.empty()
            ? "A lap's accelerations throw the fuel about: everything is computed on one. \"Add\" beside "
              "takes a CSV file with time, lateral and longitudinal acceleration, and speed or distance; "
              "throttle or fuel flow say what the engine burns. The track is drawn here from it."
            : "This lap can not be read.");
    return;
  }
  const lap::Lap& lap = entry->value;
  const auto run = workspace_.runs.level_run();
  // Finer than that no bend is on a screen, and each join of a broad line takes its time.
  const size_t step = std::max<size_t>(1, lap.size() / 900);
  QPolygonF line;
  for (qsizetype i = 0; i < points_.size(); i += static_cast<qsizetype>(step)) line << points_[i];
  line << points_.back();
  p.setPen(QPen(t.rule, 9, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.drawPolyline(line);
  for (size_t i = 0; i + step < lap.size(); i += step) {
    double wet = 1;
    if (run)
      for (size_t k = i; k < i + step; ++k) wet = std::min(wet, run->coverage.covered_mean[k]);
    // Thin where bare, broad where covered: width says it too.
    p.setPen(QPen(t.wet(wet), 1.5 + 4.5 * wet, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(points_[static_cast<int>(i)], points_[static_cast<int>(i + step)]);
  }
  if (run)
    for (const auto& event : run->events) {
      const QPointF c = points_[static_cast<int>(lap.index_at(event.start))];
      p.setPen(QPen(t.trouble, 2));
      p.drawLine(c + QPointF(-6, -6), c + QPointF(6, 6));
      p.drawLine(c + QPointF(-6, 6), c + QPointF(6, -6));
    }
  // Names beside their corner: on its outside if there is room, else wherever they cover least.
  std::vector<QRectF> taken;
  p.setFont(text_font(0.85));
  for (const auto& corner : workspace_.runs.corners()) {
    const double middle = (corner.from + corner.to) / 2;
    const auto at = std::lower_bound(lap.distance.begin(), lap.distance.end(), middle) - lap.distance.begin();
    const int last = static_cast<int>(points_.size()) - 1;
    const int i = std::min(static_cast<int>(at), last), a = std::max(0, i - 20), b = std::min(last, i + 20);
    QPointF across(-(points_[b].y() - points_[a].y()), points_[b].x() - points_[a].x());
    across /= std::max(1e-9, std::hypot(across.x(), across.y()));
    if (corner.hand == lap::Hand::right) across = -across;
    const QString name = QString::fromStdString(corner.name);
    const double wide = p.fontMetrics().horizontalAdvance(name);
    QRectF best;
    double least = 1e9;
    for (const double away : {14.0, -14.0, 26.0, -26.0}) {
      const QPointF place = points_[i] + across * away;
      const double side = away > 0 ? 1 : -1;
      QRectF box(place.x() - wide / 2 + side * across.x() * wide / 2, place.y() - 8 + side * across.y() * 4,
                 wide, 16);
      box.moveLeft(std::clamp(box.left(), 2.0, width() - wide - 2));
      double cost = away == 14.0 ? 0 : 2;
      for (const QRectF& other : taken) cost += box.intersects(other) ? 100 : 0;
      for (int k = 0; k <= last; k += 10) cost += box.contains(points_[k]) ? 1 : 0;
      if (cost < least) least = cost, best = box;
    }
    taken.push_back(best);
    p.setPen(t.ink);
    p.drawText(best, Qt::AlignCenter, name);
  }
  // Start line and car.
  const auto bar = [&](int i, double half, const QPen& pen) {
    const int j = std::min(i + 3, static_cast<int>(points_.size()) - 1), k = std::max(0, j - 6);
    QPointF d(-(points_[j].y() - points_[k].y()), points_[j].x() - points_[k].x());
    d /= std::max(1e-9, std::hypot(d.x(), d.y()));
    p.setPen(pen);
    p.drawLine(points_[i] - d * half, points_[i] + d * half);
  };
  bar(0, 9, QPen(t.ink, 2));
  p.setPen(t.faint);
  p.setFont(text_font(0.85));
  p.drawText(QRectF(8, height() - 38, width() - 16, 34), Qt::AlignLeft | Qt::AlignBottom | Qt::TextWordWrap,
             QString("broad: pickups covered · thin: bare · ✕ starves · with %1 in the tank")
                 .arg(workspace_.show(workspace_.runs.level(), Quantity::volume)));
}

void TrackView::draw_moving(QPainter& p) {
  const auto entry = workspace_.runs.lap();
  if (!entry || points_.isEmpty()) return;
  const Theme& t = workspace_.theme();
  const int now = static_cast<int>(std::min(workspace_.selection.cursor(), entry->value.size() - 1));
  p.setPen(QPen(t.paper, 2));
  p.setBrush(t.ink);
  p.drawEllipse(points_[std::min(now, static_cast<int>(points_.size()) - 1)], 6, 6);
}

void TrackView::seek(const QPointF& point) {
  int best = -1;
  double nearest = 40;
  for (int i = 0; i < points_.size(); i += 2) {
    const QPointF d = points_[i] - point;
    if (std::hypot(d.x(), d.y()) < nearest) nearest = std::hypot(d.x(), d.y()), best = i;
  }
  if (best >= 0) workspace_.set_cursor(static_cast<size_t>(best));
}

}  // namespace uadze::gui
