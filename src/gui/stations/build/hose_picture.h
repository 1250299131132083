#pragma once
// One line of the cutting list drawn: its two ends as they are bent, what they take, and where it is cut.
#include <QWidget>

#include "core/build/cutting.h"
#include "gui/document/workspace.h"

namespace uadze::gui {

class HosePicture : public QWidget {
  Q_OBJECT
 public:
  explicit HosePicture(Workspace& workspace, QWidget* parent = nullptr);
  void show_hose(std::optional<build::HoseCut> hose);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Workspace& w_;
  std::optional<build::HoseCut> hose_;
};

}  // namespace uadze::gui
