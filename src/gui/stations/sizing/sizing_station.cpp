#include <qcustomplot.h>

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QScrollArea>
#include <QTabWidget>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>
#include <optional>

#include "core/solve/size.h"
#include "gui/document/background.h"
#include "gui/stations/sizing/sizing_search.h"
#include "gui/stations/station.h"
#include "gui/widgets/edit_form.h"
#include "gui/widgets/filling.h"
#include "gui/widgets/quantity_plot.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

class SizingStation : public StationView {
 public:
  explicit SizingStation(Workspace& w) : w_(w), picture_(new QWidget) {
    auto* layout = new QVBoxLayout(picture_);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* tabs = new QTabWidget;
    tabs->setDocumentMode(true);
    tabs->setObjectName("sizing tabs");
    tabs->addTab(surge_page(), "Surge tank");
    tabs->addTab(pump_page(), "Pumps");
    tabs->addTab(
        lines_ = table("Lines, filters and wiring", {"Part", "Now", "Flow or current", "Loss", "Advice"}),
        "Lines and wiring");
    tabs->addTab(new SizingSearch(w), "Search");
    layout->addWidget(tabs);
    working_ = new WorkingView(w);
    side_ = new SidePanel(make_form(), working_, 42);
    QObject::connect(&w, &Workspace::changed, picture_, [this] {
      if (picture_->isVisible()) refresh();
    });
    QObject::connect(&w, &Workspace::appearance_changed, picture_, [this] {
      if (picture_->isVisible()) show();
    });
  }
  QWidget* picture() override { return picture_; }
  QWidget* side() override { return side_; }
  void shown() override { refresh(); }

 private:
  static QTableWidget* table(const QString& name, const QStringList& header) {
    auto* t = new QTableWidget(0, static_cast<int>(header.size()));
    t->setHorizontalHeaderLabels(header);
    t->setAccessibleName(name);
    t->setObjectName(name);
    t->verticalHeader()->hide();
    t->verticalHeader()->setDefaultSectionSize(23);
    t->setEditTriggers(QAbstractItemView::NoEditTriggers);
    t->setSelectionBehavior(QAbstractItemView::SelectRows);
    return t;
  }

  EditForm* make_form() {
    auto* form = new EditForm(w_);
    const auto chosen = [this](project::Project& p) -> project::Setup* {
      const int i = w_.selection.setup_index();
      return i < 0 || i >= static_cast<int>(p.setups.size()) ? nullptr : &p.setups[static_cast<size_t>(i)];
    };
    const auto surge = [chosen](project::Project& p) -> starvation::SurgeTank* {
      auto* s = chosen(p);
      return s && s->surge ? &*s->surge : nullptr;
    };
    const auto limits = [chosen](project::Project& p) -> starvation::Limits* {
      auto* s = chosen(p);
      return s ? &s->limits : nullptr;
    };
    form->add_heading("Surge tank");
    form->add<starvation::SurgeTank>("volume_l", surge, "Volume");
    for (const char* key : {"height_mm", "pickup_forward_mm", "pickup_left_mm", "engine_return"})
      form->add<starvation::SurgeTank>(key, surge);
    form->add_heading("What counts as starvation");
    for (const char* key : {"lean_percent", "lean_s", "pressure_corrected", "least_rail_kpa", "gas_percent",
                            "gas_s", "bubble_rise_mm_s"})
      form->add<starvation::Limits>(key, limits);
    return form;
  }

  QWidget* surge_page() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(8, 4, 8, 4);
    says_ = new QLabel;
    says_->setObjectName("surge says");
    says_->setWordWrap(true);
    column->addWidget(says_);
    curve_ = make_plot("Surge volume needed against lift flow");
    show_curves(curve_, w_, "lift pumps together", Quantity::flow, "volume needed", Quantity::volume, {});
    column->addWidget(curve_, 3);
    auto* heading = new QLabel("<b>The needed volume in other proportions</b>");
    column->addWidget(heading);
    shapes_ = table("Shapes", {"Height", "Diameter", "Out of reach", "Fuel sinks at", "Bubbles"});
    shapes_->setMaximumHeight(170);
    column->addWidget(shapes_, 1);
    return page;
  }

  QWidget* pump_page() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(8, 4, 8, 4);
    auto* bar = new QHBoxLayout;
    const auto spin = [&](const QString& label, const QString& suffix, double value, double most) {
      auto* box = new QDoubleSpinBox;
      box->setRange(0, most);
      box->setValue(value);
      box->setSuffix(suffix);
      box->setDecimals(1);
      box->setAccessibleName(label);
      box->setObjectName(label);
      box->setKeyboardTracking(false);
      QObject::connect(box, &QDoubleSpinBox::valueChanged, box, [this] { refresh(); });
      bar->addWidget(new QLabel(label));
      bar->addWidget(box);
      return box;
    };
    const sizing::PumpSizeOptions usual;
    margin_ = spin("Margin", " %", usual.margin * 100, 200);
    low_ = spin("Supply lower by", " V", usual.low_supply, 6);
    hot_ = spin("Fuel hotter by", " K", usual.hot, 60);
    bar->addStretch();
    column->addLayout(bar);
    const QStringList header{"", "Main pumps", "Gives", "Current", "Heat at ⅓", "Mass", "Cost"};
    mains_ = table("Main pumps", header);
    column->addWidget(mains_, 3);
    staging_ = new QLabel;
    staging_->setWordWrap(true);
    staging_->setObjectName("staging says");
    column->addWidget(staging_);
    lifts_ = table("Lift pumps", header);
    lifts_->setHorizontalHeaderItem(1, new QTableWidgetItem("Lift pumps, all together"));
    column->addWidget(lifts_, 1);
    return page;
  }

  static constexpr const char* computing =
      "Computing, some seconds: the surge tank's volume against the lift pumps' flow for the fuel that this "
      "session brings back, then the pumps, lines, filters and wires that carry its demand.";

  void refresh() {
    const auto* setup = w_.setup();
    const auto* session = w_.selection.session();
    const auto* lap = w_.selection.lap_reference();
    const QString fault = w_.runs.fault();
    if (!setup || !lap || !session || !fault.isEmpty()) {
      sizes_ = nullptr;
      says_->setText("Here stand the sizes of surge tank, pumps, lines and wires for the chosen session. " +
                     fault);
      show();
      return;
    }
    // It asks for what the session brings back, which the evaluator is about to know.
    if (w_.runs.evaluator.stale()) {
      if (!sizes_) says_->setText(computing);
      return;
    }
    solve::SizeOptions how;
    how.pumps.margin = margin_->value() / 100;
    how.pumps.low_supply = low_->value();
    how.pumps.hot = hot_->value();
    how.plan = w_.runs.plan_options();
    how.plan.lap.detail =
        solve::Detail::band;  // what it is sized for does not hang on how much else is shown
    how.points = how.plan.lap.points;
    says_->setText(computing);
    sizes_run_.start(
        picture_,
        [how, project = w_.project(), sources = w_.document.sources(),
         names = solve::Case{.setup = setup->name, .lap = {}, .session = session->name}](Progress& progress) {
          return solve::size(project, names, how, *sources, &progress);
        },
        [this](solve::SizeResultPtr sizes) {
          sizes_ = std::move(sizes);
          show();
        },
        [this](const QString& why) {
          sizes_ = nullptr;
          show();
          says_->setText("▲ " + why);
        });
  }

  void fill_pumps(QTableWidget* t, const std::vector<sizing::PumpChoice>& list) {
    t->setRowCount(static_cast<int>(list.size()));
    std::optional<Filling> quiet(t);
    if (!list.empty())
      t->horizontalHeaderItem(2)->setText("Of " + w_.show(list.front().need, Quantity::flow, 0));
    for (const auto& [column, tip] :
         {std::pair{2, "What they give where it is needed, of what is needed with the margin"},
          {4, "At a third of the demand: what of their power heats the fuel"}})
      t->horizontalHeaderItem(column)->setToolTip(tip);
    for (int r = 0; r < t->rowCount(); ++r) {
      const auto& p = list[static_cast<size_t>(r)];
      const QString serves = !p.meets ? "▲ too little" : !p.alcohol ? "▲ not this fuel" : "enough";
      const QString cells[] = {serves + (p.fitted ? ", fitted" : ""),
                               QString::fromStdString(p.name()).replace(" x ", " × "),
                               w_.show(p.flow, Quantity::flow, 0),
                               w_.show(p.current, Quantity::current),
                               w_.show(p.electric, Quantity::heat_flow, 0),
                               w_.show(p.mass, Quantity::mass, 2),
                               name_of(p.cost)};
      for (int c = 0; c < t->columnCount(); ++c) {
        auto* item = new QTableWidgetItem(cells[c]);
        if (c >= 2 && c <= 5) {
          item->setFont(figure_font());
          item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        }
        if (p.fitted) {
          QFont bold = item->font();
          bold.setBold(true);
          item->setFont(bold);
        }
        item->setToolTip(cells[c]);
        t->setItem(r, c, item);
      }
    }
    quiet.reset();
    // The name is what is bought: it is read whole, the other columns are short.
    t->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    t->horizontalHeader()->setStretchLastSection(true);
  }

  void fill_lines() {
    std::vector<QStringList> rows;
    for (const auto& line : sizes_->lines) {
      const circuit::LineSize* fitted = nullptr;
      for (const auto& s : line.sizes)
        if (s.fitted) fitted = &s;
      rows.push_back(
          {QString::fromStdString(line.leg.title(sizes_->full.circuit)),
           fitted ? QString("-%1 %2").arg(fitted->dash).arg(QString::fromStdString(line.hose))
                  : QString::fromStdString(line.hose),
           w_.show(line.flow, Quantity::flow, 0) +
               (fitted ? ", " + w_.show(fitted->velocity, Quantity::velocity) : ""),
           fitted ? w_.show(fitted->loss, Quantity::pressure) : "",
           line.advised == 0 ? QString("▲ no size of this hose keeps to the limits")
           : fitted && fitted->meets
               ? (line.advised == fitted->dash ? QString("right") : QString("-%1 would do").arg(line.advised))
               : QString("▲ -%1 advised").arg(line.advised)});
    }
    if (sizes_->state) {
      for (const auto& part : sizes_->state->parts) {
        const circuit::Leg* leg = leg_at(sizes_->full.circuit, part.leg);
        if (!leg || (*leg)[static_cast<size_t>(part.part)].kind != circuit::PartKind::filter) continue;
        const auto* type = find(sizes_->full.catalogue->filters, (*leg)[static_cast<size_t>(part.part)].type);
        const bool small = type && part.flow > type->flow;
        rows.push_back(
            {QString::fromStdString(part.leg.title(sizes_->full.circuit)), QString::fromStdString(part.label),
             w_.show(part.flow, Quantity::flow, 0), w_.show(part.loss, Quantity::pressure),
             small
                 ? QString("▲ over its rated %1: the next larger").arg(w_.show(type->flow, Quantity::flow, 0))
                 : QString("right")});
      }
      for (const auto& wire : sizes_->state->wires) {
        const auto& pump = sizes_->state->pumps[static_cast<size_t>(wire.pump)];
        if (pump.engine_driven || pump.current <= 0) continue;
        const bool good = wire.drop <= sizes_->full.circuit.wished_drop;
        rows.push_back(
            {"wires of " + QString::fromStdString(pump.name), w_.show(wire.resistance, Quantity::resistance),
             w_.show(pump.current, Quantity::current), w_.show(wire.drop, Quantity::voltage),
             good           ? QString("right")
             : wire.advised ? QString("▲ gauge %1 would keep to %2")
                                  .arg(*wire.advised)
                                  .arg(w_.show(sizes_->full.circuit.wished_drop, Quantity::voltage))
                            : QString("▲ shorten it or take a relay near the pump")});
      }
    }
    lines_->setRowCount(static_cast<int>(rows.size()));
    const Filling quiet(lines_);
    for (int r = 0; r < lines_->rowCount(); ++r)
      for (int c = 0; c < 5; ++c) {
        auto* item = new QTableWidgetItem(rows[static_cast<size_t>(r)][c]);
        item->setToolTip(item->text());
        lines_->setItem(r, c, item);
      }
    lines_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    lines_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    lines_->horizontalHeader()->setSectionResizeMode(4, QHeaderView::Stretch);
  }

  void show() {
    const auto* setup = w_.setup();
    if (!setup) return;
    if (!sizes_) {
      show_curves(curve_, w_, "lift pumps together", Quantity::flow, "volume needed", Quantity::volume, {});
      for (QTableWidget* t : {shapes_, mains_, lifts_, lines_}) t->setRowCount(0);
      staging_->setText({});
      working_->show_all({}, {});
      return;
    }
    std::vector<Derivation> all;
    QStringList sentences;
    if (sizes_->surge) {
      const auto& z = *sizes_->surge;
      const auto* verdict = w_.runs.verdict();
      says_->setText(QString("<b>For %1 in the main tank, %2.</b> Fitted: %3. ")
                         .arg(w_.show(z.level, Quantity::volume),
                              verdict && !verdict->possible() ? "full, as no fuel is enough"
                                                              : "what this session brings back",
                              setup->surge ? w_.show(z.volume, Quantity::volume, 2) : "none") +
                     QString::fromStdString(z.text.in(w_.units())));
      std::vector<Curve> curves;
      for (const auto& curve : z.curves) {
        Curve c;
        c.title = QString("return to ") + name_of(curve.layout);
        for (const auto& p : curve.points) c.x.push_back(p.lift), c.y.push_back(p.volume);
        c.style = curves.empty() ? Qt::SolidLine : Qt::DashLine;
        c.second = !curves.empty();
        curves.push_back(std::move(c));
      }
      std::optional<CurvePlace> present;
      if (setup->surge) present = CurvePlace{z.lift, z.volume, "fitted"};
      show_curves(curve_, w_, "lift pumps together", Quantity::flow, "volume needed", Quantity::volume,
                  curves, present);
      shapes_->setRowCount(static_cast<int>(z.shapes.size()));
      const Filling quiet(shapes_);
      for (int r = 0; r < shapes_->rowCount(); ++r) {
        const auto& s = z.shapes[static_cast<size_t>(r)];
        const int decimals = w_.units().length == LengthUnit::inch ? 1 : 0;
        const QString cells[] = {
            w_.show(s.height, Quantity::length, decimals), w_.show(s.diameter, Quantity::length, decimals),
            w_.show(s.unreached, Quantity::volume, 2), w_.show(s.sink, Quantity::velocity, 3),
            s.carries_gas ? "▲ carried down" : "rise out"};
        for (int c = 0; c < 5; ++c) shapes_->setItem(r, c, new QTableWidgetItem(cells[c]));
      }
      shapes_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
      all.push_back(z.working);
      for (const auto& curve : z.curves) {
        const auto first = std::find_if(curve.points.begin(), curve.points.end(),
                                        [](const auto& p) { return std::isfinite(p.volume); });
        const QString where = curve.layout == circuit::ReturnTo::surge_tank
                                  ? "With the return to the surge tank"
                                  : "With the return to the main tank";
        if (first == curve.points.end())
          sentences << where + " no lift flow tried is enough: volume only delays it.";
        else
          sentences << QString("%1 %2 are drawn on the mean; from %3 of lift on a surge tank can be enough.")
                           .arg(where, w_.show(curve.drawn, Quantity::flow, 0),
                                w_.show(first->lift, Quantity::flow, 0));
      }
    } else {
      says_->setText(
          "This setup has no lift pumps: its pickup feeds the engine straight, and there is no surge tank to "
          "size. Fit a surge tank at the Circuit station, or compare setups at the Slosh station.");
      show_curves(curve_, w_, "lift pumps together", Quantity::flow, "volume needed", Quantity::volume, {});
      shapes_->setRowCount(0);
    }
    if (setup->surge && setup->circuit) {
      int joints = 0;
      for (const auto& place : circuit::legs_of(*setup->circuit, solve::surroundings_of(*setup)))
        if (place.kind == circuit::LegKind::lift || place.kind == circuit::LegKind::overflow ||
            place.kind == circuit::LegKind::tee || place.kind == circuit::LegKind::main ||
            (place.kind == circuit::LegKind::back &&
             setup->surge->engine_return == circuit::ReturnTo::surge_tank))
          if (const auto* leg = leg_at(*setup->circuit, place)) joints += circuit::joints_outside(*leg);
      const double kg = setup->surge->volume * fluid::density(solve::fuel_of(*setup));
      sentences
          << (setup->circuit->surge_inside
                  ? QString(
                        "Inside the main tank: no joints outside the cell for it (outside there would be "
                        "about %1), no fuel of its own in a crash; to service it the tank must be opened.")
                        .arg(joints)
                  : QString("Outside the main tank: about %1 joints on its lines that can weep, and %2 of "
                            "fuel outside the cell in a crash; in return it is reached without opening the "
                            "tank. Inside it would need neither.")
                        .arg(joints)
                        .arg(w_.show(kg, Quantity::mass)));
    }
    QString under = QString::fromStdString("Of each kind " + sizing::left_out() + ".");
    if (sizes_->staging) under.prepend(QString::fromStdString(sizes_->staging->text.in(w_.units())) + " ");
    staging_->setText(sizes_->mains.empty() ? QString() : under.replace(" x ", " × "));
    lifts_->setVisible(!sizes_->lifts.empty());
    fill_pumps(mains_, sizes_->mains);
    fill_pumps(lifts_, sizes_->lifts);
    fill_lines();
    working_->show_all(all,
                       {"A tank of fuel outside the cell must be protected in a crash: the series' "
                        "regulations decide whether and where it may stand.",
                        "More pumps mean more electrical load, heat and wires: fuse each feed, and check the "
                        "alternator at the Circuit station."},
                       sentences);
  }

  Workspace& w_;
  QWidget* picture_;
  QWidget* side_;
  WorkingView* working_;
  QLabel *says_, *staging_;
  QCustomPlot* curve_;
  QTableWidget *shapes_, *mains_, *lifts_, *lines_;
  QDoubleSpinBox *margin_, *low_, *hot_;
  solve::SizeResultPtr sizes_;
  Background<solve::SizeResultPtr> sizes_run_;
};

}  // namespace

std::unique_ptr<StationView> make_sizing_station(Workspace& workspace) {
  return std::make_unique<SizingStation>(workspace);
}

}  // namespace uadze::gui
