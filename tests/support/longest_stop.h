#pragma once
// The longest time for which an event loop did not come back to waiting: what a user feels as a stop.
//
// clang-format off
//   const double ms = test::longest_stop(&window, 60, [&](int k) { workspace.set_cursor(k); }).passed;
// clang-format on
#include <time.h>

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QMetaObject>
#include <QThread>
#include <functional>

namespace uadze::test {

/// ms; the two may be of different stops.
struct LongestStop {
  double passed = 0.0;  ///< by the clock, with what other threads and programs took of the processor
  double busy = 0.0;    ///< processor time of the event loop's own thread
};

/// Does it many times, each as an event of its own, a frame apart.
inline LongestStop longest_stop(QObject* in, int times, const std::function<void(int)>& act) {
  LongestStop longest;
  const auto own_time = [] {
    timespec t{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &t);
    return static_cast<double>(t.tv_sec) * 1e3 + static_cast<double>(t.tv_nsec) / 1e6;
  };
  const auto look = [&](int milliseconds, bool counts) {
    QElapsedTimer all;
    for (all.start(); all.elapsed() < milliseconds;) {
      QElapsedTimer one;
      one.start();
      const double before = own_time();
      QCoreApplication::processEvents();  // all that is pending
      if (counts) {
        longest.passed = std::max(longest.passed, static_cast<double>(one.nsecsElapsed()) / 1e6);
        longest.busy = std::max(longest.busy, own_time() - before);
      }
      QThread::usleep(300);
    }
  };
  look(300, false);
  for (int k = 0; k < times; ++k) {
    QMetaObject::invokeMethod(
        in, [&act, k] { act(k); }, Qt::QueuedConnection);
    look(16, true);
  }
  return longest;
}

}  // namespace uadze::test
