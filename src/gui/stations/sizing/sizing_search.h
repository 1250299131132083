#pragma once
// The search page of the Sizing station: what may be varied, the run, and the alternatives that nothing beats
// in everything at once. Each opens as a setup of its own.
#include <QWidget>

#include "core/solve/search.h"
#include "gui/document/background.h"
#include "gui/document/workspace.h"

class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace uadze::gui {

class SizingSearch : public QWidget {
  Q_OBJECT
 public:
  explicit SizingSearch(Workspace& workspace, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent*) override { refresh(); }

 private:
  void refresh();
  /// What is entered and what was found, in the units of now.
  void show_units();
  void start();
  void stop();
  void show_running();
  void show_result();
  void open_row(int row);
  solve::SearchOptions options() const;

  Workspace& workspace_;
  QLineEdit *volumes_, *shifts_, *openings_, *collectors_;
  QCheckBox *to_main_, *to_surge_;
  QListWidget *lifts_, *mains_;
  QPushButton *run_, *stop_, *open_;
  QProgressBar* bar_;
  QLabel* said_;
  QTableWidget* table_;
  solve::SearchResult found_;
  std::shared_ptr<const circuit::Catalogue> listed_;
  Background<solve::SearchResult> job_;
};

}  // namespace uadze::gui
