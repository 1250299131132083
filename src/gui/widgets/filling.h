#pragma once
// While it lives a table is filled: its view hears of all cells at once at the end, where else it measures
// every column anew for each of them. Rows and columns are counted out before.
//
//   table->setRowCount(2);
//   const Filling quiet(table);
//   table->setItem(0, 0, new QTableWidgetItem("front"));
#include <QSignalBlocker>
#include <QTableWidget>

namespace uadze::gui {

class Filling {
 public:
  explicit Filling(QTableWidget* table) : model_(table->model()), quiet_(model_) {}
  Filling(const Filling&) = delete;
  Filling& operator=(const Filling&) = delete;
  ~Filling() {
    quiet_.unblock();
    const int rows = model_->rowCount(), columns = model_->columnCount();
    if (rows > 0 && columns > 0)
      emit model_->dataChanged(model_->index(0, 0), model_->index(rows - 1, columns - 1));
  }

 private:
  QAbstractItemModel* model_;
  QSignalBlocker quiet_;
};

}  // namespace uadze::gui
