#pragma once
// Dip stick and level sender against the volume of fuel, and what the gauge hides.
#include <QWidget>

#include "core/tank/gauge.h"
#include "gui/document/background.h"
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
  /// What the table hangs on.
  struct Asked {
    std::shared_ptr<const tank::Tank> tank;
    tank::TankParts parts;
    std::optional<Vec2> place;  ///< nothing: the deepest
    tank::Rake rake;
    bool operator==(const Asked&) const = default;
  };
  struct Told {
    Vec2 place = Vec2::Zero();
    bool on_tank = true;
    tank::GaugeTable table;
  };
  void refresh();
  void tell();
  void draw(const tank::GaugeTable& table);

  Workspace& workspace_;
  QCustomPlot* plot_;
  QLabel* says_;
  QLineEdit *x_, *y_, *pitch_, *roll_;
  std::optional<Vec2> place_;
  tank::Rake rake_;
  Asked asked_;
  std::optional<Told> told_;
  Background<Told> work_;
};

}  // namespace uadze::gui
