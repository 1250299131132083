#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QSpinBox>
#include <QTabWidget>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>
#include <optional>

#include "card/session_card.h"
#include "core/base/files.h"
#include "core/report/plan_table.h"

#include "gui/stations/sessions/plan_details.h"
#include "gui/stations/sessions/session_form.h"
#include "gui/stations/station.h"
#include "gui/widgets/filling.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

using project::Project;
using session::Session;

class SessionsStation : public StationView {
 public:
  explicit SessionsStation(Workspace& w)
      : w_(w), picture_(new QWidget), plans_(table("Plan")), alternatives_(table("Alternatives")) {
    auto* layout = new QVBoxLayout(picture_);
    layout->setContentsMargins(12, 8, 12, 8);
    layout->setSpacing(6);
    title_ = new QLabel;
    title_->setWordWrap(true);
    auto* add = new QPushButton("Add a session");
    add->setObjectName("Add a session");
    add->setToolTip("Something that is driven on one filling: practice, qualifying, a race with its stops");
    auto* top = new QHBoxLayout;
    top->addWidget(title_, 1);
    top->addWidget(add);
    layout->addLayout(top);
    layout->addWidget(plans_);
    auto* tabs = new QTabWidget;
    tabs->setDocumentMode(true);
    tabs->setObjectName("session tabs");
    details_ = new PlanDetails(w);
    tabs->addTab(details_, "Stints and margin");
    auto* every = new QWidget;
    auto* column = new QVBoxLayout(every);
    column->setContentsMargins(0, 6, 0, 0);
    column->addWidget(alternatives_);
    column->addStretch();
    tabs->addTab(every, "Every setup");
    auto* planned = make_session_table(w);
    tabs->addTab(planned, "What is planned");
    auto* after = new QWidget;
    auto* found = new QVBoxLayout(after);
    found->setContentsMargins(0, 6, 0, 0);
    learnt_ = new QLabel;
    learnt_->setWordWrap(true);
    learnt_->setObjectName("learnt");
    found->addWidget(learnt_);
    found->addWidget(make_record_table(w), 1);
    tabs->addTab(after, "After the session");
    QObject::connect(add, &QPushButton::clicked, add, [tabs, planned] {
      tabs->setCurrentWidget(planned);
      planned->add_row();
    });
    service_ = new QLabel;
    service_->setWordWrap(true);
    service_->setObjectName("service before the sessions");
    service_->hide();
    layout->addWidget(service_);
    layout->addWidget(tabs, 1);
    auto* bar = new QHBoxLayout;
    const auto button = [&](const QString& text, const QString& tip, auto&& then) {
      auto* b = new QPushButton(text);
      b->setObjectName(text);
      b->setToolTip(tip);
      QObject::connect(b, &QPushButton::clicked, b, then);
      bar->addWidget(b);
    };
    button("Print card…", "The chosen session on one page for the pit wall", [this] { print_card(); });
    button("Save cards as PDF…", "Every session of this setup, one page each", [this] { save_cards(); });
    button("Save plan as CSV…", "The plan of this setup as a table", [this] { save_csv(); });
    bar->addStretch();
    draws_ = new QLabel;
    draws_->setObjectName("draws");
    bar->addWidget(draws_);
    auto* seed = new QSpinBox;
    seed->setRange(1, 1000000);
    seed->setValue(static_cast<int>(w.runs.draws().seed));
    seed->setPrefix("seed ");
    seed->setKeyboardTracking(false);
    seed->setAccessibleName("Seed of the random numbers");
    seed->setObjectName("seed");
    QObject::connect(seed, &QSpinBox::valueChanged, seed, [this](int value) {
      solve::DrawOptions draws = w_.runs.draws();
      draws.seed = static_cast<unsigned long long>(value);
      w_.runs.set_draws(draws);
      w_.evaluate();
    });
    bar->addWidget(seed);
    layout->addLayout(bar);
    plans_->setObjectName("plan");
    working_ = new WorkingView(w);
    side_ = new SidePanel(make_session_form(w), working_, 50);
    QObject::connect(plans_, &QTableWidget::currentCellChanged, plans_, [this](int row, int cell, int, int) {
      if (!filling_) open(row, cell);
    });
    QObject::connect(plans_, &QTableWidget::cellClicked, plans_,
                     [this](int row, int cell) { open(row, cell); });
    QObject::connect(alternatives_, &QTableWidget::cellClicked, plans_, [this](int row, int cell) {
      if (cell > 0) w_.selection.choose_session(cell - 1);
      w_.selection.choose_setup(row);
    });
    QObject::connect(&w, &Workspace::changed, plans_, [this] {
      if (picture_->isVisible()) refresh();
    });
    QObject::connect(&w, &Workspace::working_wanted, working_, [this](const Derivation& d) {
      working_->show_all({d}, cautions());
      pinned_ = true;
    });
    refresh();
  }
  QWidget* picture() override { return picture_; }
  QWidget* side() override { return side_; }
  void shown() override { refresh(); }

 private:
  enum Column {
    name,
    laps,
    lap_fuel,
    clean,
    margin,
    start,
    mass,
    share,
    start_gauge,
    start_dip,
    back,
    back_gauge,
    back_dip,
    rule,
    columns
  };

  static QTableWidget* table(const QString& accessible) {
    auto* t = new QTableWidget;
    t->setAccessibleName(accessible);
    t->setEditTriggers(QAbstractItemView::NoEditTriggers);
    t->verticalHeader()->hide();
    t->verticalHeader()->setDefaultSectionSize(24);
    t->setSelectionMode(QAbstractItemView::SingleSelection);
    t->setSizeAdjustPolicy(QAbstractScrollArea::AdjustToContents);
    t->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Maximum);
    return t;
  }
  QStringList cautions() const {
    return QStringList{
               "Never start with less than the series demands for the fuel sample. A refuelling rig, a spill "
               "or a static spark can "
               "burn: follow the series' refuelling rules, clothing and fire cover."} +
           fuel_cautions(w_);
  }

  /// The figure alone: the unit stands in the header.
  QString figure(double si, Quantity quantity, int decimals = -1) const {
    return QString::fromStdString(format_figure(si, quantity, w_.units(), decimals));
  }
  QString rounded(double volume) const {
    return figure(session::rounded_up(volume, w_.units()), Quantity::volume);
  }

  void put(QTableWidget* t, int r, int c, const QString& text, bool right, bool trouble = false,
           const QString& tip = {}) {
    auto* item = new QTableWidgetItem((trouble ? "▲ " : "") + text);
    if (right) {
      item->setFont(figure_font(1.0, c == start && t == plans_));
      item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
    if (trouble) item->setForeground(w_.theme().trouble);
    item->setToolTip(tip.isEmpty() ? text : tip);
    t->setItem(r, c, item);
  }

  /// What the rule of thumb would say.
  void put_rule(int r, const solve::SessionResult& v) {
    if (v.rule) {
      const auto& k = *v.rule;
      put(plans_, r, rule,
          k.starves ? QString("starves")
                    : (k.saved >= 0 ? "−" : "+") + w_.show(std::abs(k.saved), Quantity::mass),
          true, k.starves,
          k.starves ? QString("%1 of the tank is under the clean level: it starves %2")
                          .arg(w_.show(k.share, Quantity::fraction, 0),
                               QString::fromStdString(lap::in_words(k.place)))
                    : QString("the rule of %1 would start with %2")
                          .arg(w_.show(k.share, Quantity::fraction, 0), w_.show(k.start, Quantity::volume)));
    } else {
      put(plans_, r, rule, "–", true, false, "no rule of thumb entered for this session");
    }
  }

  QString start_text(const solve::SessionResult& v) const {
    return v.possible() ? w_.show(session::rounded_up(v.risk.start, w_.units()), Quantity::volume)
                        : QString("none");
  }

  /// What the records have taught of the chosen session's kind.
  void show_learnt() {
    const auto* v = w_.runs.verdict();
    QString text =
        "After a session, by the rig: what was put in, what was drained, and what the car counted. "
        "Consumption, "
        "its scatter and the gauge's error of sessions of that kind on that lap follow. Laps 0: as planned.";
    if (v && v->learnt) {
      const session::Learnt& l = *v->learnt;
      text =
          QString("<b>%1</b> of kind %2 on this lap: %3 a lap instead of %4, scatter %5.")
              .arg(l.per_lap.size())
              .arg(name_of(l.kind), w_.show(l.consumption.mean, Quantity::volume, 2),
                   w_.show(l.before.mean, Quantity::volume, 2), w_.show(l.scatter(), Quantity::fraction, 1));
      if (!l.reads_over.empty())
        text +=
            QString(" The car reads %1 too much on the mean: a gauge error of %2.")
                .arg(w_.show(l.count.mean, Quantity::volume, 2), w_.show(l.gauge_error, Quantity::volume, 2));
      text += " The plan above is with them; click a figure for the working.";
    }
    learnt_->setText(text);
  }

  void refresh() {
    show_learnt();
    const auto* setup = w_.setup();
    const auto& sessions = w_.project().sessions;
    filling_ = true;
    const QString named = setup ? QString::fromStdString(setup->name).toHtmlEscaped() : QString();
    title_->setText(!setup ? QString("There is no setup: add one at the Car & fuel station.")
                    : sessions.empty()
                        ? QString("<b>%1</b>: no session yet. With one, its least fuel stands here, "
                                  "and the map and the sizes are computed.")
                              .arg(named)
                        : QString("<b>%1</b>: least fuel for each session. Click a figure for its "
                                  "working.")
                              .arg(named));
    plans_->setColumnCount(columns);
    const auto unit = [this](Quantity q) {
      const std::string_view u = shown_unit(q, w_.units()).name;
      return "\n[" + QString::fromUtf8(u.data(), static_cast<int>(u.size())) + "]";
    };
    const QString volume = unit(Quantity::volume);
    const QString weight = unit(Quantity::mass), percent = unit(Quantity::fraction);
    const QString depth = unit(Quantity::length);
    plans_->setHorizontalHeaderLabels(
        {"Session", "Laps", "A lap" + volume, "Least end" + volume, "Margin" + volume, "Least start" + volume,
         "start" + weight, "start" + percent, "gauge" + percent, "dip" + depth, "Bring back" + volume,
         "gauge" + percent, "dip" + depth, "Rule of\nthumb"});
    plans_->setRowCount(static_cast<int>(sessions.size()));
    std::optional<Filling> quiet(plans_);
    for (int r = 0; setup && r < plans_->rowCount(); ++r) {
      const Session& s = sessions[static_cast<size_t>(r)];
      put(plans_, r, name, QString::fromStdString(s.name), false);
      const auto* v = w_.runs.result_of(setup->name, s.name);
      for (int c = laps; v == nullptr && c < columns; ++c) put(plans_, r, c, c == start ? "–" : "", true);
      if (!v) continue;
      const auto& clean_level = v->lap->clean;
      const double density = v->lap->car->fuel_density, whole = v->lap->car->tank->volume();
      const double least = session::rounded_up(v->risk.start, w_.units());
      put(plans_, r, laps, QString::number(v->plan.stint_laps), true, false,
          v->plan.laps == v->plan.stint_laps ? QString()
                                             : QString("longest stint of %1 laps in all").arg(v->plan.laps));
      put(plans_, r, lap_fuel, figure(v->plan.consumption, Quantity::volume, 2), true);
      put(plans_, r, clean, v->possible() ? rounded(v->end.end) : QString("none"), true, false,
          QString("what must be left when the engine stops, the stint marched down%1; the lap held steady is "
                  "clean from %2; %3")
                  .arg(v->end.held_up ? ": what never comes out decides" : "",
                       clean_level.exists ? w_.show(clean_level.level, Quantity::volume, 2)
                                          : QString("no level"),
                       v->lap->band ? QString("band of the model: %1 to %2")
                                          .arg(w_.show(v->lap->band->low, Quantity::volume, 2),
                                               w_.show(v->lap->band->high, Quantity::volume, 2))
                                    : QString("the model's band is not known yet")) +
              (v->lap->car->calibration
                   ? "; " + QString::fromStdString(starvation::calibrated_words(v->lap->car->calibration))
                   : QString()));
      // Where no fuel is enough, there is none to put in, weigh or dip.
      if (!v->possible()) {
        for (const int c : {margin, mass, share, start_gauge, start_dip, back, back_gauge, back_dip})
          put(plans_, r, c, "–", true, false, "no fuel is enough");
        put(plans_, r, start, "none", true, true, "starves even with a full tank");
        put_rule(r, *v);
        continue;
      }
      put(plans_, r, margin, figure(v->risk.margin, Quantity::volume, 1), true, false,
          QString("over the mean of %1, at a risk of %2")
              .arg(w_.show(v->risk.start_mean, Quantity::volume),
                   w_.show(v->risk.risk, Quantity::fraction, 1)));
      put(plans_, r, start, figure(least, Quantity::volume), true, !v->risk.fits,
          v->risk.fits ? QString() : "more than may be filled");
      put(plans_, r, mass, figure(least * density, Quantity::mass), true);
      put(plans_, r, share, figure(least / whole, Quantity::fraction, 0), true);
      const auto reads = [&](int gauge, int dip, const session::Readings& reading) {
        if (reading.gauge)
          put(plans_, r, gauge, figure(std::ceil(*reading.gauge * 100 - 1e-6) / 100, Quantity::fraction, 0),
              true, false, "the sender's reading, rounded up");
        else
          put(plans_, r, gauge, "–", true, false, "no level sender in this tank");
        if (reading.dip)
          put(plans_, r, dip,
              figure(session::dip_rounded_up(*reading.dip, w_.units()), Quantity::length,
                     session::dip_decimals(w_.units())),
              true, false,
              QString("over the tank's middle, x %1, y %2")
                  .arg(w_.show(reading.place.x(), Quantity::length),
                       w_.show(reading.place.y(), Quantity::length)));
        else
          put(plans_, r, dip, "–", true);
      };
      reads(start_gauge, start_dip, v->start_reads);
      put(plans_, r, back, rounded(v->risk.bring_back), true);
      reads(back_gauge, back_dip, v->back_reads);
      put_rule(r, *v);
    }
    quiet.reset();
    plans_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    plans_->horizontalHeader()->setSectionResizeMode(name, QHeaderView::Stretch);
    plans_->setCurrentCell(w_.selection.session_index(), std::max(plans_->currentColumn(), 0));

    const auto& setups = w_.project().setups;
    QStringList headers{"Setup"};
    for (const auto& s : sessions) headers << QString::fromStdString(s.name);
    alternatives_->setColumnCount(static_cast<int>(headers.size()));
    alternatives_->setHorizontalHeaderLabels(headers);
    alternatives_->setRowCount(static_cast<int>(setups.size()));
    quiet.emplace(alternatives_);
    for (int r = 0; r < alternatives_->rowCount(); ++r) {
      const auto& other = setups[static_cast<size_t>(r)];
      put(alternatives_, r, 0,
          (r == w_.selection.setup_index() ? "● " : "") + QString::fromStdString(other.name), false);
      for (int c = 1; c < alternatives_->columnCount(); ++c) {
        const auto* v = w_.runs.result_of(other.name, sessions[static_cast<size_t>(c - 1)].name);
        const auto* mine =
            setup ? w_.runs.result_of(setup->name, sessions[static_cast<size_t>(c - 1)].name) : nullptr;
        QString text = "–";
        if (v) {
          text = start_text(*v);
          if (mine && r != w_.selection.setup_index() && v->possible() && mine->possible()) {
            const double d =
                (v->risk.start * v->lap->car->fuel_density) - mine->risk.start * mine->lap->car->fuel_density;
            text += QString("  (%1%2)").arg(d >= 0 ? "+" : "−", w_.show(std::abs(d), Quantity::mass));
          }
        }
        const bool too_much = v && v->possible() && !v->risk.fits;
        put(alternatives_, r, c, text, true, v && (too_much || !v->possible()),
            too_much ? text + ": more than may be filled" : text);
      }
    }
    quiet.reset();
    alternatives_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    alternatives_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    filling_ = false;
    tell_service();
    const auto told = w_.runs.verdict();
    const bool few = told && told->possible() && told->risk.draws < told->risk.least_draws();
    draws_->setText(QString("%1 draws%2").arg(w_.runs.draws().draws).arg(few ? ", too few" : ""));
    draws_->setToolTip(
        few ? QString("The session's risk asks for %1 draws or more: what is told is one draw's chance.")
                  .arg(told->risk.least_draws())
            : QString());
    details_->refresh();
    if (!pinned_ || !w_.runs.verdict()) open(w_.selection.session_index(), start);
    pinned_ = false;
  }

  /// The working of the number in that cell.
  void open(int row, int column) {
    const auto& sessions = w_.project().sessions;
    if (row < 0 || row >= static_cast<int>(sessions.size()) || !w_.setup()) return;
    w_.selection.choose_session(row);
    const auto* v = w_.runs.result_of(w_.setup()->name, sessions[static_cast<size_t>(row)].name);
    if (!v) {
      working_->show_all({}, cautions());
      return;
    }
    std::vector<Derivation> all;
    if (!v->possible() && column != lap_fuel) column = clean;
    switch (column) {
      case lap_fuel:
        all = {v->lap->consumption_working};
        break;
      case clean:
        if (v->possible()) all = {starvation::least_end_working(*v->lap->car, v->end, v->lap->clean.level)};
        all.push_back(v->lap->clean_working);
        break;
      case mass:
      case share:
        all = {v->plan.mass_working};
        break;
      case back:
      case back_gauge:
      case back_dip:
        all = {v->plan.bring_back_working, v->plan.bring_back_mass_working};
        break;
      default:
        all = {v->working, v->plan.bring_back_working};
        break;
    }
    working_->show_all(all, cautions());
  }

  std::vector<solve::SessionResult> results() const {
    std::vector<solve::SessionResult> out;
    if (const auto* setup = w_.setup())
      for (const auto& s : w_.project().sessions)
        if (const auto* v = w_.runs.result_of(setup->name, s.name)) out.push_back(*v);
    return out;
  }
  void say_none() {
    emit w_.runs.failed(w_.runs.fault().isEmpty() ? "The plan is still being computed." : w_.runs.fault());
  }
  std::vector<solve::SessionResult> results_or_say() {
    auto all = results();
    if (all.empty()) say_none();
    return all;
  }

  /// What of the car's service falls into the planned sessions: nothing is shown where nothing does.
  void tell_service() {
    QStringList lines = w_.book.overdue_before_sessions();
    const auto* in = w_.book.garage();
    if (in)
      for (const auto& d : in->due)
        if (d.state == logbook::DueState::overdue)
          lines.prepend(QString::fromStdString(d.what + ": " + d.task + ", overdue now."));
    service_->setVisible(!lines.isEmpty());
    service_->setText(
        "▲ " + lines.mid(0, 3).join("<br>▲ ") +
        (lines.size() > 3 ? QString("<br>and %1 more (Logbook, Due)").arg(lines.size() - 3) : QString()));
  }

  void print_card() {
    const auto* v = w_.runs.verdict();
    if (!v) return say_none();
    QPrinter printer(QPrinter::HighResolution);
    printer.setPageSize(QPageSize(QPageSize::A4));
    printer.setFullPage(true);
    QPrintDialog dialog(&printer, picture_);
    dialog.setWindowTitle("Print the session card");
    if (dialog.exec() != QDialog::Accepted) return;
    QPainter p(&printer);
    const double scale = printer.resolution() / 72.0;
    p.scale(scale, scale);
    card::draw_card(p, QRectF(0, 0, printer.width() / scale, printer.height() / scale), *v, w_.units(),
                    w_.project().name, w_.book.readiness());
  }

  void save_cards() {
    const auto all = results_or_say();
    const QString a4 = "PDF, A4 (*.pdf)", letter = "PDF, US letter (*.pdf)";
    QString chosen = a4;
    const QString file = all.empty()
                             ? QString()
                             : QFileDialog::getSaveFileName(picture_, "Save session cards",
                                                            "session-cards.pdf", a4 + ";;" + letter, &chosen);
    const card::Paper paper = chosen == letter ? card::Paper::letter : card::Paper::a4;
    if (!file.isEmpty())
      written([&] {
        write_file_atomically(file.toStdString(), card::pdf_of(all, w_.units(), w_.project().name, paper,
                                                               w_.book.ready_by_setup()));
      });
  }

  void save_csv() {
    const auto all = results_or_say();
    const QString file =
        all.empty() ? QString()
                    : QFileDialog::getSaveFileName(picture_, "Save the plan", "plan.csv", "CSV (*.csv)");
    if (!file.isEmpty())
      written([&] { write_file_atomically(file.toStdString(), report::plan_csv(all, w_.units())); });
  }

  template <class Write>
  void written(Write&& write) {
    try {
      write();
    } catch (const InputError& error) {
      emit w_.document.refused(error.what());
    }
  }

  Workspace& w_;
  QWidget* picture_;
  PlanDetails* details_;
  QLabel* service_ = nullptr;
  QLabel* draws_;
  QLabel* learnt_ = nullptr;
  QTableWidget *plans_, *alternatives_;
  QLabel* title_;
  QWidget* side_;
  WorkingView* working_;
  bool filling_ = false, pinned_ = false;
};

}  // namespace

std::unique_ptr<StationView> make_sessions_station(Workspace& workspace) {
  return std::make_unique<SessionsStation>(workspace);
}

}  // namespace uadze::gui
