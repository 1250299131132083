#include "gui/widgets/table_page.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>
#include <optional>

#include "gui/widgets/filling.h"

namespace uadze::gui {

TablePage::TablePage(const QString& name, QWidget* parent) : QTableWidget(parent) {
  setObjectName(name);
  setAccessibleName(name);
  verticalHeader()->hide();
  verticalHeader()->setDefaultSectionSize(24);
  setWordWrap(false);
  connect(this, &QTableWidget::cellChanged, this, [this](int row, int column) {
    if (!filling_) emit typed({{row, column, item(row, column)->text()}});
  });
}

void TablePage::show_table(report::Table table, const std::set<int>& editable) {
  filling_ = true;
  const int row = currentRow(), column = currentColumn();
  table_ = std::move(table);
  editable_ = editable;
  QStringList titles;
  for (const std::string& c : table_.columns) titles << QString::fromStdString(c);
  setColumnCount(static_cast<int>(titles.size()));
  setHorizontalHeaderLabels(titles);
  setRowCount(static_cast<int>(table_.rows.size()));
  std::optional<Filling> quiet(this);
  for (int r = 0; r < rowCount(); ++r)
    for (int c = 0; c < columnCount(); ++c) {
      const QString text =
          QString::fromStdString(table_.rows[static_cast<size_t>(r)][static_cast<size_t>(c)]);
      auto* cell = new QTableWidgetItem(text);
      cell->setToolTip(text);
      cell->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable |
                     (editable.contains(c) ? Qt::ItemIsEditable : Qt::NoItemFlags));
      setItem(r, c, cell);
    }
  quiet.reset();
  resizeColumnsToContents();
  // The last takes what room is left, so that a long sentence in it does not push the others out of sight.
  for (int c = 0; c < columnCount(); ++c)
    setColumnWidth(c, std::min(columnWidth(c), c + 1 < columnCount() ? 260 : 120));
  horizontalHeader()->setStretchLastSection(true);
  if (row >= 0 && row < rowCount()) setCurrentCell(row, column);
  filling_ = false;
}

void TablePage::copy() const {
  // What is chosen, or all with its titles.
  const auto ranges = selectedRanges();
  const bool all =
      ranges.isEmpty() || (ranges.size() == 1 && ranges[0].rowCount() * ranges[0].columnCount() <= 1);
  QStringList lines;
  if (all) {
    QStringList titles;
    for (const std::string& c : table_.columns) titles << QString::fromStdString(c);
    lines << titles.join('\t');
  }
  const QTableWidgetSelectionRange what =
      all ? QTableWidgetSelectionRange(0, 0, rowCount() - 1, columnCount() - 1) : ranges[0];
  for (int r = what.topRow(); r <= what.bottomRow(); ++r) {
    QStringList cells;
    for (int c = what.leftColumn(); c <= what.rightColumn(); ++c) cells << item(r, c)->text();
    lines << cells.join('\t');
  }
  QApplication::clipboard()->setText(lines.join('\n'));
}

void TablePage::paste() {
  QList<std::tuple<int, int, QString>> cells;
  const QStringList lines = QApplication::clipboard()->text().split('\n');
  for (int k = 0; k < lines.size(); ++k) {
    const int row = std::max(currentRow(), 0) + k;
    if (row >= rowCount() || (lines[k].isEmpty() && k + 1 == lines.size())) break;
    const QStringList words = lines[k].split('\t');
    for (int j = 0; j < words.size(); ++j) {
      const int column = std::max(currentColumn(), 0) + j;
      if (editable_.contains(column)) cells << std::tuple(row, column, words[j].trimmed());
    }
  }
  if (!cells.isEmpty()) emit typed(cells);
}

void TablePage::keyPressEvent(QKeyEvent* event) {
  if (event->matches(QKeySequence::Copy))
    copy();
  else if (event->matches(QKeySequence::Paste) && !editable_.empty())
    paste();
  else
    QTableWidget::keyPressEvent(event);
}

}  // namespace uadze::gui
