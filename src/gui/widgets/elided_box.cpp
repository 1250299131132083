#include "gui/widgets/elided_box.h"

#include <QStylePainter>

namespace uadze::gui {

ElidedBox::ElidedBox(QWidget* parent) : QComboBox(parent) {
  setMinimumWidth(pressed);
  setMaximumWidth(most);
  connect(this, &QComboBox::currentTextChanged, this, [this] { updateGeometry(); });
}

QSize ElidedBox::sizeHint() const {
  constexpr int beside = 44;  // frame and arrow
  const int wanted = fontMetrics().horizontalAdvance(currentText()) + beside;
  return {std::clamp(wanted, least, most), QComboBox::sizeHint().height()};
}

QSize ElidedBox::minimumSizeHint() const { return {pressed, QComboBox::minimumSizeHint().height()}; }

QString ElidedBox::shown_text() const {
  QStyleOptionComboBox option;
  initStyleOption(&option);
  const QRect field =
      style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, this);
  return fontMetrics().elidedText(currentText(), Qt::ElideRight, field.width() - 4);
}

void ElidedBox::paintEvent(QPaintEvent*) {
  QStylePainter painter(this);
  QStyleOptionComboBox option;
  initStyleOption(&option);
  painter.drawComplexControl(QStyle::CC_ComboBox, option);
  option.currentText = shown_text();
  painter.drawControl(QStyle::CE_ComboBoxLabel, option);
}

}  // namespace uadze::gui
