#pragma once
// Setups side by side on the same lap at the same level: what each needs, and how reserve and rail pressure
// go along the lap.
#include <QWidget>

#include "core/solve/run.h"
#include "gui/document/background.h"
#include "gui/document/workspace.h"

class QTableWidget;

namespace uadze::gui {

class LapPlot;

class CompareView : public QWidget {
  Q_OBJECT
 public:
  explicit CompareView(Workspace& workspace, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent*) override { refresh(); }

 private:
  struct Side {
    QString name;
    std::optional<solve::RunResult> result;
    QString fault;
  };
  void refresh();
  void show_sides(const std::vector<Side>& sides);

  Workspace& workspace_;
  QTableWidget* table_;
  LapPlot* plot_;
  Background<std::vector<Side>> runs_;
};

}  // namespace uadze::gui
