#pragma once
// One gate's test: its cautions, what to do and to look at, each reading beside what the circuit lets expect,
// who did it and who looked too, and the verdict as it stands while it is typed. A draft until it is written;
// what was typed at one gate is there when it is looked at again.
#include <QWidget>
#include <map>

#include "gui/document/workspace.h"
#include "gui/widgets/entry.h"

namespace uadze::gui {

class GateForm : public QWidget {
  Q_OBJECT
 public:
  explicit GateForm(Workspace& workspace, QWidget* parent = nullptr);
  /// Shows the gate; empty: none.
  void choose(const std::string& gate);
  void refresh();

 private:
  struct Field {
    build::Expected expected;
    QLabel* says = nullptr;
    QLineEdit* value = nullptr;
  };
  struct Draft {
    std::map<std::string, QString> readings;
    QStringList seen;
    QString way, note;
    std::vector<logbook::Photo> photos;
  };
  const logbook::GateStatus* status() const;
  void build_fields();
  void keep_draft();
  Draft& draft() { return drafts_[{of_setup_, gate_}]; }
  /// What stands in the form; nothing if a reading can not be read, which is said.
  std::optional<logbook::Record> record(QString& fault) const;
  void tell();
  void begin();
  void write(bool failed);
  void read_bench();
  void into_model();

  Workspace& w_;
  std::string gate_, of_setup_;
  std::map<std::pair<std::string, std::string>, Draft> drafts_;
  QLabel *title_, *cautions_, *how_, *verdict_, *after_;
  QWidget* body_ = nullptr;
  QVBoxLayout* body_place_;
  QComboBox* way_ = nullptr;
  std::vector<QCheckBox*> looks_;
  std::vector<Field> fields_;
  QLineEdit *by_, *second_, *instrument_, *checked_until_, *note_;
  QLabel *second_label_, *instrument_label_, *checked_label_;
  QPushButton *begin_, *write_, *failed_, *photo_, *bench_, *model_;
  std::int64_t last_written_ = 0;  ///< number of the record, for the model
};

}  // namespace uadze::gui
