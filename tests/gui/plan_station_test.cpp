// Sizing and Sessions stations, setups side by side, the map's layers, in a real window.
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QScrollBar>
#include <QSpinBox>
#include <QTabWidget>
#include <QTableWidget>

#include "card/session_card.h"
#include "core/solve/search.h"
#include "gui/stations/slosh/compare_view.h"
#include "gui/stations/slosh/map_view.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

class Plans : public WindowTest {
 protected:
  bool says(const QString& label, const QString& part) {
    return wait_for([&] { return find<QLabel>(label)->text().contains(part); });
  }
  void tab(const QString& tabs, int index) { find<QTabWidget>(tabs)->setCurrentIndex(index); }
};

TEST_F(Plans, TheVerdictIsThePlanAtItsRiskWithReserveAndRailMargin) {
  const auto* v = workspace().runs.verdict();
  ASSERT_TRUE(v);
  EXPECT_GT(v->risk.start, v->risk.start_mean);
  ASSERT_TRUE(workspace().runs.evaluator.result().at_back);
  EXPECT_FALSE(workspace().runs.first());
  QTest::mouseClick(find<QWidget>("verdict rail"), Qt::LeftButton);
  EXPECT_EQ(window->station(), Station::circuit);
  // Its second pump comes late: the cursor goes to where.
  const auto& faults = v->lap->course.delivery->faults;
  ASSERT_FALSE(faults.empty());
  EXPECT_EQ(workspace().selection.cursor(), v->lap->lap->value.index_at(faults.front().start));
  EXPECT_TRUE(find<QWidget>("verdict rail")->toolTip().contains("comes late"));
}

TEST_F(Plans, AnEditBringsARoughAnswerFirst) {
  bool rough = false;
  QObject::connect(&workspace().runs.evaluator, &Evaluator::updated, window.get(),
                   [&] { rough = rough || workspace().runs.first(); });
  workspace().document.edit("smaller", [](project::Project& p) { p.setups[0].surge->volume = 0.8e-3; });
  settle();
  EXPECT_TRUE(rough);
  EXPECT_FALSE(workspace().runs.first());
  ASSERT_TRUE(workspace().runs.evaluator.result().lap);
  ASSERT_TRUE(workspace().runs.map());
  EXPECT_FALSE(workspace().runs.map()->rows.empty());
}

TEST_F(Plans, RiskScatterAndRuleAreEditedAndUndone) {
  window->show_station(Station::sessions);
  const double before = start();
  type(find<QLineEdit>("Accepted risk"), "0.1 %");
  EXPECT_NEAR(workspace().selection.session()->risk, 0.001, 1e-12);
  EXPECT_GT(start(), before);
  type(find<QLineEdit>("Accepted risk"), "70 %");
  EXPECT_NEAR(workspace().selection.session()->risk, 0.001, 1e-12) << "refused";
  workspace().document.undo()->undo();
  EXPECT_EQ(start(), before);
  auto* rule = find<QLineEdit>("Rule of thumb");
  type(rule, "30 %");
  EXPECT_NEAR(*workspace().selection.session()->rule, 0.3, 1e-12);
  EXPECT_TRUE(says("rule says", "30 %"));
  rule->selectAll();
  QTest::keyClick(rule, Qt::Key_Delete);
  QTest::keyClick(rule, Qt::Key_Return);
  EXPECT_FALSE(workspace().selection.session()->rule);
  type(find<QLineEdit>("Grip"), "70 %");
  settle();
  EXPECT_LT(
      workspace().runs.lap()->value.lateral[500] / workspace()
                                                       .document.sources()
                                                       ->laps.get(*workspace().selection.lap_reference())
                                                       ->value.lateral[500],
      0.71)
      << "all stations see the wet lap";
}

TEST_F(Plans, WhatARigFoundAfterASessionMovesItsPlanAndIsUndone) {
  window->show_station(Station::sessions);
  tab("session tabs", 3);
  const double before = workspace().runs.verdict()->plan.consumption;
  EXPECT_TRUE(find<QLabel>("learnt")->text().contains("by the rig"));
  QTest::mouseClick(find<QPushButton>("Add to After the session"), Qt::LeftButton);
  settle();
  ASSERT_EQ(workspace().project().records.size(), 1u);
  EXPECT_EQ(workspace().project().records[0].session, workspace().selection.session()->name);
  auto* table = find_accessible<QTableWidget>("After the session");
  table->item(0, 3)->setText("0.5 L");  // far less is left than was planned
  settle();
  const auto* v = workspace().runs.verdict();
  ASSERT_TRUE(v->learnt);
  EXPECT_GT(v->plan.consumption, before);
  EXPECT_TRUE(says("learnt", "a lap instead of"));
  table->item(0, 3)->setText("90 L");
  EXPECT_NEAR(workspace().project().records[0].drained, 0.5e-3, 1e-9) << "more than was put in: refused";
  while (workspace().document.undo()->canUndo()) workspace().document.undo()->undo();
  settle();
  EXPECT_EQ(workspace().runs.verdict()->plan.consumption, before);
}

TEST_F(Plans, ASeedGivesTheSamePlanAgain) {
  window->show_station(Station::sessions);
  const double first = start();
  auto* seed = find<QSpinBox>("seed");
  seed->setValue(42);
  const double other = start();
  EXPECT_NE(first, other);
  seed->setValue(1);
  EXPECT_EQ(start(), first);
}

TEST_F(Plans, TheTableShowsGaugeDipAndTheRule) {
  window->show_station(Station::sessions);
  auto* plan = find<QTableWidget>("plan");
  ASSERT_EQ(plan->rowCount(), 5);
  for (int column : {1, 2, 3, 5, 8, 9, 10, 11, 12})
    EXPECT_FALSE(plan->item(0, column)->text().trimmed().isEmpty()) << column;
  EXPECT_TRUE(plan->item(0, 13)->text().contains("kg")) << plan->item(0, 13)->text().toStdString();
  auto* stints = find<QTableWidget>("Stints");
  workspace().selection.choose_session(2);
  settle();
  EXPECT_EQ(stints->rowCount(), 8);
  EXPECT_EQ(stints->item(0, 1)->text(), "2") << "four minutes of 16 s, shared by eight";
  EXPECT_EQ(find<QTableWidget>("What to put in")->rowCount(), 7);
  EXPECT_TRUE(says("rule says", "rule of thumb"));
}

TEST_F(Plans, WhereNoFuelIsEnoughNothingSaysHowMuch) {
  // Boiling, it comes to no pump.
  workspace().document.edit("hot", [](project::Project& p) { p.setups[0].fuel.temperature = 338.15; });
  settle();
  window->show_station(Station::sessions);
  const auto* v = workspace().runs.verdict();
  ASSERT_TRUE(v);
  ASSERT_FALSE(v->possible());
  auto* plan = find<QTableWidget>("plan");
  EXPECT_TRUE(plan->item(0, 5)->text().contains("none"));
  for (int column : {4, 6, 7, 8, 9, 10, 11, 12})
    EXPECT_EQ(plan->item(0, column)->text(), "–") << plan->horizontalHeaderItem(column)->text().toStdString();
  EXPECT_EQ(find<QTableWidget>("Stints")->rowCount(), 0);
  EXPECT_EQ(find<QTableWidget>("What to put in")->rowCount(), 0);
  EXPECT_TRUE(says("rule says", "No fuel is enough"));
  EXPECT_FALSE(find<QLabel>("rule says")->text().contains("shorter stints"));
}

TEST_F(Plans, TheSurgeTankIsSizedAndEditedInPlace) {
  window->show_station(Station::sizing);
  EXPECT_TRUE(says("surge says", "Fitted"));
  EXPECT_GT(find<QTableWidget>("Shapes")->rowCount(), 4);
  type(find<QLineEdit>("Volume"), "2.2 L");
  EXPECT_NEAR(workspace().setup()->surge->volume, 2.2e-3, 1e-9);
  settle();
  EXPECT_TRUE(says("surge says", "2.20 L"));
  type(find<QLineEdit>("Pickup, forward"), "900 mm");
  EXPECT_EQ(workspace().setup()->surge->pickup.x(), 0) << "outside the surge tank: refused";
  tab("sizing tabs", 1);
  auto* mains = find<QTableWidget>("Main pumps");
  EXPECT_TRUE(wait_for([&] { return mains->rowCount() > 8; }));
  EXPECT_EQ(mains->item(0, 0)->text(), "enough");
  EXPECT_EQ(mains->findItems("enough, fitted", Qt::MatchExactly).size(), 1);
  EXPECT_EQ(mains->horizontalScrollBar()->maximum(), 0) << "a choice is read without moving the table";
  EXPECT_TRUE(says("staging says", "2 × main pump, 190 l/h class: the first alone"));
  const auto* lifts = find<QTableWidget>("Lift pumps");
  tab("sizing tabs", 2);
  EXPECT_GT(find<QTableWidget>("Lines, filters and wiring")->rowCount(), 6);
  // Without lift pumps there is nothing to size, and it says so.
  workspace().selection.choose_setup(1);
  settle();
  tab("sizing tabs", 0);
  EXPECT_TRUE(says("surge says", "no lift pumps"));
  tab("sizing tabs", 1);
  EXPECT_TRUE(wait_for([&] { return mains->rowCount() > 8; }));
  EXPECT_FALSE(lifts->isVisible()) << "no empty frame";
}

TEST_F(Plans, TheSearchKeepsAlternativesAndOpensOneAsASetup) {
  window->show_station(Station::sizing);
  tab("sizing tabs", 3);
  auto* run = find<QPushButton>("run search");
  auto* found = find<QTableWidget>("alternatives found");
  const auto* hint = found->findChild<QLabel*>("says when empty");
  ASSERT_NE(hint, nullptr);
  EXPECT_TRUE(hint->isVisible());
  QTest::mouseClick(run, Qt::LeftButton);
  EXPECT_TRUE(says("search says", "options for 2 to")) << "nothing to vary";
  find<QLineEdit>("search volumes")->setText("minus one");
  QTest::mouseClick(run, Qt::LeftButton);
  EXPECT_TRUE(says("search says", "▲"));
  find<QLineEdit>("search volumes")->setText("0.8 L");
  QTest::mouseClick(run, Qt::LeftButton);
  EXPECT_TRUE(says("search says", "not beaten"));
  ASSERT_GE(found->rowCount(), 1);
  EXPECT_FALSE(hint->isVisible());
  // What was found follows the units, as what may be entered does.
  workspace().appearance.set_units(UnitSystem::us(), false);
  EXPECT_TRUE(found->item(0, 0)->text().contains("gal")) << found->item(0, 0)->text().toStdString();
  EXPECT_TRUE(find<QLineEdit>("search shifts")->placeholderText().contains("in"));
  int row = 0;
  while (row + 1 < found->rowCount() && !found->item(row, 6)->text().contains("0.8")) ++row;
  found->setCurrentCell(row, 0);
  const size_t before = workspace().project().setups.size();
  QTest::mouseClick(find<QPushButton>("open alternative"), Qt::LeftButton);
  EXPECT_EQ(workspace().project().setups.size(), before + 1);
  EXPECT_NEAR(workspace().setup()->surge->volume, 0.8e-3, 1e-9);
  workspace().document.undo()->undo();
  EXPECT_EQ(workspace().project().setups.size(), before);
}

TEST_F(Plans, ASearchCanBeStopped) {
  window->show_station(Station::sizing);
  tab("sizing tabs", 3);
  find<QLineEdit>("search volumes")->setText("0.8 L; 1 L; 2 L; 3 L; 4 L");
  find<QLineEdit>("search shifts")->setText("-10 mm; 10 mm");
  QTest::mouseClick(find<QPushButton>("run search"), Qt::LeftButton);
  QTest::mouseClick(find<QPushButton>("stop search"), Qt::LeftButton);
  EXPECT_TRUE(says("search says", "stopped"));
}

TEST_F(Plans, SetupsStandSideBySideOnTheSameLap) {
  window->show_station(Station::slosh);
  workspace().selection.pick_level(10e-3);
  tab("slosh tabs", 4);
  auto* table = find<QTableWidget>("compare");
  EXPECT_TRUE(wait_for([&] { return table->rowCount() == 2 && table->item(1, 1); }));
  EXPECT_EQ(table->item(0, 1)->text(), "clean");
  EXPECT_TRUE(table->item(1, 1)->text().contains("events"));
}

TEST_F(Plans, TheMapShowsEachPickupTheReserveAndTheRail) {
  window->show_station(Station::slosh);
  auto* layer = find<QComboBox>("map layer");
  ASSERT_EQ(layer->count(), 5);
  auto* map = find<QWidget>("map");
  std::set<QByteArray> pictures;
  for (int i = 0; i < layer->count(); ++i) {
    layer->setCurrentIndex(i);
    emit layer->activated(i);
    settle_all();
    const QImage image = map->grab().toImage();
    pictures.insert(
        QByteArray(reinterpret_cast<const char*>(image.constBits()), static_cast<int>(image.sizeInBytes())));
  }
  EXPECT_EQ(pictures.size(), 5u);
  workspace().selection.choose_setup(1);
  settle();
  auto* corners = find<QTableWidget>("corner levels");
  ASSERT_GT(corners->rowCount(), 3);
  const double before = workspace().runs.level();
  QTest::mouseClick(corners->viewport(), Qt::LeftButton, {},
                    corners->visualItemRect(corners->item(1, 0)).center());
  EXPECT_NE(workspace().runs.level(), before);
}

TEST_F(Plans, ATestBenchSessionNeedsNoLap) {
  workspace().selection.choose_session(4);
  settle();
  const auto* v = workspace().runs.verdict();
  ASSERT_TRUE(v);
  EXPECT_EQ(v->entered.kind, session::Kind::test_bench);
  // Ten minutes at 370 kW and 345 g/kWh.
  const double burnt = 370 * 345e-3 / 6 / v->lap->car->fuel_density;
  EXPECT_NEAR(v->plan.consumption * v->plan.laps, burnt, 0.02 * burnt);
  for (int i = 0; i < station_count; ++i) window->show_station(static_cast<Station>(i));
}

TEST_F(Plans, TheCardIsDrawnForEverySession) {
  compute_all();
  for (const auto& s : workspace().project().sessions) {
    const auto* v = workspace().runs.result_of(workspace().setup()->name, s.name);
    ASSERT_TRUE(v);
    QImage page(595, 842, QImage::Format_RGB32);
    page.fill(Qt::white);
    QPainter p(&page);
    card::draw_card(p, QRectF(0, 0, 595, 842), *v, workspace().units(), "Ostrel");
    p.end();
    int dark = 0;
    for (int y = 0; y < page.height(); ++y)
      for (int x = 0; x < page.width(); ++x) dark += qGray(page.pixel(x, y)) < 100;
    EXPECT_GT(dark, 5000);
    EXPECT_EQ(qGray(page.pixel(5, 5)), 255) << "nothing runs into the margin";
  }
}

TEST_F(Plans, TheCardHoldsNamesAndStintsOfAnyLength) {
  const std::string endless(150, 'W');
  solve::SessionResult result = *workspace().runs.verdict();
  result.entered.name = endless;
  // Stints that differ, so that each has its line.
  for (int k = 0; k < 60; ++k) {
    result.stints.push_back(result.stints.front());
    result.stints.back().laps += k;
  }
  for (const QSize size : {QSize(595, 842), QSize(612, 792)}) {
    QImage page(size, QImage::Format_RGB32);
    page.fill(Qt::white);
    QPainter p(&page);
    card::draw_card(p, QRectF(QPointF(), QSizeF(size)), result, workspace().units(), endless);
    p.end();
    for (int y = 0; y < page.height(); ++y)
      for (int x : {8, 20, page.width() - 20, page.width() - 8})
        ASSERT_EQ(qGray(page.pixel(x, y)), 255) << x << ", " << y << ": runs into the margin";
  }
}

}  // namespace
}  // namespace uadze::gui
