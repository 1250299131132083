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

#include "core/circuit/analysis.h"
#include "core/project/circuit_case.h"
#include "core/sizing/pump_size.h"
#include "core/sizing/surge_size.h"
#include "gui/document/background.h"
#include "gui/stations/sizing_search.h"
#include "gui/stations/station.h"
#include "gui/widgets/edit_form.h"
#include "gui/widgets/quantity_plot.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

struct Sizes {
  std::optional<sizing::SurgeSizing> surge;
  std::vector<sizing::PumpChoice> mains, lifts;
  std::optional<sizing::Staging> staging;
  std::vector<circuit::LineChoice> lines;
  circuit::Case full;
  std::optional<circuit::State> state;
  QString fault;
};

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
  bool busy() const override { return sizes_run_.running(); }

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
      const int i = w_.setup_index();
      return i < 0 || i >= static_cast<int>(p.setups.size()) ? nullptr : &p.setups[static_cast<size_t>(i)];
    };
    const auto surge = [chosen](project::Project& p) -> starvation::SurgeTank* {
      auto* s = chosen(p);
      return s && s->surge ? &*s->surge : nullptr;
    };
    const auto of_surge = [&](const QString& label, Quantity quantity, double starvation::SurgeTank::*member,
                              const QString& tip) {
      form->add_quantity(
          label, quantity,
          [surge, member](project::Project& p) -> double* {
            auto* s = surge(p);
            return s ? &(s->*member) : nullptr;
          },
          tip);
    };
    const auto limit = [&](const QString& label, Quantity quantity, double starvation::Limits::*member,
                           const QString& tip) {
      form->add_quantity(
          label, quantity,
          [chosen, member](project::Project& p) -> double* {
            auto* s = chosen(p);
            return s ? &(s->limits.*member) : nullptr;
          },
          tip);
    };
    form->add_heading("Surge tank");
    of_surge("Volume", Quantity::volume, &starvation::SurgeTank::volume, "Inside, of an upright cylinder");
    of_surge("Height", Quantity::length, &starvation::SurgeTank::height, "Inside; 0: twice its diameter");
    for (int axis : {0, 1})
      form->add_quantity(
          axis ? "Pickup, to the left" : "Pickup, forward", Quantity::length,
          [surge, axis](project::Project& p) -> double* {
            auto* s = surge(p);
            return s ? &s->pickup[axis] : nullptr;
          },
          "Of the main pump's pickup on its floor, from its axis");
    form->add_choice(
        "Engine return to", {"surge tank", "main tank", "overflow tee"},
        [surge](const project::Project& p) {
          auto* s = surge(const_cast<project::Project&>(p));
          return s ? static_cast<int>(s->engine_return) : -1;
        },
        [surge](project::Project& p, int i) {
          if (auto* s = surge(p)) s->engine_return = static_cast<starvation::Return>(i);
        });
    form->add_heading("What counts as starvation");
    limit("Pressure difference under", Quantity::fraction, &starvation::Limits::pressure,
          "Of the set one; at 75 % an injector gives 13 % less");
    limit("for longer than", Quantity::duration, &starvation::Limits::pressure_time,
          "Shorter dips are let pass");
    limit("Gas at the main pump over", Quantity::fraction, &starvation::Limits::gas,
          "Share of gas in what it draws");
    limit("gas for longer than", Quantity::duration, &starvation::Limits::gas_time,
          "Shorter sips are let pass");
    limit("Bubbles rise at", Quantity::velocity, &starvation::Limits::bubble_rise,
          "In the surge tank; half a millimetre across: 0.1 m/s");
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
      QObject::connect(box, &QDoubleSpinBox::valueChanged, box, [this] { key_.clear(), refresh(); });
      bar->addWidget(new QLabel(label));
      bar->addWidget(box);
      return box;
    };
    margin_ = spin("Margin", " %", 10, 200);
    low_ = spin("Supply lower by", " V", 0.5, 6);
    hot_ = spin("Fuel hotter by", " K", 10, 60);
    bar->addStretch();
    column->addLayout(bar);
    const QStringList header{"",     "Main pumps", "Gives", "Needed", "Current", "Heat at a third",
                             "Mass", "Cost",       ""};
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

  /// m3 in the main tank that is sized for: what the session brings back.
  double level() const {
    const auto* v = w_.verdict();
    return v ? std::min(v->risk.bring_back, v->lap->car->tank->volume()) : w_.level();
  }

  void refresh() {
    const auto* setup = w_.setup();
    const auto now = w_.lap_case();
    if (!setup || !now || w_.evaluator.stale()) {
      if (!setup || !now) says_->setText(w_.fault());
      return;
    }
    project::Project only;
    only.setups = {*setup};
    const double sized = level();
    const std::string key = project::project_text(only, "") + std::to_string(sized) +
                            std::to_string(margin_->value()) + "/" + std::to_string(low_->value()) + "/" +
                            std::to_string(hot_->value()) + w_.lap_reference()->name;
    if (key == key_) return;
    key_ = key;
    says_->setText("computing");
    const sizing::PumpSizeOptions pumps{
        .margin = margin_->value() / 100, .low_supply = low_->value(), .hot = hot_->value()};
    sizes_run_.start(
        picture_,
        [now, sized, pumps, setup = *setup, project = w_.project(), laps = w_.evaluator.laps(),
         tanks = w_.document.tanks(), chosen = w_.lap_reference()->name](Progress& progress) {
          Sizes out;
          try {
            double lift = 0;
            for (double d : now->course.demand) lift += d / static_cast<double>(now->course.demand.size());
            if (!now->car->lift_pumps.empty()) {
              // It must serve every lap of the project; the chosen one first.
              std::vector<project::LapCase> others;
              for (const auto& other : project.laps)
                if (other.name != chosen)
                  others.push_back(project::lap_case(project, setup, other, *laps, *tanks,
                                                     {.wait = false, .points = 600}, &progress));
              std::vector<const starvation::Course*> courses{&now->course};
              for (const auto& other : others) courses.push_back(&other.course);
              out.surge = sizing::size_surge(*now->car, courses, sized, {}, &progress);
              if (std::isfinite(out.surge->lift_enough)) lift = std::max(lift, out.surge->lift_enough);
            }
            if (setup.circuit) {
              out.full = project::circuit_case(project, setup);
              out.mains = sizing::main_pump_choices(out.full, out.full.at.demand, pumps, &progress);
              out.lifts = sizing::lift_pump_choices(out.full, lift, pumps, &progress);
              for (const auto& p : out.mains)
                if (p.count == 2 && p.meets) {
                  out.staging = sizing::propose_staging(out.full, p, out.full.at.demand, pumps);
                  break;
                }
              out.state = circuit::run(out.full);
              out.lines = circuit::line_choices(out.full, *out.state, false);
            }
          } catch (const InputError& error) {
            out.fault = error.what();
          }
          return out;
        },
        [this](Sizes sizes) {
          sizes_ = std::move(sizes);
          show();
        });
  }

  void fill_pumps(QTableWidget* t, const std::vector<sizing::PumpChoice>& list) {
    t->setRowCount(static_cast<int>(list.size()));
    for (int r = 0; r < t->rowCount(); ++r) {
      const auto& p = list[static_cast<size_t>(r)];
      const QString cells[] = {p.meets ? "enough" : "▲ too little",
                               QString("%1 × %2").arg(p.count).arg(QString::fromStdString(p.type)),
                               w_.show(p.flow, Quantity::flow, 0),
                               w_.show(p.need, Quantity::flow, 0),
                               w_.show(p.current, Quantity::current),
                               w_.show(p.electric, Quantity::heat_flow, 0),
                               w_.show(p.mass, Quantity::mass, 2),
                               QString::fromStdString(circuit::cost_names()[static_cast<size_t>(p.cost)]),
                               QString(p.fitted ? "fitted " : "") + (p.alcohol ? "" : "▲ not for this fuel")};
      for (int c = 0; c < 9; ++c) {
        auto* item = new QTableWidgetItem(cells[c]);
        if (c >= 2 && c <= 6) {
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
    t->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    t->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  }

  void fill_lines() {
    std::vector<QStringList> rows;
    for (const auto& line : sizes_.lines) {
      const circuit::LineSize* fitted = nullptr;
      for (const auto& s : line.sizes)
        if (s.fitted) fitted = &s;
      rows.push_back(
          {QString::fromStdString(line.leg.title(sizes_.full.circuit)),
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
    if (sizes_.state) {
      for (const auto& part : sizes_.state->parts) {
        const circuit::Leg* leg = leg_at(sizes_.full.circuit, part.leg);
        if (!leg || (*leg)[static_cast<size_t>(part.part)].kind != circuit::PartKind::filter) continue;
        const auto* type = find(sizes_.full.catalogue->filters, (*leg)[static_cast<size_t>(part.part)].type);
        const bool small = type && part.flow > type->flow;
        rows.push_back(
            {QString::fromStdString(part.leg.title(sizes_.full.circuit)), QString::fromStdString(part.label),
             w_.show(part.flow, Quantity::flow, 0), w_.show(part.loss, Quantity::pressure),
             small
                 ? QString("▲ over its rated %1: the next larger").arg(w_.show(type->flow, Quantity::flow, 0))
                 : QString("right")});
      }
      for (const auto& wire : sizes_.state->wires) {
        const auto& pump = sizes_.state->pumps[static_cast<size_t>(wire.pump)];
        if (pump.engine_driven || pump.current <= 0) continue;
        const bool good = wire.drop <= sizes_.full.circuit.wished_drop;
        rows.push_back({"wires of " + QString::fromStdString(pump.name),
                        w_.show(wire.resistance, Quantity::resistance),
                        w_.show(pump.current, Quantity::current), w_.show(wire.drop, Quantity::voltage),
                        good           ? QString("right")
                        : wire.advised ? QString("▲ gauge %1 would keep to %2")
                                             .arg(*wire.advised)
                                             .arg(w_.show(sizes_.full.circuit.wished_drop, Quantity::voltage))
                                       : QString("▲ shorten it or take a relay near the pump")});
      }
    }
    lines_->setRowCount(static_cast<int>(rows.size()));
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
    std::vector<Derivation> all;
    QStringList sentences;
    if (sizes_.surge) {
      const auto& z = *sizes_.surge;
      says_->setText(QString("<b>For %1 in the main tank, what this session brings back.</b> Fitted: %2. ")
                         .arg(w_.show(z.level, Quantity::volume),
                              setup->surge ? w_.show(z.volume, Quantity::volume, 2) : "none") +
                     QString::fromStdString(z.text.in(w_.units())));
      std::vector<Curve> curves;
      for (const auto& curve : z.curves) {
        Curve c;
        c.title = curve.layout == starvation::Return::surge_tank  ? "return to surge tank"
                  : curve.layout == starvation::Return::main_tank ? "return to main tank"
                                                                  : "return to overflow tee";
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
      for (int r = 0; r < shapes_->rowCount(); ++r) {
        const auto& s = z.shapes[static_cast<size_t>(r)];
        const QString cells[] = {
            w_.show(s.height, Quantity::length, 0), w_.show(s.diameter, Quantity::length, 0),
            w_.show(s.unreached, Quantity::volume, 2), w_.show(s.sink, Quantity::velocity, 3),
            s.carries_gas ? "▲ carried down" : "rise out"};
        for (int c = 0; c < 5; ++c) shapes_->setItem(r, c, new QTableWidgetItem(cells[c]));
      }
      shapes_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
      all.push_back(z.working);
      for (const auto& curve : z.curves) {
        const auto first = std::find_if(curve.points.begin(), curve.points.end(),
                                        [](const auto& p) { return std::isfinite(p.volume); });
        const QString where = curve.layout == starvation::Return::surge_tank
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
      says_->setText(sizes_.fault.isEmpty()
                         ? QString("This setup has no lift pumps: its pickup feeds the engine straight, and "
                                   "there is no surge tank to size. Fit a surge tank at the Circuit station, "
                                   "or compare setups at the Slosh station.")
                         : "▲ " + sizes_.fault);
      show_curves(curve_, w_, "lift pumps together", Quantity::flow, "volume needed", Quantity::volume, {});
      shapes_->setRowCount(0);
    }
    if (setup->surge && setup->circuit) {
      int joints = 0;
      for (const auto& place : circuit::legs_of(*setup->circuit, project::surroundings_of(*setup)))
        if (place.kind == circuit::LegKind::lift || place.kind == circuit::LegKind::overflow ||
            place.kind == circuit::LegKind::tee || place.kind == circuit::LegKind::main ||
            (place.kind == circuit::LegKind::back &&
             setup->surge->engine_return == starvation::Return::surge_tank))
          if (const auto* leg = leg_at(*setup->circuit, place)) joints += static_cast<int>(leg->size()) + 1;
      const double kg = setup->surge->volume * fluid::density(project::fuel_of(*setup));
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
    staging_->setText(sizes_.staging ? QString::fromStdString(sizes_.staging->text.in(w_.units()))
                                     : QString());
    fill_pumps(mains_, sizes_.mains);
    fill_pumps(lifts_, sizes_.lifts);
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
  Sizes sizes_;
  std::string key_;
  Background<Sizes> sizes_run_;
};

}  // namespace

std::unique_ptr<StationView> make_sizing_station(Workspace& workspace) {
  return std::make_unique<SizingStation>(workspace);
}

}  // namespace uadze::gui
