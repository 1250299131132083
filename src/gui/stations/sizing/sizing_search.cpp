#include "gui/stations/sizing/sizing_search.h"

#include <QCheckBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>
#include <optional>

#include "core/sizing/pump_size.h"
#include "gui/widgets/edit_table.h"
#include "gui/widgets/empty_words.h"
#include "gui/widgets/filling.h"

namespace uadze::gui {
namespace {

/// Numbers in the text, each with or without a unit, in SI.
std::vector<double> listed(const QLineEdit* field, Quantity quantity, const UnitSystem& units) {
  std::vector<double> out;
  for (const QString& part : field->text().split(';', Qt::SkipEmptyParts))
    if (!part.trimmed().isEmpty()) out.push_back(typed_quantity(part.trimmed(), quantity, units));
  return out;
}

QListWidget* type_list(const QString& name) {
  auto* list = new QListWidget;
  list->setAccessibleName(name);
  list->setObjectName(name);
  list->setSelectionMode(QAbstractItemView::MultiSelection);
  list->setMaximumHeight(92);
  list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);  // what does not fit is cut, whole in its tip
  return list;
}

}  // namespace

SizingSearch::SizingSearch(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 6, 12, 6);
  auto* said = new QLabel(
      "Choose what may be varied; every combination with the setup as it is gets its own run. "
      "Several values with semicolons between them.");
  said->setWordWrap(true);
  column->addWidget(said);
  auto* options = new QHBoxLayout;
  auto* left = new QFormLayout;
  const auto field = [&](const QString& label, const QString& name, const QString& hint) {
    auto* edit = new QLineEdit;
    edit->setObjectName(name);
    edit->setAccessibleName(label);
    edit->setPlaceholderText(hint);
    left->addRow(label, edit);
    return edit;
  };
  volumes_ = field("Surge volumes", "search volumes", {});
  shifts_ = field("Pickups moved forward", "search shifts", {});
  openings_ = field("Openings, sides times", "search openings", "0.7; 1.4");
  collectors_ = field("Collectors, sides times", "search collectors", "1.3");
  auto* returns = new QHBoxLayout;
  to_surge_ = new QCheckBox("surge tank");
  to_main_ = new QCheckBox("main tank");
  returns->addWidget(to_surge_);
  returns->addWidget(to_main_);
  left->addRow("Return to", returns);
  options->addLayout(left, 1);
  auto* right = new QFormLayout;
  lifts_ = type_list("Lift pumps to try");
  mains_ = type_list("Main pumps to try");
  right->addRow("Lift pumps", lifts_);
  right->addRow("One main pump", mains_);
  options->addLayout(right, 1);
  column->addLayout(options);
  auto* bar = new QHBoxLayout;
  run_ = new QPushButton("Search");
  run_->setObjectName("run search");
  stop_ = new QPushButton("Stop");
  stop_->setObjectName("stop search");
  stop_->setEnabled(false);
  bar_ = new QProgressBar;
  bar_->setTextVisible(false);
  bar_->setMaximumHeight(10);
  bar_->setRange(0, 100);
  bar_->setAccessibleName("Progress of the search");
  open_ = new QPushButton("Add as a setup");
  open_->setObjectName("open alternative");
  open_->setEnabled(false);
  bar->addWidget(run_);
  bar->addWidget(stop_);
  bar->addWidget(bar_, 1);
  bar->addWidget(open_);
  column->addLayout(bar);
  said_ = new QLabel;
  said_->setWordWrap(true);
  said_->setObjectName("search says");
  column->addWidget(said_);
  table_ = new QTableWidget;
  table_->setObjectName("alternatives found");
  table_->setAccessibleName("Alternatives that nothing beats in everything at once");
  table_->setColumnCount(7);
  table_->setHorizontalHeaderLabels({"Least start", "Clean level", "Parts and\nsurge fuel",
                                     "Load at\nfull power", "Cost\npoints",
                                     "Starved a lap\nwith a tenth less", "What is changed"});
  table_->verticalHeader()->hide();
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(6, QHeaderView::Stretch);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setWordWrap(true);
  say_when_empty(table_,
                 "Each combination that no other beats in everything at once gets a row here: least start, "
                 "cost, load, and "
                 "what it changes in the setup.");
  column->addWidget(table_, 1);
  connect(run_, &QPushButton::clicked, this, &SizingSearch::start);
  connect(stop_, &QPushButton::clicked, this, &SizingSearch::stop);
  connect(open_, &QPushButton::clicked, this, [this] { open_row(table_->currentRow()); });
  connect(table_, &QTableWidget::cellDoubleClicked, this, [this](int row, int) { open_row(row); });
  connect(table_, &QTableWidget::currentCellChanged, this, [this](int row, int, int, int) {
    open_->setEnabled(row >= 0 && row < static_cast<int>(found_.kept.size()));
  });
  connect(&workspace_, &Workspace::changed, this, [this] {
    if (isVisible()) refresh();
  });
  connect(&workspace_, &Workspace::appearance_changed, this, &SizingSearch::show_units);
  show_units();
  auto* ticker = new QTimer(this);
  connect(ticker, &QTimer::timeout, this,
          [this] { bar_->setValue(job_.running() ? static_cast<int>(job_.fraction() * 100) : 0); });
  ticker->start(120);
}

void SizingSearch::show_units() {
  const auto two = [this](double one, double other, Quantity quantity) {
    return workspace_.show(one, quantity) + "; " + workspace_.show(other, quantity);
  };
  volumes_->setPlaceholderText(two(1e-3, 2.5e-3, Quantity::volume));
  shifts_->setPlaceholderText(two(-20e-3, 20e-3, Quantity::length));
  if (!found_.all.empty() && !job_.running()) show_result();
}

void SizingSearch::refresh() {
  const auto catalogue = workspace_.runs.catalogue();
  if (listed_ == catalogue || !catalogue) return;
  listed_ = catalogue;
  lifts_->clear();
  mains_->clear();
  for (const auto& pump : catalogue->pumps) {
    const QString name = QString::fromStdString(pump.name);
    for (auto [list, offered] : {std::pair(lifts_, sizing::offered_for_lift(pump)),
                                 std::pair(mains_, sizing::offered_for_main(pump))})
      if (offered) {
        list->addItem(name);
        list->item(list->count() - 1)->setToolTip(name);
      }
  }
}

solve::SearchOptions SizingSearch::options() const {
  solve::SearchOptions out;
  const UnitSystem& units = workspace_.units();
  out.units = units;
  out.surge_volumes = listed(volumes_, Quantity::volume, units);
  out.pickup_shifts = listed(shifts_, Quantity::length, units);
  out.opening_scales = listed(openings_, Quantity::plain, units);
  out.collector_scales = listed(collectors_, Quantity::plain, units);
  if (to_surge_->isChecked()) out.returns.push_back(circuit::ReturnTo::surge_tank);
  if (to_main_->isChecked()) out.returns.push_back(circuit::ReturnTo::main_tank);
  for (const auto* item : lifts_->selectedItems()) out.lift_types.push_back(item->text().toStdString());
  for (const auto* item : mains_->selectedItems()) out.main_types.push_back(item->text().toStdString());
  return out;
}

void SizingSearch::start() {
  const auto* setup = workspace_.setup();
  const auto* session = workspace_.selection.session();
  if (!setup || !session || !workspace_.selection.lap_reference()) {
    said_->setText("The search needs a setup, a session and its lap.");
    return;
  }
  try {
    const solve::SearchOptions wanted = options();
    said_->setText("searching");
    job_.start(
        this,
        [wanted, project = workspace_.project(), sources = workspace_.document.sources(),
         names = solve::Case{.setup = setup->name, .lap = {}, .session = session->name}](Progress& progress) {
          return solve::search(project, names, wanted, *sources, &progress);
        },
        [this](solve::SearchResult found) {
          show_running();
          found_ = std::move(found);
          show_result();
        },
        [this](const QString& why) {
          show_running();
          said_->setText("▲ " + why);
        });
  } catch (const std::exception& error) {
    said_->setText(QString("▲ ") + error.what());
  }
  show_running();
}

void SizingSearch::stop() {
  if (!job_.running()) return;
  job_.cancel();
  said_->setText("▲ stopped");
  show_running();
}

void SizingSearch::show_running() {
  run_->setEnabled(!job_.running());
  stop_->setEnabled(job_.running());
}

void SizingSearch::show_result() {
  int failed = 0;
  for (const auto& a : found_.all) failed += !a.fault.empty();
  QString text = QString("%1 of %2 combinations are not beaten by another in everything at once.")
                     .arg(found_.kept.size())
                     .arg(found_.all.size());
  if (failed) {
    text += QString(" %1 could not be run: ").arg(failed);
    for (const auto& a : found_.all)
      if (!a.fault.empty()) {
        text += QString::fromStdString(a.changes + ": " + a.fault);
        break;
      }
  }
  said_->setText(text);
  table_->setRowCount(static_cast<int>(found_.kept.size()));
  std::optional<Filling> quiet(table_);
  for (int r = 0; r < table_->rowCount(); ++r) {
    const auto& a = found_.all[found_.kept[static_cast<size_t>(r)]];
    const QString cells[] = {
        a.exists ? workspace_.show(a.cost[0], Quantity::volume) : QString("▲ none"),
        a.exists ? workspace_.show(a.clean_level, Quantity::volume, 2) : QString("▲ starves full"),
        workspace_.show(a.cost[1], Quantity::mass, 2),
        workspace_.show(a.cost[2], Quantity::current),
        QString::number(a.cost[3], 'f', 0),
        workspace_.show(a.cost[4], Quantity::duration),
        a.changes.empty() ? QString("nothing: the setup as it is") : QString::fromStdString(a.changes)};
    for (int c = 0; c < 7; ++c) {
      auto* item = new QTableWidgetItem(cells[c]);
      if (c < 6) {
        item->setFont(figure_font());
        item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      }
      item->setToolTip(cells[c]);
      table_->setItem(r, c, item);
    }
  }
  quiet.reset();
  table_->resizeRowsToContents();
}

void SizingSearch::open_row(int row) {
  if (row < 0 || row >= static_cast<int>(found_.kept.size())) return;
  const project::Setup setup = found_.all[found_.kept[static_cast<size_t>(row)]].setup;
  if (workspace_.project().find_setup(setup.name)) {
    for (size_t i = 0; i < workspace_.project().setups.size(); ++i)
      if (workspace_.project().setups[i].name == setup.name)
        workspace_.selection.choose_setup(static_cast<int>(i));
    return;
  }
  if (workspace_.document.edit("Add an alternative", [&](project::Project& p) { p.setups.push_back(setup); }))
    workspace_.selection.choose_setup(static_cast<int>(workspace_.project().setups.size()) - 1);
}

}  // namespace uadze::gui
