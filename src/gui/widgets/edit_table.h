#pragma once
// A table on a list of the project: every cell an edit that can be undone, copy and paste as TSV, rows added
// and removed with buttons or Insert and Ctrl+Delete.
//
//   EditTable table(workspace, "Pickups", columns, rows);
#include <QTableWidget>
#include <functional>

#include "gui/document/workspace.h"

class QHBoxLayout;
class QPushButton;

namespace uadze::gui {

struct EditColumn {
  QString title;  ///< without unit
  Quantity quantity = Quantity::plain;
  bool is_text = false;
  std::function<QString(const project::Project&, int row)> get;
  /// Throws std::exception with a plain sentence if the text does not serve.
  std::function<void(project::Project&, int row, const QString& text)> set;
  /// Where the title depends on the project.
  std::function<QString(const project::Project&)> changing_title = {};
};

struct EditRows {
  std::function<int(const project::Project&)> count;
  std::function<void(project::Project&)> add;
  std::function<void(project::Project&, int row)> remove;
  QString empty = {};  ///< what the table says without a row; none: nothing
};

class EditTable : public QWidget {
  Q_OBJECT
 public:
  EditTable(Workspace& workspace, const QString& name, std::vector<EditColumn> columns, EditRows rows,
            QWidget* parent = nullptr);
  QTableWidget* table() { return table_; }
  /// Rows that are shown without scrolling.
  void set_visible_rows(int rows);
  /// Beside its own "Add" and "Remove".
  void add_button(QPushButton* button);
  void refresh();
  /// A new row at the end, chosen; false if it was refused.
  bool add_row();

 signals:
  void row_selected(int row);

 protected:
  void showEvent(QShowEvent*) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void copy();
  void paste();

  Workspace& workspace_;
  QString name_;
  std::vector<EditColumn> columns_;
  EditRows rows_;
  QTableWidget* table_;
  QPushButton* remove_;
  QHBoxLayout* buttons_;
  std::optional<int> visible_rows_;
  bool filling_ = false;
};

/// A column on a number of the project, in the user's units.
EditColumn quantity_column(Workspace& workspace, const QString& title, Quantity quantity,
                           std::function<double&(project::Project&, int row)> at);
EditColumn text_column(const QString& title, std::function<std::string&(project::Project&, int row)> at);

/// Reads a quantity typed by the user; throws with what was expected.
double typed_quantity(const QString& text, Quantity quantity, const UnitSystem& units);

}  // namespace uadze::gui
