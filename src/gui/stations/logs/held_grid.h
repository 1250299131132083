#pragma once
// Laps by places: a filled triangle where log and model both starve, an open one where only the log does, a
// ring where only the model does, a dot where neither. Arrow keys and clicks choose a cell.
#include <QWidget>

#include "core/solve/logged.h"
#include "gui/document/workspace.h"

namespace uadze::gui {

class HeldGrid : public QWidget {
  Q_OBJECT
 public:
  explicit HeldGrid(Workspace& workspace, QWidget* parent = nullptr);
  void show_held(std::shared_ptr<const solve::LoggedCase> made, const std::vector<solve::ComputedLap>& run);
  /// Where a lap and a place stand, for tests.
  QPointF on_screen(int lap, int place) const;

 signals:
  /// Places of `laps` and `places`.
  void cell_chosen(int lap, int place);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  enum class Cell { neither, both, logged, computed };
  QRectF area() const;
  QRectF cell(int lap, int place) const;
  void choose(int lap, int place);
  QString words(int lap, int place) const;

  Workspace& w_;
  std::shared_ptr<const solve::LoggedCase> made_;
  std::vector<std::vector<Cell>> cells_;  ///< [lap][place]
  int lap_ = -1, place_ = -1;
};

}  // namespace uadze::gui
