#pragma once
// The longest time for which an event loop did not come back to waiting: what a user feels as a stop.
//
// clang-format off
//   LongestStop stop;
//   ... events ...
//   stop.milliseconds()
// clang-format on
#include <QAbstractEventDispatcher>
#include <QElapsedTimer>
#include <QMetaObject>
#include <QTest>
#include <functional>

namespace uadze::test {

class LongestStop {
 public:
  LongestStop() {
    auto* loop = QAbstractEventDispatcher::instance();
    awake_ = QObject::connect(loop, &QAbstractEventDispatcher::awake, [this] { clock_.start(); });
    blocks_ = QObject::connect(loop, &QAbstractEventDispatcher::aboutToBlock, [this] { look(); });
  }
  ~LongestStop() {
    QObject::disconnect(awake_);
    QObject::disconnect(blocks_);
  }
  LongestStop(const LongestStop&) = delete;
  LongestStop& operator=(const LongestStop&) = delete;
  double milliseconds() const { return longest_; }

 private:
  void look() {
    if (clock_.isValid()) longest_ = std::max(longest_, static_cast<double>(clock_.nsecsElapsed()) / 1e6);
    clock_.invalidate();
  }
  QMetaObject::Connection awake_, blocks_;
  QElapsedTimer clock_;
  double longest_ = 0.0;
};

/// Does it many times, each as an event of its own, a frame apart; ms of the longest stop meanwhile.
inline double longest_stop(QObject* in, int times, const std::function<void(int)>& act) {
  QTest::qWait(100);
  LongestStop stop;
  for (int k = 0; k < times; ++k) {
    QMetaObject::invokeMethod(
        in, [&act, k] { act(k); }, Qt::QueuedConnection);
    QTest::qWait(16);
  }
  return stop.milliseconds();
}

}  // namespace uadze::test
