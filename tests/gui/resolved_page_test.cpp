// The page "Resolved" in a real window: run, seen, played, stopped, taken into the setup and back.
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QTabWidget>

#include "gui/stations/slosh/splash_picture.h"
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
  void resolve() {
    find<QPushButton>("resolve")->setFocus();
    QTest::keyClick(find<QPushButton>("resolve"), Qt::Key_Space);
    ASSERT_TRUE(wait_for([this] { return find<QSlider>("splash time")->isEnabled(); }))
        << says().toStdString();
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
  // Another level is another question.
  workspace().selection.pick_level(9e-3);
  settle_all();
  EXPECT_FALSE(slider->isEnabled());
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

}  // namespace
}  // namespace uadze::gui
