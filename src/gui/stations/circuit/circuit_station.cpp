#include <QCheckBox>
#include <QComboBox>
#include <QDrag>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QMimeData>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QSplitter>
#include <QVBoxLayout>
#include <functional>

#include "core/circuit/findings.h"
#include "core/solve/circuit_point.h"
#include "gui/document/later.h"
#include "gui/stations/circuit/circuit_form.h"
#include "gui/stations/circuit/circuit_plots.h"
#include "gui/stations/station.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

using circuit::Part;
using circuit::PartKind;
using project::Project;

/// The catalogue's parts: dragged into a leg, or put in behind the chosen part by Return or a double click.
class PartList : public QListWidget {
 public:
  using QListWidget::QListWidget;

 protected:
  QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override {
    auto* carried = new QMimeData;
    if (!items.isEmpty())
      carried->setData(CircuitView::part_mime, items.front()->data(Qt::UserRole).toString().toUtf8());
    return carried;
  }
  Qt::DropActions supportedDropActions() const override { return Qt::CopyAction; }
};

class CircuitStation : public StationView {
 public:
  explicit CircuitStation(Workspace& w)
      : w_(w),
        picture_(new QWidget),
        bench_(new CircuitBench(w, picture_)),
        view_(new CircuitView(w, *bench_)) {
    auto* scroll = new QScrollArea;
    scroll->setWidget(view_);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    plots_ = new CircuitPlots(w, *bench_);
    // No page may take a leg from the circuit's picture above.
    plots_->setMinimumHeight(170);
    auto* split = new QSplitter(Qt::Vertical);
    split->addWidget(scroll);
    split->addWidget(plots_);
    split->setStretchFactor(0, 3);
    split->setStretchFactor(1, 2);
    split->setSizes({365, 180});
    split->setChildrenCollapsible(false);
    auto* column = new QVBoxLayout(picture_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(make_bar());
    column->addWidget(split, 1);

    side_ = make_side();
    // The picture follows at once; words and limits a few times a second, however quickly the lap plays.
    later_ = std::make_unique<Later>(100, picture_, [this] {
      if (picture_->isVisible()) refresh();
    });
    QObject::connect(bench_, &CircuitBench::changed, picture_, [this] {
      show_conditions();
      later_->ask();
    });
    QObject::connect(&w, &Workspace::changed, picture_, [this, &w] {
      fill_compare();
      if (w.runs.catalogue() != listed_) fill_catalogue();
      // Another kind of part or size of hose asks for other rows.
      if (form_key() != form_key_) show_form();
    });
    QObject::connect(view_, &CircuitView::part_chosen, picture_, [this] {
      show_form();
      choose_pump();
    });
    QObject::connect(view_, &CircuitView::part_dropped, picture_,
                     [this](const CircuitChoice& before, const QString& kind, const QString& type) {
                       insert(before, kind, type);
                     });
    fill_compare();
    fill_catalogue();
    show_form();
    refresh();
  }
  QWidget* picture() override { return picture_; }
  QWidget* side() override { return side_; }
  void shown() override { refresh(); }

 private:
  // ---- the bar: operating point, what-ifs, comparison
  QWidget* make_bar() {
    auto* bar = new QWidget;
    auto* column = new QVBoxLayout(bar);
    column->setContentsMargins(8, 4, 8, 2);
    column->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    follow_ = new QCheckBox("At the cursor");
    follow_->setToolTip(
        "Demand, throttle, acceleration and covered pickups of the lap's cursor; off: the sliders");
    follow_->setObjectName("at the cursor");
    QObject::connect(follow_, &QCheckBox::toggled, bench_, &CircuitBench::set_follow);
    row->addWidget(follow_);
    add_slider(
        row, "Power", Quantity::power,
        [this] {
          return std::pair{0.0, bench_->most_power()};
        },
        [this] {
          // At the cursor the lap says what is asked for.
          return bench_->follows_cursor() && bench_->point()
                     ? solve::power_at(*w_.setup(), bench_->point()->at.demand,
                                       bench_->point()->at.temperature)
                     : bench_->power();
        },
        [this](double v) { bench_->set_power(v); });
    add_slider(
        row, "Manifold", Quantity::pressure,
        [] {
          return std::pair{20e3, 350e3};
        },
        [this] {
          return bench_->follows_cursor() && bench_->point() ? bench_->point()->at.manifold
                                                             : bench_->manifold();
        },
        [this](double v) { bench_->set_manifold(v); },
        [this] { return QString(bench_->manifold_follows() ? "" : " by hand"); });
    add_slider(
        row, "Supply", Quantity::voltage,
        [] {
          return std::pair{8.0, 16.0};
        },
        [this] { return bench_->supply(); }, [this](double v) { bench_->set_supply(v); });
    add_slider(
        row, "Fuel", Quantity::temperature,
        [] {
          return std::pair{253.15, 353.15};
        },
        [this] { return bench_->temperature(); }, [this](double v) { bench_->set_temperature(v); });
    column->addLayout(row);
    auto* second = new QHBoxLayout;
    second->setSpacing(3);
    const auto& list = circuit::what_ifs();
    for (size_t i = 0; i < list.size(); ++i) {
      auto* button = new QPushButton(what_if_brief(static_cast<circuit::WhatIf>(i)));
      button->setCheckable(true);
      button->setObjectName(QString("what if ") + list[i].name);
      button->setStyleSheet("padding: 1px 4px;");
      const auto what = static_cast<circuit::WhatIf>(i);
      QObject::connect(button, &QPushButton::toggled, bench_,
                       [this, what](bool on) { bench_->set_what_if(what, on); });
      switches_.push_back(button);
      second->addWidget(button);
    }
    second->addStretch();
    auto* full = new QPushButton("Full load");
    full->setToolTip("The setup's own power, boost, voltage and fuel, and no what-if");
    full->setObjectName("full load");
    full->setStyleSheet("padding: 1px 6px;");
    QObject::connect(full, &QPushButton::clicked, bench_, [this] {
      for (auto* s : switches_) s->setChecked(false);
      bench_->reset();
    });
    second->addWidget(full);
    compare_ = new QComboBox;
    compare_->setAccessibleName("Compare with");
    compare_->setToolTip("Another setup at the same conditions: dashed in the plots");
    compare_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    compare_->setMinimumContentsLength(12);
    QObject::connect(compare_, &QComboBox::activated, bench_,
                     [this](int index) { bench_->set_compared(compare_->itemData(index).toInt()); });
    second->addWidget(compare_);
    column->addLayout(second);
    return bar;
  }

  void add_slider(QHBoxLayout* row, const QString& name, Quantity quantity,
                  std::function<std::pair<double, double>()> range, std::function<double()> get,
                  std::function<void(double)> set, std::function<QString()> note = {}) {
    constexpr int steps = 200;
    auto* label = new QLabel;
    label->setMinimumWidth(96);
    label->setFont(figure_font(0.82));
    auto* slider = new QSlider(Qt::Horizontal);
    slider->setRange(0, steps);
    slider->setMinimumWidth(40);
    slider->setAccessibleName(name);
    slider->setObjectName("slider " + name);
    row->addSpacing(4);
    row->addWidget(label);
    row->addWidget(slider, 1);
    QObject::connect(slider, &QSlider::valueChanged, bench_, [this, range, set](int k) {
      if (filling_) return;
      const auto [low, high] = range();
      set(low + (high - low) * k / steps);
    });
    sliders_.push_back([this, label, slider, name, quantity, range, get, note] {
      const auto [low, high] = range();
      slider->setValue(static_cast<int>(std::lround((get() - low) / (high - low) * steps)));
      label->setText(name + " " + w_.show(get(), quantity) + (note ? note() : QString()));
    });
  }

  // ---- the side: what is chosen, the catalogue, what is wrong
  QWidget* make_side() {
    auto* upper = new QWidget;
    auto* column = new QVBoxLayout(upper);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    start_ = new QPushButton("Start a circuit");
    start_->setObjectName("start a circuit");
    start_->setToolTip("Lays out a plain circuit of shipped parts for this setup");
    QObject::connect(start_, &QPushButton::clicked, picture_, [this] {
      w_.document.edit("Start a circuit", [this](Project& p) {
        auto& s = p.setups.at(static_cast<size_t>(w_.selection.setup_index()));
        if (!s.circuit) s.circuit = plain_circuit(s);
      });
    });
    column->addWidget(start_);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    const auto tool = [&](const QString& text, const QString& tip, std::function<void()> then) {
      auto* button = new QPushButton(text);
      button->setToolTip(tip);
      button->setObjectName(text);
      QObject::connect(button, &QPushButton::clicked, picture_, then);
      row->addWidget(button);
    };
    tool("Remove", "Takes the chosen part, or the chosen pump's leg, out", [this] { remove(); });
    tool("Earlier", "One place against the flow", [this] { shift(-1); });
    tool("Later", "One place with the flow", [this] { shift(1); });
    tool("Add main", "One more main pump, up to four", [this] { add_main(); });
    column->addLayout(row);
    holder_ = new QScrollArea;
    holder_->setWidgetResizable(true);
    holder_->setFrameShape(QFrame::NoFrame);
    holder_->setMinimumHeight(120);
    holder_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(holder_, 3);
    // Not wrapped: a wrapping label would let the panel grow to its wish instead of scrolling.
    auto* hint = new QLabel("Catalogue: drag into a leg, or press Return");
    hint->setFont(text_font(0.82));
    column->addWidget(hint);
    kinds_ = new QComboBox;
    kinds_->setAccessibleName("Kind of part");
    for (const auto& kind : names_of<circuit::PartKind>()) kinds_->addItem(QString::fromStdString(kind));
    QObject::connect(kinds_, &QComboBox::currentIndexChanged, picture_, [this] { fill_catalogue(); });
    column->addWidget(kinds_);
    parts_ = new PartList;
    parts_->setObjectName("catalogue");
    parts_->setAccessibleName("Parts of the catalogue");
    parts_->setDragEnabled(true);
    parts_->setMinimumHeight(60);
    QObject::connect(parts_, &QListWidget::itemActivated, picture_, [this](QListWidgetItem* item) {
      const QStringList what = item->data(Qt::UserRole).toString().split('\n');
      CircuitChoice at = view_->chosen().value_or(CircuitChoice{{circuit::LegKind::feed, 0}, -1});
      if (at.leg.kind == circuit::LegKind::rail) at = {{circuit::LegKind::feed, 0}, -1};
      insert({at.leg, at.part + 1}, what[0], what[1]);
    });
    column->addWidget(parts_, 1);
    working_ = new WorkingView(w_);
    return new SidePanel(upper, working_, 62);
  }

  const circuit::Catalogue* catalogue() const { return w_.runs.catalogue().get(); }

  void fill_catalogue() {
    parts_->clear();
    listed_ = w_.runs.catalogue();
    const circuit::Catalogue* c = catalogue();
    if (!c) return;
    const QString kind = kinds_->currentText();
    const auto add = [&](const QString& type, const QString& note) {
      auto* item = new QListWidgetItem(type, parts_);
      item->setData(Qt::UserRole, kind + "\n" + type);
      item->setToolTip(note);
    };
    const auto all = [&](const auto& list) {
      for (const auto& t : list) add(QString::fromStdString(t.name), QString::fromStdString(t.note));
    };
    switch (static_cast<PartKind>(kinds_->currentIndex())) {
      case PartKind::line:
        return all(c->hoses);
      case PartKind::fitting:
        for (const auto& form : names_of<circuit::FittingForm>()) add(QString::fromStdString(form), "");
        return;
      case PartKind::filter:
        return all(c->filters);
      case PartKind::check_valve:
        return all(c->check_valves);
      case PartKind::pump:
        return all(c->pumps);
      case PartKind::sensor:
        return all(c->sensors);
      case PartKind::diffuser:
        return all(c->diffusers);
      case PartKind::restriction:
        return add("sharp-edged, 4 mm", "Discharge coefficient 0.61");
    }
  }

  Part new_part(const QString& kind, const QString& type, const circuit::Leg& leg) const {
    Part p;
    const auto& kinds = names_of<circuit::PartKind>();
    p.kind = static_cast<PartKind>(std::find(kinds.begin(), kinds.end(), kind.toStdString()) - kinds.begin());
    int dash = 6;
    for (const Part& other : leg)
      if (other.dash > 0) dash = other.dash;
    if (p.kind == PartKind::fitting) {
      const auto& forms = names_of<circuit::FittingForm>();
      p.form = static_cast<circuit::FittingForm>(std::find(forms.begin(), forms.end(), type.toStdString()) -
                                                 forms.begin());
      const bool line =
          std::any_of(leg.begin(), leg.end(), [](const Part& x) { return x.kind == PartKind::line; });
      if (!line) p.bore = 8e-3;
    } else if (p.kind == PartKind::restriction) {
      p.bore = 4e-3;
    } else {
      p.type = type.toStdString();
    }
    if (p.kind == PartKind::line) {
      const circuit::HoseType* hose = circuit::find(catalogue()->hoses, p.type);
      p.dash = hose && bore_of(*hose, dash) > 0 ? dash : 6;
      p.length = 0.5;
    }
    return p;
  }

  void insert(const CircuitChoice& before, const QString& kind, const QString& type) {
    const bool done = w_.document.edit("Add " + kind, [&](Project& p) {
      circuit::Circuit* c = circuit_in(p, w_.selection.setup_index());
      circuit::Leg* leg = c ? leg_at(*c, before.leg) : nullptr;
      if (!leg) return;
      leg->insert(leg->begin() + std::clamp(before.part, 0, static_cast<int>(leg->size())),
                  new_part(kind, type, *leg));
    });
    if (done) later_choice({before.leg, before.part});
  }

  /// The picture is laid out anew after the edit's signals; then the new part is chosen.
  void later_choice(const CircuitChoice& choice) {
    QMetaObject::invokeMethod(
        picture_, [this, choice] { view_->choose(choice); }, Qt::QueuedConnection);
  }

  void remove() {
    const auto choice = view_->chosen();
    if (!choice) return;
    w_.document.edit("Remove part", [&](Project& p) {
      circuit::Circuit* c = circuit_in(p, w_.selection.setup_index());
      circuit::Leg* leg = c ? leg_at(*c, choice->leg) : nullptr;
      if (!leg) return;
      if (choice->part >= 0 && choice->part < static_cast<int>(leg->size()))
        leg->erase(leg->begin() + choice->part);
      else if (choice->leg.kind == circuit::LegKind::main)
        c->mains.erase(c->mains.begin() + choice->leg.index);
    });
  }

  void shift(int step) {
    const auto choice = view_->chosen();
    if (!choice || choice->part < 0) return;
    const int to = choice->part + step;
    const bool done = w_.document.edit("Move part", [&](Project& p) {
      circuit::Circuit* c = circuit_in(p, w_.selection.setup_index());
      circuit::Leg* leg = c ? leg_at(*c, choice->leg) : nullptr;
      if (leg && to >= 0 && to < static_cast<int>(leg->size()))
        std::swap((*leg)[static_cast<size_t>(choice->part)], (*leg)[static_cast<size_t>(to)]);
    });
    if (done) view_->choose(CircuitChoice{choice->leg, to});
  }

  void add_main() {
    w_.document.edit("Add main pump", [this](Project& p) {
      circuit::Circuit* c = circuit_in(p, w_.selection.setup_index());
      if (!c || c->mains.empty()) return;
      circuit::MainLeg leg = c->mains.back();
      leg.name = "main " + std::to_string(c->mains.size() + 1);
      c->mains.push_back(std::move(leg));
    });
  }

  void choose_pump() {
    const auto& choice = view_->chosen();
    if (!choice || !bench_->state()) return;
    const auto& pumps = bench_->state()->pumps;
    for (size_t i = 0; i < pumps.size(); ++i)
      if (pumps[i].leg == choice->leg && pumps[i].part == choice->part)
        plots_->show_pump(static_cast<int>(i));
  }

  std::string form_key() const {
    const circuit::Circuit* c = circuit_in(const_cast<Project&>(w_.project()), w_.selection.setup_index());
    if (!c) return w_.setup() ? "no circuit" : "no setup";
    std::string key = w_.setup()->name + std::to_string(static_cast<int>(c->engine_supply));
    const auto& choice = view_->chosen();
    if (!choice) return key;
    for (int n : {static_cast<int>(choice->leg.kind), choice->leg.index, choice->part})
      key += "/" + std::to_string(n);
    const circuit::Leg* leg = leg_at(*c, choice->leg);
    if (leg && choice->part >= 0 && choice->part < static_cast<int>(leg->size())) {
      const Part& p = (*leg)[static_cast<size_t>(choice->part)];
      key += std::to_string(static_cast<int>(p.kind)) + (p.kind == PartKind::line ? p.type : "");
    }
    if (choice->leg.kind == circuit::LegKind::main && choice->leg.index < static_cast<int>(c->mains.size()))
      key += std::to_string(static_cast<int>(c->mains[static_cast<size_t>(choice->leg.index)].stage.by));
    return key;
  }

  void show_form() {
    form_key_ = form_key();
    start_->setVisible(w_.setup() && !w_.setup()->circuit);
    // The old form may be the one whose field is speaking just now.
    if (QWidget* old = holder_->takeWidget()) old->deleteLater();
    holder_->setWidget(make_circuit_form(w_, view_->chosen()));
  }

  void fill_compare() {
    const QSignalBlocker quiet(compare_);
    compare_->clear();
    compare_->addItem("compare with…", -1);
    const auto& setups = w_.project().setups;
    for (size_t i = 0; i < setups.size(); ++i)
      if (setups[i].circuit && static_cast<int>(i) != w_.selection.setup_index())
        compare_->addItem(QString::fromStdString(setups[i].name), static_cast<int>(i));
    compare_->setCurrentIndex(std::max(compare_->findData(bench_->compared()), 0));
  }

  /// A few letters for the button; hot fuel and altitude in the user's units.
  QString what_if_brief(circuit::WhatIf what) const {
    switch (what) {
      case circuit::WhatIf::loaded_filter:
        return "filters";
      case circuit::WhatIf::low_voltage:
        return w_.show(12.0, Quantity::voltage, 0);
      case circuit::WhatIf::hot_fuel:
        return w_.show(333.15, Quantity::temperature, 0);
      case circuit::WhatIf::high_altitude:
        return w_.show(2000.0, Quantity::distance, 0);
      case circuit::WhatIf::main_dead:
        return "main dead";
      case circuit::WhatIf::lift_dead:
        return "lift dead";
      case circuit::WhatIf::no_check_valve:
        return "no check";
      case circuit::WhatIf::small_return:
        return "return -1";
      case circuit::WhatIf::vent_blocked:
        return "vent shut";
    }
    return {};
  }

  void show_conditions() {
    filling_ = true;
    const auto what_if = [&](const Phrase& p) {
      return QString::fromStdString("What if: " + p.in(w_.units()));
    };
    for (size_t i = 0; i < switches_.size(); ++i) {
      switches_[i]->setText(what_if_brief(static_cast<circuit::WhatIf>(i)));
      switches_[i]->setToolTip(what_if(circuit::what_ifs()[i].tip));
      switches_[i]->setAccessibleName(what_if(circuit::what_ifs()[i].title));
    }
    follow_->setChecked(bench_->follows_cursor());
    for (const auto& s : sliders_) s();
    filling_ = false;
  }

  void refresh() {
    show_conditions();
    const auto* c = bench_->point();
    const auto* s = bench_->state();
    if (!c || !s) {
      working_->show_all({}, fuel_cautions(w_));
      return;
    }
    QStringList sayings;
    if (!bench_->bare().isEmpty()) sayings << bench_->bare();
    const bool trouble = std::any_of(s->findings.begin(), s->findings.end(),
                                     [](const circuit::Finding& f) { return f.severity != Severity::note; });
    if (!trouble) sayings << QString::fromStdString(verdict_of(*s).in(w_.units()));
    for (const auto& f : s->findings) sayings << QString::fromStdString(f.text.in(w_.units()));
    for (const auto& l : bench_->capacity()->limits) {
      const QString text = QString::fromStdString(l.text.in(w_.units()));
      sayings << (l.demand > 1e-7
                      ? QString("From %1 of power on: %2")
                            .arg(w_.show(solve::power_at(*w_.setup(), l.demand, c->at.temperature),
                                         Quantity::power),
                                 text)
                      : text);
    }
    QStringList cautions;
    for (const auto& f : find_cautions(*c)) cautions << QString::fromStdString(f.text.in(w_.units()));
    cautions
        << "Pressure stays in the line after the pump stops: let it off into a closed vessel, eyes and skin "
           "protected, nothing burning near, the battery isolated."
        << fuel_cautions(w_);
    auto derivations = bench_->workings();
    derivations.push_back(
        solve::demand_working(*w_.setup(), solve::power_at(*w_.setup(), c->at.demand, c->at.temperature)));
    working_->show_all(derivations, cautions, sayings);
  }

  Workspace& w_;
  QWidget* picture_;
  CircuitBench* bench_;
  CircuitView* view_;
  CircuitPlots* plots_;
  QWidget* side_;
  QCheckBox* follow_;
  QComboBox *compare_, *kinds_;
  QPushButton* start_;
  QScrollArea* holder_;
  PartList* parts_;
  WorkingView* working_;
  std::vector<QPushButton*> switches_;
  std::vector<std::function<void()>> sliders_;
  std::unique_ptr<Later> later_;
  std::string form_key_;
  std::shared_ptr<const circuit::Catalogue> listed_;
  bool filling_ = false;
};

}  // namespace

std::unique_ptr<StationView> make_circuit_station(Workspace& workspace) {
  return std::make_unique<CircuitStation>(workspace);
}

}  // namespace uadze::gui
