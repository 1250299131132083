#include "gui/stations/logs/channel_table.h"

#include <QComboBox>
#include <QHeaderView>
#include <algorithm>

#include "core/log/role.h"

namespace uadze::gui {
namespace {

enum Column { shown, name, is, sure, unit, sign, holds, columns };

/// Channels that are looked at first when a log is opened.
bool shown_at_first(log::Role role) {
  using enum log::Role;
  return role == speed || role == lat_acc || role == long_acc || role == rail_pressure || role == lambda ||
         role == rpm;
}

std::vector<std::string> units_of(log::Role role) {
  std::vector<std::string> out;
  if (role == log::Role::lambda) return {"lambda", "AFR"};
  for (const Unit& u : known_units(log::info_of(role).quantity))
    if (!u.name.empty()) out.emplace_back(u.name);
  return out;
}

QString figures(const log::Channel& c, const log::ColumnUse& use) {
  const auto [low, high] = std::minmax_element(c.values.begin(), c.values.end());
  double a = *low, b = *high;
  if (c.role != log::Role::none)
    if (const auto u = log::unit_for(c.role, use.unit)) a = u->from_si(a), b = u->from_si(b);
  return QString("%1 … %2").arg(a, 0, 'g', 4).arg(b, 0, 'g', 4);
}

}  // namespace

ChannelTable::ChannelTable(QWidget* parent) : QTableWidget(parent) {
  setObjectName("channels of the log");
  setAccessibleName("Which column of the log is which channel");
  setColumnCount(columns);
  setHorizontalHeaderLabels({"", "Column", "Is", "Sure", "Unit", "Sign", "Holds"});
  horizontalHeaderItem(shown)->setToolTip("Tick to show it");
  horizontalHeaderItem(sure)->setToolTip("How sure the proposal is; chosen by hand: ✓");
  verticalHeader()->hide();
  setSelectionBehavior(QAbstractItemView::SelectRows);
  setSelectionMode(QAbstractItemView::SingleSelection);
  setEditTriggers(QAbstractItemView::NoEditTriggers);
  setTabKeyNavigation(false);
  connect(this, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
    if (!filling_ && item->column() == shown) emit ticks_changed();
  });
  // Space ticks the row from wherever in it.
  connect(this, &QTableWidget::cellActivated, this, [this](int row, int) {
    auto* tick = item(row, shown);
    if (tick && (tick->flags() & Qt::ItemIsUserCheckable))
      tick->setCheckState(tick->checkState() == Qt::Checked ? Qt::Unchecked : Qt::Checked);
  });
}

void ChannelTable::show_file(const log::LogFile* file) {
  filling_ = true;
  const QStringList before = ticked();
  const bool same = file && uses_.size() == file->mapping.columns.size() && rowCount() > 0 &&
                    std::equal(uses_.begin(), uses_.end(), file->mapping.columns.begin(),
                               [](const auto& a, const auto& b) { return a.column == b.column; });
  const int row_now = currentRow();
  clearContents();
  setRowCount(0);
  uses_ = file ? file->mapping.columns : std::vector<log::ColumnUse>();
  for (size_t k = 0; k < uses_.size(); ++k) {
    const log::ColumnUse& use = uses_[k];
    const int row = rowCount();
    insertRow(row);
    const auto channel = std::find_if(file->log.channels.begin(), file->log.channels.end(),
                                      [&](const log::Channel& c) { return c.name == use.column; });
    const bool kept = channel != file->log.channels.end();
    const QString called = QString::fromStdString(use.column);
    auto* tick = new QTableWidgetItem;
    if (kept) {
      tick->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
      const bool on = same ? before.contains(called) : shown_at_first(use.role);
      tick->setCheckState(on ? Qt::Checked : Qt::Unchecked);
    } else {
      tick->setFlags(Qt::ItemIsSelectable);
    }
    setItem(row, shown, tick);
    setItem(row, name, new QTableWidgetItem(called));
    item(row, name)->setToolTip(called);

    auto* role = new QComboBox;
    role->setAccessibleName("What " + called + " is");
    role->addItem(kept || use.role != log::Role::none ? "kept" : "left out", 0);
    for (const log::RoleInfo& r : log::roles()) role->addItem(r.label, static_cast<int>(r.role));
    role->setCurrentIndex(std::max(0, role->findData(static_cast<int>(use.role))));
    role->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    role->setMinimumContentsLength(20);
    connect(role, &QComboBox::activated, this, [this, row, role] {
      change(row, [&](log::ColumnUse& u) {
        u.role = static_cast<log::Role>(role->currentData().toInt());
        if (u.role != log::Role::none && !log::unit_for(u.role, u.unit)) {
          const auto all = units_of(u.role);
          u.unit = all.empty() ? "" : all.front();
        }
      });
    });
    setCellWidget(row, is, role);

    if (use.role != log::Role::none && !units_of(use.role).empty()) {
      auto* units = new QComboBox;
      units->setAccessibleName("Unit of " + called);
      for (const std::string& u : units_of(use.role)) units->addItem(QString::fromStdString(u));
      units->setCurrentText(QString::fromStdString(use.unit));
      units->setMinimumContentsLength(5);
      connect(units, &QComboBox::activated, this, [this, row, units] {
        change(row, [&](log::ColumnUse& u) { u.unit = units->currentText().toStdString(); });
      });
      setCellWidget(row, unit, units);
    } else {
      setItem(row, unit, new QTableWidgetItem(QString::fromStdString(use.unit)));
    }
    if (use.role != log::Role::none) {
      const bool pressure = log::info_of(use.role).quantity == Quantity::pressure;
      auto* turned = new QComboBox;
      turned->setAccessibleName((pressure ? "What the pressure is against, of " : "Sign of ") + called);
      if (pressure) {
        turned->addItems({"over air", "absolute"});
        turned->setCurrentIndex(use.against == log::Against::vacuum);
      } else {
        turned->addItems({"as is", "turned"});
        turned->setCurrentIndex(use.reversed);
      }
      connect(turned, &QComboBox::activated, this, [this, row, pressure](int choice) {
        change(row, [&](log::ColumnUse& u) {
          if (pressure)
            u.against = choice ? log::Against::vacuum : log::Against::air;
          else
            u.reversed = choice != 0;
        });
      });
      setCellWidget(row, sign, turned);
    }
    setItem(row, sure,
            new QTableWidgetItem(use.role == log::Role::none ? ""
                                 : use.sure >= 1             ? "✓"
                                                             : QString("%1 %").arg(qRound(100 * use.sure))));
    item(row, sure)->setToolTip(QString::fromStdString(use.why));
    setItem(row, holds,
            new QTableWidgetItem(kept ? figures(*channel, use)
                                 : use.role == log::Role::time
                                     ? QString("%1 s").arg(file->log.duration(), 0, 'f', 1)
                                     : QString("words")));
  }
  for (const log::Formula& formula : file ? file->mapping.formulas : std::vector<log::Formula>()) {
    const int row = rowCount();
    insertRow(row);
    const QString called = QString::fromStdString(formula.name);
    const auto channel = std::find_if(file->log.channels.begin(), file->log.channels.end(),
                                      [&](const log::Channel& c) { return c.name == formula.name; });
    auto* tick = new QTableWidgetItem;
    tick->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
    // A new one is wanted to be seen.
    tick->setCheckState(!known_formulas_.contains(called) || before.contains(called) ? Qt::Checked
                                                                                     : Qt::Unchecked);
    known_formulas_ << called;
    setItem(row, shown, tick);
    setItem(row, name, new QTableWidgetItem(called));
    setItem(row, is, new QTableWidgetItem("= " + QString::fromStdString(formula.text)));
    item(row, is)->setToolTip(QString::fromStdString(formula.text));
    setItem(row, unit, new QTableWidgetItem(QString::fromStdString(formula.unit)));
    if (channel != file->log.channels.end()) setItem(row, holds, new QTableWidgetItem(figures(*channel, {})));
  }
  resizeColumnsToContents();
  setColumnWidth(shown, 26);
  setColumnWidth(name, std::min(columnWidth(name), 180));
  if (same && row_now >= 0) setCurrentCell(row_now, name);
  filling_ = false;
}

QStringList ChannelTable::ticked() const {
  QStringList out;
  for (int row = 0; row < rowCount(); ++row)
    if (item(row, shown) && item(row, shown)->checkState() == Qt::Checked) out << item(row, name)->text();
  return out;
}

void ChannelTable::change(int row, const std::function<void(log::ColumnUse&)>& edit) {
  log::ColumnUse use = uses_[static_cast<size_t>(row)];
  edit(use);
  use.sure = 1, use.why = "chosen";
  emit mapped(use);
}

}  // namespace uadze::gui
