#include "gui/widgets/entry.h"

#include <QSettings>

namespace uadze::gui {

QLineEdit* entry_field(const QString& name, const QString& hint) {
  auto* out = new QLineEdit;
  out->setObjectName(name);
  out->setAccessibleName(name);
  out->setPlaceholderText(hint);
  out->setMinimumHeight(target_height);
  return out;
}

QPushButton* entry_button(const QString& text, const QString& name) {
  auto* out = new QPushButton(text);
  out->setObjectName(name);
  out->setMinimumHeight(target_height);
  return out;
}

QLabel* entry_words(const QString& name) {
  auto* out = new QLabel;
  out->setObjectName(name);
  out->setWordWrap(true);
  out->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  out->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  return out;
}

QScrollArea* entry_scroll(QWidget* inner) {
  auto* out = new QScrollArea;
  out->setWidgetResizable(true);
  out->setFrameShape(QFrame::NoFrame);
  out->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  out->viewport()->setAutoFillBackground(false);
  out->setWidget(inner);
  return out;
}

QLineEdit* remembered_field(const QString& name, const QString& hint) {
  QLineEdit* out = entry_field(name, hint);
  out->setText(QSettings().value("book/" + name).toString());
  return out;
}

void remember(const QLineEdit* field) {
  QSettings().setValue("book/" + field->objectName(), field->text().trimmed());
}

}  // namespace uadze::gui
