#pragma once
// The longest time for which an event loop did not come back to waiting: what a user feels as a stop.
//
// clang-format off
//   const double ms = test::longest_stop(&window, 60, [&](int k) { workspace.set_cursor(k); });
// clang-format on
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QMetaObject>
#include <QThread>
#include <functional>

namespace uadze::test {

/// Does it many times, each as an event of its own, a frame apart; ms of the longest stop meanwhile.
inline double longest_stop(QObject* in, int times, const std::function<void(int)>& act) {
  qint64 longest = 0;
  const auto look = [&](int milliseconds, bool counts) {
    QElapsedTimer all;
    for (all.start(); all.elapsed() < milliseconds;) {
      QElapsedTimer one;
      one.start();
      QCoreApplication::processEvents();  // all that is pending
      if (counts) longest = std::max(longest, one.nsecsElapsed());
      QThread::usleep(300);
    }
  };
  look(300, false);
  for (int k = 0; k < times; ++k) {
    QMetaObject::invokeMethod(
        in, [&act, k] { act(k); }, Qt::QueuedConnection);
    look(16, true);
  }
  return static_cast<double>(longest) / 1e6;
}

}  // namespace uadze::test
