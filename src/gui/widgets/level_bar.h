#pragma once
// Which level the views show: a slider and a field, and a button back to the clean level.
#include <QWidget>

#include "gui/document/workspace.h"

class QLineEdit;
class QPushButton;
class QSlider;

namespace uadze::gui {

class LevelBar : public QWidget {
  Q_OBJECT
 public:
  explicit LevelBar(Workspace& workspace, QWidget* parent = nullptr);

 private:
  void refresh();

  Workspace& workspace_;
  QSlider* slider_;
  QLineEdit* field_;
  QPushButton* clean_;
};

}  // namespace uadze::gui
