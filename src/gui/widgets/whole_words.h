#pragma once
// A table whose rows are as high as the words of one column need, also when that column gets narrower: as the
// table does, or as the others do, whose widths are QHeaderView::ResizeToContents.
//
//   show_whole(events, 2);
//   // ... filled
//   events->resizeRowsToContents();
#include <QEvent>
#include <QHeaderView>
#include <QTableWidget>
#include <QTimer>

namespace uadze::gui {

class WholeWords : public QObject {
 public:
  WholeWords(QTableWidget* table, int column) : QObject(table), table_(table) {
    table->setWordWrap(true);
    table->viewport()->installEventFilter(this);
    connect(table->horizontalHeader(), &QHeaderView::sectionResized, this, [this, column](int which) {
      if (which == column) table_->resizeRowsToContents();
    });
  }

 private:
  bool eventFilter(QObject* of, QEvent* event) override {
    // The header takes the new width after the view has.
    if (event->type() == QEvent::Resize)
      QTimer::singleShot(0, this, [this] { table_->resizeRowsToContents(); });
    return QObject::eventFilter(of, event);
  }
  QTableWidget* table_;
};

inline void show_whole(QTableWidget* table, int column) { new WholeWords(table, column); }

}  // namespace uadze::gui
