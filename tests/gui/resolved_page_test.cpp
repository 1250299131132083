// The page "Resolved" in a real window: run, seen, played, stopped, taken into the setup and back.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QTabWidget>
#include <QTableWidget>
#include <QTimer>
#include <fstream>

#include "gui/stations/slosh/resolved_view.h"
#include "gui/stations/slosh/splash_picture.h"
#include "gui/stations/slosh/study_view.h"
#include "gui/stations/tank/tank_view.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

class ResolvedPage : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window->show_station(Station::slosh);
    auto* tabs = window->findChild<QTabWidget*>("slosh tabs");
    for (int k = 0; k < tabs->count(); ++k)
      if (tabs->tabText(k) == "Resolved") tabs->setCurrentIndex(k);
    settle_all();
    find<QComboBox>("resolve cells")->setCurrentIndex(0);
    auto* what = find<QComboBox>("resolve what");
    what->setCurrentIndex(what->findText("braking", Qt::MatchStartsWith));
    ASSERT_GE(what->currentIndex(), 0);
  }
  QString says() { return find<QLabel>("resolved verdict")->text(); }
  /// Until so many rows are there.
  void resolve(int rows = 1) {
    auto* button = find<QPushButton>("resolve");
    button->setFocus();
    QTest::keyClick(button, Qt::Key_Space);
    ASSERT_TRUE(wait_for([&] { return button->text() == "Resolve" && pending_work() == 0; }));
    ASSERT_EQ(find<QTableWidget>("resolved rows")->rowCount(), rows) << says().toStdString();
  }
};

TEST_F(ResolvedPage, ABrakingIsResolvedSeenAndTakenIntoTheSetup) {
  EXPECT_TRUE(find<QLabel>("resolve estimate")->text().startsWith("about"));
  EXPECT_FALSE(find<QPushButton>("calibrate resolved")->isEnabled()) << "nothing was run";
  resolve();
  EXPECT_TRUE(says().contains("braking")) << says().toStdString();
  EXPECT_TRUE(says().contains("volume held within")) << says().toStdString();
  auto* slider = find<QSlider>("splash time");
  EXPECT_GT(slider->maximum(), 100);
  // What is seen changes with the instant, and turns with the keys.
  auto* picture = window->findChild<SplashPicture*>("splash");
  slider->setValue(0);
  const QImage still = picture->grab().toImage();
  slider->setValue(slider->maximum() / 2);
  const QImage thrown = picture->grab().toImage();
  EXPECT_NE(still, thrown);
  picture->setFocus();
  QTest::keyClick(picture, Qt::Key_Left);
  EXPECT_NE(picture->grab().toImage(), thrown);
  // Played.
  const int before = slider->value();
  QTest::mouseClick(find<QPushButton>("play splash"), Qt::LeftButton);
  EXPECT_TRUE(wait_for([&] { return slider->value() != before; }));
  QTest::mouseClick(find<QPushButton>("play splash"), Qt::LeftButton);
  // Taken into the setup: one edit, undone as one; what was run stays.
  const int edits = steps();
  QTest::mouseClick(find<QPushButton>("calibrate resolved"), Qt::LeftButton);
  ASSERT_TRUE(wait_for([&] { return steps() == edits + 1; })) << says().toStdString();
  settle_all();
  const auto& learnt = workspace().setup()->calibration;
  ASSERT_TRUE(learnt);
  EXPECT_NE(learnt->logs.back().find("resolved: braking"), std::string::npos);
  EXPECT_TRUE(slider->isEnabled());
  workspace().document.undo()->undo();
  EXPECT_FALSE(workspace().setup()->calibration);
  // Another level is another row; the same question is answered by what is kept.
  workspace().selection.pick_level(9e-3);
  settle_all();
  auto* table = find<QTableWidget>("resolved rows");
  ASSERT_EQ(table->rowCount(), 1);
  resolve(2);
  EXPECT_NE(table->item(0, 1)->text(), table->item(1, 1)->text());
  resolve(2);
  EXPECT_TRUE(says().contains("kept from before")) << says().toStdString();
  // A film, a picture an instant; small ones, as each is pressed and written.
  picture->resize(200, 150);
  const auto film = folder / "film";
  std::filesystem::create_directory(film);
  QString why;
  const int saved =
      window->findChild<ResolvedView*>()->save_film(QString::fromStdString(film.string()), &why);
  EXPECT_TRUE(why.isEmpty()) << why.toStdString();
  EXPECT_EQ(saved, slider->maximum() + 1);
  EXPECT_FALSE(QImage(QString::fromStdString((film / "film-0001.png").string())).isNull());
  window->findChild<ResolvedView*>()->save_film(QString::fromStdString((film / "gone").string()), &why);
  EXPECT_TRUE(why.contains("film-0001.png")) << why.toStdString();
  // Listed and thrown away.
  QTimer poll;
  QObject::connect(&poll, &QTimer::timeout, [] {
    auto* dialog = QApplication::activeModalWidget();
    if (!dialog) return;
    auto* kept = dialog->findChild<QTableWidget*>("kept runs");
    EXPECT_EQ(kept->rowCount(), 2);
    for (auto* button : dialog->findChildren<QPushButton*>())
      if (button->text() == "Throw all away") button->click();
    EXPECT_EQ(kept->rowCount(), 0);
    dialog->close();
  });
  poll.start(50);
  QTest::mouseClick(find<QPushButton>("kept runs"), Qt::LeftButton);
  poll.stop();
  EXPECT_EQ(table->rowCount(), 2) << "what is seen stays";
}

TEST_F(ResolvedPage, ACornerIsPlayedByTheTankWithTheLapsCursor) {
  workspace().selection.choose_setup(1);  // without its surge tank, where corners hurt
  settle_all();
  auto* what = find<QComboBox>("resolve what");
  for (int k = 0; k < what->count(); ++k)
    if (what->itemText(k).contains(" under ")) {
      what->setCurrentIndex(k);
      break;
    }
  ASSERT_TRUE(what->currentText().contains(" under "));
  find<QComboBox>("resolve levels")->setCurrentIndex(1);
  resolve(3);
  ASSERT_TRUE(workspace().splash());
  const double end = workspace().splash()->job->drive.end();
  workspace().set_cursor_time(end + 2);
  EXPECT_FALSE(workspace().splash_at_cursor());
  QTest::mouseClick(find<QPushButton>("splash in tank"), Qt::LeftButton);
  settle_all();
  auto* says = find<QLabel>("splash says");
  ASSERT_TRUE(says);
  EXPECT_TRUE(says->text().endsWith("seen now")) << says->text().toStdString();
  auto* view = window->findChild<TankView*>();
  const QImage resolved = view->grab().toImage();
  find<QCheckBox>("show splash")->setChecked(false);
  EXPECT_NE(view->grab().toImage(), resolved) << "the fast model's fuel is another picture";
  find<QCheckBox>("show splash")->setChecked(true);
  EXPECT_EQ(view->grab().toImage(), resolved);
  // Elsewhere on the lap, and on another setup, it is not seen.
  workspace().set_cursor_time(end + 2);
  EXPECT_FALSE(workspace().splash_at_cursor());
  EXPECT_TRUE(says->text().endsWith("not at the cursor"));
  workspace().set_cursor_time(end - 0.2);
  EXPECT_TRUE(workspace().splash_at_cursor());
  workspace().document.edit("Move",
                            [](project::Project& p) { p.setups[1].tank.pickups[0].position.x() -= 0.01; });
  EXPECT_FALSE(workspace().splash()) << "of a tank that is another now";
}

TEST_F(ResolvedPage, ARunIsStoppedAndABadTankIsSaid) {
  find<QComboBox>("resolve cells")->setCurrentIndex(4);
  auto* button = find<QPushButton>("resolve");
  QTest::mouseClick(button, Qt::LeftButton);
  EXPECT_EQ(button->text(), "Stop");
  QTest::mouseClick(button, Qt::LeftButton);
  EXPECT_EQ(button->text(), "Resolve");
  EXPECT_TRUE(wait_for([] { return pending_work() == 0; }, 5000)) << "it ends at once";
  EXPECT_FALSE(find<QSlider>("splash time")->isEnabled());
}

TEST_F(ResolvedPage, AStudyIsRunSeenAndItsChoiceBecomesASetup) {
  auto* tabs = window->findChild<QTabWidget*>("slosh tabs");
  for (int k = 0; k < tabs->count(); ++k)
    if (tabs->tabText(k) == "Study") tabs->setCurrentIndex(k);
  auto* view = window->findChild<StudyView*>();
  const auto file = folder / "study.json";
  std::ofstream(file)
      << R"({"undertow_adze_study": 1, "project": "ostrel-p4.uadze.json", "setup": "P4, surge fitted",
    "level_l": [3, 6], "vary": [{"name": "pickups", "values": [{"name": "as they are"},
    {"name": "forward", "set": {"tank/pickups/0/position_mm": [100, 60, 6]}}]}],
    "cases": [{"manoeuvre": "braking", "strength_g": 1.2}]})";
  view->open(QString::fromStdString(file.string()));
  settle_all();
  auto* table = find<QTableWidget>("study choices");
  ASSERT_EQ(table->rowCount(), 4);
  EXPECT_GT(find<QWidget>("study plot")->width(), 200) << "its picture came with it";
  EXPECT_EQ(table->item(0, 3)->text(), "not yet");
  EXPECT_TRUE(find<QLabel>("study says")->text().contains("4 missing"));
  QTest::mouseClick(find<QPushButton>("run study"), Qt::LeftButton);
  settle_all();
  EXPECT_TRUE(find<QLabel>("study says")->text().contains("0 missing"));
  int best = 0;
  for (int row = 0; row < 4; ++row) best += table->item(row, 3)->text().startsWith("●");
  EXPECT_GE(best, 1);
  EXPECT_LT(best, 4);
  // The third row's setup, with its pickup where the study put it; undone as one.
  EXPECT_FALSE(find<QPushButton>("take choice")->isEnabled());
  const int setups = static_cast<int>(workspace().project().setups.size()), edits = steps();
  for (int row = 0; row < 4; ++row)
    if (table->item(row, 0)->text().contains("forward")) table->selectRow(row);
  QTest::mouseClick(find<QPushButton>("take choice"), Qt::LeftButton);
  ASSERT_EQ(static_cast<int>(workspace().project().setups.size()), setups + 1);
  EXPECT_NEAR(workspace().project().setups.back().tank.pickups[0].position.x(), 0.1, 1e-12);
  EXPECT_EQ(steps(), edits + 1);
  QTest::mouseClick(find<QPushButton>("take choice"), Qt::LeftButton);
  EXPECT_EQ(steps(), edits + 1) << "not twice by one name";
  EXPECT_TRUE(find<QLabel>("study says")->text().startsWith("▲"));
  std::ofstream(file) << "{";
  view->open(QString::fromStdString(file.string()));
  settle_all();
  EXPECT_TRUE(find<QLabel>("study says")->text().startsWith("▲"));
}

}  // namespace
}  // namespace uadze::gui
