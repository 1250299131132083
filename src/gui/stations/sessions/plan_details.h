#pragma once
// Of the chosen session: its stints with what to put in and how far it goes, and the margin by its causes, as
// bars with words.
#include <QWidget>

#include "gui/document/workspace.h"

class QLabel;
class QTableWidget;

namespace uadze::gui {

class PlanDetails : public QWidget {
  Q_OBJECT
 public:
  explicit PlanDetails(Workspace& workspace, QWidget* parent = nullptr);
  void refresh();

 private:
  class Bars;
  Workspace& workspace_;
  QTableWidget *stints_, *fill_;
  QLabel* rule_;
  Bars* bars_;
};

}  // namespace uadze::gui
