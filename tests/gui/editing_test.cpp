// Every station's editors, worked as a person does.
#include <QComboBox>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSlider>
#include <QTableWidget>
#include <QTextBrowser>
#include <QToolButton>
#include <QTreeWidget>

#include "gui/frame/lap_ribbon.h"
#include "gui/frame/notice_bar.h"
#include "gui/frame/sight_glass.h"
#include "gui/frame/verdict_strip.h"
#include "gui/stations/tank/tank_view.h"
#include "gui/widgets/plot.h"
#include "gui/window_fixture.h"

namespace uadze::gui {
namespace {

class Editing : public WindowTest {
 protected:
  using WindowTest::type;
  using WindowTest::WindowTest;
  /// Types into a table's cell as a person does: the key opens the editor, Return ends it.
  void type(QTableWidget* table, int row, int column, const QString& text) {
    table->setFocus();
    table->setCurrentCell(row, column);
    QTest::keyClick(table, Qt::Key_F2);
    auto* editor = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    ASSERT_NE(editor, nullptr);
    editor->selectAll();
    QTest::keyClicks(editor, text);
    QTest::keyClick(editor, Qt::Key_Return);
    QApplication::processEvents();  // tables take what was typed by a queued call
  }
  QPushButton* button(QWidget* near, const QString& text) {
    for (auto* b : near->parentWidget()->findChildren<QPushButton*>())
      if (b->text() == text && b->isVisible()) return b;
    ADD_FAILURE() << "no button " << text.toStdString();
    return nullptr;
  }
};

class WholeLap : public Editing {
 protected:
  WholeLap() : Editing("ostrel-p4.uadze.json", true) {}
};

TEST_F(Editing, ASetupIsDuplicatedRenamedAndRemoved) {
  compute_all();
  window->show_station(Station::car);
  QTest::mouseClick(button(find<QLineEdit>("Setup"), "Duplicate"), Qt::LeftButton);
  ASSERT_EQ(workspace().project().setups.size(), 3u);
  EXPECT_EQ(workspace().setup()->name, "P4, surge fitted (2)") << "the copy is chosen";
  type(find<QLineEdit>("Setup"), "P4, small surge tank");
  type(find<QLineEdit>("Surge volume"), "700 ml");
  settle();
  EXPECT_NEAR(workspace().setup()->surge->volume, 0.7e-3, 1e-12);
  EXPECT_EQ(workspace().project().setups[0].surge->volume, 1.5e-3) << "the original is untouched";
  EXPECT_EQ(workspace().runs.evaluator.result().sessions.size(), 15u) << "compared on the same sessions";
  type(find<QLineEdit>("Setup"), "P4, surge fitted");
  EXPECT_EQ(workspace().setup()->name, "P4, small surge tank") << "two of one name are refused";
  EXPECT_TRUE(window->notice().text().contains("a name of its own"));
  QTest::mouseClick(button(find<QLineEdit>("Setup"), "Remove setup"), Qt::LeftButton);
  EXPECT_EQ(workspace().project().setups.size(), 2u);
}

TEST_F(WholeLap, TheSurgeTankCanBeTakenOutWhenThePickupsFollow) {
  window->show_station(Station::car);
  auto* surge = find<QComboBox>("Surge tank");
  surge->setFocus();
  QTest::keyClick(surge, Qt::Key_Up);
  EXPECT_FALSE(workspace().setup()->surge);
  settle();
  // The pickups still feed lift pumps that now lead nowhere: the verdict must not look good.
  ASSERT_TRUE(workspace().runs.verdict());
  EXPECT_FALSE(workspace().runs.verdict()->lap->clean.exists);
  EXPECT_EQ(window->findChild<SightGlass*>()->state(Station::slosh), StationState::trouble);
  window->show_station(Station::tank);
  auto* pickups = find<QTableWidget>("pickups");
  type(pickups, 0, 5, "engine");
  type(pickups, 1, 5, "engine");
  settle();
  EXPECT_TRUE(workspace().runs.verdict()->lap->clean.exists);
  EXPECT_EQ(steps(), 3);
}

TEST_F(Editing, LiftPumpsAreAddedAndRemoved) {
  window->show_station(Station::car);
  auto* pumps = find_accessible<QTableWidget>("Lift pumps");
  QTest::mouseClick(button(pumps, "Add"), Qt::LeftButton);
  ASSERT_EQ(workspace().setup()->lift_pumps.size(), 3u);
  type(pumps, 2, 1, "40 gal/h");
  EXPECT_NEAR(workspace().setup()->lift_pumps[2].flow, 40 * 3.785411784e-3 / 3600, 1e-12);
  pumps->setCurrentCell(2, 0);
  QTest::keyClick(pumps, Qt::Key_Delete, Qt::ControlModifier);
  EXPECT_EQ(workspace().setup()->lift_pumps.size(), 2u);
  pumps->setCurrentCell(0, 0);
  QTest::keyClick(pumps, Qt::Key_Delete, Qt::ControlModifier);
  EXPECT_EQ(workspace().setup()->lift_pumps.size(), 2u) << "a pickup still feeds it";
  EXPECT_TRUE(window->notice().text().contains("feeds")) << window->notice().text().toStdString();
}

TEST_F(Editing, TheTanksShapeIsEditedAndKeptSound) {
  window->show_station(Station::tank);
  find<TankView>("tank view")->choose_part(PartRef{TankPartKind::shape, 0, -1});
  const double before = workspace().runs.car()->tank->volume();
  type(find<QLineEdit>("To"), "0.4 m");
  EXPECT_GT(workspace().runs.car()->tank->volume(), before);
  auto* profile = find_accessible<QTableWidget>("Profile");
  EXPECT_EQ(profile->horizontalHeaderItem(0)->text(), "x\n[mm]");
  EXPECT_EQ(profile->horizontalHeaderItem(1)->text(), "z\n[mm]");
  const project::Project sound = workspace().project();
  type(profile, 2, 0, "-400");  // the front would cross the rear
  EXPECT_EQ(workspace().project(), sound);
  EXPECT_TRUE(window->notice().text().contains("does not cross"));
  const auto outline = [this] { return std::get<tank::Prism>(workspace().setup()->tank.shapes[0]).profile; };
  type(profile, 2, 0, "200");
  EXPECT_NEAR(outline()[2].x(), 0.2, 1e-12);
  QTest::mouseClick(button(profile, "Add"), Qt::LeftButton);
  EXPECT_EQ(outline().size(), 5u);
}

/// Chooses an entry of the menu of parts.
void choose_part(QWidget* window, const QString& title) {
  auto* button = window->findChild<QPushButton*>("add part");
  for (QAction* action : button->menu()->actions())
    if (action->text() == title) action->trigger();
}

TEST_F(Editing, APickupIsAddedInsideTheTank) {
  window->show_station(Station::tank);
  choose_part(window.get(), "Pickup");
  ASSERT_EQ(workspace().setup()->tank.pickups.size(), 3u);
  EXPECT_TRUE(workspace().runs.car()->tank->contains(pickup(2)));
  EXPECT_LT(pickup(2).z(), 0.02) << "at the floor";
  EXPECT_EQ(find<TankView>("tank view")->chosen_part(), (PartRef{TankPartKind::pickup, 2, -1}))
      << "and it is chosen";
  auto* tree = find<QTreeWidget>("parts");
  ASSERT_TRUE(tree->currentItem());
  EXPECT_TRUE(tree->currentItem()->text(0).contains("pickup"));
  QTest::mouseClick(window->findChild<QPushButton*>("remove part"), Qt::LeftButton);
  EXPECT_EQ(workspace().setup()->tank.pickups.size(), 2u);
  workspace().document.undo()->undo();
  EXPECT_EQ(workspace().setup()->tank.pickups.size(), 3u);
}

TEST_F(Editing, EveryKindOfPartCanBeAddedAndTakenBack) {
  window->show_station(Station::tank);
  const project::Project before = workspace().project();
  auto* undo = workspace().document.undo();
  for (const NewPart& part : new_parts()) {
    // A saddle takes the place of all shapes, and its tunnel that of these pickups: refused.
    if (part.title.contains("saddle")) continue;
    // Openings go into the collector.
    find<TankView>("tank view")->choose_part(std::nullopt);
    choose_part(window.get(), part.title);
    EXPECT_EQ(undo->index(), 1) << part.title.toStdString() << ": " << window->notice().text().toStdString();
    while (undo->index() > 0) undo->undo();
    EXPECT_TRUE(workspace().project() == before) << part.title.toStdString();
  }
}

TEST_F(Editing, ABaffleDividesTheTankAndIsDragged) {
  window->show_station(Station::tank);
  auto* view = find<TankView>("tank view");
  choose_part(window.get(), "Baffle across the car (parts front and rear)");
  ASSERT_EQ(workspace().runs.car()->tank->spaces.size(), 4u)
      << "foam, beside it in front and behind, collector";
  view->look(TankView::Look::side);
  const auto place = [this] { return workspace().setup()->tank.baffles[0].point; };
  const Vec3 from = place();
  drag(view, view->on_screen(from), view->on_screen(from + Vec3(0.03, 0, 0)));
  EXPECT_NEAR(place().x(), from.x() + 0.03, 0.008);
  EXPECT_EQ(place().y(), from.y()) << "a plate moves along its normal only";
  EXPECT_EQ(steps(), 2) << "one step of the history for the drag";
}

TEST_F(Editing, OrbitAndStandardViewsDoNotEdit) {
  window->show_station(Station::tank);
  auto* view = find<TankView>("tank view");
  const QPointF before = view->on_screen(pickup(0));
  drag(view, {60, 60}, {160, 100});
  EXPECT_GT(QLineF(before, view->on_screen(pickup(0))).length(), 5) << "it turned";
  for (auto look : {TankView::Look::side, TankView::Look::front, TankView::Look::top, TankView::Look::corner})
    view->look(look);
  EXPECT_NEAR(QLineF(before, view->on_screen(pickup(0))).length(), 0, 1e-6) << "and back";
  EXPECT_EQ(steps(), 0);
}

TEST_F(Editing, InASideViewAPickupIsRaised) {
  window->show_station(Station::tank);
  auto* view = find<TankView>("tank view");
  view->look(TankView::Look::side);
  settle_all();
  const Vec3 place = pickup(1);
  drag(view, view->on_screen(place), view->on_screen(place + Vec3(0, 0, 0.1)));
  EXPECT_NEAR(pickup(1).z(), place.z() + 0.1, 0.004);
  EXPECT_NEAR(pickup(1).y(), place.y(), 1e-9) << "not toward the eye";
}

TEST_F(Editing, CornersAreNamedAndReachTheVerdict) {
  window->show_station(Station::laps);
  auto* corners = find_accessible<QTableWidget>("Corners");
  ASSERT_EQ(corners->rowCount(), 2);
  const QString tightest = window->verdict().tightest_text();
  int row = -1;
  for (int r = 0; r < corners->rowCount(); ++r)
    if (tightest.contains(corners->item(r, 0)->text())) row = r;
  ASSERT_GE(row, 0);
  auto* ribbon = find<QWidget>("ribbon");
  const QImage before = ribbon->grab().toImage();
  type(corners, row, 0, "New Name");
  settle();
  EXPECT_TRUE(window->verdict().tightest_text().contains("New Name"));
  EXPECT_NE(ribbon->grab().toImage(), before) << "the ribbon says it too";
  const project::Project named = workspace().project();
  type(corners, 0, 3, "sideways");
  EXPECT_EQ(workspace().project(), named);
  type(corners, 0, 2, "10");
  EXPECT_EQ(workspace().project(), named) << "an end before its beginning is refused";
}

TEST_F(Editing, SessionsArePlannedInTheTable) {
  window->show_station(Station::sessions);
  find<QTabWidget>("session tabs")->setCurrentIndex(2);
  auto* sessions = find_accessible<QTableWidget>("Sessions");
  const double before = start();
  type(sessions, 0, 3, "5");
  EXPECT_EQ(workspace().project().sessions[0].laps, 5);
  EXPECT_GT(start(), before) << "of two laps before";
  type(sessions, 0, 4, "20 min");
  EXPECT_EQ(workspace().project().sessions[0].duration, 1200.0);
  EXPECT_FALSE(workspace().project().sessions[0].laps) << "time takes the laps' place";
  type(sessions, 0, 4, "15");
  EXPECT_EQ(workspace().project().sessions[0].duration, 900.0) << "a number alone is minutes";
  QTest::mouseClick(button(sessions, "Add"), Qt::LeftButton);
  settle();
  EXPECT_EQ(workspace().project().sessions.size(), 6u);
  EXPECT_EQ(find<QTableWidget>("plan")->rowCount(), 6);
  type(sessions, 5, 2, "no such lap");
  EXPECT_EQ(workspace().project().sessions[5].lap, "Brackenholt, dry");
}

TEST_F(Editing, TheLevelFollowsSliderFieldAndButton) {
  // Without the surge tank, whose overflow would keep the pickups in fuel at any level.
  workspace().selection.choose_setup(1);
  settle();
  window->show_station(Station::slosh);
  auto* slider = find<QSlider>("level");
  slider->setValue(slider->maximum() / 2);
  EXPECT_NEAR(workspace().runs.level(), workspace().runs.car()->tank->volume() / 2, 1e-4);
  type(find_accessible<QLineEdit>("Level shown"), "0.02 L");
  EXPECT_NEAR(workspace().runs.level(), 0.02e-3, 1e-12);
  settle_level();
  EXPECT_FALSE(workspace().runs.level_run()->clean());
  EXPECT_TRUE(find_accessible<QTableWidget>("Starvation events")->rowCount() > 0);
  for (auto* b : window->findChildren<QPushButton*>())
    if (b->text() == "Clean level" && b->isVisible()) QTest::mouseClick(b, Qt::LeftButton);
  EXPECT_TRUE(workspace().selection.picked_level() == std::nullopt);
  settle_level();
  EXPECT_TRUE(workspace().runs.level_run()->clean());
}

TEST_F(Editing, AnEventInTheListMovesTheCursorToIt) {
  window->show_station(Station::slosh);
  workspace().selection.choose_setup(1);
  settle();
  workspace().selection.pick_level(5e-3);
  settle_level();
  auto* events = find_accessible<QTableWidget>("Starvation events");
  ASSERT_GT(events->rowCount(), 1);
  expect_whole(*events);
  events->setCurrentCell(1, 0);
  const auto run = workspace().runs.level_run();
  EXPECT_NEAR(workspace().runs.cursor_time(), run->events[1].start, 0.03);
}

TEST_F(Editing, PlayMovesTheCursorInRealTime) {
  auto* ribbon = window->findChild<LapRibbon*>();
  QTest::mouseClick(find<QToolButton>("play"), Qt::LeftButton);
  EXPECT_TRUE(ribbon->playing());
  const double before = workspace().runs.cursor_time();
  QElapsedTimer clock;
  clock.start();
  const auto moved = [&] { return workspace().runs.cursor_time() - before; };
  EXPECT_TRUE(wait_for([&] { return moved() > 0.4; }));
  EXPECT_LT(moved(), 1e-3 * static_cast<double>(clock.elapsed()) + 0.3) << "no faster than the clock";
  QTest::keyClick(window.get(), Qt::Key_F5);
  EXPECT_FALSE(ribbon->playing());
}

TEST_F(Editing, AClickOnATraceMovesTheCursor) {
  window->show_station(Station::laps);
  settle_all();
  auto* plot = find<LapPlot>();
  const auto* axis = plot->axisRect(0)->axis(QCPAxis::atBottom);
  QTest::mouseClick(plot, Qt::LeftButton, {},
                    QPoint(static_cast<int>(axis->coordToPixel(600)), plot->axisRect(0)->center().y()));
  EXPECT_NEAR(workspace().runs.lap()->value.distance[workspace().selection.cursor()], 600, 15);
}

TEST_F(Editing, SaveAsElsewhereStillFindsItsLaps) {
  const auto elsewhere = folder / "moved/deeper/copy.uadze.json";
  std::filesystem::create_directories(elsewhere.parent_path());
  workspace().document.save_as(QString::fromStdString(elsewhere.string()));
  settle();
  EXPECT_EQ(workspace().project().laps[0].file, "../../laps/brackenholt-p4.csv");
  EXPECT_TRUE(workspace().runs.lap());
  MainWindow other;
  ASSERT_TRUE(other.open(QString::fromStdString(elsewhere.string()), solve::Outside::agreed));
  EXPECT_TRUE(other.workspace().runs.lap());
}

TEST_F(Editing, ANewProjectIsUsableFromItsFirstMoment) {
  QTest::keyClick(window.get(), Qt::Key_N, Qt::ControlModifier);
  settle();
  EXPECT_EQ(workspace().project().setups.size(), 1u);
  auto* glass = window->findChild<SightGlass*>();
  EXPECT_EQ(glass->state(Station::tank), StationState::good);
  EXPECT_EQ(glass->state(Station::laps), StationState::empty);
  EXPECT_EQ(glass->state(Station::sessions), StationState::empty);
  for (int i = 0; i < station_count; ++i) {
    window->show_station(static_cast<Station>(i));
    settle_all();
  }
  EXPECT_TRUE(workspace().runs.fuel_at_cursor()) << "the tank shows level fuel without a lap";
}

/// As the application starts without a file: from nothing to a session's least fuel, by the window alone.
TEST_F(Editing, AnOwnCarIsFinishedFromAnEmptyStart) {
  window.reset();
  start_window();
  auto* glass = window->findChild<SightGlass*>();

  window->show_station(Station::circuit);
  settle_all();
  QTest::mouseClick(find<QPushButton>("start a circuit"), Qt::LeftButton);
  settle_all();
  ASSERT_TRUE(workspace().setup()->circuit);
  EXPECT_FALSE(window->findChild<QPushButton*>("start a circuit")->isVisible());

  window->show_station(Station::sessions);
  QTest::mouseClick(find<QPushButton>("Add a session"), Qt::LeftButton);
  EXPECT_TRUE(window->notice().text().contains("add a lap first")) << window->notice().text().toStdString();
  // The lap's file is chosen in a dialog, which is not driven here.
  workspace().document.edit("Add a lap", [this](project::Project& p) {
    p.laps.push_back({.name = "Mine", .file = (folder / "laps/brackenholt-p4.csv").string()});
  });
  window->show_station(Station::slosh);
  settle_all();
  EXPECT_EQ(glass->state(Station::laps), StationState::good);
  EXPECT_EQ(workspace().runs.fault(), "There is no session yet: add one at the Sessions station.");

  window->show_station(Station::sessions);
  QTest::mouseClick(find<QPushButton>("Add a session"), Qt::LeftButton);
  settle_all();
  ASSERT_EQ(workspace().project().sessions.size(), 1u);
  EXPECT_EQ(workspace().project().sessions[0].lap, "Mine");
  ASSERT_TRUE(workspace().runs.verdict());
  EXPECT_GT(start(), 0.0);
  EXPECT_FALSE(window->notice().isVisible())
      << "what asked for a session is gone: " << window->notice().text().toStdString();
}

TEST_F(Editing, KeysReachEveryStation) {
  for (int i = 0; i < station_count; ++i) {
    QTest::keyClick(window.get(), station_key(static_cast<Station>(i)), Qt::ControlModifier);
    EXPECT_EQ(static_cast<int>(window->station()), i);
  }
  auto* glass = window->findChild<SightGlass*>();
  glass->setFocus();
  QTest::keyClick(glass, Qt::Key_Up);
  EXPECT_EQ(window->station(), Station::logbook);
  QTest::keyClick(window.get(), Qt::Key_D, Qt::ControlModifier);
  EXPECT_TRUE(workspace().theme().dark);
  QTest::keyClick(window.get(), Qt::Key_D, Qt::ControlModifier);
}

TEST_F(Editing, DiscardedLeftoversAreGone) {
  // An autosave whose process is gone.
  const QString file = Document::autosave_folder() + "/left.json";
  test::TempFolder other;
  QFile out(file);
  ASSERT_TRUE(out.open(QIODevice::WriteOnly));
  out.write(R"({"pid": 999999999, "project": "", "when": "yesterday", "disk_text": "", "text": "{}"})");
  out.close();
  window->offer_leftovers();
  EXPECT_TRUE(window->notice().text().contains("an unsaved project"));
  QTest::mouseClick(find<QPushButton>("Restore"), Qt::LeftButton);
  EXPECT_TRUE(window->notice().text().contains("Not restored")) << "a broken one is said, and kept";
  EXPECT_TRUE(QFile::exists(file));
  window->offer_leftovers();
  QTest::mouseClick(find<QPushButton>("Discard"), Qt::LeftButton);
  EXPECT_FALSE(QFile::exists(file));
}

}  // namespace
}  // namespace uadze::gui
