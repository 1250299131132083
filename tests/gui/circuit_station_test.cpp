// The Circuit station: operating point, what-ifs, parts chosen, edited, dragged in, taken out.
#include <QCheckBox>
#include <QComboBox>
#include <QHelpEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMimeData>
#include <QPushButton>
#include <QSlider>
#include <QTabWidget>
#include <QTableWidget>
#include <QTextBrowser>
#include <QToolTip>
#include <cmath>
#include <set>

#include "gui/frame/sight_glass.h"
#include "gui/stations/circuit/circuit_view.h"
#include "gui/widgets/plot.h"
#include "gui/window_fixture.h"

namespace uadze::gui {
namespace {

using circuit::LegKind;

class CircuitStationTest : public WindowTest {
 protected:
  explicit CircuitStationTest(const char* project = "ostrel-p4.uadze.json") : WindowTest(project) {}
  void SetUp() override {
    WindowTest::SetUp();
    window->show_station(Station::circuit);
    settle_all();
    view = find<CircuitView>("circuit");
  }
  void full_load() {
    if (auto* box = find<QCheckBox>("at the cursor"); box->isChecked())
      QTest::mouseClick(box, Qt::LeftButton, {}, {8, 8});
    settle_all();
  }
  QString said() { return find<QTextBrowser>("working")->toPlainText(); }
  /// Words follow a little later than the picture, and later still on a busy machine.
  bool says(const QString& text) {
    return wait_for([&] { return said().contains(text); });
  }
  const circuit::Circuit& circuit() { return *workspace().setup()->circuit; }
  void click(const CircuitChoice& what) {
    QTest::mouseClick(view, Qt::LeftButton, {}, view->place_of(what).toPoint());
  }
  void tab(const QString& name) {
    auto* tabs = find<QTabWidget>("circuit tabs");
    for (int k = 0; k < tabs->count(); ++k)
      if (tabs->tabText(k) == name) tabs->setCurrentIndex(k);
    settle_all();
  }
  CircuitView* view = nullptr;
};

class TarnCircuit : public CircuitStationTest {
 protected:
  TarnCircuit() : CircuitStationTest("ostrel-tarn.uadze.json") {}
};

TEST_F(CircuitStationTest, TheManifoldGoesWithThePowerUntilItIsMovedByHand) {
  full_load();
  auto *power = find<QSlider>("slider Power"), *manifold = find<QSlider>("slider Manifold");
  const auto says_by_hand = [&] {
    for (auto* label : window->findChildren<QLabel*>())
      if (label->text().startsWith("Manifold") && label->text().contains("by hand")) return true;
    return false;
  };
  const int full = manifold->value();
  power->setValue(power->minimum());
  settle_all();
  EXPECT_LT(manifold->value(), full) << "idle sucks";
  EXPECT_FALSE(says_by_hand());
  manifold->setValue(full);
  settle_all();
  EXPECT_TRUE(says_by_hand());
  power->setValue(power->maximum() / 2);
  settle_all();
  EXPECT_EQ(manifold->value(), full) << "it stays where the hand put it";
  QTest::mouseClick(find<QPushButton>("full load"), Qt::LeftButton);
  settle_all();
  EXPECT_FALSE(says_by_hand());
}

TEST_F(CircuitStationTest, FollowsTheCursorOrTheSliders) {
  auto* power = find<QSlider>("slider Power");
  workspace().set_cursor(0);
  settle_all();
  const int at_start = power->value();
  workspace().set_cursor(1200);
  settle_all();
  EXPECT_TRUE(wait_for([&] { return power->value() != at_start; }))
      << "the slider shows what the lap asks for";
  power->setFocus();
  QTest::keyClick(power, Qt::Key_Home);
  settle_all();
  EXPECT_TRUE(wait_for([this] { return !find<QCheckBox>("at the cursor")->isChecked(); }))
      << "a hand on the slider lets the cursor go";
  EXPECT_TRUE(says("The circuit carries this"));
}

TEST_F(CircuitStationTest, AWhatIfBringsAPlainVerdictAtItsPart) {
  full_load();
  QTest::mouseClick(find<QPushButton>("what if main-dead"), Qt::LeftButton);
  settle_all();
  EXPECT_TRUE(says("The rail is starved: 2.9")) << said().toStdString();
  QTest::mouseClick(find<QPushButton>("what if main-dead"), Qt::LeftButton);
  settle_all();
  EXPECT_TRUE(says("The circuit carries this"));
  EXPECT_EQ(steps(), 0) << "a what-if is no edit";
}

TEST_F(TarnCircuit, TheSmallReturnOverwhelmsAtIdle) {
  QTest::mouseClick(find<QPushButton>("what if small-return"), Qt::LeftButton);
  auto* power = find<QSlider>("slider Power");
  power->setFocus();
  QTest::keyClick(power, Qt::Key_Home);
  settle_all();
  EXPECT_TRUE(says("Winding the regulator down does not help"));
  tab("Gauge card");
  EXPECT_EQ(find<QTableWidget>("Gauge card")->rowCount(), 5);
}

TEST_F(CircuitStationTest, APartIsChosenAndChangedAndTheChangeUndone) {
  full_load();
  const CircuitChoice pump{{LegKind::main, 0}, 0};
  click(pump);
  ASSERT_TRUE(view->chosen());
  EXPECT_EQ(*view->chosen(), pump);
  auto* length = find<QLineEdit>("Feed length");
  type(length, "4 m");
  settle_all();
  EXPECT_NEAR(circuit().mains[0].parts[0].wiring.feed_length, 4.0, 1e-12);
  EXPECT_EQ(steps(), 1);
  workspace().document.undo()->undo();
  EXPECT_NEAR(circuit().mains[0].parts[0].wiring.feed_length, 1.8, 1e-12);
}

TEST_F(CircuitStationTest, FullLoadPutsAllConditionsBack) {
  QTest::mouseClick(find<QPushButton>("what if hot-fuel"), Qt::LeftButton);
  auto* power = find<QSlider>("slider Power");
  power->setFocus();
  QTest::keyClick(power, Qt::Key_Home);
  settle_all();
  QTest::mouseClick(find<QPushButton>("full load"), Qt::LeftButton);
  settle_all();
  EXPECT_FALSE(find<QPushButton>("what if hot-fuel")->isChecked());
  EXPECT_FALSE(find<QCheckBox>("at the cursor")->isChecked());
  EXPECT_NEAR(power->value(), std::lround(200 / 1.3), 1);
  EXPECT_TRUE(says("The circuit carries this: 2.99 bar"));
}

TEST_F(CircuitStationTest, EngineSideAndStageAreEdited) {
  full_load();
  const double before = circuit().regulator.base;
  click({{LegKind::rail, 0}, -1});
  auto* base = find<QLineEdit>("Base pressure");
  type(base, "58 psi");
  settle_all();
  EXPECT_NEAR(circuit().regulator.base, 58 * 6894.757, 5);
  EXPECT_GT(circuit().regulator.base, before);
  click({{LegKind::main, 1}, -1});
  auto* on = find<QLineEdit>("On above");
  type(on, "30");
  settle_all();
  EXPECT_NEAR(circuit().mains[1].stage.on, 0.7, 1e-12) << "on below off would switch to and fro: refused";
  auto* by = find<QComboBox>("Runs by");
  by->setCurrentIndex(3);
  emit by->activated(3);
  settle_all();
  EXPECT_EQ(circuit().mains[1].stage.by, circuit::StageBy::demand);
  EXPECT_TRUE(find<QLineEdit>("On above")->text().contains("L/h")) << "the form follows the kind of stage";
}

TEST_F(CircuitStationTest, AWaterShiftReadingMovesTheDemand) {
  full_load();
  view->choose(std::nullopt);
  auto* measured = find<QComboBox>("Measured");
  measured->setCurrentIndex(1);
  emit measured->activated(1);
  settle_all();
  ASSERT_TRUE(workspace().setup()->tube);
  auto* boundary = find<QLineEdit>("Boundary at");
  type(boundary, "60 ml");
  settle_all();
  EXPECT_NEAR(solve::fuel_of(*workspace().setup()).ethanol, 50.0 / 90 + 0.02, 1e-6);
  EXPECT_GT(solve::demand_factor(*workspace().setup()), 1.1);
  type(boundary, "500 ml");
  settle_all();
  EXPECT_NEAR(workspace().setup()->tube->boundary, 60e-6, 1e-12) << "more than was poured can not be";
}

TEST_F(CircuitStationTest, SpeedWaysAndTwoRailsAreSetByHandAndUndone) {
  full_load();
  const auto choose = [&](const char* what, int k) {
    auto* box = find<QComboBox>(what);
    box->setCurrentIndex(k);
    emit box->activated(k);
  };
  click({{LegKind::main, 1}, 0});
  choose("Speed", 2);
  settle_all();
  const auto& speed = [&]() -> const circuit::PumpSpeed& { return circuit().mains[1].parts[0].speed; };
  ASSERT_EQ(speed().control, circuit::SpeedControl::modulated);
  EXPECT_EQ(speed().points.size(), 2u) << "a table to begin with";
  click({{LegKind::feed, 0}, 3});
  choose("Way", 1);
  click({{LegKind::feed, 0}, 4});
  choose("Way", 2);
  settle_all();
  EXPECT_EQ(circuit().feed[3].way, 1);
  EXPECT_EQ(circuit().feed[4].way, 2);
  EXPECT_TRUE(says("The circuit carries this"));
  click({{LegKind::rail, 0}, -1});
  choose("Rails", 2);
  settle_all();
  EXPECT_EQ(circuit().rail.rails, circuit::Rails::side_by_side);
  EXPECT_GT(circuit().rail.crossover_bore, 0) << "what two rails need comes with them";
  EXPECT_TRUE(says("The circuit carries this"));
  EXPECT_EQ(steps(), 4);
  for (int k = 0; k < 4; ++k) workspace().document.undo()->undo();
  EXPECT_EQ(circuit().rail.rails, circuit::Rails::one);
  EXPECT_EQ(speed().control, circuit::SpeedControl::none);
}

TEST_F(CircuitStationTest, AMainPumpIsAddedAndTakenOut) {
  QTest::mouseClick(find<QPushButton>("Add main"), Qt::LeftButton);
  ASSERT_EQ(circuit().mains.size(), 3u);
  QTest::mouseClick(find<QPushButton>("Add main"), Qt::LeftButton);
  QTest::mouseClick(find<QPushButton>("Add main"), Qt::LeftButton);
  EXPECT_EQ(circuit().mains.size(), 4u) << "four at most";
  settle_all();
  click({{LegKind::main, 2}, -1});
  QTest::mouseClick(find<QPushButton>("Remove"), Qt::LeftButton);
  EXPECT_EQ(circuit().mains.size(), 3u);
}

TEST_F(CircuitStationTest, SurgeTankOutAndInKeepsTheCircuitWhole) {
  workspace().document.edit("out", [](project::Project& p) { p.setups[0].surge.reset(); });
  settle_all();
  EXPECT_FALSE(workspace().setup()->surge);
  EXPECT_TRUE(workspace().setup()->circuit);
  workspace().document.undo()->undo();
  EXPECT_TRUE(workspace().setup()->surge);
  EXPECT_EQ(circuit().lifts.size(), 2u);
}

TEST_F(CircuitStationTest, TipsTellFlowAndVelocity) {
  full_load();
  const QPointF at = view->place_of({{LegKind::feed, 0}, 1});
  QHelpEvent help(QEvent::ToolTip, at.toPoint(), view->mapToGlobal(at.toPoint()));
  QApplication::sendEvent(view, &help);
  settle_all();
  EXPECT_TRUE(QToolTip::text().contains("Reynolds number")) << QToolTip::text().toStdString();
}

TEST_F(CircuitStationTest, KeysWalkThroughTheCircuit) {
  view->setFocus();
  QTest::keyClick(view, Qt::Key_Down);
  ASSERT_TRUE(view->chosen());
  EXPECT_EQ(view->chosen()->leg.kind, LegKind::lift);
  QTest::keyClick(view, Qt::Key_Right);
  QTest::keyClick(view, Qt::Key_Right);
  EXPECT_EQ(view->chosen()->part, 1);
  for (int k = 0; k < 10; ++k) QTest::keyClick(view, Qt::Key_Down);
  EXPECT_EQ(view->chosen()->leg.kind, LegKind::back);
  QTest::keyClick(view, Qt::Key_Escape);
  EXPECT_FALSE(view->chosen());
}

TEST_F(CircuitStationTest, CataloguePartsGoInByDropAndByReturnAndOutAgain) {
  const size_t before = circuit().feed.size();
  QMimeData carried;
  carried.setData(CircuitView::part_mime, "filter\nfine filter, 10 micron");
  const QPointF at = view->place_of({{LegKind::feed, 0}, 0}) - QPointF(30, 0);
  QDragEnterEvent enter(at.toPoint(), Qt::CopyAction, &carried, Qt::LeftButton, {});
  QApplication::sendEvent(view, &enter);
  QDragMoveEvent move(at.toPoint(), Qt::CopyAction, &carried, Qt::LeftButton, {});
  QApplication::sendEvent(view, &move);
  QDropEvent drop(at, Qt::CopyAction, &carried, Qt::LeftButton, {});
  QApplication::sendEvent(view, &drop);
  settle_all();
  ASSERT_EQ(circuit().feed.size(), before + 1);
  EXPECT_EQ(circuit().feed[0].type, "fine filter, 10 micron");

  find_accessible<QComboBox>("Kind of part")->setCurrentText("sensor");
  auto* list = find<QListWidget>("catalogue");
  list->setCurrentRow(1);
  list->setFocus();
  QTest::keyClick(list, Qt::Key_Return);
  settle_all();
  ASSERT_EQ(circuit().feed.size(), before + 2);
  EXPECT_EQ(circuit().feed[1].type, "flow meter, turbine") << "behind the chosen part";
  ASSERT_TRUE(view->chosen());
  EXPECT_EQ(view->chosen()->part, 1);
  QTest::mouseClick(find<QPushButton>("Later"), Qt::LeftButton);
  EXPECT_EQ(circuit().feed[2].type, "flow meter, turbine");
  QTest::mouseClick(find<QPushButton>("Remove"), Qt::LeftButton);
  EXPECT_EQ(circuit().feed.size(), before + 1);
  workspace().document.undo()->undo();
  EXPECT_EQ(circuit().feed[2].type, "flow meter, turbine");
}

TEST_F(CircuitStationTest, WhatCanNotBeIsRefusedWhole) {
  click({{LegKind::main, 0}, 0});
  QTest::mouseClick(find<QPushButton>("Remove"), Qt::LeftButton);
  EXPECT_EQ(circuit().mains[0].parts[0].kind, circuit::PartKind::pump) << "a main leg needs its pump";
  EXPECT_EQ(steps(), 0);
}

TEST_F(CircuitStationTest, EveryPageShowsSomething) {
  full_load();
  // A lap and a session are computed in the background once a page wants them.
  tab("Session");
  EXPECT_TRUE(wait_for([this] { return find<QLabel>("heat and charge")->text().contains("Staging saves"); }));
  // Each page's figures come from the background too: an empty page is waited for, not a fault yet.
  const auto colours_shown = [this] {
    const QImage picture = find<QTabWidget>("circuit tabs")->currentWidget()->grab().toImage();
    std::set<QRgb> colours;
    for (int y = 0; y < picture.height(); y += 2)
      for (int x = 0; x < picture.width(); x += 2) colours.insert(picture.pixel(x, y));
    return colours.size();
  };
  for (const char* name : {"Power", "Pump", "Budget", "Wiring", "Gauge card", "Lines", "Lap", "Session"}) {
    tab(name);
    EXPECT_TRUE(wait_for([&] { return colours_shown() > 4; })) << name;
  }
  tab("Lines");
  EXPECT_GT(find<QTableWidget>("Line sizes")->rowCount(), 10);
}

TEST_F(CircuitStationTest, ThePlotFillsItsPage) {
  auto* plot = find<QCustomPlot>("Available and required flow along power");
  EXPECT_GT(plot->width(), 600);
  EXPECT_EQ(plot->viewport().width(), plot->width());
  EXPECT_GT(plot->axisRect()->width(), 400);
  EXPECT_LE(plot->legend->outerRect().right(), plot->width());
}

TEST_F(CircuitStationTest, TwoSetupsAreCompared) {
  full_load();
  auto* compare = find_accessible<QComboBox>("Compare with");
  compare->setCurrentIndex(compare->findText("P4, surge removed"));
  emit compare->activated(compare->currentIndex());
  settle_all();
  tab("Power");
  auto* plot = find<QCustomPlot>("Available and required flow along power");
  bool found = false;
  for (int k = 0; k < plot->graphCount(); ++k)
    found = found || plot->graph(k)->name().contains("P4, surge removed");
  EXPECT_TRUE(found);
}

TEST_F(CircuitStationTest, ANewProjectStartsAPlainCircuit) {
  workspace().document.undo()->setClean();
  workspace().document.start_new();
  workspace().selection.reset();
  settle_all();
  auto* glass = window->findChild<SightGlass*>();
  EXPECT_EQ(glass->state(Station::circuit), StationState::empty);
  QTest::mouseClick(find<QPushButton>("start a circuit"), Qt::LeftButton);
  settle_all();
  ASSERT_TRUE(workspace().setup()->circuit);
  EXPECT_TRUE(glass->state(Station::circuit) == StationState::good);
}

TEST_F(CircuitStationTest, NothingClipsInEitherTheme) {
  full_load();
  for (bool dark : {false, true}) {
    workspace().appearance.set_dark(dark, false);
    settle_all();
    for (auto* b : window->findChildren<QPushButton*>())
      if (b->isVisible() && b->objectName().startsWith("what if")) {
        EXPECT_GE(b->width(), b->fontMetrics().horizontalAdvance(b->text()) + 4) << b->text().toStdString();
      }
  }
}

}  // namespace
}  // namespace uadze::gui
