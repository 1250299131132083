#include "gui/stations/slosh/reach_view.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace uadze::gui {

ReachView::ReachView(Workspace& workspace, QWidget* parent)
    : LapPicture(workspace, "reach", "Reach of the pickups: least fuel by direction of a steady push",
                 parent) {
  connect(&workspace, &Workspace::changed, this, [this] {
    if (isVisible()) compute();
  });
}

void ReachView::set_strength(double g) {
  strength_ = g;
  compute();
}

void ReachView::compute() {
  const auto car = workspace_.runs.car();
  if (!car || car->pickups.empty()) {
    reach_.clear();
    of_ = nullptr;
    update();
    return;
  }
  if (of_ == car && of_strength_ == strength_) return;
  of_ = car, of_strength_ = strength_;
  work_.start(
      this,
      [car, g = strength_](Progress& progress) {
        std::vector<slosh::Reach> out;
        for (size_t p = 0; p < car->pickups.size(); ++p)
          out.push_back(slosh::pickup_reach(*car->tank, car->pickups[p],
                                            static_cast<size_t>(std::max(0, car->tank->pickup_space[p])), g,
                                            72, &progress));
        return out;
      },
      [this](std::vector<slosh::Reach> r) {
        reach_ = std::move(r);
        fault_.clear();
        update();
      },
      [this](const QString& why) {
        fault_ = why;
        update();
      });
  update();
}

// Up is speeding up, left a left-hand corner; the distance from the middle is volume.
void ReachView::draw_moving(QPainter& p) {
  const Theme& t = workspace_.theme();
  const auto car = workspace_.runs.car();
  const QPointF c(width() * 0.42, height() / 2.0);
  const double r = std::min(width() * 0.36, height() * 0.42);
  p.setPen(t.faint);
  if (!car || car->pickups.empty()) {
    p.drawText(rect(), Qt::AlignCenter, "Reach needs a pickup: add one at the Tank station.");
    return;
  }
  if (!fault_.isEmpty()) p.drawText(QRectF(8, 4, width() - 16, 20), Qt::AlignLeft, "▲ " + fault_);
  const double whole = car->tank->volume();
  for (int k = 1; k <= 4; ++k) {
    p.setPen(QPen(t.rule, 1));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(c, r * k / 4, r * k / 4);
  }
  p.setPen(QPen(t.rule, 1));
  p.drawLine(c - QPointF(0, r), c + QPointF(0, r));
  p.drawLine(c - QPointF(r, 0), c + QPointF(r, 0));
  p.setFont(text_font(0.9));
  p.setPen(t.ink);
  p.drawText(QRectF(c.x() - 90, c.y() - r - 20, 180, 16), Qt::AlignCenter, "speeding up");
  p.drawText(QRectF(c.x() - 90, c.y() + r + 4, 180, 16), Qt::AlignCenter, "braking");
  p.drawText(QRectF(c.x() - r - 84, c.y() - 8, 80, 16), Qt::AlignRight, "left turn");
  p.drawText(QRectF(c.x() + r + 4, c.y() - 8, 90, 16), Qt::AlignLeft, "right turn");

  const auto point = [&](double angle, double volume) {
    const double d = std::min(volume, whole) / whole * r;
    return QPointF(c.x() - std::sin(angle) * d, c.y() - std::cos(angle) * d);
  };
  // The lap's own pushes, where their strength is near the one drawn: on the ring of the level shown.
  int near = 0;
  if (const auto entry = workspace_.runs.lap()) {
    const auto& lap = entry->value;
    p.setPen(Qt::NoPen);
    QColor dot = t.dry;
    dot.setAlpha(120);
    p.setBrush(dot);
    for (size_t i = 0; i < lap.size(); i += 5) {
      const double strength =
          std::hypot(lap.longitudinal[i], lap.lateral[i]) / std::max(lap.vertical[i], 1.0);
      if (strength < 0.75 * strength_) continue;
      ++near;
      p.drawEllipse(point(std::atan2(lap.lateral[i], lap.longitudinal[i]), workspace_.runs.level()), 2.2,
                    2.2);
    }
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(t.ink, 1.2, Qt::DashLine));
  p.drawEllipse(c, r * workspace_.runs.level() / whole, r * workspace_.runs.level() / whole);
  constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DotLine, Qt::DashDotLine, Qt::DashDotDotLine};
  for (size_t k = 0; k < reach_.size(); ++k) {
    QPainterPath path;
    for (size_t i = 0; i <= reach_[k].angle.size(); ++i) {
      const size_t j = i % reach_[k].angle.size();
      const QPointF q = point(reach_[k].angle[j], reach_[k].volume[j]);
      i == 0 ? path.moveTo(q) : path.lineTo(q);
    }
    p.setPen(QPen(t.covered, 2, styles[k % 4]));
    p.drawPath(path);
  }
  // The rings' figures along a slant, clear of the words at the four ends, over curves that pass there.
  p.setFont(figure_font(0.8));
  p.setPen(t.faint);
  for (int k = 1; k <= 4; ++k) {
    const QPointF at = c + QPointF(0.71, -0.71) * (r * k / 4);
    const QString text = workspace_.show(whole * k / 4, Quantity::volume, 1);
    const QRectF box(at.x() + 2, at.y() - 13, p.fontMetrics().horizontalAdvance(text) + 3, 15);
    p.fillRect(box, t.paper);
    p.drawText(box, Qt::AlignCenter, text);
  }
  // Legend and reading.
  double y = 20;
  const double x = width() * 0.74;
  p.setFont(text_font(0.9));
  const auto line = [&](const QPen& pen, const QString& text) {
    p.setPen(pen);
    p.drawLine(QPointF(x, y + 8), QPointF(x + 26, y + 8));
    p.setPen(t.ink);
    p.drawText(QRectF(x + 32, y, width() - x - 36, 32), Qt::AlignLeft | Qt::TextWordWrap, text);
    y += 36;
  };
  for (size_t k = 0; k < reach_.size(); ++k) {
    double most = 0;
    for (double v : reach_[k].volume) most = std::max(most, v);
    line(QPen(t.covered, 2, styles[k % 4]),
         QString("%1: at worst %2")
             .arg(QString::fromStdString(car->pickups[k].name),
                  std::isfinite(most) ? workspace_.show(most, Quantity::volume, 1)
                                      : QString("never covered")));
  }
  line(QPen(t.ink, 1.2, Qt::DashLine),
       "level shown " + workspace_.show(workspace_.runs.level(), Quantity::volume, 1));
  p.setPen(t.faint);
  p.drawText(QRectF(x, y, width() - x - 8, 120), Qt::AlignLeft | Qt::TextWordWrap,
             QString("Steady push of %1. Inside a curve its pickup is bare. Dots on the ring of the level: "
                     "the lap's pushes of three quarters of that or more (%2 of them)%3")
                 .arg(workspace_.show(strength_ * standard_gravity, Quantity::acceleration, 1))
                 .arg(near)
                 .arg(work_.running() ? "; computing" : "."));
}

void ReachView::seek(const QPointF& point) {
  const auto car = workspace_.runs.car();
  if (!car) return;
  const QPointF c(width() * 0.42, height() / 2.0);
  const double r = std::min(width() * 0.36, height() * 0.42);
  workspace_.selection.pick_level(std::clamp(QLineF(c, point).length() / r, 0.0, 1.0) * car->tank->volume());
}

}  // namespace uadze::gui
