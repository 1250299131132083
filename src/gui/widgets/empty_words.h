#pragma once
// What a list or a table says for as long as it has no row: what will stand there, and what brings it.
//
//   say_when_empty(found, "Each combination that nothing beats gets a row here.");
#include <QAbstractItemView>
#include <QEvent>
#include <QLabel>
#include <QVBoxLayout>

namespace uadze::gui {

class EmptyWords : public QLabel {
 public:
  EmptyWords(QAbstractItemView* view, const QString& words) : QLabel(words, view->viewport()), view_(view) {
    setObjectName("says when empty");
    setWordWrap(true);
    setAlignment(Qt::AlignHCenter | Qt::AlignTop);
    setMargin(12);
    setAttribute(Qt::WA_TransparentForMouseEvents);
    view->viewport()->installEventFilter(this);
    const auto* model = view->model();
    for (const auto rows : {&QAbstractItemModel::rowsInserted, &QAbstractItemModel::rowsRemoved})
      connect(model, rows, this, &EmptyWords::look);
    connect(model, &QAbstractItemModel::modelReset, this, &EmptyWords::look);
    // Of rows that came while the model kept quiet (filling.h) this tells.
    connect(model, &QAbstractItemModel::dataChanged, this, &EmptyWords::look);
    look();
  }

 private:
  void look() {
    setVisible(view_->model()->rowCount() == 0);
    setGeometry(view_->viewport()->rect());
  }
  bool eventFilter(QObject* of, QEvent* event) override {
    if (event->type() == QEvent::Resize) setGeometry(view_->viewport()->rect());
    return QLabel::eventFilter(of, event);
  }
  QAbstractItemView* view_;
};

inline void say_when_empty(QAbstractItemView* view, const QString& words) { new EmptyWords(view, words); }

}  // namespace uadze::gui
