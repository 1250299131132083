// The Logs station in a real window: a log opened, its channels changed, found out what went wrong, a lap of
// it taken into the project.
#include <qcustomplot.h>

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>

#include "gui/stations/logs/channel_table.h"
#include "gui/stations/logs/log_view.h"
#include "gui/stations/logs/logged_laps_page.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

class Logs : public WindowTest {
 protected:
  void open(const QString& file) {
    window->open_log(file);
    settle_all();
  }
  QString demo_log(const char* name) {
    return QString::fromStdString(test::source(std::string("demo/logs/") + name).string());
  }
  QTableWidget* laps() { return window->findChild<QTableWidget*>("laps of the log"); }
  QTableWidget* events() { return window->findChild<QTableWidget*>("events of the log"); }
  void turn_to(const QString& tab) {
    for (auto* tabs : window->findChildren<QTabWidget*>())
      for (int t = 0; t < tabs->count(); ++t)
        if (tabs->tabText(t) == tab) tabs->setCurrentIndex(t);
    settle_all();
  }
  QString text(const char* label) { return window->findChild<QLabel*>(label)->text(); }
  /// The row of a column among the channels.
  int row(const QString& column) {
    auto* table = window->findChild<ChannelTable*>();
    for (int r = 0; r < table->rowCount(); ++r)
      if (table->item(r, 1)->text() == column) return r;
    ADD_FAILURE() << "no column " << column.toStdString();
    return 0;
  }
  void choose(QComboBox* box, const QString& word) {
    box->setCurrentText(word);
    emit box->activated(box->currentIndex());
    settle_all();
  }
};

TEST_F(Logs, ALogIsOpenedFoundOutAboutAndALapOfItTaken) {
  window->show_station(Station::logs);
  EXPECT_EQ(window->findChild<QPushButton*>("add logged lap")->isEnabled(), false);
  open(demo_log("p4-practice.csv.gz"));
  EXPECT_EQ(window->station(), Station::logs);
  EXPECT_TRUE(text("about the log").contains("decimal comma")) << text("about the log").toStdString();
  ASSERT_EQ(laps()->rowCount(), 5);
  EXPECT_EQ(laps()->item(0, 1)->text(), "out");
  EXPECT_EQ(laps()->item(3, 1)->text(), "flying, quickest");
  EXPECT_EQ(laps()->currentRow(), 3) << "the quickest is chosen";
  EXPECT_TRUE(text("findings of the log").contains("Most likely staged pump late"))
      << text("findings of the log").toStdString();
  EXPECT_TRUE(text("doubts of the log").contains("Next: ")) << "the cheapest test stands there";
  ASSERT_GT(events()->rowCount(), 5);
  // An event chosen comes into sight.
  auto* view = find<LogView>();
  turn_to("Findings");
  ASSERT_TRUE(events()->isVisible());
  expect_whole(*events());
  events()->setCurrentCell(4, 0);
  const auto sight = view->in_sight();
  EXPECT_LT(sight.second - sight.first, 15);

  turn_to("Laps");
  const size_t before = workspace().project().laps.size();
  const int steps_before = steps();
  QTest::mouseClick(find<QPushButton>("add logged lap"), Qt::LeftButton);
  ASSERT_EQ(workspace().project().laps.size(), before + 1);
  const auto added = workspace().project().laps.back();
  EXPECT_EQ(added.name, "p4-practice, lap 4");
  EXPECT_EQ(added.file, "laps/p4-practice-lap-4.csv");
  EXPECT_FALSE(added.corners.empty());
  EXPECT_TRUE(std::filesystem::exists(folder / "laps/p4-practice-lap-4.csv"));
  EXPECT_TRUE(text("add lap says").contains("Added as")) << text("add lap says").toStdString();
  EXPECT_EQ(steps(), steps_before + 1);

  // Where the tank is from the sensor, in any unit; what no car is long enough for is refused.
  const auto* page = window->findChild<LoggedLapsPage*>();
  auto* forward = find<QLineEdit>("from sensor forward");
  type(forward, "1500 mm");
  EXPECT_NEAR(page->how().from_sensor.x(), 1.5, 1e-12);
  type(forward, "11000 mm");
  EXPECT_NEAR(page->how().from_sensor.x(), 1.5, 1e-12);
  EXPECT_EQ(forward->text(), "1500.0 mm");
  workspace().appearance.set_units(UnitSystem::us(), false);
  EXPECT_EQ(forward->text(), "59.06 in");
  workspace().appearance.set_units({}, false);
  workspace().document.undo()->undo();
  EXPECT_EQ(workspace().project().laps.size(), before);
}

TEST_F(Logs, ACauseChosenShowsItsEvidence) {
  open(demo_log("p4-surge-removed-starving.csv.gz"));
  auto* causes = window->findChild<QTableWidget*>("causes of the log");
  for (QTabWidget* tabs : window->findChildren<QTabWidget*>())
    if (tabs->isVisible() && tabs->tabText(1).startsWith("Findings")) tabs->setCurrentIndex(1);
  ASSERT_GE(causes->rowCount(), 1);
  EXPECT_EQ(causes->item(0, 1)->text(), "fuel away from the pickup");
  auto* plot = window->findChild<QCustomPlot*>("evidence");
  EXPECT_FALSE(plot->isVisible());
  QTest::mouseClick(causes->viewport(), Qt::LeftButton, {},
                    causes->visualItemRect(causes->item(0, 1)).center());
  ASSERT_TRUE(plot->isVisible()) << "a click brings its picture";
  ASSERT_EQ(plot->graphCount(), 2);
  EXPECT_EQ(plot->xAxis->label(), "along the lap [%]");
  EXPECT_LT(plot->yAxis->range().lower, -50) << "the worst dip is in it";
  EXPECT_TRUE(text("title of the evidence").contains("over 99 % sure"));
  EXPECT_TRUE(text("evidence in words").contains("it drew gas"));
}

TEST_F(Logs, TheCutOffIsDraggedInTheSpectrum) {
  open(demo_log("p4-practice.csv.gz"));
  QTest::mouseClick(find<QPushButton>("show spectrum"), Qt::LeftButton);
  settle_all();
  auto* plot = window->findChild<QCustomPlot*>("spectrum of the log");
  ASSERT_TRUE(plot->isVisible());
  ASSERT_EQ(plot->graphCount(), 6) << "three axes, each as logged and filtered";
  // Without phase and without loss below, gone above.
  const auto value = [&](int graph, double hertz) {
    return plot->graph(graph)->data()->findBegin(hertz)->value;
  };
  EXPECT_NEAR(value(3, 1.0) / value(2, 1.0), 1, 0.02);
  EXPECT_LT(value(3, 20.0), 0.05 * value(2, 20.0));
  auto* cut_off = find<QDoubleSpinBox>("cut-off");
  EXPECT_EQ(cut_off->value(), 5.0);
  const QPoint from(static_cast<int>(plot->xAxis->coordToPixel(5)), plot->height() / 2),
      to(static_cast<int>(plot->xAxis->coordToPixel(12)), plot->height() / 2);
  QTest::mousePress(plot, Qt::LeftButton, {}, from);
  QMouseEvent move(QEvent::MouseMove, to, plot->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, {});
  QApplication::sendEvent(plot, &move);
  QTest::mouseRelease(plot, Qt::LeftButton, {}, to);
  EXPECT_NEAR(cut_off->value(), 12, 0.2);
  cut_off->setValue(1);
  settle_all();
  EXPECT_TRUE(text("spectrum says").contains("cuts into the fuel's own swing"))
      << text("spectrum says").toStdString();
}

TEST_F(Logs, AChannelMeantOtherwiseIsKeptForItsHeader) {
  open(demo_log("p4-practice.csv.gz"));
  find<QTabWidget>()->setCurrentIndex(0);
  auto* table = window->findChild<ChannelTable*>();
  const auto role = [&] { return qobject_cast<QComboBox*>(table->cellWidget(row("Fuel Pressure"), 2)); };
  EXPECT_EQ(role()->currentText(), "fuel pressure");
  choose(role(), "kept");
  EXPECT_TRUE(text("findings of the log").contains("not enough") ||
              !text("findings of the log").contains("staged"))
      << text("findings of the log").toStdString();
  EXPECT_TRUE(text("doubts of the log").contains("no fuel pressure in the log"));
  // Another log with the same header is read alike.
  open(demo_log("p4-practice.csv.gz"));
  EXPECT_EQ(role()->currentText(), "kept");
  emit window->findChild<QPushButton*>("forget mapping")->clicked();
  settle_all();
  EXPECT_EQ(role()->currentText(), "fuel pressure");
}

TEST_F(Logs, AFormulaMakesAChannelThatIsDrawnAndKept) {
  open(demo_log("wisp-heats.csv.gz"));
  for (QTabWidget* tabs : window->findChildren<QTabWidget*>())
    if (tabs->isVisible() && tabs->tabText(1) == "Channels") tabs->setCurrentIndex(1);
  auto* table = window->findChild<ChannelTable*>();
  const int rows = table->rowCount();
  find<QLineEdit>("formula name")->setText("over");
  find<QLineEdit>("formula")->setText("(rail_pressure - no_such) / bar");
  QTest::mouseClick(find<QPushButton>("add formula"), Qt::LeftButton);
  EXPECT_TRUE(text("formula says").contains("\"no_such\"")) << text("formula says").toStdString();
  EXPECT_TRUE(text("formula says").contains("manifold_pressure")) << "the names that there are";
  EXPECT_EQ(table->rowCount(), rows);
  find<QLineEdit>("formula unit")->setText("bar");
  type(find<QLineEdit>("formula"), "(rail_pressure - manifold_pressure) / bar");
  settle_all();
  ASSERT_EQ(table->rowCount(), rows + 1);
  EXPECT_TRUE(table->ticked().contains("over"));
  open(demo_log("wisp-heats.csv.gz"));
  EXPECT_EQ(table->rowCount(), rows + 1) << "kept for logs with this header";
  QTest::mouseClick(find<QPushButton>("remove formula"), Qt::LeftButton);
  settle_all();
  EXPECT_EQ(table->rowCount(), rows);
}

TEST_F(Logs, AFaultIsSaidAndWhatWasOpenStays) {
  open(demo_log("wisp-heats.csv.gz"));
  const int before = laps()->rowCount();
  EXPECT_GT(before, 0);
  open(QString::fromStdString(folder.write("empty.csv", "Time,Speed\n").string()));
  EXPECT_TRUE(text("about the log").contains("line 2: expected rows of numbers under the header"))
      << text("about the log").toStdString();
  EXPECT_EQ(laps()->rowCount(), before);
  open(QString::fromStdString(folder.write("bus.log", "(1.0) can0 1A0#00\n(2.0) can0 1A0#01\n").string()));
  EXPECT_TRUE(text("about the log").contains("open its table of signals"));
  EXPECT_TRUE(window->findChild<QPushButton*>("open signals")->isVisible());
}

TEST_F(Logs, TheTracesMoveByWheelAndKeys) {
  open(demo_log("wisp-heats.csv.gz"));
  auto* view = find<LogView>();
  const auto whole = view->in_sight();
  view->setFocus();
  QTest::keyClick(view, Qt::Key_Plus);
  const auto nearer = view->in_sight();
  EXPECT_NEAR(nearer.second - nearer.first, 0.8 * (whole.second - whole.first), 1);
  QTest::keyClick(view, Qt::Key_Right);
  EXPECT_GT(view->in_sight().first, nearer.first);
  const QPointF middle(view->width() / 2.0, view->height() / 2.0);
  QWheelEvent wheel(middle, view->mapToGlobal(middle), {}, {0, 240}, Qt::NoButton, Qt::NoModifier,
                    Qt::NoScrollPhase, false);
  QApplication::sendEvent(view, &wheel);
  EXPECT_LT(view->in_sight().second - view->in_sight().first, nearer.second - nearer.first);
  QTest::keyClick(view, Qt::Key_Home);
  EXPECT_EQ(view->in_sight(), whole);
  const int chosen = laps()->currentRow();
  QTest::keyClick(view, Qt::Key_PageUp);
  EXPECT_EQ(laps()->currentRow(), chosen - 1);
}

}  // namespace
}  // namespace uadze::gui
