#pragma once
// All pages of a window, one after the other, and what is cut on one.
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>
#include <QTableView>
#include <functional>

#include "gui/frame/main_window.h"

namespace uadze::gui {

/// Each station, and each page of each of its tab widgets. `settle` waits for what is shown a little later.
inline void on_each_page(MainWindow& window, const std::function<void()>& settle,
                         const std::function<void(const QString& where)>& look) {
  for (int s = 0; s < station_count; ++s) {
    window.show_station(static_cast<Station>(s));
    settle();
    look(QString("station %1").arg(s + 1));
    for (auto* tabs : window.findChildren<QTabWidget*>()) {
      if (!tabs->isVisible()) continue;
      for (int t = 0; t < tabs->count(); ++t) {
        tabs->setCurrentIndex(t);
        settle();
        look(QString("station %1, %2").arg(s + 1).arg(tabs->tabText(t)));
      }
      tabs->setCurrentIndex(0);
    }
  }
}

/// The words of what has less room than its words: buttons, labels of one line, heads of columns.
inline QStringList cut_words(const QWidget& all) {
  QStringList out;
  for (const QWidget* w : all.findChildren<QWidget*>()) {
    if (!w->isVisible()) continue;
    if (const auto* button = qobject_cast<const QPushButton*>(w)) {
      if (button->width() < button->fontMetrics().horizontalAdvance(button->text())) out << button->text();
    } else if (const auto* label = qobject_cast<const QLabel*>(w)) {
      if (!label->wordWrap() && label->width() < label->sizeHint().width()) out << label->text();
    } else if (const auto* table = qobject_cast<const QTableView*>(w)) {
      const QHeaderView* head = table->horizontalHeader();
      for (int c = 0; head->isVisible() && c < head->count(); ++c)
        if (const QString words = table->model()->headerData(c, Qt::Horizontal).toString();
            !head->isSectionHidden(c) &&
            head->sectionSize(c) < head->fontMetrics().boundingRect(QRect(), 0, words).width())
          out << words;
    }
  }
  return out;
}

}  // namespace uadze::gui
