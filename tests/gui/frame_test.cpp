// The frame's parts, each alone with a new project: what a hand, a key or a reader's eye does with them.
#include <gtest/gtest.h>

#include <QApplication>
#include <QHelpEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QSlider>
#include <QtTest>
#include <numbers>

#include "gui/document/workspace.h"
#include "gui/frame/notice_bar.h"
#include "gui/frame/sight_glass.h"
#include "gui/look/theme.h"
#include "gui/stations/laps/track_sketch.h"
#include "gui/stations/slosh/map_view.h"
#include "gui/stations/tank/throw_pad.h"
#include "gui/widgets/level_bar.h"

namespace uadze::gui {
namespace {

// --- Colours ---

/// Relative luminance of sRGB (IEC 61966-2-1), and the contrast of two colours (WCAG 2: 1 to 21).
double luminance(const QColor& c) {
  const auto linear = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}
double contrast(const QColor& a, const QColor& b) {
  const double high = std::max(luminance(a), luminance(b)), low = std::min(luminance(a), luminance(b));
  return (high + 0.05) / (low + 0.05);
}

class Themes : public testing::TestWithParam<bool> {};

TEST_P(Themes, WordsAndMarksStandOutFromWhatTheyAreOn) {
  EXPECT_NEAR(contrast(Qt::black, Qt::white), 21, 1e-3);
  const Theme t = Theme::make(GetParam());
  for (const QColor& ground : {t.paper, t.field}) {
    EXPECT_GT(contrast(t.ink, ground), 7);
    EXPECT_GT(contrast(t.faint, ground), 4.5) << "small words";
    EXPECT_GT(contrast(t.trouble, ground), 4.5) << "said in words too";
    EXPECT_GT(contrast(t.covered, ground), 3) << "lines";
  }
  EXPECT_GT(contrast(Qt::white, t.covered), 4.5) << "chosen buttons and rows";
  EXPECT_GT(contrast(t.paper, t.trouble), 4.5) << "the mark in the glass";
}

TEST_P(Themes, TheFuelScaleIsTellableWithoutItsHue) {
  const Theme t = Theme::make(GetParam());
  EXPECT_EQ(t.wet(0), t.dry);
  EXPECT_EQ(t.wet(1), t.covered);
  EXPECT_EQ(t.wet(-3), t.dry);
  EXPECT_EQ(t.wet(7), t.covered);
  EXPECT_GT(contrast(t.dry, t.covered), 1.8) << "by lightness alone";
  // No leap: neighbours look alike.
  for (int k = 0; k < 100; ++k) EXPECT_LT(contrast(t.wet(0.01 * k), t.wet(0.01 * (k + 1))), 1.06) << k;
}

INSTANTIATE_TEST_SUITE_P(DayAndNight, Themes, testing::Bool(),
                         [](const auto& each) { return each.param ? "night" : "day"; });

// --- Parts ---

class Frame : public testing::Test {
 protected:
  void SetUp() override { workspace.document.start_new(); }
  static void shown(QWidget& widget, const QSize& size) {
    widget.resize(size);
    widget.show();
    widget.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&widget));
  }
  Workspace workspace;
};

TEST_F(Frame, AnOfferComesBackUntilItIsAnswered) {
  NoticeBar bar(workspace);
  shown(bar, {600, 60});
  EXPECT_FALSE(bar.isVisible() && !bar.text().isEmpty());
  int restored = 0, thrown = 0;
  bar.offer("Unsaved work was found.", {{"Restore", [&] { ++restored; }}, {"Throw away", [&] { ++thrown; }}});
  EXPECT_EQ(bar.text(), "Unsaved work was found.");
  bar.say("A file could not be read.", true);
  EXPECT_EQ(bar.text(), "▲ A file could not be read.") << "trouble is marked by more than a colour";
  const auto press = [&](const char* name) {
    for (QPushButton* b : bar.findChildren<QPushButton*>(name))
      if (b->isVisible()) return QTest::mouseClick(b, Qt::LeftButton);
    ADD_FAILURE() << "no button " << name;
  };
  press("Close");
  EXPECT_EQ(bar.text(), "Unsaved work was found.") << "the question was not answered";
  press("Restore");
  EXPECT_EQ(restored, 1);
  EXPECT_EQ(thrown, 0);
  EXPECT_FALSE(bar.isVisible());
  bar.dismiss();
  EXPECT_FALSE(bar.isVisible()) << "answered once and for all";
}

TEST_F(Frame, ANoticeShowsAnyNameAsItIsAndStaysLow) {
  NoticeBar bar(workspace);
  shown(bar, {500, 60});
  const QString name = "<b>lap</b> & <img src=x>.csv";
  bar.say(name, false);
  auto* label = bar.findChild<QLabel*>();
  EXPECT_EQ(label->textFormat(), Qt::PlainText) << "a file's name is no mark-up";
  EXPECT_EQ(bar.text(), name);
  bar.say(QString("a long story ").repeated(200), true);
  EXPECT_LT(bar.sizeHint().height(), 5 * bar.fontMetrics().lineSpacing())
      << "it may not push the foot off the screen";
  bar.say("What now?", false, {{"Yes", {}}, {"No", {}}});
  int visible = 0;
  for (QPushButton* b : bar.findChildren<QPushButton*>()) visible += b->isVisible();
  EXPECT_EQ(visible, 2) << "the buttons of what was said before are gone";
}

TEST_F(Frame, TheGlassLeadsToEachStation) {
  SightGlass glass(workspace);
  shown(glass, {88, 640});
  QSignalSpy chosen(&glass, &SightGlass::chosen);
  std::set<QString> titles;
  std::set<int> keys;
  for (int k = 0; k < station_count; ++k) {
    const auto station = static_cast<Station>(k);
    titles.insert(station_title(station)), keys.insert(station_key(station));
    // All slots are of one height, from the top.
    const double each = std::min(96.0, (glass.height() - 24.0) / station_count);
    QTest::mouseClick(&glass, Qt::LeftButton, {}, QPoint(50, static_cast<int>(12 + (k + 0.5) * each)));
    ASSERT_EQ(chosen.count(), 1) << k;
    EXPECT_EQ(chosen.takeFirst().at(0).value<Station>(), station);
  }
  EXPECT_EQ(titles.size(), static_cast<size_t>(station_count)) << "no two are called alike";
  EXPECT_EQ(keys.size(), static_cast<size_t>(station_count));
  EXPECT_FALSE(titles.contains(QString()));
  QTest::mouseClick(&glass, Qt::LeftButton, {}, QPoint(50, 2));
  EXPECT_TRUE(chosen.isEmpty()) << "beside all of them";
  glass.set_current(Station::tank);
  QTest::keyClick(&glass, Qt::Key_Down);
  EXPECT_EQ(chosen.takeLast().at(0).value<Station>(), Station::laps);
  QTest::keyClick(&glass, Qt::Key_Up);
  EXPECT_EQ(chosen.takeLast().at(0).value<Station>(), Station::car);
  glass.set_current(Station::sessions);
  QTest::keyClick(&glass, Qt::Key_Down);
  EXPECT_TRUE(chosen.isEmpty()) << "the last is the last";
}

TEST_F(Frame, EachStateOfAStationLooksAnother) {
  SightGlass glass(workspace);
  shown(glass, {88, 640});
  for (const bool dark : {false, true}) {
    workspace.appearance.set_dark(dark, false);
    std::vector<QImage> seen;
    for (const auto state :
         {StationState::empty, StationState::good, StationState::stale, StationState::trouble}) {
      for (int k = 0; k < station_count; ++k)
        glass.set_state(static_cast<Station>(k), StationState::good, "");
      glass.set_state(Station::circuit, state, "");
      // In shades of grey: nothing hangs on the hue.
      seen.push_back(glass.grab().toImage().convertToFormat(QImage::Format_Grayscale8));
    }
    for (size_t a = 0; a < seen.size(); ++a)
      for (size_t b = a + 1; b < seen.size(); ++b) {
        int differ = 0;
        for (int y = 0; y < seen[a].height(); ++y)
          for (int x = 0; x < seen[a].width(); ++x)
            differ += std::abs(qGray(seen[a].pixel(x, y)) - qGray(seen[b].pixel(x, y))) > 40;
        EXPECT_GT(differ, 25) << "states " << a << " and " << b << (dark ? ", by night" : ", by day");
      }
  }
}

TEST_F(Frame, TheLevelIsWithinTheTankHoweverItIsSet) {
  LevelBar bar(workspace);
  shown(bar, {600, 40});
  ASSERT_TRUE(bar.isEnabled());
  const double whole = workspace.runs.car()->tank->volume();
  auto* slider = bar.findChild<QSlider*>();
  auto* field = bar.findChild<QLineEdit*>();
  slider->setValue(slider->maximum());
  EXPECT_NEAR(workspace.runs.level(), whole, 1e-9);
  slider->setValue(slider->minimum());
  EXPECT_NEAR(workspace.runs.level(), 0, 1e-9);
  const auto type = [&](const QString& text) {
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
  };
  type("2 gal");
  EXPECT_NEAR(workspace.runs.level(), 2 * 3.785411784e-3, 1e-9);
  const QString text = field->text();
  for (const char* bad : {"much", "", "1,5", "nan", "inf"}) {
    type(bad);
    EXPECT_NEAR(workspace.runs.level(), 2 * 3.785411784e-3, 1e-9) << bad;
    EXPECT_EQ(field->text(), text) << bad;
  }
  for (const char* far : {"-3", "1000", "1e12"}) {
    type(far);
    EXPECT_GE(workspace.runs.level(), 0) << far;
    EXPECT_LE(workspace.runs.level(), whole * (1 + 1e-12)) << far;
    EXPECT_TRUE(field->text().startsWith(workspace.show(workspace.runs.level(), Quantity::volume)))
        << far << ": " << field->text().toStdString();
  }
  QTest::mouseClick(bar.findChild<QPushButton*>(), Qt::LeftButton);
  EXPECT_FALSE(workspace.selection.picked_level());
}

TEST_F(Frame, AWideWindowGivesItsRoomToNoButton) {
  // The button is as wide as its words, and stands beside the field, at any width.
  LevelBar bar(workspace);
  auto* button = bar.findChild<QPushButton*>();
  auto* field = bar.findChild<QLineEdit*>();
  for (const int width : {400, 800, 1600}) {
    shown(bar, {width, 40});
    EXPECT_EQ(button->width(), button->sizeHint().width()) << "in " << width;
    EXPECT_LE(button->x() - (field->x() + field->width()), 20) << "in " << width;
    EXPECT_GE(button->fontMetrics().horizontalAdvance(button->text()), 10);
    EXPECT_LE(button->fontMetrics().horizontalAdvance(button->text()), button->width()) << "in " << width;
  }
  // Of the clean level and of a level picked by hand it says which by its state.
  EXPECT_TRUE(button->isChecked());
  workspace.selection.pick_level(2e-3);
  EXPECT_FALSE(button->isChecked());
  QTest::mouseClick(button, Qt::LeftButton);
  EXPECT_TRUE(button->isChecked());
  EXPECT_FALSE(workspace.selection.picked_level());
}

TEST_F(Frame, TheThrowPadPushesTheWayItIsDragged) {
  ThrowPad pad(workspace);
  shown(pad, {148, 148});
  const auto at = [&](double right, double up) {
    return QPoint(static_cast<int>(74 + 74 * right), static_cast<int>(74 - 74 * up));
  };
  const auto expect = [&](double forward, double left, const char* what) {
    EXPECT_NEAR(pad.acceleration().x() / standard_gravity, forward, 0.03) << what;
    EXPECT_NEAR(pad.acceleration().y() / standard_gravity, left, 0.03) << what;
  };
  QTest::mousePress(&pad, Qt::LeftButton, {}, at(0, 0.5));
  expect(1, 0, "half-way up is 1 g forward");
  QTest::mouseRelease(&pad, Qt::LeftButton, {}, at(0, 0.5));
  expect(0, 0, "let go");
  QTest::mousePress(&pad, Qt::LeftButton, {}, at(0.5, 0));
  expect(0, -1, "a right turn pushes the car to the right");
  QMouseEvent far(QEvent::MouseMove, QPointF(5000, 74), pad.mapToGlobal(QPointF(5000, 74)), Qt::NoButton,
                  Qt::LeftButton, {});
  QApplication::sendEvent(&pad, &far);
  expect(0, -2, "the edge is 2 g, however far the hand goes");
  QTest::mouseRelease(&pad, Qt::LeftButton, {}, at(0, 0));
  // The fuel follows: from rest it leans to the left within a second.
  pad.start();
  ASSERT_TRUE(pad.running());
  QTest::mousePress(&pad, Qt::LeftButton, {}, at(0.5, 0));
  QSignalSpy moved(&pad, &ThrowPad::moved);
  while (moved.count() < 40) ASSERT_TRUE(moved.wait(10000));
  const auto fuel = pad.state();
  ASSERT_TRUE(fuel);
  EXPECT_GT(fuel->pull.y(), 5) << "turning right pulls the fuel to the left";
  double held = 0;
  for (double v : fuel->volume) held += v;
  EXPECT_NEAR(held, workspace.runs.level(), 1e-9);
  QTest::mouseRelease(&pad, Qt::LeftButton, {}, at(0.5, 0));
  pad.stop();
  EXPECT_FALSE(pad.state());
}

TEST_F(Frame, AMapWithoutALapSaysSoAndTakesNoHarm) {
  MapView map(workspace);
  shown(map, {500, 300});
  EXPECT_FALSE(map.layers().isEmpty());
  for (int layer = -1; layer < map.layers().size() + 2; ++layer) {
    map.set_layer(layer);
    EXPECT_GT(map.grab().width(), 100);
  }
  QTest::mouseClick(&map, Qt::LeftButton, {}, QPoint(200, 100));
  QTest::keyClick(&map, Qt::Key_Up);
  EXPECT_EQ(workspace.selection.cursor(), 0u);
}

TEST_F(Frame, ATrackIsSketchedAsItIsTyped) {
  TrackSketch sketch(workspace);
  shown(sketch, {500, 400});
  QSignalSpy chosen(&sketch, &TrackSketch::segment_chosen);
  // Nothing yet: words in place of a line, and no click does harm.
  sketch.show_track({}, -1);
  EXPECT_GT(sketch.grab().width(), 100);
  QTest::mouseClick(&sketch, Qt::LeftButton, {}, QPoint(250, 200));
  EXPECT_TRUE(chosen.isEmpty());
  // A straight, a half turn, the way back: the turn is farthest from the start.
  lap::Track track;
  track.closed = false;
  const auto segment = [](const char* name, double length, double radius) {
    lap::Segment out;
    out.name = name, out.length = length, out.radius = radius;
    return out;
  };
  track.segments = {segment("", 400, 0), segment("Kiln Hairpin", std::numbers::pi * 60, 60),
                    segment("", 400, 0)};
  sketch.show_track(track, 1);
  const QImage one = sketch.grab().toImage();
  sketch.show_track(track, 0);
  EXPECT_NE(sketch.grab().toImage(), one) << "the chosen segment stands out";
  // Every segment is found under the hand, and a click far from all of them is none.
  std::set<int> found;
  for (int y = 2; y < sketch.height(); y += 6)
    for (int x = 2; x < sketch.width(); x += 6) QTest::mouseClick(&sketch, Qt::LeftButton, {}, QPoint(x, y));
  for (const auto& call : chosen) found.insert(call.at(0).toInt());
  EXPECT_EQ(found, (std::set<int>{0, 1, 2}));
  chosen.clear();
  QTest::mouseClick(&sketch, Qt::LeftButton, {}, QPoint(2, 2));
  EXPECT_TRUE(chosen.isEmpty());
}

}  // namespace
}  // namespace uadze::gui
