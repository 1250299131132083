// Drives the real window with mouse and keys, under Xvfb.
#include <gtest/gtest.h>

#include <numeric>

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QDropEvent>
#include <QLineEdit>
#include <QMimeData>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTableWidget>
#include <QTextBrowser>
#include <QtTest>

#include "gui/frame/notice_bar.h"
#include "gui/frame/sight_glass.h"
#include "gui/frame/verdict_strip.h"
#include "gui/pages.h"
#include "gui/stations/slosh/map_view.h"
#include "gui/stations/tank/tank_view.h"
#include "gui/widgets/edit_table.h"
#include "gui/window_fixture.h"
#include "support/longest_stop.h"

namespace uadze::gui {
namespace {

class Window : public WindowTest {};

TEST_F(Window, OpensTheDemoWithItsVerdictInSight) {
  compute_all();
  EXPECT_EQ(window->verdict().start_text(),
            workspace().show(session::rounded_up(start(), {}), Quantity::volume));
  EXPECT_FALSE(window->verdict().tightest_text().isEmpty());
  EXPECT_TRUE(window->windowTitle().startsWith("ostrel-p4.uadze.json"));
  EXPECT_EQ(workspace().runs.evaluator.result().sessions.size(), 10u) << "every setup on every session";
  EXPECT_TRUE(workspace().runs.evaluator.result().lap);
}

TEST_F(Window, DraggingAPickupMovesTheMinimumAndUndoBringsItBack) {
  const double before = start();
  const auto covered = [this] {
    settle();
    return workspace().runs.evaluator.result().lap->clean.at.coverage.covered_mean;
  };
  const std::vector<double> was = covered();
  const Vec3 place = pickup(0);
  QTest::keyClick(window.get(), Qt::Key_2, Qt::ControlModifier);
  auto* view = find<TankView>("tank view");
  view->look(TankView::Look::top);
  settle_all();
  const QPointF from = view->on_screen(place), to = view->on_screen(place + Vec3(0.1, -0.1, 0));
  drag(view, from, to);
  EXPECT_NEAR((pickup(0) - place - Vec3(0.1, -0.1, 0)).norm(), 0, 0.004);
  EXPECT_NE(covered(), was) << "the verdict follows";
  EXPECT_EQ(workspace().document.undo()->count(), 1) << "one drag, one step";
  QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(pickup(0), place);
  EXPECT_EQ(start(), before);
  QTest::keyClick(window.get(), Qt::Key_Y, Qt::ControlModifier);
  EXPECT_NE(pickup(0), place);
}

TEST_F(Window, ADraggedPickupStaysInsideTheTank) {
  window->show_station(Station::tank);
  auto* view = find<TankView>("tank view");
  view->look(TankView::Look::top);
  settle_all();
  drag(view, view->on_screen(pickup(0)), view->on_screen(pickup(0) + Vec3(-2, 2, 0)));
  EXPECT_TRUE(workspace().runs.car()->tank->contains(pickup(0)));
}

TEST_F(Window, KeysChooseAndMoveAPickup) {
  window->show_station(Station::tank);
  auto* view = find<TankView>("tank view");
  view->setFocus();
  QTest::keyClick(view, Qt::Key_Tab);
  // The collector and its doors come before the pickups.
  while (view->chosen_part() && view->chosen_part()->kind != TankPartKind::pickup)
    QTest::keyClick(view, Qt::Key_Tab);
  ASSERT_EQ(view->chosen_part(), (PartRef{TankPartKind::pickup, 0, -1}));
  const Vec3 place = pickup(0);
  QTest::keyClick(view, Qt::Key_Up);
  QTest::keyClick(view, Qt::Key_Right, Qt::ShiftModifier);
  QTest::keyClick(view, Qt::Key_PageUp);
  EXPECT_NEAR((pickup(0) - place - Vec3(0.005, -0.001, 0.005)).norm(), 0, 1e-9);
  EXPECT_EQ(workspace().document.undo()->count(), 3);
}

TEST_F(Window, AClickOnTheMapMovesTheCursorEverywhere) {
  window->show_station(Station::slosh);
  auto* map = find<MapView>("map");
  QTest::mouseClick(map, Qt::LeftButton, {}, map->on_screen(500, 0.020).toPoint());
  const auto& lap = workspace().runs.lap()->value;
  EXPECT_NEAR(lap.distance[workspace().selection.cursor()], 500, 8);
  EXPECT_NEAR(workspace().runs.level(), 0.020, 0.4e-3);
  EXPECT_FALSE(workspace().selection.picked_level() == std::nullopt);
  // The tank's picture shows the very same moment.
  const auto fuel = workspace().runs.fuel_at_cursor();
  ASSERT_TRUE(fuel);
  EXPECT_EQ(fuel->pull, lap.effective_gravity(workspace().selection.cursor()));
  EXPECT_NEAR(std::accumulate(fuel->volume.begin(), fuel->volume.end(), 0.0), workspace().runs.level(), 1e-7);
  QTest::keyClick(map, Qt::Key_Right);
  QTest::keyClick(map, Qt::Key_PageUp);
  EXPECT_GT(workspace().runs.level(), 0.0205);
  auto* ribbon = window->findChild<QWidget*>("ribbon");
  QTest::mouseClick(ribbon, Qt::LeftButton, {}, QPoint(ribbon->width() / 2, 30));
  EXPECT_NEAR(lap.distance[workspace().selection.cursor()], lap.distance.back() / 2, 10);
  QTest::keyClick(ribbon, Qt::Key_Home);
  EXPECT_EQ(workspace().selection.cursor(), 0u);
}

TEST_F(Window, TheVerdictLeadsToItsCause) {
  window->show_station(Station::car);
  QTest::mouseClick(find<QWidget>("verdict tightest"), Qt::LeftButton);
  EXPECT_EQ(window->station(), Station::slosh);
  EXPECT_EQ(workspace().selection.cursor(), workspace().runs.verdict()->lap->clean.at.tightest);
  QTest::mouseClick(find<QWidget>("verdict start"), Qt::LeftButton);
  EXPECT_EQ(window->station(), Station::sessions);
  EXPECT_TRUE(find<QTextBrowser>("working")->toPlainText().contains("V_start = V_end"));
}

TEST_F(Window, EveryFigureOfThePlanOpensItsWorking) {
  window->show_station(Station::sessions);
  auto* plan = find<QTableWidget>("plan");
  auto* working = find<QTextBrowser>("working");
  for (const auto& [column, formula] : {std::pair{2, "integral of the engine"},
                                        {3, "V_end = least V"},
                                        {5, "V_start ="},
                                        {6, "m = rho V_start"},
                                        {10, "V_back ="},
                                        {12, "m = rho V_back"}}) {
    QTest::mouseClick(plan->viewport(), Qt::LeftButton, {},
                      plan->visualItemRect(plan->item(1, column)).center());
    settle();
    EXPECT_TRUE(working->toPlainText().contains(formula)) << column << working->toPlainText().toStdString();
  }
  EXPECT_EQ(workspace().selection.session_index(), 1) << "the row's session is the chosen one";
}

TEST_F(Window, ChoosingASetupChangesTheVerdict) {
  const double with_surge = start();
  auto* setups = find<QComboBox>("setup");
  setups->setFocus();
  QTest::keyClick(setups, Qt::Key_Down);
  EXPECT_GT(start(), with_surge + 10e-3);
  EXPECT_EQ(workspace().selection.setup_index(), 1);
}

TEST_F(Window, ARefusedEditChangesNothingAndSaysWhy) {
  window->show_station(Station::car);
  const project::Project before = workspace().project();
  auto* field = find<QLineEdit>("Ethanol by volume");
  for (const char* text : {"140", "-3", "lots", "nan"}) {
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
    EXPECT_EQ(workspace().project(), before) << text;
    EXPECT_TRUE(window->notice().isVisible());
    EXPECT_TRUE(window->notice().text().contains("Ethanol by volume"))
        << window->notice().text().toStdString();
    EXPECT_EQ(field->text(), "20.0 %");
  }
}

TEST_F(Window, TablesPasteAllOrNothing) {
  window->show_station(Station::tank);
  auto* table = find<QTableWidget>("pickups");
  table->setCurrentCell(0, 1);
  const project::Project before = workspace().project();
  QApplication::clipboard()->setText("-150\t160\t8\n-150\t-160\tx\n");
  QTest::keyClick(table, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(workspace().project(), before);
  QApplication::clipboard()->setText("-150\t160\t8\n-150\t-160\t8\n");
  QTest::keyClick(table, Qt::Key_V, Qt::ControlModifier);
  EXPECT_NEAR((pickup(1) - Vec3(-0.15, -0.16, 0.008)).norm(), 0, 1e-12);
  EXPECT_EQ(workspace().document.undo()->count(), 1);
  table->selectAll();
  QTest::keyClick(table, Qt::Key_C, Qt::ControlModifier);
  EXPECT_TRUE(QApplication::clipboard()->text().startsWith("rear left\t-150\t160\t8\t22\tlift left\n"));
}

TEST_F(Window, AMissingLapIsTroubleAtItsStation) {
  std::filesystem::remove(folder / "laps/brackenholt-p4.csv");
  ASSERT_TRUE(window->open(path()));
  settle();
  settle_all();
  EXPECT_EQ(window->findChild<SightGlass*>()->state(Station::laps), StationState::trouble);
  EXPECT_TRUE(window->notice().text().contains("brackenholt-p4.csv"));
  for (int i = 0; i < station_count; ++i) {
    window->show_station(static_cast<Station>(i));
    settle_all();
  }
}

TEST_F(Window, ADroppedProjectIsOpened) {
  QMimeData mime;
  mime.setUrls({QUrl::fromLocalFile(QString::fromStdString((folder / "ostrel-wisp.uadze.json").string()))});
  QDragEnterEvent enter(QPoint(50, 50), Qt::CopyAction, &mime, Qt::LeftButton, {});
  QApplication::sendEvent(window.get(), &enter);
  EXPECT_TRUE(enter.isAccepted());
  QDropEvent drop(QPointF(50, 50), Qt::CopyAction, &mime, Qt::LeftButton, {});
  QApplication::sendEvent(window.get(), &drop);
  settle();
  EXPECT_EQ(workspace().setup()->name, "Wisp, pickup in front");
}

TEST_F(Window, UnitsChangeEveryFigureAndNoValue) {
  const project::Project before = workspace().project();
  workspace().appearance.set_units(UnitSystem::us());
  EXPECT_TRUE(window->verdict().start_text().contains("US gal"));
  window->show_station(Station::tank);
  auto* table = find<QTableWidget>("pickups");
  EXPECT_EQ(table->horizontalHeaderItem(1)->text(), "x\n[in]");
  EXPECT_EQ(table->item(0, 1)->text(), "-5.91");
  EXPECT_EQ(workspace().project(), before);
  workspace().appearance.set_units({});
}

TEST_F(Window, ARunCanBeStoppedAndStartedAgain) {
  workspace().document.edit("level", [](project::Project& p) { p.setups[0].surge->volume = 1.4e-3; });
  workspace().runs.evaluator.cancel();
  EXPECT_FALSE(workspace().runs.evaluator.running());
  EXPECT_TRUE(workspace().runs.evaluator.stale()) << "what is known is marked as old";
  EXPECT_EQ(window->findChild<SightGlass*>()->state(Station::slosh), StationState::stale);
  workspace().evaluate();
  settle();
  EXPECT_FALSE(workspace().runs.evaluator.stale());
}

TEST_F(Window, ComingBackToAnOldStateIsInstantAndTheSame) {
  const double before = start();
  workspace().document.edit("lift", [](project::Project& p) { p.sessions[0].sample += 1e-3; });
  EXPECT_NE(start(), before);
  workspace().document.undo()->undo();
  EXPECT_EQ(start(), before);
}

TEST_F(Window, NoLabelIsClippedAtTheSmallestSize) {
  for (const bool dark : {false, true}) {
    workspace().appearance.set_dark(dark, false);
    on_each_page(
        *window, [this] { settle_all(); },
        [&](const QString& where) {
          EXPECT_LE(window->width(), 1280);
          EXPECT_LE(window->height(), 800);
          for (const QString& words : cut_words(*window))
            ADD_FAILURE() << where.toStdString() << ": " << words.toStdString();
        });
  }
}

TEST_F(Window, AStationFirstSeenLateShowsWhatOneSeenBeforeShows) {
  // Beside this window, which has made none of its stations but the first, one that made all when it was
  // empty.
  MainWindow before;
  before.workspace().runs.set_effort(effort(false));
  before.workspace().runs.set_draws({.risk = {}, .draws = 2000});
  before.show();
  for (int i = 0; i < station_count; ++i) before.show_station(static_cast<Station>(i));
  ASSERT_TRUE(before.open(path()));
  const auto look = [this](MainWindow& at, int station) {
    at.show_station(static_cast<Station>(station));
    settle_all();
    if (QWidget* field = at.focusWidget()) field->clearFocus();
    std::vector<QImage> out;
    for (auto* pages : at.findChild<QSplitter*>()->findChildren<QStackedWidget*>(Qt::FindDirectChildrenOnly))
      out.push_back(pages->currentWidget()->grab().toImage());
    return out;
  };
  for (int i = 0; i < station_count; ++i) {
    const auto late = look(*window, i), early = look(before, i);
    ASSERT_EQ(late.size(), 2u);
    EXPECT_TRUE(late[0] == early[0]) << "the picture of station " << i + 1;
    EXPECT_TRUE(late[1] == early[1]) << "the side of station " << i + 1;
  }
}

TEST_F(Window, SavesAPictureOfEveryStation) {
  const QString out = QString::fromStdString((folder / "pictures").string());
  const QStringList files = window->save_pictures(out);
  ASSERT_EQ(files.size(), station_count);
  QImage tank(files[1]);
  EXPECT_EQ(tank.size(), window->size() * window->devicePixelRatioF());
  // The fuel is really drawn: some pixels of the tank's picture have its colour.
  int fuel = 0;
  for (int y = 150; y < tank.height() - 150; y += 3)
    for (int x = 150; x < 850; x += 3) {
      const QColor c = tank.pixelColor(x, y);
      fuel += c.blue() > c.red() + 40 && c.green() > c.red() + 30;
    }
  EXPECT_GT(fuel, 50);
}
/// Prints the event loop's longest stop; the figure that counts comes from bench/stops on a quiet machine.
TEST_F(Window, IsNotHeldByMovingLevelCursorAndPickup) {
  auto& w = workspace();
  const double tank = w.runs.car()->tank->volume();
  window->show_station(Station::slosh);
  const auto level = test::longest_stop(
      window.get(), 20, [&](int k) { w.selection.pick_level(tank * (0.05 + 0.9 * (k % 20) / 20)); });
  const auto cursor =
      test::longest_stop(window.get(), 20, [&](int k) { w.set_cursor(static_cast<size_t>(k) * 137); });
  window->show_station(Station::tank);
  const auto moved = test::longest_stop(window.get(), 20, [&](int k) {
    w.document.edit("move", [&](project::Project& p) {
      p.setups[0].tank.pickups[0].position.z() += k % 2 ? 1e-3 : -1e-3;
    });
  });
  std::printf("longest stop: level %.1f ms, cursor %.1f ms, pickup %.1f ms\n", level.passed, cursor.passed,
              moved.passed);
  EXPECT_LT(std::max({level.busy, cursor.busy, moved.busy}), 2000)
      << "of its own thread, whatever else the machine does; far more than drawing takes";
}

}  // namespace
}  // namespace uadze::gui
