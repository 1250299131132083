#include "gui/stations/logs/log_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "core/report/log_report.h"

namespace uadze::gui {
namespace {

constexpr double margin_left = 132, margin_right = 10, strips_top = 26, strips_bottom = 24, strip_gap = 6;

/// A channel's value as it is shown: in the user's units where it has a role, as written where not.
double shown_value(const log::Channel& c, double value, const UnitSystem& units) {
  if (c.role == log::Role::none) return value;
  return shown_unit(log::info_of(c.role).quantity, units).from_si(value);
}

QString unit_word(const log::Channel& c, const UnitSystem& units) {
  if (c.role == log::Role::none) return QString::fromStdString(c.unit);
  const auto name = shown_unit(log::info_of(c.role).quantity, units).name;
  return QString::fromUtf8(name.data(), static_cast<int>(name.size()));
}

QString figure(double value, double span) {
  const int places = span >= 200 ? 0 : span >= 20 ? 0 : span >= 2 ? 1 : span >= 0.2 ? 2 : 3;
  QString out = QString::number(value, 'f', places);
  return out == "-0" || out == "-0.0" || out == "-0.00" ? out.mid(1) : out;
}

}  // namespace

LogView::LogView(Workspace& workspace, QWidget* parent) : QWidget(parent), w_(workspace) {
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setMinimumSize(320, 200);
  setAccessibleName("Channels of the log over its time");
  setToolTip("Wheel: zoom. Drag: along the log. Click: choose the lap. Home: all of it.");
  connect(&workspace, &Workspace::appearance_changed, this, qOverload<>(&QWidget::update));
}

void LogView::show_log(std::shared_ptr<const log::Log> log, std::shared_ptr<const log::Laps> laps) {
  const bool another = !log_ || !log || log->size() != log_->size();
  strips_.clear();
  log_ = std::move(log), laps_ = std::move(laps);
  difference_.values.clear();
  computed_.clear();
  marks_.clear();
  if (another) begin_ = 0, end_ = log_ ? std::max(log_->duration(), 0.1) : 1;
  update();
}

void LogView::show_difference(const std::vector<double>& difference) {
  difference_ = {.name = "over the injectors",
                 .unit = "",
                 .role = log::Role::rail_pressure,
                 .values = std::vector<float>(difference.begin(), difference.end())};
  show_channels(names_);
}

void LogView::show_computed(std::vector<float> difference) {
  computed_ = std::move(difference);
  update();
}

void LogView::show_channels(const QStringList& names) {
  strips_.clear();
  names_ = names;
  if (log_)
    for (const QString& name : names)
      for (const log::Channel& c : log_->channels)
        if (QString::fromStdString(c.name) == name) strips_.push_back({&c, log::Envelope(c.values)});
  if (log_ && difference_.values.size() == log_->size())
    strips_.push_back({&difference_, log::Envelope(difference_.values)});
  update();
}

void LogView::choose_lap(int number) {
  chosen_ = number;
  update();
}

void LogView::mark(std::vector<LogMark> marks) {
  marks_ = std::move(marks);
  update();
}

void LogView::look_at(double begin, double end) {
  if (!log_) return;
  const double whole = std::max(log_->duration(), 0.1);
  const double span = std::clamp(end - begin, std::min(0.2, whole), whole);
  begin_ = std::clamp((begin + end) / 2 - span / 2, 0.0, whole - span);
  end_ = begin_ + span;
  update();
}

QRectF LogView::area() const {
  return {margin_left, strips_top, width() - margin_left - margin_right,
          height() - strips_top - strips_bottom};
}
double LogView::time_at(double x) const {
  return begin_ + (x - area().left()) / area().width() * (end_ - begin_);
}
double LogView::x_of(double t) const {
  return area().left() + (t - begin_) / (end_ - begin_) * area().width();
}

void LogView::zoom(double factor, double about) {
  const double span = (end_ - begin_) * factor, share = (about - begin_) / (end_ - begin_);
  const double from = about - share * span;
  look_at(from, from + span);
}

void LogView::paintEvent(QPaintEvent*) {
  const Theme& t = w_.theme();
  QPainter p(this);
  p.fillRect(rect(), t.paper);
  if (!log_) {
    p.setPen(t.faint);
    p.drawText(
        QRectF(rect()).adjusted(40, 0, -40, 0), Qt::AlignCenter | Qt::TextWordWrap,
        "A log from the car shows here: channels over time, its laps along the top.\n\n"
        "Open one on the right. Text tables of any layout are read, packed or not, and CAN frames as text; "
        "what was taken for what can be changed. Any lap of it becomes a lap of the project.");
    return;
  }
  draw_laps(p);
  const QRectF a = area();
  if (strips_.empty()) {
    p.setPen(t.faint);
    p.drawText(a, Qt::AlignCenter, "Tick channels to show at Channels.");
  }
  const double each =
      strips_.empty() ? 0 : (a.height() + strip_gap) / static_cast<double>(strips_.size()) - strip_gap;
  for (size_t k = 0; k < strips_.size(); ++k)
    draw_strip(p, strips_[k],
               {a.left(), a.top() + static_cast<double>(k) * (each + strip_gap), a.width(), each});
  // The time along the foot, in steps that a person counts in.
  p.setPen(t.ink);
  const double span = end_ - begin_;
  double step = 0.1;
  for (double s : {0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0, 120.0, 300.0, 600.0, 1800.0, 3600.0})
    if (span / step > 8) step = s;
  for (double at = std::ceil(begin_ / step) * step; at <= end_; at += step) {
    const double x = x_of(at);
    p.drawLine(QPointF(x, a.bottom()), QPointF(x, a.bottom() + 4));
    const QString text = span < 120 && at < 60
                             ? QString::number(at, 'f', step < 1 ? 1 : 0) + " s"
                             : QString("%1:%2")
                                   .arg(static_cast<int>(at + 1e-6) / 60)
                                   .arg(static_cast<int>(at + 1e-6) % 60, 2, 10, QChar('0'));
    p.drawText(QRectF(x - 40, a.bottom() + 5, 80, 18), Qt::AlignHCenter | Qt::AlignTop, text);
  }
  if (pointer_ >= a.left() && pointer_ <= a.right()) {
    p.setPen(QPen(t.ink, 1, Qt::DotLine));
    p.drawLine(QPointF(pointer_, a.top()), QPointF(pointer_, a.bottom()));
  }
}

void LogView::draw_laps(QPainter& p) const {
  if (!laps_) return;
  const Theme& t = w_.theme();
  const QRectF a = area();
  for (const log::LoggedLap& lap : laps_->all) {
    const double left = std::max(x_of(lap.begin), a.left()), right = std::min(x_of(lap.end), a.right());
    if (right <= left) continue;
    if (lap.number == chosen_)
      p.fillRect(QRectF(left, 2, right - left, height() - strips_bottom - 2), t.field);
    p.setPen(lap.number == chosen_ ? t.ink : t.rule);
    p.drawLine(QPointF(left, 2), QPointF(left, a.bottom()));
    p.setPen(t.ink);
    const QRectF box(left + 3, 3, right - left - 6, strips_top - 6);
    QString text = QString("%1 %2")
                       .arg(lap.number)
                       .arg(lap.kind == log::LapKind::flying ? "" : name_of(lap.kind))
                       .trimmed();
    if (p.fontMetrics().horizontalAdvance(text) > box.width()) text = QString::number(lap.number);
    if (p.fontMetrics().horizontalAdvance(text) <= box.width())
      p.drawText(box, Qt::AlignLeft | Qt::AlignVCenter, text);
  }
  // Events as notches under the laps, so that colour alone does not tell them.
  for (const LogMark& m : marks_) {
    const double left = x_of(m.begin), right = std::max(x_of(m.end), left + 2);
    if (right < a.left() || left > a.right()) continue;
    QColor shade = t.dry;
    shade.setAlpha(60);
    p.fillRect(QRectF(std::max(left, a.left()), a.top(), right - std::max(left, a.left()), a.height()),
               shade);
    const double x = std::clamp((left + right) / 2, a.left(), a.right());
    QPainterPath notch;
    notch.moveTo(x - 5, a.top() - 7), notch.lineTo(x + 5, a.top() - 7), notch.lineTo(x, a.top()),
        notch.closeSubpath();
    p.fillPath(notch, t.dry);
  }
}

void LogView::draw_strip(QPainter& p, const Strip& strip, const QRectF& box) const {
  const Theme& t = w_.theme();
  const log::Channel& c = *strip.channel;
  p.setPen(t.rule);
  p.drawRect(box);
  const size_t first = log_->index_at(begin_), past = std::min(log_->index_at(end_) + 2, log_->size());
  auto [low, high] = strip.envelope.over(c.values, first, std::max(past, first + 1));
  double a = low, b = high;
  if (a > 0 && a < 0.4 * b) a = 0;
  if (b - a < 1e-9 + 1e-6 * std::abs(b))
    a -= 0.5 * std::max(std::abs(a), 1e-6), b += 0.5 * std::max(std::abs(b), 1e-6);
  const double pad = 0.06 * (b - a);
  a -= a == 0 ? 0 : pad, b += pad;
  const auto y_of = [&](double value) { return box.bottom() - (value - a) / (b - a) * box.height(); };

  const double top_value = shown_value(c, high, w_.units()), low_value = shown_value(c, low, w_.units());
  const double span = std::abs(top_value - low_value);
  p.setPen(t.ink);
  const QRectF label(6, box.top(), margin_left - 12, box.height());
  const QString name = QString::fromStdString(
      c.role == log::Role::none || &c == &difference_ ? c.name : log::info_of(c.role).label);
  const QString unit = unit_word(c, w_.units());
  p.drawText(label, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap,
             unit.isEmpty() ? name : name + "\n" + unit);
  p.setPen(t.faint);
  const QRectF scale(margin_left - 66, box.top(), 60, box.height());
  if (box.height() > 46) {
    p.drawText(scale, Qt::AlignRight | Qt::AlignTop, figure(top_value, span));
    p.drawText(scale, Qt::AlignRight | Qt::AlignBottom, figure(low_value, span));
  }
  if (low < 0 && high > 0) {
    p.setPen(QPen(t.rule, 1, Qt::DotLine));
    p.drawLine(QPointF(box.left(), y_of(0)), QPointF(box.right(), y_of(0)));
  }

  p.save();
  p.setClipRect(box);
  p.setPen(QPen(t.ink, 1.2));
  const auto value_at = [&](double time) {
    const size_t i = log_->index_at(time);
    if (i + 1 >= log_->size() || c.between == log::Between::held) return static_cast<double>(c.values[i]);
    const double share = std::clamp((time - log_->time[i]) / (log_->time[i + 1] - log_->time[i]), 0.0, 1.0);
    return c.values[i] + share * (static_cast<double>(c.values[i + 1]) - c.values[i]);
  };
  // Every pixel's least and most, joined to its neighbours' by the line between them.
  QPainterPath path;
  double x = box.left();
  path.moveTo(x, y_of(value_at(time_at(x))));
  size_t i = first;
  for (; x < box.right(); x += 1) {
    const double until = time_at(x + 1);
    const auto from = log_->time.begin() + static_cast<std::ptrdiff_t>(i);
    const auto to = log_->time.begin() + static_cast<std::ptrdiff_t>(std::max(past, i));
    const size_t next = static_cast<size_t>(std::lower_bound(from, to, until) - log_->time.begin());
    if (next > i) {
      const auto [least, most] = strip.envelope.over(c.values, i, next);
      const double y_first = y_of(c.values[i]);
      path.lineTo(x, y_first);
      if (most > least)
        path.lineTo(x, y_of(least)), path.lineTo(x, y_of(most)), path.lineTo(x, y_of(c.values[next - 1]));
      i = next;
    }
    path.lineTo(x + 1, y_of(value_at(until)));
  }
  p.drawPath(path);
  if (&c == &difference_ && computed_.size() == log_->size()) draw_computed(p, box, y_of);
  p.restore();
  if (pointer_ >= box.left() && pointer_ <= box.right()) {
    p.setPen(t.ink);
    const QString text = figure(shown_value(c, value_at(time_at(pointer_)), w_.units()), span) +
                         (unit.isEmpty() ? "" : " " + unit);
    const double wide = p.fontMetrics().horizontalAdvance(text) + 8;
    const double at = pointer_ + wide + 6 > box.right() ? pointer_ - wide - 4 : pointer_ + 4;
    const QRectF tag(at, box.top() + 2, wide, p.fontMetrics().height() + 2);
    p.fillRect(tag, t.paper);
    p.drawText(tag, Qt::AlignCenter, text);
  }
}

void LogView::draw_computed(QPainter& p, const QRectF& box, const std::function<double(double)>& y_of) const {
  const Theme& t = w_.theme();
  QPainterPath path;
  bool open = false;
  for (double x = box.left(); x <= box.right(); x += 1) {
    const float value = computed_[log_->index_at(time_at(x))];
    if (std::isnan(value)) {
      open = false;
      continue;
    }
    if (open)
      path.lineTo(x, y_of(value));
    else
      path.moveTo(x, y_of(value));
    open = true;
  }
  if (path.isEmpty()) return;
  p.setPen(QPen(t.paper, 3.5));
  p.drawPath(path);
  p.setPen(QPen(t.trouble, 1.6, Qt::DashLine));
  p.drawPath(path);
  const QString text = "dashed: computed";
  const QRectF tag(box.left() + 6, box.bottom() - p.fontMetrics().height() - 4,
                   p.fontMetrics().horizontalAdvance(text) + 8, p.fontMetrics().height() + 2);
  p.fillRect(tag, t.paper);
  p.setPen(t.ink);
  p.drawText(tag, Qt::AlignCenter, text);
}

void LogView::wheelEvent(QWheelEvent* event) {
  if (!log_) return;
  zoom(std::pow(0.8, event->angleDelta().y() / 120.0),
       time_at(std::clamp(event->position().x(), area().left(), area().right())));
  event->accept();
}

void LogView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  if (event->button() == Qt::LeftButton) dragged_ = time_at(event->position().x()), moved_ = false;
}

void LogView::mouseMoveEvent(QMouseEvent* event) {
  pointer_ = event->position().x();
  if (dragged_ && log_) {
    const double by = *dragged_ - time_at(event->position().x());
    if (std::abs(by) > 3 * (end_ - begin_) / std::max(area().width(), 1.0)) moved_ = true;
    if (moved_) look_at(begin_ + by, end_ + by);
  }
  update();
}

void LogView::mouseReleaseEvent(QMouseEvent* event) {
  if (dragged_ && !moved_ && laps_) {
    const double at = time_at(event->position().x());
    for (const log::LoggedLap& lap : laps_->all)
      if (at >= lap.begin && at < lap.end) emit lap_chosen(lap.number);
  }
  dragged_.reset();
}

void LogView::leaveEvent(QEvent*) {
  pointer_ = -1;
  update();
}

void LogView::keyPressEvent(QKeyEvent* event) {
  const double span = end_ - begin_, middle = (begin_ + end_) / 2;
  switch (event->key()) {
    case Qt::Key_Left:
      look_at(begin_ - 0.1 * span, end_ - 0.1 * span);
      break;
    case Qt::Key_Right:
      look_at(begin_ + 0.1 * span, end_ + 0.1 * span);
      break;
    case Qt::Key_Plus:
    case Qt::Key_Up:
      zoom(0.8, middle);
      break;
    case Qt::Key_Minus:
    case Qt::Key_Down:
      zoom(1.25, middle);
      break;
    case Qt::Key_Home:
      if (log_) look_at(0, log_->duration());
      break;
    case Qt::Key_PageDown:
    case Qt::Key_PageUp: {
      const int next = chosen_ + (event->key() == Qt::Key_PageDown ? 1 : -1);
      if (laps_ && next >= 1 && next <= static_cast<int>(laps_->all.size())) emit lap_chosen(next);
      break;
    }
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace uadze::gui
