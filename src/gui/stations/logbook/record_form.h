#pragma once
// A record with all it says and its photos; amended or withdrawn, never changed. Below it a new one: a note,
// an incident, running.
#include <QWidget>

#include "gui/document/workspace.h"
#include "gui/widgets/entry.h"

class QPlainTextEdit;

namespace uadze::gui {

class RecordForm : public QWidget {
  Q_OBJECT
 public:
  explicit RecordForm(Workspace& workspace, QWidget* parent = nullptr);
  /// Number of the record; 0: none.
  void choose(std::int64_t number);

 private:
  void amend(bool withdraw);
  void write();
  void show_photos(const logbook::Record& record);

  Workspace& w_;
  std::int64_t number_ = 0;
  QLabel* says_;
  QWidget* photos_;
  QLineEdit *by_, *amended_, *subject_, *hours_, *cause_, *done_, *link_;
  QPushButton *amend_, *withdraw_, *write_, *photo_;
  QComboBox* kind_;
  QFormLayout* form_;
  std::vector<logbook::Photo> kept_;
};

}  // namespace uadze::gui
