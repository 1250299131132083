// The longest stop of the window's event loop while the level, the cursor and a pickup are moved and a lap is
// played: 8 ms in every demo, without drawing (the window is not shown) and with it. "busy" is what the
// interface's own thread computed at most; the rest of a stop is what the background had of the processor.
// Run: tests/under-xvfb build/release/bench/stops [pickup]   (one of level, cursor, pickup, playing only; or
// first: what it takes to show each station and each of its pages, for the first time and again)
#include <QApplication>
#include <QTabWidget>
#include <cstdio>
#include <string_view>

#include "gui/frame/main_window.h"
#include "gui/frame/sight_glass.h"
#include "gui/look/theme.h"
#include "tests/support/longest_stop.h"

namespace {

using namespace uadze;

void wait() {
  while (gui::pending_work() > 0) QApplication::processEvents(QEventLoop::WaitForMoreEvents, 10);
}

/// Each station and each of its pages, shown for the first time and once more.
void first_shows(gui::MainWindow& window) {
  const auto told = [&](const QString& what, const std::function<void()>& show) {
    wait();
    const auto stop = test::longest_stop(&window, 1, [&](int) { show(); });
    std::printf("  %s %.1f ms (busy %.1f)\n", qPrintable(what), stop.passed, stop.busy);
  };
  std::printf("\n");
  for (const char* time : {"first", "again"})
    for (size_t s = 0; s < gui::station_count; ++s) {
      const auto station = static_cast<gui::Station>(s);
      const QString name = gui::station_title(station) + ", " + time;
      told(name, [&] { window.show_station(station); });
      for (auto* pages : window.findChildren<QTabWidget*>())
        for (int page = 1; pages->isVisible() && page < pages->count(); ++page)
          told(name + ", " + pages->tabText(page), [&] { pages->setCurrentIndex(page); });
    }
}

}  // namespace

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  gui::apply_theme(app, gui::Theme::make(false));
  for (const bool drawn : {false, true})
    for (const char* demo : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
      gui::MainWindow window;
      window.resize(1280, 800);
      if (drawn) window.show();
      auto& w = window.workspace();
      w.runs.set_effort({.band = false, .others = false});
      if (!window.open(QString(UADZE_SOURCE_DIR "/demo/%1.uadze.json").arg(demo))) return 1;
      while (w.runs.evaluator.running()) QApplication::processEvents(QEventLoop::WaitForMoreEvents, 10);
      const double tank = w.runs.car()->tank->volume();
      const auto samples = w.runs.lap()->value.size();
      struct Doing {
        const char* what;
        gui::Station station;
        std::function<void(int)> act;
      };
      const Doing all[] = {
          {"level", gui::Station::slosh,
           [&](int k) { w.selection.pick_level(tank * (0.05 + 0.9 * (k % 40) / 40)); }},
          {"cursor", gui::Station::slosh,
           [&](int k) { w.set_cursor(static_cast<size_t>(k) * 37 % samples); }},
          {"pickup", gui::Station::tank,
           [&](int k) {
             w.document.edit("move", [&](project::Project& p) {
               p.setups[0].tank.pickups[0].position.z() += k % 2 ? 1e-3 : -1e-3;
             });
           }},
          {"playing", gui::Station::tank, [&](int k) { w.set_cursor(static_cast<size_t>(k) * 3 % samples); }},
      };
      std::printf("%s, %s:", demo, drawn ? "drawn" : "not drawn");
      if (argc > 1 && std::string_view(argv[1]) == "first") {
        first_shows(window);
        continue;
      }
      // As somebody has it who has been everywhere: a hidden station must cost nothing.
      for (size_t s = 0; s < gui::station_count; ++s) {
        window.show_station(static_cast<gui::Station>(s));
        wait();
      }
      for (const Doing& d : all) {
        if (argc > 1 && std::string_view(argv[1]) != d.what) continue;
        window.show_station(d.station);
        wait();
        const auto stop = test::longest_stop(&window, 60, d.act);
        std::printf("  %s %.1f ms (busy %.1f)", d.what, stop.passed, stop.busy);
      }
      std::printf("\n");
      std::fflush(stdout);
      w.document.undo()->setClean();
    }
  return 0;
}
