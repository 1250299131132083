#pragma once
// Imports a mesh as the tank's shape: unit, axes and place are chosen beside a preview that marks what is
// wrong, and the safe mends are offered.
#include <QDialog>

#include "core/tank/mesh_check.h"
#include "gui/document/workspace.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace uadze::gui {

class MeshDialog : public QDialog {
  Q_OBJECT
 public:
  /// Throws InputError if the file can not be read as a mesh.
  MeshDialog(Workspace& workspace, const QString& file, QWidget* parent = nullptr);
  /// The shape as chosen; its file is relative to the project's folder where that can be.
  tank::MeshShape shape() const;

 private:
  void check();
  QWidget* make_preview();

  Workspace& workspace_;
  QString file_;
  tank::MeshFile original_, mended_;
  tank::MeshReport report_;
  QComboBox *unit_, *axes_;
  QLineEdit* move_[3];
  QCheckBox* mends_[4];
  QLabel* says_;
  QWidget* preview_;
  QPushButton* accept_;
};

/// Asks for a file and imports it in place of all shapes of the chosen setup's tank.
void import_mesh(Workspace& workspace, QWidget* parent);

}  // namespace uadze::gui
