#include "gui/widgets/edit_table.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QPushButton>
#include <QVBoxLayout>

#include "gui/widgets/empty_words.h"

namespace uadze::gui {

double typed_quantity(const QString& text, Quantity quantity, const UnitSystem& units) {
  if (const auto value = parse_quantity(text.toStdString(), quantity, units)) return *value;
  const Unit unit = shown_unit(quantity, units);
  throw std::runtime_error(QString("expected a number%1 with a decimal point, found \"%2\"")
                               .arg(unit.name.empty()
                                        ? QString()
                                        : QString(" in %1").arg(QString::fromUtf8(
                                              unit.name.data(), static_cast<int>(unit.name.size()))),
                                    text)
                               .toStdString());
}

EditColumn quantity_column(Workspace& workspace, const QString& title, Quantity quantity,
                           std::function<double&(project::Project&, int)> at) {
  // Reading goes through the same accessor: the project is not changed by it.
  return {title, quantity, false,
          [&workspace, quantity, at](const project::Project& p, int row) {
            QString text = QString::fromStdString(
                format_figure(at(const_cast<project::Project&>(p), row), quantity, workspace.units()));
            if (quantity == Quantity::length && text.endsWith(".0")) text.chop(2);
            return text;
          },
          [&workspace, quantity, at](project::Project& p, int row, const QString& text) {
            at(p, row) = typed_quantity(text, quantity, workspace.units());
          }};
}

EditColumn text_column(const QString& title, std::function<std::string&(project::Project&, int)> at) {
  return {
      title, Quantity::plain, true,
      [at](const project::Project& p, int row) {
        return QString::fromStdString(at(const_cast<project::Project&>(p), row));
      },
      [at](project::Project& p, int row, const QString& text) { at(p, row) = text.trimmed().toStdString(); }};
}

EditTable::EditTable(Workspace& workspace, const QString& name, std::vector<EditColumn> columns,
                     EditRows rows, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      name_(name),
      columns_(std::move(columns)),
      rows_(std::move(rows)),
      table_(new QTableWidget(this)),
      remove_(new QPushButton("Remove", this)) {
  auto* add = new QPushButton("Add", this);
  add->setToolTip("Adds a row (Insert)");
  add->setObjectName("Add to " + name);
  remove_->setToolTip("Removes the chosen row (Ctrl+Delete)");
  buttons_ = new QHBoxLayout;
  buttons_->addWidget(add);
  buttons_->addWidget(remove_);
  buttons_->addStretch();
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(4);
  layout->addWidget(table_);
  layout->addLayout(buttons_);

  table_->setAccessibleName(name);
  table_->setColumnCount(static_cast<int>(columns_.size()));
  table_->verticalHeader()->setDefaultSectionSize(22);
  table_->verticalHeader()->hide();
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setStretchLastSection(true);
  table_->setSelectionMode(QAbstractItemView::ContiguousSelection);
  table_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                          QAbstractItemView::AnyKeyPressed);
  table_->installEventFilter(this);
  if (!rows_.empty.isEmpty()) say_when_empty(table_, rows_.empty);

  connect(add, &QPushButton::clicked, this, [this] { add_row(); });
  connect(remove_, &QPushButton::clicked, this, [this] {
    const int row = table_->currentRow();
    if (row >= 0)
      workspace_.document.edit("Remove from " + name_, [&](project::Project& p) { rows_.remove(p, row); });
  });
  connect(table_, &QTableWidget::cellChanged, this, [this](int row, int column) {
    if (filling_) return;
    const auto& c = columns_[static_cast<size_t>(column)];
    const QString text = table_->item(row, column)->text();
    if (text == c.get(workspace_.project(), row)) return;
    workspace_.document.edit("Change " + c.title, [&](project::Project& p) { c.set(p, row, text); });
    refresh();  // a refused edit shows the old value again
  });
  connect(table_, &QTableWidget::currentCellChanged, this, [this](int row, int, int, int) {
    if (!filling_) emit row_selected(row);
  });
  connect(&workspace_, &Workspace::changed, this, [this] {
    if (isVisible()) refresh();
  });
  refresh();
}

void EditTable::set_visible_rows(int rows) {
  visible_rows_ = rows;
  table_->setFixedHeight(rows * 22 + table_->horizontalHeader()->sizeHint().height() + 6);
}

void EditTable::showEvent(QShowEvent*) {
  // Its header has its own height only now that the style sheet is on.
  if (visible_rows_) set_visible_rows(*visible_rows_);
  refresh();
}

void EditTable::add_button(QPushButton* button) { buttons_->insertWidget(2, button); }

bool EditTable::add_row() {
  if (!workspace_.document.edit("Add to " + name_, rows_.add)) return false;
  refresh();
  table_->selectRow(table_->rowCount() - 1);
  return true;
}

void EditTable::refresh() {
  const int count = rows_.count(workspace_.project());
  filling_ = true;
  table_->setRowCount(count);
  for (int c = 0; c < table_->columnCount(); ++c) {
    const EditColumn& column = columns_[static_cast<size_t>(c)];
    const std::string_view unit = column.is_text ? "" : shown_unit(column.quantity, workspace_.units()).name;
    const QString name = column.changing_title ? column.changing_title(workspace_.project()) : column.title;
    const QString title =
        unit.empty() ? name
                     : name + "\n[" + QString::fromUtf8(unit.data(), static_cast<int>(unit.size())) + "]";
    if (!table_->horizontalHeaderItem(c) || table_->horizontalHeaderItem(c)->text() != title)
      table_->setHorizontalHeaderItem(c, new QTableWidgetItem(title));
    for (int r = 0; r < count; ++r) {
      const QString text = column.get(workspace_.project(), r);
      QTableWidgetItem* item = table_->item(r, c);
      if (!item) {
        item = new QTableWidgetItem;
        if (!column.is_text) {
          item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
          item->setFont(figure_font());
        }
        if (!column.set) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
        table_->setItem(r, c, item);
      }
      if (item->text() != text) item->setText(text);
    }
  }
  filling_ = false;
}

bool EditTable::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    auto* key = static_cast<QKeyEvent*>(event);
    if (key->matches(QKeySequence::Copy)) return copy(), true;
    if (key->matches(QKeySequence::Paste)) return paste(), true;
    if (key->key() == Qt::Key_Delete && key->modifiers() == Qt::ControlModifier)
      return remove_->click(), true;
    if (key->key() == Qt::Key_Insert && add_row()) return true;
  }
  return QWidget::eventFilter(watched, event);
}

void EditTable::copy() {
  QString out;
  for (const auto& range : table_->selectedRanges())
    for (int r = range.topRow(); r <= range.bottomRow(); ++r)
      for (int c = range.leftColumn(); c <= range.rightColumn(); ++c)
        out += table_->item(r, c)->text() + (c == range.rightColumn() ? "\n" : "\t");
  QApplication::clipboard()->setText(out);
}

void EditTable::paste() {
  const int top = std::max(0, table_->currentRow()), left = std::max(0, table_->currentColumn());
  QStringList lines = QApplication::clipboard()->text().split('\n');
  while (!lines.isEmpty() && lines.back().trimmed().isEmpty()) lines.removeLast();
  if (lines.isEmpty()) return;
  // All cells in one edit, so that a bad one leaves everything as it was.
  workspace_.document.edit("Paste into " + name_, [&](project::Project& p) {
    for (int i = 0; i < lines.size(); ++i) {
      const int row = top + i;
      if (row >= rows_.count(p)) rows_.add(p);
      const QStringList cells = lines[i].split('\t');
      for (int k = 0; k < cells.size() && left + k < static_cast<int>(columns_.size()); ++k)
        if (const auto& c = columns_[static_cast<size_t>(left + k)]; c.set) c.set(p, row, cells[k].trimmed());
    }
  });
  refresh();
}

}  // namespace uadze::gui
