#include "gui/stations/logs/channels_page.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "core/log/formula.h"

namespace uadze::gui {

ChannelsPage::ChannelsPage(QWidget* parent) : QWidget(parent), table_(new ChannelTable) {
  auto* column = new QVBoxLayout(this);
  column->addWidget(table_, 1);
  auto* bar = new QHBoxLayout;
  auto* forget = new QPushButton("As proposed");
  forget->setObjectName("forget mapping");
  forget->setToolTip("Forget what was changed for logs with this header");
  bar->addWidget(forget);
  bar->addStretch();
  column->addLayout(bar);
  auto* line = new QHBoxLayout;
  const auto field = [&](QLineEdit*& edit, const char* named, const QString& hint, int share) {
    edit = new QLineEdit;
    edit->setObjectName(named);
    edit->setAccessibleName(named);
    edit->setPlaceholderText(hint);
    line->addWidget(edit, share);
    connect(edit, &QLineEdit::returnPressed, this, &ChannelsPage::add_formula);
  };
  field(name_, "formula name", "new channel", 2);
  line->addWidget(new QLabel("="));
  field(text_, "formula", "(rail_pressure - manifold_pressure) / bar", 5);
  field(unit_, "formula unit", "unit", 1);
  auto* add = new QPushButton("Add formula");
  add->setObjectName("add formula");
  auto* remove = new QPushButton("Remove");
  remove->setObjectName("remove formula");
  remove->setToolTip("The formula of the chosen row, or the last");
  line->addWidget(add);
  line->addWidget(remove);
  column->addLayout(line);
  says_ = new QLabel;
  says_->setObjectName("formula says");
  says_->setWordWrap(true);
  says_->hide();
  column->addWidget(says_);
  auto* hint = new QLabel("What is changed here is kept for logs with the same header.");
  hint->setWordWrap(true);
  column->addWidget(hint);
  connect(add, &QPushButton::clicked, this, &ChannelsPage::add_formula);
  connect(remove, &QPushButton::clicked, this, &ChannelsPage::remove_formula);
  connect(table_, &ChannelTable::mapped, this, &ChannelsPage::map);
  connect(table_, &ChannelTable::ticks_changed, this, &ChannelsPage::ticks_changed);
  connect(forget, &QPushButton::clicked, this, [this] {
    if (!file_) return;
    forget_mapping(file_->layout);
    emit remapped({});
  });
}

void ChannelsPage::show_log(std::shared_ptr<const log::LogFile> file) {
  file_ = std::move(file);
  table_->show_file(file_.get());
}

void ChannelsPage::keep(const log::Mapping& mapping) {
  keep_mapping(file_->layout, mapping);
  emit remapped(mapping);
}

void ChannelsPage::map(const log::ColumnUse& use) {
  if (!file_) return;
  log::Mapping mapping = file_->mapping;
  for (log::ColumnUse& c : mapping.columns) {
    if (c.column == use.column)
      c = use;
    else if (c.role == use.role && use.role != log::Role::none)
      c.role = log::Role::none;
  }
  keep(mapping);
}

void ChannelsPage::add_formula() {
  if (!file_) return;
  const log::Formula formula{.name = name_->text().trimmed().toStdString(),
                             .text = text_->text().trimmed().toStdString(),
                             .unit = unit_->text().trimmed().toStdString()};
  try {
    // On one row: whether it can be read at all.
    log::Log row;
    row.time = {0.0}, row.parts = {0};
    for (const log::Channel& c : file_->log.channels) {
      row.channels.push_back({.name = c.name, .unit = c.unit, .role = c.role});
      row.channels.back().values = {c.values.front()};
    }
    log::add_formula(row, formula);
  } catch (const InputError& error) {
    says_->setText("▲ " + said(error.messages().front()));
    says_->show();
    return;
  }
  says_->hide();
  for (QLineEdit* edit : {name_, text_, unit_}) edit->clear();
  log::Mapping mapping = file_->mapping;
  mapping.formulas.push_back(formula);
  keep(mapping);
}

void ChannelsPage::remove_formula() {
  if (!file_ || file_->mapping.formulas.empty()) return;
  log::Mapping mapping = file_->mapping;
  const int at = table_->currentRow() - static_cast<int>(mapping.columns.size());
  const auto formula = at >= 0 && at < static_cast<int>(mapping.formulas.size())
                           ? mapping.formulas.begin() + at
                           : mapping.formulas.end() - 1;
  mapping.formulas.erase(formula);
  keep(mapping);
}

}  // namespace uadze::gui
