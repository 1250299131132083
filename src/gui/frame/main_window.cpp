#include "gui/frame/main_window.h"

#include <QActionGroup>
#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QDragEnterEvent>
#include <QElapsedTimer>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPainter>
#include <QSettings>
#include <QSplitter>
#include <QStackedWidget>
#include <QTabWidget>
#include <QTableView>
#include <QThread>
#include <QVBoxLayout>

#include "card/session_card.h"
#include "core/base/version.h"
#include "core/build/checks.h"
#include "core/circuit/shortfall.h"
#include "core/project/keys.h"
#include "core/solve/circuit_point.h"
#include "gui/frame/lap_ribbon.h"
#include "gui/frame/notice_bar.h"
#include "gui/frame/sight_glass.h"
#include "gui/frame/verdict_strip.h"

namespace uadze::gui {
namespace {

constexpr const char* filter = "Undertow Adze projects (*.uadze.json *.json);;All files (*)";

using MakeStation = std::unique_ptr<StationView> (*)(Workspace&);
constexpr std::array<MakeStation, station_count> make_station{
    make_car_station,     make_tank_station,    make_laps_station,   make_logs_station,
    make_slosh_station,   make_circuit_station, make_sizing_station, make_build_station,
    make_logbook_station, make_sessions_station};

/// Puts a widget in place of the page that kept its place.
void put_page(QStackedWidget* pages, int place, QWidget* page) {
  QWidget* before = pages->widget(place);
  pages->insertWidget(place, page);
  pages->removeWidget(before);
  delete before;
  // Tab leads from a table to what comes next; its cells are reached by the arrows.
  for (auto* table : page->findChildren<QTableView*>()) table->setTabKeyNavigation(false);
  if (auto* table = qobject_cast<QTableView*>(page)) table->setTabKeyNavigation(false);
}

}  // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent),
      glass_(new SightGlass(workspace_)),
      verdict_(new VerdictStrip(workspace_)),
      ribbon_(new LapRibbon(workspace_)),
      notice_(new NoticeBar(workspace_)),
      pictures_(new QStackedWidget),
      sides_(new QStackedWidget) {
  setWindowIcon(QIcon(":/icons/undertow-adze.svg"));
  setAcceptDrops(true);
  for (int i = 0; i < station_count; ++i) pictures_->addWidget(new QWidget), sides_->addWidget(new QWidget);
  auto* split = new QSplitter(Qt::Horizontal);
  split->addWidget(pictures_);
  split->addWidget(sides_);
  split->setStretchFactor(0, 1);
  split->setStretchFactor(1, 0);
  split->setSizes({786, 404});
  split->setChildrenCollapsible(false);
  split->setHandleWidth(1);
  sides_->setMinimumWidth(290);

  auto* right = new QVBoxLayout;
  right->setSpacing(0);
  right->addWidget(verdict_);
  right->addWidget(notice_);
  right->addWidget(split, 1);
  right->addWidget(ribbon_);
  auto* central = new QWidget;
  auto* layout = new QHBoxLayout(central);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addWidget(glass_);
  layout->addLayout(right, 1);
  setCentralWidget(central);
  resize(1280, 800);
  build_menus();

  connect(glass_, &SightGlass::chosen, this, &MainWindow::show_station);
  connect(&workspace_, &Workspace::station_wanted, this, &MainWindow::show_station);
  connect(&workspace_, &Workspace::changed, this, &MainWindow::refresh);
  connect(&workspace_.document, &Document::file_changed, this, &MainWindow::refresh);
  connect(&workspace_.book, &Bookkeeper::reminded, this, [this](const QString& what) {
    notice_->say(what, false, {{"Go there", [this] { show_station(Station::logbook); }}});
  });
  connect(&workspace_.runs, &Runs::failed, this, [this](const QString& why) { notice_->say(why, true); });
  connect(&workspace_.document, &Document::refused, this, [this](const QString& why) {
    notice_->say("Nothing was changed. " + why, true);
    refusal_said_ = why;
  });
  connect(&workspace_.document, &Document::changed, this, [this] {
    // What was refused has been done, or something else: nobody need close it.
    if (!refusal_said_.isEmpty() && notice_->text().contains(refusal_said_)) notice_->dismiss();
    refusal_said_.clear();
  });
  connect(&workspace_.document, &Document::autosave_failed, this, [this](const QString& why) {
    notice_->say("Your last changes are only in memory: they could not be put aside. " + why, true);
  });
  workspace_.document.start_new();
  show_station(Station::car);
  building_.reset();
}

MainWindow::~MainWindow() {
  // Widgets first: a field that loses the focus still speaks to its station and the workspace.
  if (QWidget* field = focusWidget()) field->clearFocus();
  delete centralWidget();
}

void MainWindow::build_menus() {
  const auto add = [](QMenu* menu, const QString& text, const QKeySequence& keys, auto&& then) {
    QAction* action = menu->addAction(text);
    action->setShortcut(keys);
    QObject::connect(action, &QAction::triggered, menu, then);
    return action;
  };
  QMenu* file = menuBar()->addMenu("&File");
  add(file, "&New", QKeySequence::New, [this] {
    if (!may_leave()) return;
    workspace_.document.start_new();
    workspace_.selection.reset();
    notice_->dismiss();
  });
  add(file, "&Open…", QKeySequence::Open, [this] {
    if (!may_leave()) return;
    const QString path = QFileDialog::getOpenFileName(this, "Open a project",
                                                      QFileInfo(workspace_.document.path()).path(), filter);
    if (!path.isEmpty()) open(path);
  });
  recent_ = file->addMenu("Open &recent");
  file->addSeparator();
  add(file, "&Save", QKeySequence::Save, [this] { save(); });
  add(file, "Save &as…", QKeySequence::SaveAs, [this] { save_as(); });
  file->addSeparator();
  add(file, "&Quit", QKeySequence::Quit, [this] { close(); });

  QMenu* edit = menuBar()->addMenu("&Edit");
  QAction* undo = workspace_.document.undo()->createUndoAction(this, "&Undo");
  undo->setShortcut(QKeySequence::Undo);
  QAction* redo = workspace_.document.undo()->createRedoAction(this, "&Redo");
  redo->setShortcuts({QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), QKeySequence(Qt::CTRL | Qt::Key_Y)});
  edit->addAction(undo);
  edit->addAction(redo);

  QMenu* go = menuBar()->addMenu("&Go");
  for (int i = 0; i < station_count; ++i)
    add(go, station_title(static_cast<Station>(i)).replace("&", "&&"),
        QKeySequence(Qt::CTRL | station_key(static_cast<Station>(i))),
        [this, i] { show_station(static_cast<Station>(i)); });
  go->addSeparator();
  add(go, "Play or hold the lap", QKeySequence(Qt::Key_F5), [this] { ribbon_->toggle_play(); });
  add(go, "To the tightest place", QKeySequence(Qt::Key_F6), [this] {
    if (const auto* v = workspace_.runs.verdict()) {
      show_station(Station::slosh);
      workspace_.selection.pick_level(std::nullopt);
      workspace_.set_cursor_time(v->lap->lap->value.time[v->lap->clean.at.tightest]);
    }
  });

  QMenu* view = menuBar()->addMenu("&View");
  QAction* dark = add(view, "&Dark", QKeySequence(Qt::CTRL | Qt::Key_D),
                      [this] { workspace_.appearance.set_dark(!workspace_.theme().dark); });
  dark->setCheckable(true);
  dark->setChecked(workspace_.theme().dark);
  build_unit_menu(view->addMenu("&Units"));

  QMenu* help = menuBar()->addMenu("&Help");
  add(help, "About Undertow Adze", {}, [this] {
    QMessageBox::about(this, "Undertow Adze",
                       QString("Undertow Adze %1\nFuel in a race car: where it goes, whether the pumps keep "
                               "up, the least for each session.\n\n"
                               "GPL-3.0-or-later. B612 fonts: SIL Open Font License.\n"
                               "The computation does not certify a car as safe.")
                           .arg(version()));
  });
  connect(recent_, &QMenu::aboutToShow, this, &MainWindow::refresh_recent);
}

void MainWindow::build_unit_menu(QMenu* menu) {
  const auto all = [this, menu](const QString& name, const UnitSystem& system) {
    connect(menu->addAction(name), &QAction::triggered, this,
            [this, system] { workspace_.appearance.set_units(system); });
  };
  all("All metric", {});
  all("All US", UnitSystem::us());
  menu->addSeparator();
  const auto group = [this, menu](const QString& name, const QStringList& choices,
                                  std::function<int(const UnitSystem&)> get,
                                  std::function<void(UnitSystem&, int)> set) {
    QMenu* sub = menu->addMenu(name);
    auto* actions = new QActionGroup(sub);
    for (int i = 0; i < choices.size(); ++i) {
      QAction* action = sub->addAction(choices[i]);
      action->setCheckable(true);
      actions->addAction(action);
      connect(action, &QAction::triggered, this, [this, set, i] {
        UnitSystem units = workspace_.units();
        set(units, i);
        workspace_.appearance.set_units(units);
      });
    }
    connect(sub, &QMenu::aboutToShow, this,
            [this, actions, get] { actions->actions()[get(workspace_.units())]->setChecked(true); });
  };
  const auto choice = [&group](const QString& name, const QStringList& choices, auto UnitSystem::*member) {
    group(
        name, choices, [member](const UnitSystem& u) { return static_cast<int>(u.*member); },
        [member](UnitSystem& u, int i) { u.*member = static_cast<std::decay_t<decltype(u.*member)>>(i); });
  };
  choice("Volume", {"L", "US gal"}, &UnitSystem::volume);
  choice("Flow", {"L/h", "US gal/h", "lb/h (by the fuel's density)"}, &UnitSystem::flow);
  choice("Mass", {"kg", "lb"}, &UnitSystem::mass);
  choice("Pressure", {"bar", "psi"}, &UnitSystem::pressure);
  choice("Temperature", {"°C", "°F"}, &UnitSystem::temperature);
  choice("Length", {"mm", "in"}, &UnitSystem::length);
  choice("Speed and distance", {"km/h, m", "mph, ft"}, &UnitSystem::speed);
}

void MainWindow::agree_to_its_files() {
  QSettings settings;
  QStringList agreed = settings.value("outside").toStringList();
  agreed.removeAll(workspace_.document.path());
  agreed.prepend(workspace_.document.path());
  settings.setValue("outside", QStringList(agreed.mid(0, 200)));
}

bool MainWindow::open(const QString& path, solve::Outside outside) {
  if (QSettings().value("outside").toStringList().contains(QFileInfo(path).absoluteFilePath()))
    outside = solve::Outside::agreed;
  try {
    workspace_.document.open(path, outside);
  } catch (const solve::OutsideFiles& files) {
    QString names;
    for (const Message& m : files.messages()) names += " " + QString::fromStdString(m.found);
    notice_->say(
        QString("%1 names files outside its folder:%2. Read them?").arg(QFileInfo(path).fileName(), names),
        false,
        {{"Read them",
          [this, path] {
            if (open(path, solve::Outside::agreed)) agree_to_its_files();
          }},
         {"Do not open", {}}});
    return false;
  } catch (const std::exception& error) {
    notice_->say(QString("Not opened. %1").arg(error.what()), true);
    return false;
  }
  workspace_.selection.reset();
  QSettings settings;
  QStringList recent = settings.value("recent").toStringList();
  recent.removeAll(workspace_.document.path());
  recent.prepend(workspace_.document.path());
  settings.setValue("recent", QStringList(recent.mid(0, 10)));
  notice_->dismiss();
  QString warnings;
  for (const Message& m : workspace_.document.notes())
    if (m.severity == Severity::warning)
      warnings += (warnings.isEmpty() ? "" : "\n") + QString::fromStdString(m.text());
  if (!warnings.isEmpty()) notice_->say(warnings, false);
  return true;
}

void MainWindow::refresh_recent() {
  recent_->clear();
  for (const QString& path : QSettings().value("recent").toStringList())
    connect(recent_->addAction(path), &QAction::triggered, this, [this, path] {
      if (may_leave()) open(path);
    });
  if (recent_->isEmpty()) recent_->addAction("none yet")->setEnabled(false);
}

bool MainWindow::save(bool over_foreign_changes) {
  if (workspace_.document.path().isEmpty()) return save_as();
  if (!over_foreign_changes && workspace_.document.changed_on_disk()) {
    notice_->say(
        QString("Not saved. %1 was changed by something else since it was opened. Your work is still here.")
            .arg(workspace_.document.title()),
        true,
        {{"Save over it", [this] { save(true); }},
         {"Save elsewhere…", [this] { save_as(); }},
         {"Close", {}}});
    return false;
  }
  try {
    workspace_.document.save();
    agree_to_its_files();
    return true;
  } catch (const std::exception& error) {
    notice_->say(QString("Not saved. %1 Your work is still here.").arg(error.what()), true,
                 {{"Save elsewhere…", [this] { save_as(); }}, {"Close", {}}});
    return false;
  }
}

bool MainWindow::save_as() {
  QString path = QFileDialog::getSaveFileName(this, "Save the project", workspace_.document.path(), filter);
  if (path.isEmpty()) return false;
  if (!path.endsWith(".json")) path += ".uadze.json";
  try {
    workspace_.document.save_as(path);
    agree_to_its_files();
    return true;
  } catch (const std::exception& error) {
    notice_->say(QString("Not saved. %1 Your work is still here.").arg(error.what()), true);
    return false;
  }
}

bool MainWindow::may_leave() {
  if (!workspace_.document.is_modified()) return true;
  const auto answer = QMessageBox::question(
      this, "Unsaved changes", QString("%1 has changes that are not saved.").arg(workspace_.document.title()),
      QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Save);
  if (answer == QMessageBox::Save) return save();
  return answer == QMessageBox::Discard;
}

void MainWindow::offer_leftovers() {
  const auto leftovers = Document::leftovers();
  if (leftovers.empty()) return;
  const Leftover first = leftovers.front();
  const QString what = first.project.isEmpty() ? "an unsaved project" : QFileInfo(first.project).fileName();
  notice_->offer(
      QString("Work on %1 from %2 was not saved when the application went down.").arg(what, first.when),
      {{"Restore",
        [this, first] {
          try {
            workspace_.document.restore(first);
            workspace_.selection.reset();
          } catch (const std::exception& error) {
            notice_->say(QString("Not restored. %1").arg(error.what()), true);
            return;
          }
          offer_leftovers();
        }},
       {"Discard", [this, first] {
          Document::discard(first);
          offer_leftovers();
        }}});
}

void MainWindow::open_log(const QString& path) {
  view_of(Station::logs).open_file(path);
  show_station(Station::logs);
}

StationView& MainWindow::view_of(Station station) {
  auto& view = stations_[static_cast<size_t>(station)];
  if (view) return *view;
  view = make_station[static_cast<size_t>(station)](workspace_);
  put_page(pictures_, static_cast<int>(station), view->picture());
  put_page(sides_, static_cast<int>(station), view->side());
  // It has heard of nothing yet.
  emit workspace_.changed();
  emit workspace_.level_changed();
  return *view;
}

void MainWindow::show_station(Station station) {
  StationView& view = view_of(station);
  station_ = station;
  glass_->set_current(station);
  sides_->setCurrentIndex(static_cast<int>(station));
  pictures_->setCurrentIndex(static_cast<int>(station));
  view.shown();
  refresh();
}

void MainWindow::look_at_book() {
  const auto& book = workspace_.book;
  if (!book.trouble().isEmpty())
    glass_->set_state(Station::logbook, StationState::trouble, book.trouble());
  else if (const auto* ready = book.readiness(); !ready || book.records().empty())
    glass_->set_state(Station::logbook, StationState::empty, "nothing is written in its book yet");
  else
    glass_->set_state(Station::logbook, ready->ready ? StationState::good : StationState::trouble,
                      QString::fromStdString(ready->ready ? ready->words() : ready->open.front()));
}

void MainWindow::look_at_build() {
  const auto* setup = workspace_.setup();
  const auto catalogue = workspace_.runs.catalogue();
  if (!setup || !setup->circuit || !catalogue) {
    glass_->set_state(Station::build, StationState::empty, "no circuit in this setup yet");
    return;
  }
  for (const circuit::Finding& f : build::check(solve::circuit_case(*setup, catalogue), setup->keep_outs))
    if (f.severity == Severity::error) {
      glass_->set_state(Station::build, StationState::trouble,
                        QString::fromStdString(f.text.in(workspace_.units())));
      return;
    }
  glass_->set_state(Station::build, StationState::good, "every part stands the worst that it may meet");
}

void MainWindow::refresh() {
  setWindowTitle(workspace_.document.title() + (workspace_.document.is_modified() ? "*" : "") +
                 " · Undertow Adze");
  const auto& project = workspace_.project();
  const auto set = [this](Station s, StationState state, const QString& why) {
    glass_->set_state(s, state, why);
  };
  const bool stale = workspace_.runs.evaluator.stale();
  set(Station::car, project.setups.empty() ? StationState::empty : StationState::good,
      project.setups.empty() ? "no setup yet" : "complete");
  const auto* setup = workspace_.setup();
  const bool pickups = setup && !setup->tank.pickups.empty();
  set(Station::tank,
      pickups ? StationState::good
      : setup ? StationState::trouble
              : StationState::empty,
      pickups ? "complete" : "no pickup in the tank");
  const QString fault = workspace_.runs.fault();
  if (project.laps.empty())
    set(Station::laps, StationState::empty, "no lap yet");
  else if (!workspace_.runs.lap())
    set(Station::laps, StationState::trouble, fault.isEmpty() ? "the lap's file can not be read" : fault);
  else
    set(Station::laps, StationState::good, "complete");
  set(Station::logs, StationState::empty, "logs of the car, where there are some");
  const auto* v = workspace_.runs.verdict();
  for (Station s : {Station::slosh, Station::sizing, Station::sessions}) {
    if (!fault.isEmpty())
      set(s, project.sessions.empty() ? StationState::empty : StationState::trouble, fault);
    else if (!v || stale)
      set(s, project.sessions.empty() ? StationState::empty : StationState::stale, "computing anew");
    else if (!v->lap->clean.exists)
      set(s, StationState::trouble, "starves even with a full tank");
    else if (s == Station::sizing && !setup->surge)
      set(s, StationState::empty, "no surge tank in this setup");
    else if (s == Station::sessions && !v->risk.fits)
      set(s, StationState::trouble, "needs more than may be filled");
    else
      set(s, StationState::good, "complete");
  }
  if (!setup || !setup->circuit) {
    set(Station::circuit, StationState::empty, "no circuit in this setup yet");
  } else {
    look_at_circuit();
    const QString trouble =
        circuit_trouble_ ? QString::fromStdString(circuit_trouble_->in(workspace_.units())) : QString();
    set(Station::circuit, trouble.isEmpty() ? StationState::good : StationState::trouble,
        trouble.isEmpty() ? "carries full load" : trouble);
  }
  look_at_build();
  look_at_book();
  // What is no longer so is no longer said.
  if (!fault_said_.isEmpty() && fault_said_ != fault && notice_->text().contains(fault_said_)) {
    notice_->dismiss();
    fault_said_.clear();
  }
  if (!fault.isEmpty() && !project.laps.empty() && !stale && !notice_->isVisible()) {
    notice_->say(fault, true);
    fault_said_ = fault;
  }
}

// At full load, computed when the setup or its catalogue is another.
void MainWindow::look_at_circuit() {
  const auto* setup = workspace_.setup();
  const auto catalogue = workspace_.runs.catalogue();
  if (!setup || !setup->circuit || !catalogue) return;
  const ContentKey key =
      KeyMaker()
          .add(project::key_of(*setup))
          .add(workspace_.document.sources()->catalogues.get(workspace_.project().catalogue_files)->key)
          .key();
  if (key == circuit_of_) return;
  circuit_of_ = key;
  circuit_job_.start(
      this,
      [setup = *setup, catalogue](Progress&) -> std::optional<Phrase> {
        for (const auto& f : circuit::run_met(solve::circuit_case(setup, catalogue)).state.findings)
          if (f.severity == Severity::error) return f.text;
        return std::nullopt;
      },
      [this](std::optional<Phrase> trouble) {
        circuit_trouble_ = std::move(trouble);
        refresh();
      },
      [this](const QString& why) {
        circuit_trouble_ = Phrase{why.toStdString(), {}};
        refresh();
      });
}

QStringList MainWindow::save_pictures(const QString& folder, const QString& suffix, bool pages) {
  QDir().mkpath(folder);
  QStringList files;
  // Until what is computed and put off is there, laid out and painted; plots are drawn after their layout.
  const auto complete = [this] {
    for (int round = 0; round < 3; ++round) {
      QElapsedTimer clock;
      clock.start();
      do {
        QApplication::processEvents();
        QThread::msleep(2);  // the cores are for what is computed
      } while ((pending_work() > 0 && clock.elapsed() < 120000) || clock.elapsed() < 60);
      grab();
    }
  };
  complete();
  if (const auto* v = workspace_.runs.verdict())
    workspace_.set_cursor_time(v->lap->lap->value.time[v->lap->clean.at.tightest]);
  const auto named = [](QString title) {
    return title.toLower().replace("&&", "and").replace('&', "and").replace(' ', '-');
  };
  const auto save = [&](const QString& name) {
    complete();
    files << folder + "/" + name + suffix + ".png";
    grab().save(files.back());
  };
  for (int i = 0; i < station_count; ++i) {
    show_station(static_cast<Station>(i));
    const QString name = QString::number(i + 1) + "-" + named(station_title(static_cast<Station>(i)));
    save(name);
    if (!pages) continue;
    StationView& view = view_of(static_cast<Station>(i));
    QWidget* picture = view.picture();
    QList<QTabWidget*> all = picture->findChildren<QTabWidget*>();
    if (auto* itself = qobject_cast<QTabWidget*>(picture)) all.prepend(itself);
    all += view.side()->findChildren<QTabWidget*>();
    for (QTabWidget* tabs : all) {
      for (int page = 1; page < tabs->count(); ++page) {
        tabs->setCurrentIndex(page);
        save(name + "-" + named(tabs->tabText(page)));
      }
      tabs->setCurrentIndex(0);
    }
  }
  if (const auto* v = workspace_.runs.verdict(); v && pages) {
    const QRectF page(0, 0, 595, 842);
    constexpr double scale = 1.4;
    QImage image((page.size() * scale).toSize(), QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    p.scale(scale, scale);
    card::draw_card(p, page, *v, workspace_.units(), workspace_.project().name, workspace_.book.readiness());
    p.end();
    files << folder + "/10-session-card" + suffix + ".png";
    image.save(files.back());
  }
  return files;
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (may_leave())
    event->accept();
  else
    event->ignore();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls() && event->mimeData()->urls().front().isLocalFile())
    event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  if (may_leave()) open(event->mimeData()->urls().front().toLocalFile());
}

}  // namespace uadze::gui
