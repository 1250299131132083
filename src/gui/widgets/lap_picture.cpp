#include "gui/widgets/lap_picture.h"

#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

namespace uadze::gui {

bool move_cursor_by_key(Workspace& workspace, int key, Qt::KeyboardModifiers modifiers) {
  const auto lap = workspace.runs.lap();
  if (!lap) return false;
  const size_t step = modifiers & Qt::ShiftModifier ? 50 : 5;
  const size_t now = workspace.selection.cursor(), last = lap->value.size() - 1;
  switch (key) {
    case Qt::Key_Left:
      workspace.set_cursor(now > step ? now - step : 0);
      return true;
    case Qt::Key_Right:
      workspace.set_cursor(std::min(now + step, last));
      return true;
    case Qt::Key_Home:
      workspace.set_cursor(0);
      return true;
    case Qt::Key_End:
      workspace.set_cursor(last);
      return true;
    default:
      return false;
  }
}

void draw_focus_ring(QPainter& p, const QRect& rect, const Theme& theme) {
  p.setPen(QPen(theme.covered, 1, Qt::DotLine));
  p.setBrush(Qt::NoBrush);
  p.drawRect(rect.adjusted(1, 1, -2, -2));
}

LapPicture::LapPicture(Workspace& workspace, const QString& name, const QString& accessible, QWidget* parent,
                       bool level_stands)
    : QWidget(parent), workspace_(workspace) {
  setObjectName(name);
  setAccessibleName(accessible);
  setFocusPolicy(Qt::StrongFocus);
  connect(&workspace_, &Workspace::appearance_changed, this, &LapPicture::drop_still);
  connect(&workspace_, &Workspace::changed, this, [this] {
    if (!still_is_of_ || still_of() != still_is_of_) still_ = {};
    update();
  });
  connect(&workspace_, &Workspace::cursor_moved, this, qOverload<>(&QWidget::update));
  connect(&workspace_, &Workspace::level_changed, this, [this, level_stands] {
    if (level_stands) still_ = {};
    update();
  });
}

void LapPicture::drop_still() {
  still_ = {};
  update();
}

void LapPicture::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  drop_still();
}

void LapPicture::paintEvent(QPaintEvent*) {
  if (still_.isNull()) {
    still_ = QPixmap(size() * devicePixelRatioF());
    still_.setDevicePixelRatio(devicePixelRatioF());
    still_.fill(workspace_.theme().paper);
    QPainter q(&still_);
    q.setRenderHint(QPainter::Antialiasing);
    draw_still(q);
    still_is_of_ = still_of();
  }
  QPainter p(this);
  p.drawPixmap(0, 0, still_);
  p.setRenderHint(QPainter::Antialiasing);
  draw_moving(p);
  if (hasFocus()) draw_focus_ring(p, rect(), workspace_.theme());
}

void LapPicture::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton) seek(event->position());
}

void LapPicture::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) seek(event->position());
}

void LapPicture::keyPressEvent(QKeyEvent* event) {
  if (!move_cursor_by_key(workspace_, event->key(), event->modifiers())) QWidget::keyPressEvent(event);
}

}  // namespace uadze::gui
