#pragma once
// Traces along the lap: stacked panes with one distance axis, the lap cursor and corner names; a click or
// drag moves the cursor, Ctrl+wheel zooms, the right button exports.
#include <qcustomplot.h>

#include "gui/document/workspace.h"

namespace uadze::gui {

struct Trace {
  QString title;  ///< "lateral"
  Quantity quantity = Quantity::plain;
  std::vector<double> values;  ///< SI, one a sample
  Qt::PenStyle style = Qt::SolidLine;
};

struct Pane {
  std::vector<Trace> traces;
  bool from_zero = false;
};

class LapPlot : public QCustomPlot {
  Q_OBJECT
 public:
  explicit LapPlot(Workspace& workspace, QWidget* parent = nullptr);
  void show_panes(const std::vector<double>& distance, std::vector<Pane> panes);

 protected:
  void showEvent(QShowEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void build();
  void move_cursor();
  void seek(double pixel);

  Workspace& workspace_;
  std::vector<double> distance_;
  std::vector<Pane> panes_;
  std::vector<QCPItemLine*> cursors_;
  std::vector<std::pair<QCPItemText*, size_t>> readings_;
};

}  // namespace uadze::gui
