#include "gui/frame/lap_ribbon.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "core/project/keys.h"

namespace uadze::gui {

LapRibbon::LapRibbon(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      picture_(new RibbonPicture(workspace, this)),
      play_(new QToolButton(this)),
      speed_(new QComboBox(this)) {
  setFixedHeight(92);
  play_->setText("▶ Play");
  play_->setObjectName("play");
  play_->setToolTip("Plays the lap (Space)");
  play_->setFixedWidth(72);
  for (const char* s : {"¼ speed", "½ speed", "1 × speed", "2 × speed", "4 × speed", "10 × speed"})
    speed_->addItem(s);
  speed_->setCurrentIndex(2);
  speed_->setAccessibleName("Speed of play");
  speed_->setFixedWidth(104);
  auto* buttons = new QVBoxLayout;
  buttons->addStretch();
  buttons->addWidget(play_);
  buttons->addWidget(speed_);
  buttons->addStretch();
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(8, 0, 8, 0);
  layout->addLayout(buttons);
  layout->addWidget(picture_, 1);
  connect(play_, &QToolButton::clicked, this, &LapRibbon::toggle_play);
  connect(&timer_, &QTimer::timeout, this, &LapRibbon::tick);
  timer_.setInterval(16);
}

void LapRibbon::toggle_play() {
  if (timer_.isActive()) {
    timer_.stop();
  } else if (workspace_.runs.lap()) {
    time_ = workspace_.runs.cursor_time();
    clock_.start();
    timer_.start();
  }
  play_->setText(timer_.isActive() ? "❚❚ Hold" : "▶ Play");
}

void LapRibbon::tick() {
  static constexpr double speeds[] = {0.25, 0.5, 1, 2, 4, 10};
  const auto entry = workspace_.runs.lap();
  if (!entry) return toggle_play();
  const lap::Lap& lap = entry->value;
  // Somebody else moved the cursor: go on from there.
  if (std::abs(workspace_.runs.cursor_time() - time_) > 0.5) time_ = workspace_.runs.cursor_time();
  time_ += static_cast<double>(clock_.restart()) / 1000 * speeds[speed_->currentIndex()];
  if (time_ > lap.time.back())
    time_ = lap.time.front() + std::fmod(time_ - lap.time.front(), std::max(lap.duration(), 1e-3));
  workspace_.set_cursor_time(time_);
}

RibbonPicture::RibbonPicture(Workspace& workspace, QWidget* parent)
    : LapPicture(workspace, "ribbon", "Lap ribbon: arrow keys move the cursor", parent) {
  setToolTip("Click or drag to move the lap cursor; arrow keys, with Shift faster");
}

double RibbonPicture::x_of(double distance, const lap::Lap& lap) const {
  return 4 + (width() - 8) * (distance - lap.distance.front()) / std::max(lap.length(), 1e-9);
}

void RibbonPicture::draw_still(QPainter& p) {
  const Theme& t = workspace_.theme();
  const auto entry = workspace_.runs.lap();
  if (!entry) {
    p.setPen(t.faint);
    p.drawText(rect(), Qt::AlignCenter, "No lap yet: add one at the Laps station, or drop a project here.");
    return;
  }
  const lap::Lap& lap = entry->value;
  p.setPen(t.rule);
  p.drawLine(0, 0, width(), 0);
  const double top = 24, bottom = height() - 22, middle = (top + bottom) / 2;
  const auto corners = workspace_.runs.corners();
  const QFontMetrics metrics(text_font(0.8));
  double free[2] = {-1e9, -1e9};  // right end of the last name in each of two rows
  for (size_t i = 0; i < corners.size(); ++i) {
    const auto& c = corners[i];
    const double a = x_of(c.from, lap), b = x_of(c.to, lap);
    QColor band = t.thin;
    band.setAlpha(60);
    p.fillRect(QRectF(a, top, b - a, bottom - top), band);
    const QString name = QString::fromStdString(c.name);
    const double wide = metrics.horizontalAdvance(name);
    double x = std::clamp((a + b - wide) / 2, 2.0, width() - wide - 2);
    const int row = x > free[0] + 6 ? 0 : 1;
    if (row == 1 && x < free[1] + 6) x = std::min(free[1] + 6, width() - wide - 2);
    free[row] = x + wide;
    p.setPen(t.ink);
    p.setFont(text_font(0.8));
    p.drawText(QPointF(x, row == 0 ? 16 : height() - 7), name);
    p.setPen(t.rule);
    p.drawLine(QPointF((a + b) / 2, row == 0 ? 19 : bottom),
               QPointF((a + b) / 2, row == 0 ? top : height() - 18.0));
  }
  p.setPen(QPen(t.rule, 1));
  p.drawLine(QPointF(0, middle), QPointF(width(), middle));
  double most = 1e-9;
  for (double a : lap.lateral) most = std::max(most, std::abs(a));
  for (double a : lap.longitudinal) most = std::max(most, std::abs(a));
  const auto trace = [&](const std::vector<double>& values, const QPen& pen) {
    QPolygonF line;
    for (size_t i = 0; i < values.size(); i += std::max<size_t>(1, values.size() / 2000))
      line << QPointF(x_of(lap.distance[i], lap), middle - values[i] / most * (bottom - top) / 2);
    p.setPen(pen);
    p.drawPolyline(line);
  };
  trace(lap.longitudinal, QPen(t.faint, 1, Qt::DashLine));
  trace(lap.lateral, QPen(t.covered, 1.4));
}

std::optional<ContentKey> RibbonPicture::still_of() const {
  const auto entry = workspace_.runs.lap();
  const auto* reference = workspace_.selection.lap_reference();
  if (!entry || !reference) return std::nullopt;
  return KeyMaker().add(entry->key).add(project::key_of(*reference)).key();
}

void RibbonPicture::draw_moving(QPainter& p) {
  const Theme& t = workspace_.theme();
  const auto entry = workspace_.runs.lap();
  if (!entry) return;
  const lap::Lap& lap = entry->value;
  const size_t i = std::min(workspace_.selection.cursor(), lap.size() - 1);
  const double x = x_of(lap.distance[i], lap);
  p.setPen(QPen(t.ink, 1.6));
  p.drawLine(QPointF(x, 20), QPointF(x, height() - 20));
  const QString text = QString("%1  %2  lat %3  long %4")
                           .arg(workspace_.show(lap.time[i], Quantity::duration),
                                workspace_.show(lap.distance[i], Quantity::distance),
                                workspace_.show(lap.lateral[i], Quantity::acceleration),
                                workspace_.show(lap.longitudinal[i], Quantity::acceleration));
  p.setFont(figure_font(0.8));
  const double wide = p.fontMetrics().horizontalAdvance(text) + 8;
  const QRectF box(x + wide + 8 > width() ? x - wide - 4 : x + 4, height() / 2.0 - 26, wide, 15);
  QColor back = t.paper;
  back.setAlpha(225);
  p.fillRect(box, back);
  p.setPen(t.ink);
  p.drawText(box, Qt::AlignCenter, text);
}

void RibbonPicture::seek(const QPointF& point) {
  if (const auto entry = workspace_.runs.lap())
    workspace_.set_cursor_distance(entry->value.distance.front() +
                                   (point.x() - 4) / (width() - 8) * entry->value.length());
}

}  // namespace uadze::gui
