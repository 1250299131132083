#pragma once
// Progress of long work, and the wish to stop it. Shared between the worker and whoever waits.
//
//   Progress progress;
//   worker: progress.check(); ... progress.report(0.4);
//   waiter: progress.cancel();   // the worker's next check() throws Cancelled
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
