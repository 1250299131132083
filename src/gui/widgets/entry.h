#pragma once
// What forms of the garage are made of: fields and buttons that a cold hand hits, names that are remembered.
#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

namespace uadze::gui {

inline constexpr int target_height = 38;  ///< px, of what is hit with a finger in a glove

QLineEdit* entry_field(const QString& name, const QString& hint = {});
QPushButton* entry_button(const QString& text, const QString& name);
QLabel* entry_words(const QString& name);
QScrollArea* entry_scroll(QWidget* inner);

/// A field whose last text is remembered for the next time: names, instruments.
QLineEdit* remembered_field(const QString& name, const QString& hint);
void remember(const QLineEdit* field);

}  // namespace uadze::gui
