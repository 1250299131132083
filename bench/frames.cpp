// Frames a second of the Tank station at 1280x800 while the lap's cursor runs: the demo, and a tank of 20,000
// triangles. Run: tests/under-xvfb build/dev/bench/frames
#include <QApplication>
#include <QElapsedTimer>
#include <QThread>
#include <cstdio>

#include "bench/fine_mesh.h"
#include "gui/document/background.h"
#include "gui/frame/main_window.h"
#include "gui/look/theme.h"
#include "gui/stations/tank/tank_view.h"

namespace {

using namespace uadze;

double frames_per_second(gui::MainWindow& window) {
  auto* view = window.findChild<gui::TankView*>("tank view");
  QElapsedTimer clock;
  clock.start();
  int frames = 0;
  for (; clock.elapsed() < 4000; ++frames) {
    window.workspace().set_cursor(static_cast<size_t>(frames * 7) % 4700);
    view->redraw();
    QApplication::processEvents();
  }
  return frames * 1000.0 / static_cast<double>(clock.elapsed());
}

}  // namespace

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  gui::apply_theme(app, gui::Theme::make(false));
  gui::MainWindow window;
  window.resize(1280, 800);
  window.show();
  if (!window.open(UADZE_SOURCE_DIR "/demo/ostrel-p4.uadze.json")) return 1;
  window.show_station(gui::Station::tank);
  window.workspace().selection.pick_level(0.02);
  while (gui::pending_work() > 0) QApplication::processEvents(QEventLoop::AllEvents, 20), QThread::msleep(5);
  std::printf("demo: %.1f frames/s\n", frames_per_second(window));

  const auto folder = std::filesystem::temp_directory_path() / "uadze-frames";
  std::filesystem::create_directories(folder);
  bench::fine_mesh(folder / "fine.stl", 144, 70);
  write_file_atomically(folder / "fine.uadze.json",
                        R"({"undertow_adze_project": 1, "setups": [{"name": "fine", "tank":
      {"shapes": [{"kind": "mesh", "file": "fine.stl", "orient": "yes"}]}}]})");
  if (!window.open(QString::fromStdString((folder / "fine.uadze.json").string()))) return 1;
  window.workspace().selection.pick_level(0.02);
  while (gui::pending_work() > 0) QApplication::processEvents(QEventLoop::AllEvents, 20), QThread::msleep(5);
  std::printf("tank of %zu triangles: %.1f frames/s\n",
              window.workspace().runs.car()->tank->whole.triangles().size(), frames_per_second(window));
  std::filesystem::remove_all(folder);
  return 0;
}
