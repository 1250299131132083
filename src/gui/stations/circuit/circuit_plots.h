#pragma once
// Beside the circuit's picture: curves, budget, wiring, temperatures, gauge card, line sizes, the lap.
#include <QTabWidget>

#include "gui/stations/circuit/circuit_bench.h"

class QCustomPlot;
class QLabel;
class QTableWidget;

namespace uadze::gui {

class LapPlot;
class BudgetView;
class WiringView;

class CircuitPlots : public QTabWidget {
  Q_OBJECT
 public:
  CircuitPlots(Workspace& workspace, CircuitBench& bench, QWidget* parent = nullptr);
  /// The pump (index in State::pumps) whose curve is shown.
  void show_pump(int pump);

 protected:
  void showEvent(QShowEvent* event) override {
    QTabWidget::showEvent(event);  // lays its pages out
    refresh();
  }

 private:
  void refresh();
  void pump_page();
  void power_page();
  void gauge_page();
  void lines_page();
  void lap_page();
  void heat_page();
  QCustomPlot* make_plot(const QString& name);
  void style(QCustomPlot* plot, const QString& x, const QString& y);
  QTableWidget* make_table(const QString& name, const QStringList& header);

  Workspace& workspace_;
  CircuitBench& bench_;
  int pump_ = -1;
  QCustomPlot *pumps_, *power_, *heat_;
  BudgetView* budget_;
  WiringView* wiring_;
  QTableWidget *gauge_, *lines_;
  LapPlot* lap_;
  QLabel* heat_text_;
};

}  // namespace uadze::gui
