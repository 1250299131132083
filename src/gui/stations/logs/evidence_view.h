#pragma once
// A cause's evidence drawn: what was seen over what the cause goes by, and what the cause alone would do.
#include <qcustomplot.h>

#include "core/diagnosis/cause.h"
#include "gui/document/workspace.h"

class QLabel;

namespace uadze::gui {

class EvidenceView : public QWidget {
  Q_OBJECT
 public:
  explicit EvidenceView(Workspace& workspace, QWidget* parent = nullptr);
  void show_diagnosis(std::shared_ptr<const diagnosis::Diagnosis> said);
  void choose(int cause);

 protected:
  void showEvent(QShowEvent*) override { draw(); }

 private:
  void draw();

  Workspace& w_;
  std::shared_ptr<const diagnosis::Diagnosis> said_;
  int cause_ = 0;
  QLabel *title_, *why_;
  QCustomPlot* plot_;
};

}  // namespace uadze::gui
