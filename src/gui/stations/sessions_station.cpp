#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

#include "gui/stations/station.h"
#include "gui/widgets/edit_table.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

using project::Project;
using session::Session;

Session& at(Project& p, int r) { return p.sessions.at(static_cast<size_t>(r)); }
const Session& at(const Project& p, int r) { return p.sessions.at(static_cast<size_t>(r)); }

EditColumn whole_column(const QString& title, int& (*get)(Project&, int)) {
  return {title, Quantity::count, false,
          [get](const Project& p, int r) { return QString::number(get(const_cast<Project&>(p), r)); },
          [get](Project& p, int r, const QString& text) {
            bool good = false;
            const int value = text.trimmed().toInt(&good);
            if (!good || value < 0)
              throw std::runtime_error("expected a whole number, found \"" + text.toStdString() + "\"");
            get(p, r) = value;
          }};
}

class SessionsStation : public StationView {
 public:
  explicit SessionsStation(Workspace& w)
      : w_(w), picture_(new QWidget), plans_(table("Plan")), alternatives_(table("Alternatives")) {
    auto* layout = new QVBoxLayout(picture_);
    layout->setContentsMargins(12, 8, 12, 8);
    layout->setSpacing(6);
    title_ = new QLabel;
    layout->addWidget(title_);
    layout->addWidget(plans_);
    auto* second = new QLabel("<b>Least start fuel of every setup</b>");
    layout->addWidget(second);
    layout->addWidget(alternatives_);
    layout->addWidget(new QLabel("<b>Sessions: what is planned</b>"));
    layout->addWidget(make_editor(), 1);
    plans_->setObjectName("plan");
    working_ = new WorkingView(w);
    side_ = new SidePanel(nullptr, working_);
    QObject::connect(plans_, &QTableWidget::currentCellChanged, plans_,
                     [this](int row, int column, int, int) {
                       if (!filling_) open(row, column);
                     });
    QObject::connect(plans_, &QTableWidget::cellClicked, plans_,
                     [this](int row, int column) { open(row, column); });
    QObject::connect(alternatives_, &QTableWidget::cellClicked, plans_, [this](int row, int column) {
      if (column > 0) w_.choose_session(column - 1);
      w_.choose_setup(row);
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
    start,
    mass,
    share,
    back,
    back_mass,
    back_share,
    tightest,
    reserve,
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
  static QStringList cautions() {
    return QStringList{
               "Never start with less than the series demands for the fuel sample. A refuelling rig, a spill "
               "or a static spark can "
               "burn: follow the series' refuelling rules, clothing and fire cover."} +
           fuel_cautions();
  }

  EditTable* make_editor() {
    EditColumn laps_column{
        "laps", Quantity::plain, true,
        [](const Project& p, int r) { return at(p, r).laps ? QString::number(*at(p, r).laps) : QString(); },
        [](Project& p, int r, const QString& text) {
          bool good = false;
          const int n = text.trimmed().toInt(&good);
          if (!good)
            throw std::runtime_error("expected a whole number of laps, found \"" + text.toStdString() + "\"");
          at(p, r).laps = n;
          at(p, r).duration.reset();
        }};
    EditColumn time_column{
        "or time", Quantity::plain, true,
        [](const Project& p, int r) {
          return at(p, r).duration ? QString::number(*at(p, r).duration / 60, 'g', 6) + " min" : QString();
        },
        [this](Project& p, int r, const QString& text) {
          bool plain = false;
          const double minutes = text.trimmed().toDouble(&plain);
          at(p, r).duration = plain ? minutes * 60 : typed_quantity(text, Quantity::duration, w_.units());
          at(p, r).laps.reset();
        }};
    EditColumn kind_column{"kind", Quantity::plain, true,
                           [](const Project& p, int r) { return QString(session::kind_name(at(p, r).kind)); },
                           [](Project& p, int r, const QString& text) {
                             for (auto k : {session::Kind::practice, session::Kind::qualifying,
                                            session::Kind::race, session::Kind::hillclimb})
                               if (text == session::kind_name(k)) {
                                 at(p, r).kind = k;
                                 return;
                               }
                             throw std::runtime_error("expected practice, qualifying, race or hillclimb");
                           }};
    return new EditTable(
        w_, "Sessions",
        {text_column("Session", [](Project& p, int r) -> std::string& { return at(p, r).name; }), kind_column,
         text_column("on lap", [](Project& p, int r) -> std::string& { return at(p, r).lap; }), laps_column,
         time_column, whole_column("stops", [](Project& p, int r) -> int& { return at(p, r).refuel_stops; }),
         whole_column("formation", [](Project& p, int r) -> int& { return at(p, r).formation_laps; }),
         whole_column("out", [](Project& p, int r) -> int& { return at(p, r).out_laps; }),
         whole_column("in", [](Project& p, int r) -> int& { return at(p, r).in_laps; }),
         quantity_column(w_, "they burn", Quantity::fraction,
                         [](Project& p, int r) -> double& { return at(p, r).slow_lap_share; }),
         quantity_column(w_, "sample", Quantity::volume,
                         [](Project& p, int r) -> double& { return at(p, r).sample; }),
         quantity_column(w_, "gauge error", Quantity::volume,
                         [](Project& p, int r) -> double& { return at(p, r).gauge_error; })},
        {[](const Project& p) { return static_cast<int>(p.sessions.size()); },
         [](Project& p) {
           if (p.laps.empty()) throw std::runtime_error("add a lap first, at the Laps station");
           Session s;
           s.name = "Session " + std::to_string(p.sessions.size() + 1);
           s.lap = p.laps.front().name;
           s.laps = 5;
           s.out_laps = s.in_laps = 1;
           p.sessions.push_back(s);
         },
         [](Project& p, int r) { p.sessions.erase(p.sessions.begin() + r); }});
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

  QString start_text(const project::SessionResult& v) const {
    return w_.show(session::rounded_up(v.plan.start, w_.units()), Quantity::volume);
  }

  void refresh() {
    const auto* setup = w_.setup();
    const auto& sessions = w_.project().sessions;
    filling_ = true;
    title_->setText(setup ? QString("<b>%1</b>: least fuel for each session. Click a figure for its working.")
                                .arg(QString::fromStdString(setup->name).toHtmlEscaped())
                          : "No setup.");
    plans_->setColumnCount(columns);
    const auto unit = [this](Quantity q) {
      const std::string_view u = shown_unit(q, w_.units()).name;
      return "\n[" + QString::fromUtf8(u.data(), static_cast<int>(u.size())) + "]";
    };
    const QString volume = unit(Quantity::volume);
    const QString weight = unit(Quantity::mass), percent = unit(Quantity::fraction);
    plans_->setHorizontalHeaderLabels({"Session", "Laps", "A lap burns" + volume, "Clean level" + volume,
                                       "Least start" + volume, "start" + weight, "start" + percent,
                                       "Bring back" + volume, "back" + weight, "back" + percent, "Tightest",
                                       "Reserve" + unit(Quantity::duration)});
    plans_->setRowCount(static_cast<int>(sessions.size()));
    for (int r = 0; setup && r < plans_->rowCount(); ++r) {
      const Session& s = sessions[static_cast<size_t>(r)];
      put(plans_, r, name, QString::fromStdString(s.name), false);
      const auto* v = w_.result_of(setup->name, s.name);
      for (int c = laps; v == nullptr && c < columns; ++c) put(plans_, r, c, c == start ? "–" : "", true);
      if (!v) continue;
      const auto& clean_level = v->lap->clean;
      const bool trouble = !v->plan.fits || !clean_level.exists;
      put(plans_, r, laps, QString::number(v->plan.stint_laps), true, false,
          v->plan.laps == v->plan.stint_laps ? QString()
                                             : QString("longest stint of %1 laps in all").arg(v->plan.laps));
      put(plans_, r, lap_fuel, figure(v->plan.consumption, Quantity::volume, 2), true);
      put(plans_, r, clean, rounded(clean_level.level), true);
      put(plans_, r, start, rounded(v->plan.start), true, trouble,
          !clean_level.exists ? "starves even with a full tank"
          : v->plan.fits      ? QString()
                              : "more than may be filled");
      put(plans_, r, mass, figure(v->plan.start_mass, Quantity::mass), true);
      put(plans_, r, share, figure(v->plan.start_share, Quantity::fraction, 0), true);
      put(plans_, r, back, rounded(v->plan.bring_back), true);
      put(plans_, r, back_mass, figure(v->plan.bring_back_mass, Quantity::mass), true);
      put(plans_, r, back_share, figure(v->plan.bring_back_share, Quantity::fraction, 0), true);
      put(plans_, r, tightest, QString::fromStdString(clean_level.at.tightest_place), false);
      put(plans_, r, reserve, figure(clean_level.at.least_seconds, Quantity::duration), true);
    }
    plans_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    plans_->horizontalHeader()->setSectionResizeMode(tightest, QHeaderView::Stretch);
    plans_->setCurrentCell(w_.session_index(), std::max(plans_->currentColumn(), 0));

    const auto& setups = w_.project().setups;
    QStringList headers{"Setup"};
    for (const auto& s : sessions) headers << QString::fromStdString(s.name);
    alternatives_->setColumnCount(static_cast<int>(headers.size()));
    alternatives_->setHorizontalHeaderLabels(headers);
    alternatives_->setRowCount(static_cast<int>(setups.size()));
    for (int r = 0; r < alternatives_->rowCount(); ++r) {
      const auto& other = setups[static_cast<size_t>(r)];
      put(alternatives_, r, 0, (r == w_.setup_index() ? "● " : "") + QString::fromStdString(other.name),
          false);
      for (int c = 1; c < alternatives_->columnCount(); ++c) {
        const auto* v = w_.result_of(other.name, sessions[static_cast<size_t>(c - 1)].name);
        const auto* mine =
            setup ? w_.result_of(setup->name, sessions[static_cast<size_t>(c - 1)].name) : nullptr;
        QString text = "–";
        if (v) {
          text = start_text(*v);
          if (mine && r != w_.setup_index()) {
            const double d = v->plan.start_mass - mine->plan.start_mass;
            text += QString("  (%1%2)").arg(d >= 0 ? "+" : "−", w_.show(std::abs(d), Quantity::mass));
          }
        }
        put(alternatives_, r, c, text, true, v && (!v->plan.fits || !v->lap->clean.exists),
            v && !v->plan.fits ? text + ": more than may be filled" : text);
      }
    }
    alternatives_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    alternatives_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    filling_ = false;
    if (!pinned_ || !w_.verdict()) open(w_.session_index(), start);
    pinned_ = false;
  }

  /// The working of the number in that cell.
  void open(int row, int column) {
    const auto& sessions = w_.project().sessions;
    if (row < 0 || row >= static_cast<int>(sessions.size()) || !w_.setup()) return;
    w_.choose_session(row);
    const auto* v = w_.result_of(w_.setup()->name, sessions[static_cast<size_t>(row)].name);
    if (!v) {
      working_->show_all({}, cautions());
      return;
    }
    std::vector<Derivation> all;
    switch (column) {
      case lap_fuel:
        all = {v->lap->consumption_working};
        break;
      case clean:
        all = {v->lap->clean_working};
        break;
      case mass:
      case share:
        all = {v->plan.mass_working};
        break;
      case back:
        all = {v->plan.bring_back_working};
        break;
      case back_mass:
      case back_share:
        all = {v->plan.bring_back_mass_working};
        break;
      case tightest:
      case reserve:
        all = {v->lap->reserve_working};
        break;
      default:
        all = {v->working, v->plan.bring_back_working};
        break;
    }
    working_->show_all(all, cautions());
  }

  Workspace& w_;
  QWidget* picture_;
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
