#pragma once
// Progress of long work, and the wish to stop it. Shared between the worker and whoever waits.
//
// Example:
//   Progress progress;
//   progress.report(0.4);                           // the worker
//   EXPECT_EQ(progress.fraction(), 0.4);
//   progress.cancel();                              // whoever waits
//   EXPECT_THROW(progress.check(), Cancelled);      // the worker's next question
#include <atomic>
#include <exception>

namespace uadze {

struct Cancelled : std::exception {
  const char* what() const noexcept override { return "cancelled"; }
};

class Progress {
 public:
  void report(double fraction) { fraction_.store(fraction, std::memory_order_relaxed); }
  double fraction() const { return fraction_.load(std::memory_order_relaxed); }
  void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
  bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }
  void check() const {
    if (cancelled()) throw Cancelled{};
  }

 private:
  std::atomic<double> fraction_{0.0};
  std::atomic<bool> cancelled_{false};
};

}  // namespace uadze
