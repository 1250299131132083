#pragma once
// Progress of long work, and the wish to stop it. Shared between the worker and whoever waits.
//
// Example:
//   Progress progress;
//   progress.report(0.4);                           // the worker
//   EXPECT_EQ(progress.fraction(), 0.4);
//   progress.part(0.5, 0.25);                       // the third quarter is another work
//   progress.report(1.0);
//   EXPECT_EQ(progress.fraction(), 0.75);
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
  Progress() = default;
  /// Of a part that reports for itself, and hears the whole's wish to stop. The whole must outlive it.
  explicit Progress(const Progress* whole) : whole_(whole) {}
  void report(double fraction) { fraction_.store(from_ + fraction * share_, std::memory_order_relaxed); }
  /// What is reported from now on is a part of the whole. By the worker, between two works.
  void part(double from, double share) { from_ = from, share_ = share; }
  double fraction() const { return fraction_.load(std::memory_order_relaxed); }
  void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
  bool cancelled() const {
    return cancelled_.load(std::memory_order_relaxed) || (whole_ && whole_->cancelled());
  }
  void check() const {
    if (cancelled()) throw Cancelled{};
  }

 private:
  const Progress* whole_ = nullptr;
  double from_ = 0.0, share_ = 1.0;
  std::atomic<double> fraction_{0.0};
  std::atomic<bool> cancelled_{false};
};

}  // namespace uadze
