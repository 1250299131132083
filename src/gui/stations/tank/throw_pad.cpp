#include "gui/stations/tank/throw_pad.h"

#include <QKeyEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "gui/widgets/lap_picture.h"

namespace uadze::gui {
namespace {

constexpr double edge = 2.0 * standard_gravity;

}  // namespace

ThrowPad::ThrowPad(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) {
  setFixedSize(148, 148);
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::CrossCursor);
  setObjectName("throw pad");
  setAccessibleName("Throw pad: drag or hold the arrow keys to accelerate the car");
  setToolTip("Drag, or hold the arrow keys, to accelerate the car; let go to let it stand. The edge is 2 g.");
  timer_.setInterval(16);
  connect(&timer_, &QTimer::timeout, this, &ThrowPad::tick);
  // Another tank or another level: begin anew.
  connect(&workspace_, &Workspace::changed, this, [this] {
    if (running() && workspace_.runs.car() != car_) start();
  });
  connect(&workspace_, &Workspace::level_changed, this, [this] {
    if (running()) start();
  });
}

void ThrowPad::start() {
  fuel_ = nullptr;
  car_ = workspace_.runs.car();
  if (!car_) return;
  slosh::MotionOptions options = starvation::motion_options(*car_, false);
  fuel_ = std::make_unique<slosh::FuelMotion>(*car_->tank, car_->pickups, workspace_.runs.level(), options);
  clock_.start();
  timer_.start();
  update();
}

void ThrowPad::play(const lap::ForceTrace& manoeuvre) {
  start();
  playing_ = manoeuvre;
  played_ = 0;
}

void ThrowPad::stop() {
  playing_.reset();
  timer_.stop();
  fuel_ = nullptr;
  acceleration_ = Vec3::Zero();
  keys_.clear();
  update();
}

std::optional<FuelMoment> ThrowPad::state() {
  if (!fuel_) return std::nullopt;
  return moment_of(slosh::instant_of(*fuel_, 0.0, car_->pickups.size()),
                   slosh::effective_gravity(acceleration_));
}

void ThrowPad::tick() {
  if (!fuel_) return;
  const double passed = static_cast<double>(clock_.restart()) * 1e-3;
  rate_ = 0.9 * rate_ + 0.1 / std::max(passed, 1e-3);
  if (!keys_.isEmpty()) {
    Vec3 wanted = Vec3::Zero();
    if (keys_.contains(Qt::Key_Up)) wanted.x() += 1;
    if (keys_.contains(Qt::Key_Down)) wanted.x() -= 1;
    if (keys_.contains(Qt::Key_Left)) wanted.y() += 1;
    if (keys_.contains(Qt::Key_Right)) wanted.y() -= 1;
    acceleration_ = 1.2 * standard_gravity * wanted;
  }
  const double step = std::min(passed, 0.06);
  if (playing_) {
    played_ += step;
    const Vec3 f = playing_->at(playing_->begin() + played_);
    acceleration_ = slosh::effective_gravity(Vec3::Zero()) - f;
    if (played_ > playing_->end() - playing_->begin()) {
      playing_.reset();
      acceleration_ = Vec3::Zero();
    }
  }
  fuel_->move(slosh::effective_gravity(acceleration_), step);
  update();
  emit moved();
}

void ThrowPad::drag(const QPointF& point) {
  playing_.reset();
  const double half = width() / 2.0;
  const Vec3 a(-(point.y() - half) / half * edge, -(point.x() - half) / half * edge, 0);
  acceleration_ = a.cwiseMax(Vec3::Constant(-edge)).cwiseMin(Vec3::Constant(edge));
  update();
}

void ThrowPad::mousePressEvent(QMouseEvent* event) { drag(event->position()); }
void ThrowPad::mouseMoveEvent(QMouseEvent* event) { drag(event->position()); }
void ThrowPad::mouseReleaseEvent(QMouseEvent*) {
  acceleration_ = Vec3::Zero();
  update();
}

void ThrowPad::keyPressEvent(QKeyEvent* event) {
  if (event->key() < Qt::Key_Left || event->key() > Qt::Key_Down) return QWidget::keyPressEvent(event);
  playing_.reset();
  keys_.insert(event->key());
}

void ThrowPad::keyReleaseEvent(QKeyEvent* event) {
  if (event->isAutoRepeat() || !keys_.remove(event->key())) return QWidget::keyReleaseEvent(event);
  if (keys_.isEmpty()) acceleration_ = Vec3::Zero();
}

void ThrowPad::focusOutEvent(QFocusEvent* event) {
  if (!keys_.isEmpty()) acceleration_ = Vec3::Zero();
  keys_.clear();
  QWidget::focusOutEvent(event);
}

void ThrowPad::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Theme& t = workspace_.theme();
  QColor back = t.paper;
  back.setAlpha(230);
  p.fillRect(rect(), back);
  p.setPen(QPen(t.rule, 1));
  p.drawRect(rect().adjusted(0, 0, -1, -1));
  const QPointF c(width() / 2.0, height() / 2.0);
  for (double r : {0.25, 0.5, 0.75, 1.0}) p.drawEllipse(c, r * c.x(), r * c.y());
  p.drawLine(QPointF(c.x(), 0), QPointF(c.x(), height()));
  p.drawLine(QPointF(0, c.y()), QPointF(width(), c.y()));
  p.setFont(text_font(0.8));
  p.setPen(t.faint);
  p.drawText(QRectF(0, 2, width(), 14), Qt::AlignCenter, "speeding up");
  p.drawText(QRectF(0, height() - 16, width(), 14), Qt::AlignCenter, "braking");
  p.drawText(QRectF(4, c.y() - 16, 60, 14), Qt::AlignLeft, "left turn");
  p.drawText(QRectF(width() - 64, c.y() - 16, 60, 14), Qt::AlignRight, "right turn");
  const QPointF knob(c.x() - acceleration_.y() / edge * c.x(), c.y() - acceleration_.x() / edge * c.y());
  p.setPen(QPen(t.ink, 1.6));
  p.drawLine(c, knob);
  p.setBrush(running() ? t.covered : t.paper);
  p.drawEllipse(knob, 7, 7);
  p.setPen(t.ink);
  p.setFont(figure_font(0.8));
  p.drawText(QRectF(0, c.y() + 8, width(), 14), Qt::AlignCenter,
             workspace_.show(acceleration_.norm(), Quantity::acceleration));
  if (hasFocus()) draw_focus_ring(p, rect(), t);
}

}  // namespace uadze::gui
