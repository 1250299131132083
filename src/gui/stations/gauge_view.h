#pragma once
// Dip stick and level sender against the volume of fuel, and what the gauge hides.
#include <QWidget>

#include "core/tank/gauge.h"
#include "gui/document/workspace.h"

class QCustomPlot;
class QLabel;
class QLineEdit;

namespace uadze::gui {

class GaugeView : public QWidget {
  Q_OBJECT
 public:
  explicit GaugeView(Workspace& workspace, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent*) override { refresh(); }

 private:
  void refresh();
  void draw(const tank::GaugeTable& table);

  Workspace& workspace_;
  QCustomPlot* plot_;
  QLabel* says_;
  QLineEdit *x_, *y_, *pitch_, *roll_;
  std::optional<Vec2> place_;
  tank::Rake rake_;
};

}  // namespace uadze::gui
