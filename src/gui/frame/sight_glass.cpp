#include "gui/frame/sight_glass.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

namespace uadze::gui {

QString station_title(Station station) {
  switch (station) {
    case Station::car:
      return "Car & fuel";
    case Station::tank:
      return "Tank";
    case Station::laps:
      return "Laps";
    case Station::logs:
      return "Logs";
    case Station::slosh:
      return "Slosh";
    case Station::circuit:
      return "Circuit";
    case Station::sizing:
      return "Sizing";
    case Station::build:
      return "Build";
    case Station::logbook:
      return "Logbook";
    case Station::sessions:
      return "Sessions";
  }
  return {};
}

Qt::Key station_key(Station station) {
  return static_cast<Qt::Key>(Qt::Key_0 + (static_cast<int>(station) + 1) % 10);
}

SightGlass::SightGlass(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) {
  setFocusPolicy(Qt::StrongFocus);
  setFixedWidth(88);
  setAccessibleName("Stations");
  connect(&workspace_, &Workspace::appearance_changed, this, qOverload<>(&QWidget::update));
}

void SightGlass::set_current(Station station) {
  current_ = static_cast<int>(station);
  update();
}

void SightGlass::set_state(Station station, StationState state, const QString& why) {
  states_[static_cast<size_t>(station)] = state;
  reasons_[static_cast<size_t>(station)] = why;
  update();
}

QRectF SightGlass::slot(int index) const {
  const double each = std::min(96.0, (height() - 24.0) / station_count);
  return {0, 12 + index * each, static_cast<double>(width()), each};
}

int SightGlass::at(const QPointF& point) const {
  for (int i = 0; i < station_count; ++i)
    if (slot(i).contains(point)) return i;
  return -1;
}

void SightGlass::paintEvent(QPaintEvent*) {
  const Theme& t = workspace_.theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.paper);
  p.setPen(t.rule);
  p.drawLine(width() - 1, 0, width() - 1, height());

  constexpr double left = 8, wide = 14;
  const QRectF tube(left, 8, wide, slot(station_count - 1).bottom() - 4);
  int good = 0;
  // A project is complete without a log.
  const auto filled = [this](int i) {
    const StationState state = states_[static_cast<size_t>(i)];
    return state == StationState::good ||
           (i == static_cast<int>(Station::logs) && state == StationState::empty);
  };
  while (good < station_count && filled(good)) ++good;
  QPainterPath glass;
  glass.addRoundedRect(tube, wide / 2, wide / 2);
  p.fillPath(glass, t.field);
  // The stations run downward, so the glass fills from its top, as a sight tube held upside down would.
  p.save();
  p.setClipPath(glass);
  const double reach = good == station_count ? tube.bottom() : slot(good).top() + 4;
  p.fillRect(QRectF(tube.left(), tube.top(), wide, reach - tube.top()), t.covered);
  p.restore();
  p.setPen(QPen(t.faint, 1.2));
  p.drawPath(glass);

  for (int i = 0; i < station_count; ++i) {
    const QRectF s = slot(i);
    const QPointF middle(left + wide / 2, s.center().y());
    const bool here = i == current_;
    if (here) {
      p.fillRect(QRectF(left + wide + 4, s.center().y() - 15, width() - left - wide - 5, 30), t.field);
      p.fillRect(QRectF(width() - 4, s.center().y() - 15, 3, 30), t.ink);
    }
    switch (states_[static_cast<size_t>(i)]) {
      case StationState::good: {
        p.setPen(Qt::NoPen);
        p.setBrush(t.paper);
        p.drawEllipse(middle, 3, 3);
        break;
      }
      case StationState::empty: {
        p.setPen(QPen(t.faint, 1.4));
        p.setBrush(t.field);
        p.drawEllipse(middle, 4, 4);
        break;
      }
      case StationState::stale: {
        p.setPen(QPen(t.ink, 1.4));
        p.setBrush(Qt::NoBrush);
        for (int k = -1; k <= 1; ++k) {
          QPainterPath wave;
          wave.moveTo(left + 2, middle.y() + 5 * k);
          wave.cubicTo(left + 5, middle.y() + 5 * k - 4, left + 9, middle.y() + 5 * k + 4, left + 12,
                       middle.y() + 5 * k);
          p.drawPath(wave);
        }
        break;
      }
      case StationState::trouble: {
        p.setPen(QPen(t.paper, 1));
        p.setBrush(t.trouble);
        p.drawPolygon(QPolygonF{
            {left - 4, middle.y()}, {left + wide + 1, middle.y() - 9}, {left + wide + 1, middle.y() + 9}});
        p.setPen(t.paper);
        p.setFont(text_font(0.85, true));
        p.drawText(QRectF(left + 4, middle.y() - 8, 10, 16), Qt::AlignCenter, "!");
        break;
      }
    }
    p.setPen(here ? t.ink : t.faint);
    p.setFont(text_font(0.84, here));
    p.drawText(QRectF(left + wide + 5, s.top(), width() - left - wide - 9, s.height()),
               Qt::AlignVCenter | Qt::AlignLeft | Qt::TextWordWrap, station_title(static_cast<Station>(i)));
  }
  if (hasFocus()) {
    p.setPen(QPen(t.covered, 1, Qt::DotLine));
    p.setBrush(Qt::NoBrush);
    p.drawRect(slot(current_).adjusted(left + wide + 4, 8, -4, -8));
  }
}

void SightGlass::mousePressEvent(QMouseEvent* event) {
  if (const int i = at(event->position()); i >= 0) emit chosen(static_cast<Station>(i));
}

void SightGlass::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Down && current_ + 1 < station_count)
    emit chosen(static_cast<Station>(current_ + 1));
  else if (event->key() == Qt::Key_Up && current_ > 0)
    emit chosen(static_cast<Station>(current_ - 1));
  else
    QWidget::keyPressEvent(event);
}

bool SightGlass::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    auto* help = static_cast<QHelpEvent*>(event);
    const int i = at(help->pos());
    if (i >= 0)
      QToolTip::showText(help->globalPos(), QString("%1 (Ctrl+%2)\n%3")
                                                .arg(station_title(static_cast<Station>(i)))
                                                .arg((i + 1) % 10)
                                                .arg(reasons_[static_cast<size_t>(i)]));
    return true;
  }
  return QWidget::event(event);
}

}  // namespace uadze::gui
