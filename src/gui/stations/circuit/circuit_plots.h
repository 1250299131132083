#pragma once
// Beside the circuit's picture: curves, budget, wiring, temperatures, gauge card, line sizes, the lap.
#include <QTabWidget>

#include "core/circuit/analysis.h"
#include "gui/document/background.h"
#include "gui/stations/circuit/circuit_bench.h"

class QCustomPlot;
class QLabel;
class QTableWidget;

namespace uadze::gui {

class LapPlot;
class BudgetView;
class WiringView;

/// What the pages are computed from: a moment of the bench, whole, so that no figure meets another's state.
struct PlotInputs {
  struct Side {
    project::Setup setup;
    circuit::Case at;
    circuit::State state;
    bool manifold_follows = true;
  };
  std::vector<Side> sides;  ///< the chosen setup; then the compared one, if any
  double most_power = 0.0;  ///< W
  size_t pump = 0;          ///< index in State::pumps
};

/// The figures of one page; the others' stay empty.
struct PlotFigures {
  PlotInputs of;
  struct PowerLines {
    std::vector<double> power, required, available, lifted;
  };
  std::vector<PowerLines> power;          ///< by side
  std::vector<circuit::CurvePair> pumps;  ///< by side that has this pump
  std::vector<circuit::GaugeRow> gauge;
  std::vector<circuit::LineChoice> lines;
};

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
  void show_nothing();
  void show_figures(const PlotFigures& figures);
  void pump_page(const PlotFigures& figures);
  void power_page(const PlotFigures& figures);
  void gauge_page(const std::vector<circuit::GaugeRow>& rows);
  void lines_page(const PlotFigures& figures);
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
  Background<PlotFigures> figures_;
};

}  // namespace uadze::gui
