#pragma once
// A task of the due list: what its part's life is and where that comes from; that it went in new, or was
// done; and what happened to the car.
#include <QWidget>

#include "gui/document/workspace.h"
#include "gui/widgets/entry.h"

namespace uadze::gui {

class DueForm : public QWidget {
  Q_OBJECT
 public:
  explicit DueForm(Workspace& workspace, QWidget* parent = nullptr);
  void choose(std::optional<logbook::Due> due);

 private:
  void write(logbook::Kind kind);
  void happened();

  Workspace& w_;
  std::optional<logbook::Due> due_;
  QLabel* says_;
  QLineEdit *by_, *note_;
  QPushButton *fitted_, *done_, *write_event_;
  QComboBox* event_;
};

}  // namespace uadze::gui
