#pragma once
// Two small pictures of the circuit: where the pressure goes, and where the voltage goes.
#include <QWidget>

#include "gui/stations/circuit/circuit_bench.h"

namespace uadze::gui {

/// Pressure from pickup to injector as a stair, part by part; a compared setup's stair dashed over it.
class BudgetView : public QWidget {
  Q_OBJECT
 public:
  BudgetView(Workspace& workspace, CircuitBench& bench, QWidget* parent = nullptr);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Workspace& workspace_;
  CircuitBench& bench_;
};

/// Supply, fuse, relay, feed, pump, ground for each pump, with the voltage after each.
class WiringView : public QWidget {
  Q_OBJECT
 public:
  WiringView(Workspace& workspace, CircuitBench& bench, QWidget* parent = nullptr);
  QSize minimumSizeHint() const override;

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Workspace& workspace_;
  CircuitBench& bench_;
};

}  // namespace uadze::gui
