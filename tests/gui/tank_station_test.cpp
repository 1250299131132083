// The tank's and slosh's newer views, worked as a person does: throw pad, cut, gauge, reach, resonance, mesh
// import.
#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>
#include <QTabWidget>
#include <QTreeWidget>

#include "gui/frame/notice_bar.h"
#include "gui/stations/slosh/modes_view.h"
#include "gui/stations/slosh/reach_view.h"
#include "gui/stations/tank/gauge_view.h"
#include "gui/stations/tank/mesh_dialog.h"
#include "gui/stations/tank/tank_view.h"
#include "gui/stations/tank/throw_pad.h"
#include "gui/window_fixture.h"

namespace uadze::gui {
namespace {

class TankStationTest : public WindowTest {
 protected:
  using WindowTest::WindowTest;
  void SetUp() override {
    WindowTest::SetUp();
    window->show_station(Station::tank);
    view = find<TankView>("tank view");
  }
  /// Pixels that differ between two pictures of the view.
  static int differing(const QImage& a, const QImage& b) {
    int count = 0;
    for (int y = 0; y < a.height(); y += 2)
      for (int x = 0; x < a.width(); x += 2) count += a.pixel(x, y) != b.pixel(x, y);
    return count;
  }
  QImage picture() {
    settle_all();
    return view->grab().toImage();
  }
  /// Share of the view that has the fuel's colour, near enough.
  double fuel_share() {
    const QImage image = picture();
    const QColor fuel = workspace().theme().covered;
    int count = 0, all = 0;
    for (int y = 0; y < image.height(); y += 3)
      for (int x = 0; x < image.width(); x += 3, ++all) {
        const QColor c = image.pixelColor(x, y);
        count += c.blue() > c.red() + 30 && c.hue() > fuel.hue() - 25 && c.hue() < fuel.hue() + 25;
      }
    return static_cast<double>(count) / all;
  }
  TankView* view = nullptr;
};

class TarnStation : public TankStationTest {
 protected:
  TarnStation() : TankStationTest("ostrel-tarn.uadze.json") {}
};

TEST_F(TankStationTest, MoreFuelIsMoreOfThePicture) {
  workspace().set_cursor(0);
  workspace().selection.pick_level(0.002);
  const double little = fuel_share();
  workspace().selection.pick_level(0.030);
  const double half = fuel_share();
  workspace().selection.pick_level(0.062);
  const double full = fuel_share();
  EXPECT_LT(little + 0.02, half);
  EXPECT_LT(half + 0.02, full);
  workspace().selection.pick_level(0.0);
  EXPECT_LT(fuel_share(), little + 0.01) << "next to none: what the surge tank has lost stands in the tank";
}

TEST_F(TankStationTest, TheFuelLiesWhereTheCarsPlacesAreOnTheScreen) {
  // From the side and from the front: the picture's fuel against the surfaces, along the eye's way through
  // the tank, at the places where lines and marks over the picture have them.
  workspace().selection.pick_level(0.012);
  workspace().set_cursor_distance(200);
  for (const auto& [from, along] : {std::pair{TankView::Look::side, 1}, {TankView::Look::front, 0}}) {
    view->look(from);
    const QImage image = picture();
    ASSERT_EQ(image.size(), view->size());
    const auto car = workspace().runs.car();
    const auto fuel = workspace().runs.fuel_at_cursor();
    ASSERT_TRUE(car && fuel);
    const tank::Tank& tank = *car->tank;
    const Vec3 low = tank.lower_corner(), size = tank.upper_corner() - low;
    int alike = 0, all = 0, wet = 0;
    for (double u = 0.05; u < 1; u += 0.1)
      for (double z = 0.05; z < 1; z += 0.1) {
        bool expected = false;
        Vec3 share(u, u, z);
        for (share[along] = 0.01; share[along] < 1 && !expected; share[along] += 0.02) {
          const Vec3 at = low + share.cwiseProduct(size);
          for (size_t i = 0; i < tank.spaces.size(); ++i)
            expected = expected || (tank.spaces[i].body.contains(at) &&
                                    fuel->surface[i].normal.dot(at) < fuel->surface[i].offset);
        }
        const QColor c = image.pixelColor(view->on_screen(low + share.cwiseProduct(size)).toPoint());
        ++all, wet += expected, alike += expected == (c.blue() > c.red() + 30);
      }
    EXPECT_GT(wet, all / 8);
    EXPECT_LT(wet, all * 7 / 8);
    // Marks and names lie over some.
    EXPECT_GT(alike, all * 0.88) << alike << ", wet " << wet << " of " << all;
  }
}

TEST_F(TankStationTest, TheFuelMovesWithTheCursor) {
  workspace().selection.pick_level(0.020);
  workspace().set_cursor_distance(100);
  const QImage before = picture();
  workspace().set_cursor_distance(1100);
  EXPECT_GT(differing(before, picture()), 2000);
}

TEST_F(TankStationTest, CutAwayAndWallsChangeThePictureAndNotTheProject) {
  workspace().selection.pick_level(0.030);
  const QImage whole = picture();
  auto* cut = find_accessible<QComboBox>("Cut-away");
  for (auto* slider : window->findChildren<QSlider*>()) {
    const bool of_cut = slider->accessibleName() == "Depth of the cut";
    EXPECT_FALSE(of_cut && slider->isVisible()) << "nothing is cut";
  }
  cut->setCurrentIndex(1);
  auto* depth = find_accessible<QSlider>("Depth of the cut");
  const QImage half = picture();
  EXPECT_GT(differing(whole, half), 2000);
  depth->setValue(90);
  EXPECT_GT(differing(half, picture()), 1000) << "deeper";
  cut->setCurrentIndex(0);
  find_accessible<QSlider>("How solid the walls are")->setValue(100);
  EXPECT_GT(differing(whole, picture()), 2000) << "solid walls";
  EXPECT_EQ(steps(), 0);
}

TEST_F(TankStationTest, TheListThePictureAndTheFormAgree) {
  auto* tree = find<QTreeWidget>("parts");
  int rows = 0;
  for (QTreeWidgetItemIterator it(tree); *it; ++it) ++rows;
  EXPECT_EQ(rows, static_cast<int>(parts_of(workspace().setup()->tank).size()));
  QTreeWidgetItemIterator it(tree);
  while (*it && !(*it)->text(0).contains("flap, left")) ++it;
  ASSERT_TRUE(*it);
  tree->setCurrentItem(*it);
  ASSERT_TRUE(view->chosen_part());
  EXPECT_EQ(view->chosen_part()->kind, TankPartKind::opening);
  auto* width = find<QLineEdit>("Width");
  ASSERT_TRUE(width);
  EXPECT_EQ(width->text(), "70.0 mm");
  for (auto* field : window->findChildren<QLineEdit*>("Diameter"))
    EXPECT_FALSE(field->isVisible()) << "it is not round";
  width->setFocus();
  width->selectAll();
  QTest::keyClicks(width, "80 mm");
  QTest::keyClick(width, Qt::Key_Return);
  EXPECT_NEAR(workspace().setup()->tank.collectors[0].openings[1].width, 0.08, 1e-12);
  view->choose_part(std::nullopt);
  EXPECT_TRUE(find<QLineEdit>("May be filled to")) << "the whole tank's form";
}

TEST_F(TankStationTest, APartThatCanNotBeIsRefusedWithItsPlace) {
  view->choose_part(PartRef{TankPartKind::opening, 0, 0});
  auto* width = find<QLineEdit>("Width");
  width->setFocus();
  width->selectAll();
  QTest::keyClicks(width, "3 m");
  QTest::keyClick(width, Qt::Key_Return);
  EXPECT_EQ(steps(), 0);
  EXPECT_TRUE(window->notice().text().contains("smaller than its collector's wall"))
      << window->notice().text().toStdString();
}

TEST_F(TankStationTest, AWarningStandsAtItsPart) {
  // Without its open top and its flaps' way up the collector has no way for gas.
  workspace().document.edit("Close",
                            [](project::Project& p) { p.setups[0].tank.collectors[0].open_top = false; });
  auto* tree = find<QTreeWidget>("parts");
  bool marked = false;
  for (QTreeWidgetItemIterator it(tree); *it; ++it)
    marked = marked || ((*it)->text(0).startsWith("Collector") && (*it)->text(0).contains("▲") &&
                        (*it)->text(0).contains("gas"));
  EXPECT_TRUE(marked);
}

TEST_F(TankStationTest, TheThrowPadMovesTheFuelInRealTime) {
  workspace().selection.pick_level(0.020);
  auto* button = window->findChild<QPushButton*>("throw");
  auto* pad = window->findChild<ThrowPad*>("throw pad");
  QTest::mouseClick(button, Qt::LeftButton);
  ASSERT_TRUE(pad->running());
  ASSERT_TRUE(pad->isVisible());
  const auto at_rest = pad->state();
  ASSERT_TRUE(at_rest);
  EXPECT_NEAR(at_rest->surface[0].normal.z(), 1, 1e-6) << "the car stands";
  // Drag to the left edge: a left-hand corner.
  QTest::mousePress(pad, Qt::LeftButton, {}, QPoint(20, pad->height() / 2));
  EXPECT_GT(pad->acceleration().y(), 9);
  EXPECT_TRUE(wait_for([&] { return pad->state()->surface[0].normal.y() > 0.2; }))
      << "fuel piles up on the right";
  QTest::mouseRelease(pad, Qt::LeftButton, {}, QPoint(20, pad->height() / 2));
  EXPECT_EQ(pad->acceleration(), Vec3(Vec3::Zero())) << "let go: it stands";
  pad->setFocus();
  QTest::keyPress(pad, Qt::Key_Down);
  EXPECT_TRUE(wait_for([&] { return pad->acceleration().x() < -9; })) << "braking by the arrow key";
  QTest::keyRelease(pad, Qt::Key_Down);
  EXPECT_EQ(pad->acceleration(), Vec3(Vec3::Zero()));
  double held = 0;
  const auto now = pad->state();
  for (double v : now->volume) held += v;
  EXPECT_NEAR(held, 0.020, 1e-12);
  workspace().set_cursor(100);
  EXPECT_FALSE(pad->running()) << "the lap's cursor takes the picture back";
}

TEST_F(TankStationTest, AStandardManoeuvreIsPlayedFromRest) {
  workspace().selection.pick_level(0.020);
  auto* choice = find_accessible<QComboBox>("Manoeuvre");
  ASSERT_EQ(choice->count(), 9);
  choice->setFocus();
  choice->setCurrentIndex(4);
  emit choice->activated(4);  // braking
  auto* pad = window->findChild<ThrowPad*>("throw pad");
  ASSERT_TRUE(pad->running());
  EXPECT_TRUE(wait_for([&] { return pad->acceleration().x() < -11; })) << "after a second at rest";
  EXPECT_TRUE(wait_for([&] { return pad->state()->surface[0].normal.x() < -0.2; })) << "fuel runs forward";
  QTest::mouseClick(pad, Qt::LeftButton, {}, QPoint(pad->width() / 2, pad->height() / 2));
  EXPECT_NEAR(pad->acceleration().norm(), 0, 0.2) << "a hand on the pad ends it";
}

TEST_F(TankStationTest, DipAndGaugeFollowThePlaceAndTheRake) {
  find<QTabWidget>("tank tabs")->setCurrentIndex(1);
  auto* says = find<QLabel>("what the gauge hides");
  const auto comes = [&](const QString& part) {
    return wait_for([&] { return says->text().contains(part); });
  };
  EXPECT_TRUE(comes("rear left"));
  EXPECT_TRUE(comes("the gauge reads"));
  auto* x = find<QLineEdit>("Stick at x");
  x->setFocus();
  x->selectAll();
  QTest::keyClicks(x, "9 m");
  QTest::keyClick(x, Qt::Key_Return);
  EXPECT_TRUE(comes("no tank under the stick"));
  x->selectAll();
  QTest::keyClicks(x, "nonsense");
  QTest::keyClick(x, Qt::Key_Return);
  EXPECT_TRUE(window->notice().text().contains("Dip stick"));
  const QString level = says->text();
  auto* pitch = find<QLineEdit>("Nose up");
  pitch->setFocus();
  pitch->selectAll();
  QTest::keyClicks(pitch, "4");
  QTest::keyClick(pitch, Qt::Key_Return);
  EXPECT_TRUE(wait_for([&] { return says->text() != level; })) << "another volume when the nose is up";
}

TEST_F(TankStationTest, SloshShowsBothModelsReachAndResonance) {
  window->show_station(Station::slosh);
  workspace().selection.pick_level(0.012);
  auto* tabs = find<QTabWidget>("slosh tabs");
  tabs->setCurrentIndex(1);
  auto* differ = find<QLabel>("where they differ");
  EXPECT_TRUE(wait_for([&] { return differ->text().contains("differ most"); }))
      << differ->text().toStdString();
  const size_t before = workspace().selection.cursor();
  QTest::mouseClick(find<QPushButton>("go there"), Qt::LeftButton);
  const double distance = workspace().runs.lap()->value.distance[workspace().selection.cursor()];
  EXPECT_TRUE(workspace().selection.cursor() != before || distance < 50);
  tabs->setCurrentIndex(2);
  auto* reach = window->findChild<ReachView*>("reach");
  EXPECT_TRUE(wait_for([&] { return reach->ready(); }));
  tabs->setCurrentIndex(3);
  auto* modes = window->findChild<ModesView*>("modes");
  EXPECT_TRUE(wait_for([&] { return modes->ready(); }));
  QTest::mouseClick(modes, Qt::LeftButton, {}, QPoint(modes->width() / 3, modes->height() / 2));
  EXPECT_GT(workspace().runs.level(), 0.014) << "a click picks the level";
}

TEST_F(TankStationTest, AMeshIsCheckedMendedAndUsed) {
  // A box with one side missing.
  const auto file = folder.write(
      "box.obj",
      "v 0 0 0\nv 400 0 0\nv 400 300 0\nv 0 300 0\nv 0 0 200\nv 400 0 200\nv 400 300 200\nv 0 300 200\n"
      "f 4 3 2 1\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n");
  MeshDialog dialog(workspace(), QString::fromStdString(file.string()));
  auto* use = dialog.findChild<QPushButton*>("use");
  auto* report = dialog.findChild<QLabel*>("report");
  EXPECT_FALSE(use->isEnabled());
  EXPECT_TRUE(report->text().contains("the surface is open"));
  dialog.findChild<QCheckBox*>("fill")->setChecked(true);
  EXPECT_TRUE(use->isEnabled()) << report->text().toStdString();
  EXPECT_TRUE(report->text().contains("24.00 L"));
  auto* axes = dialog.findChild<QComboBox*>("axes");
  axes->setCurrentText("y x z");
  EXPECT_FALSE(use->isEnabled()) << "that would mirror it";
  axes->setCurrentText("x y z");
  const tank::MeshShape shape = dialog.shape();
  EXPECT_EQ(shape.file, "box.obj") << "beside the project";
  EXPECT_EQ(shape.mends, std::vector<std::string>{"fill"});
  const bool done = workspace().document.edit("Import", [&](project::Project& p) {
    tank::TankParts parts;
    parts.shapes = {shape};
    parts.pickups = {{"p", {0.2, 0.15, 0.01}, 0.02, "engine"}};
    p.setups[0].tank = parts;
    p.setups[0].lift_pumps.clear();
    p.setups[0].surge.reset();
  });
  ASSERT_TRUE(done) << window->notice().text().toStdString();
  EXPECT_NEAR(workspace().runs.car()->tank->volume(), 0.024, 1e-9);
  workspace().document.save();
  EXPECT_TRUE(window->open(path()));
  EXPECT_NEAR(workspace().runs.car()->tank->volume(), 0.024, 1e-9) << "and read again with the project";
}

TEST_F(TankStationTest, NoLabelIsCutInTheNewViewsInEitherTheme) {
  for (const bool dark : {false, true}) {
    workspace().appearance.set_dark(dark, false);
    for (const PartRef& part : parts_of(workspace().setup()->tank)) {
      view->choose_part(part);
      settle_all();
      for (QLabel* label : window->findChildren<QLabel*>()) {
        if (!label->isVisible() || label->wordWrap() || label->textFormat() == Qt::RichText) continue;
        EXPECT_GE(label->width() + 1, label->sizeHint().width()) << label->text().toStdString();
      }
    }
  }
}

TEST_F(TarnStation, BothSidesAreShownAndTheTurnThrowsFuelOver) {
  const tank::Tank& tank = *workspace().runs.car()->tank;
  ASSERT_EQ(tank.spaces.size(), 3u);
  const auto side = [&](double y) { return static_cast<size_t>(tank.space_at({0, y, 0.02})); };
  const auto at_the_turns_end = [&](double level) {
    workspace().selection.pick_level(level);
    // The longest left-hand corner, near its end.
    workspace().set_cursor_distance(1200);
    EXPECT_GT(workspace().runs.lap()->value.lateral[workspace().selection.cursor()], 5);
    return *workspace().runs.fuel_at_cursor();
  };
  const auto high = at_the_turns_end(0.014);
  EXPECT_GT(high.volume[side(-0.25)], 2 * high.volume[side(0.25)]);
  EXPECT_GT(high.volume[side(0.25)], 0.003) << "what lies behind the tunnel's wall stays";
  EXPECT_GT(high.wet[1], 0.9);
  const auto low = at_the_turns_end(0.004);
  EXPECT_LT(low.wet[0], 0.1) << "on the left it leans on the tunnel, away from its pickup";
  EXPECT_GT(low.wet[1], 0.2) << "on the right it leans outward, over its pickup";
}

}  // namespace
}  // namespace uadze::gui
