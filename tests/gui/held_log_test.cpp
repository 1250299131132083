// A log held against its setup in a real window: what was put in, what starved where, calibrated, taken into
// the setup and back; the kart driven by the simulated logger with other figures than the model's.
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>

#include "core/starvation/level_run.h"
#include "gui/stations/logs/held_grid.h"
#include "gui/stations/logs/log_view.h"
#include "rigs/logger.h"
#include "support/demo.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

class HeldLog : public WindowTest {
 protected:
  HeldLog() : WindowTest("ostrel-wisp.uadze.json", true) {}

  /// Driven once: four runs down to half of the clean level.
  struct Day {
    std::string text;
    double put_in = 0, left = 0;  // m3
  };
  static const Day& day() {
    static const Day& one = *new Day([] {
      const test::Demo demo = test::demo("ostrel-wisp");
      project::Project truth = demo.project;
      truth.setups[0].calibration = starvation::Calibration{
          .date = "put in",
          .figures = {{starvation::Figure::damping, 1.25, 0}, {starvation::Figure::hold, 1.15, 0}}};
      const auto driven =
          solve::lap_case(truth, solve::resolve(truth, {.alone = true}), *demo.sources, {.points = 300});
      const rigs::DriveOptions how{.laps = 3, .end_level = 4e-3, .seed = 3};
      Day out;
      const log::Log log = rigs::drive(*driven, truth.setups[0], 8e-3, how);
      out.text = rigs::written(log, rigs::Shape::plain);
      const auto gauge = log.values(log::Role::fuel_level);
      for (size_t i = gauge.size() - 500; i < gauge.size(); ++i) out.left += gauge[i] / 500.0;
      out.put_in = rigs::put_in(*driven, 8e-3, how);
      return out;
    }());
    return one;
  }
  void open_day() {
    window->open_log(QString::fromStdString(folder.write("day.csv", day().text).string()));
    settle_all();
  }
  void tab(const QString& name) {
    for (QTabWidget* tabs : window->findChildren<QTabWidget*>())
      for (int k = 0; k < tabs->count() && tabs->isVisible(); ++k)
        if (tabs->tabText(k) == name) tabs->setCurrentIndex(k);
    settle_all();
  }
  QString text(const char* label) { return window->findChild<QLabel*>(label)->text(); }
  void put_in() {
    tab("Fuel");
    QTest::mouseClick(find<QPushButton>("note log fuel"), Qt::LeftButton);
    settle_all();
    litres("put in", day().put_in);
  }
  /// Into the field whose name begins so.
  void litres(const QString& name, double volume) {
    QLineEdit* field = nullptr;
    for (QLineEdit* one : window->findChildren<QLineEdit*>())
      if (one->isVisible() && one->accessibleName().startsWith(name)) field = one;
    ASSERT_NE(field, nullptr) << name.toStdString();
    type(field, QString::number(1e3 * volume, 'f', 2));
    settle_all();
  }
};

TEST_F(HeldLog, IsFoundOnTheMapCalibratesTheSetupAndIsUndone) {
  open_day();
  put_in();
  ASSERT_EQ(workspace().project().logs.size(), 3u) << "two logs of the demo, and this";
  EXPECT_NEAR(*workspace().project().logs.back().put_in, day().put_in, 1e-5);
  EXPECT_TRUE(text("fuel of the log").contains("put in less burnt")) << text("fuel of the log").toStdString();
  EXPECT_TRUE(text("fuel of the log").contains("A flying lap burns"));

  tab("Logged and computed");
  EXPECT_TRUE(text("held says").contains("hits")) << text("held says").toStdString();
  ASSERT_FALSE(workspace().logged().marks.empty());
  int both = 0;
  for (const auto& mark : workspace().logged().marks) {
    both += mark.computed;
    EXPECT_GT(mark.level, 2e-3);
    EXPECT_LT(mark.level, day().put_in);
  }
  EXPECT_GT(2 * both, static_cast<int>(workspace().logged().marks.size()));
  // A cell brings its stretch into sight; by keys too.
  auto* grid = find<HeldGrid>("held grid");
  QTest::mouseClick(grid, Qt::LeftButton, {}, grid->on_screen(2, 1).toPoint());
  const auto sight = window->findChild<LogView*>()->in_sight();
  EXPECT_LT(sight.second - sight.first, 40);
  QTest::keyClick(grid, Qt::Key_Right);
  EXPECT_GT(window->findChild<LogView*>()->in_sight().first, sight.first);
  EXPECT_TRUE(grid->accessibleDescription().contains("in the tank"));

  QTest::mouseClick(find<QPushButton>("calibrate"), Qt::LeftButton);
  EXPECT_TRUE(find<QPushButton>("stop calibrating")->isVisible());
  settle_all();
  auto* figures = find<QTableWidget>("learnt figures");
  ASSERT_GE(figures->rowCount(), 5);
  EXPECT_TRUE(figures->item(3, 2)->text().contains("not told")) << "the kart has no lift pump";
  EXPECT_FALSE(workspace().setup()->calibration) << "nothing is taken before it is asked for";
  const int before = steps();
  const double start_before = start();
  QTest::mouseClick(find<QPushButton>("take calibration"), Qt::LeftButton);
  settle_all();
  ASSERT_TRUE(workspace().setup()->calibration);
  EXPECT_EQ(steps(), before + 1);
  EXPECT_EQ(workspace().setup()->calibration->logs, std::vector<std::string>{"day.csv"});
  EXPECT_TRUE(text("held says").contains("calibrated on")) << text("held says").toStdString();
  EXPECT_NE(start(), start_before) << "the verdict rests on it";
  EXPECT_TRUE(window->findChild<QPushButton*>("drop calibration")->isVisible());
  workspace().document.undo()->undo();
  settle_all();
  EXPECT_FALSE(workspace().setup()->calibration);
  EXPECT_EQ(start(), start_before);
  EXPECT_FALSE(text("held says").contains("calibrated on"));
}

TEST_F(HeldLog, WhatWasDrainedScalesTheFlowAndBecomesARecord) {
  open_day();
  put_in();
  EXPECT_FALSE(window->findChild<QPushButton*>("take flow scale")->isVisible()) << "nothing was drained";
  litres("drained", day().left);
  const size_t records = workspace().project().records.size();
  QTest::mouseClick(find<QPushButton>("record log"), Qt::LeftButton);
  settle_all();
  ASSERT_EQ(workspace().project().records.size(), records + 1);
  const session::Record& record = workspace().project().records.back();
  EXPECT_NEAR(record.put_in - record.drained, *record.counted, 0.1e-3) << "the logger's flow is true";
  QTest::mouseClick(find<QPushButton>("take flow scale"), Qt::LeftButton);
  settle_all();
  EXPECT_NEAR(workspace().project().logs.back().flow_scale, 1.0, 0.06);
  EXPECT_FALSE(window->findChild<QPushButton*>("take flow scale")->isVisible()) << "it is taken";
}

TEST_F(HeldLog, WithoutALevelOrASetupItSaysSo) {
  window->open_log(QString::fromStdString(
      folder
          .write("bare.csv",
                 "Time [s],Speed [km/h],Lap,Lat Acc [g],Long Acc "
                 "[g]\n0,50,1,0,0\n20,50,1,0,0\n40,50,2,0,0\n60,50,2,0,0\n80,50,3,0,0\n")
          .string()));
  settle_all();
  tab("Logged and computed");
  EXPECT_TRUE(text("held says").startsWith("▲")) << text("held says").toStdString();
  EXPECT_FALSE(find<QPushButton>("calibrate")->isEnabled());
  EXPECT_TRUE(workspace().logged().marks.empty());
  tab("Fuel");
  EXPECT_TRUE(text("fuel of the log").contains("not known: say what was put in"))
      << text("fuel of the log").toStdString();
}

}  // namespace
}  // namespace uadze::gui
