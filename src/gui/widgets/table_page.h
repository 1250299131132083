#pragma once
// A list of the build as a table: copied as a spreadsheet takes it, saved as CSV. Some columns may be typed
// into; what is typed or pasted there is asked of the page's owner.
#include <QTableWidget>
#include <functional>
#include <set>

#include "core/report/build_report.h"

namespace uadze::gui {

class TablePage : public QTableWidget {
  Q_OBJECT
 public:
  explicit TablePage(const QString& name, QWidget* parent = nullptr);
  void show_table(report::Table table, const std::set<int>& editable = {});
  const report::Table& shown() const { return table_; }

 signals:
  /// Cells that were typed or pasted, row, column and text each: all of them one edit.
  void typed(const QList<std::tuple<int, int, QString>>& cells);

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void copy() const;
  void paste();

  report::Table table_;
  std::set<int> editable_;
  bool filling_ = false;
};

}  // namespace uadze::gui
