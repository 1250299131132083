// A lap made of a typed track, and one scaled, in a real window.
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "gui/stations/laps/make_lap_dialog.h"
#include "gui/stations/laps/track_sketch.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

class MakeLap : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window->show_station(Station::laps);
    settle_all();
  }
  MakeLapDialog* open() {
    QTest::mouseClick(find<QPushButton>("make lap"), Qt::LeftButton);
    auto* dialog = window->findChild<MakeLapDialog*>();
    EXPECT_NE(dialog, nullptr);
    return dialog;
  }
  QString said(QDialog* dialog, const char* label) { return dialog->findChild<QLabel*>(label)->text(); }
};

TEST_F(MakeLap, ATrackTypedBecomesALapOfTheProject) {
  auto* dialog = open();
  ASSERT_TRUE(dialog->lap());
  const double before = dialog->lap()->duration();
  auto* table = dialog->findChild<QTableWidget*>("segments");
  // A tighter corner is slower, at once; what is no number is said and changes nothing.
  table->item(1, 2)->setText("30");
  EXPECT_GT(dialog->lap()->duration(), before);
  EXPECT_TRUE(said(dialog, "made lap says").contains("a circuit turns 360"))
      << said(dialog, "made lap says").toStdString();
  table->item(1, 2)->setText("thirty");
  EXPECT_TRUE(said(dialog, "made lap says").startsWith("▲ Row 2, radius: expected"));
  EXPECT_EQ(dialog->track().segments[1].radius, 30.0);
  EXPECT_FALSE(dialog->findChild<QPushButton*>("take made lap")->isEnabled());
  table->item(1, 2)->setText("60");
  EXPECT_NEAR(dialog->lap()->duration(), before, 1e-9);
  type(dialog->findChild<QLineEdit*>("Grip"), "-1");
  EXPECT_TRUE(said(dialog, "made lap says").startsWith("▲ Grip"));
  type(dialog->findChild<QLineEdit*>("Grip"), "1.6");
  EXPECT_LT(dialog->lap()->duration(), before);
  QTest::mouseClick(dialog->findChild<QPushButton*>("add segment"), Qt::LeftButton);
  EXPECT_EQ(dialog->track().segments.size(), 5u);
  QTest::mouseClick(dialog->findChild<QPushButton*>("remove segment"), Qt::LeftButton);
  EXPECT_EQ(dialog->track().segments.size(), 4u);

  const size_t laps = workspace().project().laps.size();
  const int before_steps = steps();
  QTest::keyClicks(dialog->findChild<QLineEdit*>("track name"), " Two");
  QTest::mouseClick(dialog->findChild<QPushButton*>("take made lap"), Qt::LeftButton);
  settle_all();
  ASSERT_EQ(workspace().project().laps.size(), laps + 1);
  EXPECT_EQ(steps(), before_steps + 1);
  const auto& made = workspace().project().laps.back();
  EXPECT_EQ(made.name, "New track Two");
  EXPECT_EQ(made.file, "laps/new-track-two.csv");
  ASSERT_EQ(made.corners.size(), 2u);
  EXPECT_EQ(made.corners[0].name, "Corner 1");
  // What it was made of opens again.
  auto* again = open();
  again->open_track(QString::fromStdString((folder / "laps/new-track-two.track.json").string()));
  EXPECT_EQ(again->track().segments.size(), 4u);
  EXPECT_EQ(again->findChild<QLineEdit*>("Grip")->text(), "1.6");
  again->open_track(path());
  EXPECT_TRUE(said(again, "made lap says").startsWith("▲")) << "a project is no track";
  EXPECT_EQ(again->track().segments.size(), 4u);
  again->reject();
}

TEST_F(MakeLap, ALapIsScaledToLessGrip) {
  QTest::mouseClick(find<QPushButton>("scale lap"), Qt::LeftButton);
  auto* dialog = window->findChild<ScaleLapDialog*>();
  ASSERT_NE(dialog, nullptr);
  type(dialog->findChild<QLineEdit*>("scale grip"), "90000 %");
  EXPECT_TRUE(said(dialog, "scaled lap says").contains("expected a factor"))
      << said(dialog, "scaled lap says").toStdString();
  type(dialog->findChild<QLineEdit*>("scale grip"), "70 %");
  const size_t laps = workspace().project().laps.size();
  QTest::mouseClick(dialog->findChild<QPushButton*>("take scaled lap"), Qt::LeftButton);
  settle_all();
  ASSERT_EQ(workspace().project().laps.size(), laps + 1);
  EXPECT_TRUE(QString::fromStdString(workspace().project().laps.back().name).contains("grip 70 %"));
  EXPECT_EQ(workspace().project().laps.back().corners, workspace().project().laps.front().corners);
}

}  // namespace
}  // namespace uadze::gui
