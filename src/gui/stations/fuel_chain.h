#pragma once
// The way of the fuel from tank to engine as a picture, with flows and levels at the lap cursor.
#include <QWidget>

#include "gui/document/workspace.h"

namespace uadze::gui {

class FuelChain : public QWidget {
  Q_OBJECT
 public:
  explicit FuelChain(Workspace& workspace, QWidget* parent = nullptr);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  Workspace& workspace_;
};

}  // namespace uadze::gui
