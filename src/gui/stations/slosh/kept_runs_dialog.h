#pragma once
// The resolved runs that are kept beside the project, with their sizes; any of them can be thrown away.
#include <QDialog>
#include <filesystem>

#include "gui/document/workspace.h"

class QLabel;

namespace uadze::gui {

class TablePage;

class KeptRunsDialog : public QDialog {
  Q_OBJECT
 public:
  KeptRunsDialog(Workspace& workspace, std::filesystem::path folder, QWidget* parent = nullptr);

 private:
  void refresh();
  void throw_away(bool all);

  Workspace& w_;
  std::filesystem::path folder_;
  std::vector<solve::KeptLine> lines_;
  TablePage* table_;
  QLabel* says_;
};

}  // namespace uadze::gui
