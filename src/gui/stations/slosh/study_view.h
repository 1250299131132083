#pragma once
// The page "Study": a study's file opened, its missing tasks run, its choices as a table and a plot; a choice
// becomes a setup of the project.
#include <QWidget>

#include "core/solve/study_run.h"
#include "gui/document/background.h"
#include "gui/document/workspace.h"

class QCustomPlot;
class QLabel;
class QProgressBar;
class QPushButton;
class QTimer;

namespace uadze::gui {

class TablePage;

class StudyView : public QWidget {
  Q_OBJECT
 public:
  explicit StudyView(Workspace& workspace, QWidget* parent = nullptr);
  void open(const QString& file);

 private:
  struct Seen {
    std::shared_ptr<const solve::Study> study;
    solve::Gathered gathered;
    solve::StudyRan ran;
  };
  void start(bool run);
  void show_seen();
  void show_plot();
  void take_setup();

  Workspace& w_;
  QPushButton *open_, *run_, *take_;
  QProgressBar* bar_;
  QLabel* says_;
  TablePage* table_;
  QCustomPlot* plot_;
  QTimer* poll_;
  QString file_;
  std::optional<Seen> seen_;
  Background<Seen> work_;
};

}  // namespace uadze::gui
