#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QSplitter>
#include <QVBoxLayout>
#include <algorithm>

#include "core/solve/add_lap.h"
#include "gui/stations/laps/make_lap_dialog.h"
#include "gui/stations/laps/track_view.h"
#include "gui/stations/station.h"
#include "gui/widgets/edit_form.h"
#include "gui/widgets/edit_table.h"
#include "gui/widgets/plot.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

using project::LapReference;
using project::Project;

class LapsStation : public StationView {
 public:
  explicit LapsStation(Workspace& w) : w_(w), split_(new QSplitter(Qt::Horizontal)), plot_(new LapPlot(w)) {
    split_->addWidget(plot_);
    split_->addWidget(new TrackView(w));
    split_->setStretchFactor(0, 3);
    split_->setStretchFactor(1, 2);
    split_->setSizes({520, 380});

    auto* editors = new QWidget;
    auto* layout = new QVBoxLayout(editors);
    layout->setContentsMargins(0, 0, 0, 0);
    const auto lap = [](Project& p, int r) -> LapReference& { return p.laps.at(static_cast<size_t>(r)); };
    layout->addWidget(heading("Laps"));
    auto* laps = new EditTable(
        w, "Laps",
        {text_column("Lap", [lap](Project& p, int r) -> std::string& { return lap(p, r).name; }),
         {"Start", Quantity::plain, true,
          [](const Project& p, int r) {
            return QString(p.laps.at(static_cast<size_t>(r)).repeated ? "flying" : "standing");
          },
          [lap](Project& p, int r, const QString& text) {
            if (text != "flying" && text != "standing")
              throw std::runtime_error("expected \"flying\" or \"standing\"");
            lap(p, r).repeated = text == "flying";
          }},
         text_column("File", [lap](Project& p, int r) -> std::string& { return lap(p, r).file; })},
        {[](const Project& p) { return static_cast<int>(p.laps.size()); }, [this](Project& p) { add_lap(p); },
         [](Project& p, int r) { p.laps.erase(p.laps.begin() + r); }});
    laps->set_visible_rows(3);
    auto* make = new QPushButton("Make…");
    make->setObjectName("make lap");
    make->setToolTip("From a track's segments and a car's few figures, where there is no log yet");
    QObject::connect(make, &QPushButton::clicked, split_, [this] {
      auto* dialog = new MakeLapDialog(w_, split_);
      dialog->setAttribute(Qt::WA_DeleteOnClose);
      dialog->open();
    });
    laps->add_button(make);
    scale_ = new QPushButton("Scale…");
    scale_->setObjectName("scale lap");
    scale_->setToolTip("The chosen lap with more or less grip or power");
    QObject::connect(scale_, &QPushButton::clicked, split_, [this] {
      const auto* reference = w_.selection.lap_reference();
      if (!reference) return;
      try {
        // As it was logged, whatever the session's grip.
        auto* dialog = new ScaleLapDialog(w_, reference->name,
                                          w_.document.sources()->laps.get(*reference)->value, split_);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
      } catch (const std::exception& error) {
        notes_->setText(QString("▲ ") + error.what());
      }
    });
    laps->add_button(scale_);
    layout->addWidget(laps);
    layout->addWidget(heading("Corners of the chosen lap"));
    const auto corner = [this](Project& p, int r) -> lap::Corner& {
      return chosen(p)->corners.at(static_cast<size_t>(r));
    };
    auto* corners = new EditTable(
        w, "Corners",
        {text_column("Corner", [corner](Project& p, int r) -> std::string& { return corner(p, r).name; }),
         quantity_column(w, "from", Quantity::distance,
                         [corner](Project& p, int r) -> double& { return corner(p, r).from; }),
         quantity_column(w, "to", Quantity::distance,
                         [corner](Project& p, int r) -> double& { return corner(p, r).to; }),
         {"hand", Quantity::plain, true,
          [corner](const Project& p, int r) {
            const auto hand = corner(const_cast<Project&>(p), r).hand;
            return QString(hand == lap::Hand::left ? "left" : hand == lap::Hand::right ? "right" : "");
          },
          [corner](Project& p, int r, const QString& text) {
            if (text != "left" && text != "right" && !text.isEmpty())
              throw std::runtime_error("expected \"left\", \"right\" or nothing");
            corner(p, r).hand = text == "left"    ? lap::Hand::left
                                : text == "right" ? lap::Hand::right
                                                  : lap::Hand::none;
          }}},
        {[this](const Project& p) { return chosen(p) ? static_cast<int>(chosen(p)->corners.size()) : 0; },
         [this](Project& p) {
           if (!chosen(p)) throw std::runtime_error("there is no lap yet");
           const auto entry = w_.runs.lap();
           const double at =
               entry ? entry->value.distance[std::min(w_.selection.cursor(), entry->value.size() - 1)] : 0;
           chosen(p)->corners.push_back({"Corner " + std::to_string(chosen(p)->corners.size() + 1),
                                         std::round(at), std::round(at) + 50, lap::Hand::none});
         },
         [this](Project& p, int r) { chosen(p)->corners.erase(chosen(p)->corners.begin() + r); },
         "None is named: places are told by the corners that the lap itself shows, Corner 1, Corner 2 …"});
    corners->set_visible_rows(8);
    layout->addWidget(corners);
    propose_ = new QPushButton("Propose from the lap");
    propose_->setToolTip(
        "Adds a corner wherever the lateral acceleration shows one that none of the list meets");
    QObject::connect(propose_, &QPushButton::clicked, split_, [this] {
      const auto entry = w_.runs.lap();
      if (!entry) return;
      w_.document.edit("Propose corners", [&](Project& p) {
        if (LapReference* of = chosen(p)) solve::add_proposed_corners(of->corners, entry->value);
      });
    });
    corners->add_button(propose_);
    layout->addStretch();
    notes_ = new QLabel;
    notes_->setWordWrap(true);
    notes_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    layout->addWidget(notes_);
    working_ = new WorkingView(w);
    side_ = new SidePanel(editors, working_);
    QObject::connect(&w, &Workspace::changed, plot_, [this] {
      if (split_->isVisible()) refresh();
    });
    refresh();
  }
  QWidget* picture() override { return split_; }
  QWidget* side() override { return side_; }
  void shown() override { refresh(); }

 private:
  static QLabel* heading(const QString& text) {
    auto* label = new QLabel("<b>" + text + "</b>");
    return label;
  }
  LapReference* chosen(Project& p) const {
    const LapReference* now = w_.selection.lap_reference();
    for (auto& l : p.laps)
      if (now && l.name == now->name) return &l;
    return nullptr;
  }
  const LapReference* chosen(const Project& p) const { return chosen(const_cast<Project&>(p)); }

  void add_lap(Project& p) {
    const QString file = QFileDialog::getOpenFileName(split_, "Add a lap",
                                                      QString::fromStdString(w_.document.folder().string()),
                                                      "Laps (*.csv);;All files (*)");
    if (file.isEmpty()) return;
    const lap::Lap lap = lap::read_lap(file.toStdString()).value;  // throws with the place of the fault
    const auto folder = w_.document.folder();
    const std::string relative =
        folder.empty()
            ? file.toStdString()
            : std::filesystem::path(file.toStdString()).lexically_proximate(folder).generic_string();
    p.laps.push_back(
        solve::lap_reference(p, lap, QFileInfo(file).completeBaseName().toStdString(), relative));
  }

  void refresh() {
    const auto entry = w_.runs.lap();
    propose_->setEnabled(entry != nullptr);
    scale_->setEnabled(entry != nullptr);
    if (!entry) {
      plot_->show_panes({}, {});
      shown_ = nullptr;
      notes_->setText(w_.selection.lap_reference() ? "▲ The lap's file can not be read: " + w_.runs.fault()
                                                   : QString());
      return;
    }
    const lap::Lap& lap = entry->value;
    if (entry != shown_) {
      shown_ = entry;
      std::vector<Pane> panes{{{{"lateral", Quantity::acceleration, lap.lateral, Qt::SolidLine},
                                {"long.", Quantity::acceleration, lap.longitudinal, Qt::DashLine}}},
                              {{{"vertical", Quantity::acceleration, lap.vertical, Qt::SolidLine}}},
                              {{{"speed", Quantity::speed, lap.speed, Qt::SolidLine}}, true}};
      if (!lap.throttle.empty())
        panes.push_back({{{"throttle", Quantity::fraction, lap.throttle, Qt::SolidLine}}, true});
      if (!lap.fuel_flow.empty())
        panes.push_back({{{"fuel flow", Quantity::flow, lap.fuel_flow, Qt::SolidLine}}, true});
      if (!lap.fuel_mass_flow.empty())
        panes.push_back({{{"fuel by mass", Quantity::mass_flow, lap.fuel_mass_flow, Qt::SolidLine}}, true});
      plot_->show_panes(lap.distance, std::move(panes));
    }
    QString text;
    for (const Message& m : entry->notes)
      text += QString::fromStdString((m.severity == Severity::warning ? "▲ " : "") + m.place + ": " +
                                     (m.expected.empty() ? "" : "expected " + m.expected + ", found ") +
                                     m.found) +
              "\n";
    for (const Message& m : lap::check_hands(lap, w_.selection.lap_reference()->corners, ""))
      text += QString::fromStdString("▲ " + m.text()) + "\n";
    notes_->setText(text.trimmed());
    std::vector<Derivation> all;
    if (const auto* v = w_.runs.verdict()) all.push_back(v->lap->consumption_working);
    all.push_back({.name = "Lap time",
                   .value = lap.duration(),
                   .quantity = Quantity::duration,
                   .formula = "last time less first",
                   .inputs = {{"s", "length", lap.length(), Quantity::distance, "logged"},
                              {"n", "samples", static_cast<double>(lap.size()), Quantity::count, "logged"}},
                   .note = "Signs: a left-hand corner is positive lateral, speeding up positive "
                           "longitudinal; vertical reads 1 g at rest."});
    working_->show_all(all, {});
  }

  Workspace& w_;
  QSplitter* split_;
  LapPlot* plot_;
  QWidget* side_;
  QLabel* notes_;
  QPushButton *propose_, *scale_;
  WorkingView* working_;
  solve::LapPtr shown_;
};

}  // namespace

std::unique_ptr<StationView> make_laps_station(Workspace& workspace) {
  return std::make_unique<LapsStation>(workspace);
}

}  // namespace uadze::gui
