#pragma once
// One background computation of a view: starting another cancels the one before, only the newest answers
// arrive, in the interface's thread, and whatever goes wrong is told there too. The one way in which the
// window computes anything.
//
//   Background<Reach> reach_;
//   reach_.start(this, [=](Progress& progress) { return compute(..., &progress); },
//                [=](Reach r) { show(std::move(r)); },
//                [=](const QString& why) { say(why); });
#include <QCoreApplication>
#include <QPointer>
#include <QString>
#include <functional>
#include <memory>

#include "core/base/progress.h"

namespace uadze::gui {

/// How many computations and put-off refreshes are under way: at 0 the window shows all that it will show.
int pending_work();

/// Counts as pending work for as long as it lives; only in the interface's thread.
class PendingMark {
 public:
  PendingMark();
  PendingMark(const PendingMark&) = delete;
  PendingMark& operator=(const PendingMark&) = delete;
  ~PendingMark();
};

/// Runs it in another thread, which stands back for the interface's.
void run_in_background(std::function<void()> work);

template <class Result>
class Background {
 public:
  using Publish = std::function<void(Result)>;

  Background() = default;
  Background(const Background&) = delete;
  Background& operator=(const Background&) = delete;
  ~Background() { cancel(); }
  void cancel() {
    if (progress_) progress_->cancel();
    progress_ = nullptr;
    mark_.reset();
  }
  bool running() const { return progress_ != nullptr; }
  /// 0..1; 1 while nothing runs.
  double fraction() const { return progress_ ? progress_->fraction() : 1.0; }

  /// `done` or `failed` is called, unless `owner` is gone or another computation was started. What `work`
  /// uses it must own.
  void start(QObject* owner, std::function<Result(Progress&)> work, std::function<void(Result)> done,
             std::function<void(const QString&)> failed) {
    start_in_steps(
        owner, [work = std::move(work)](Progress& progress, const Publish&) { return work(progress); }, {},
        std::move(done), std::move(failed));
  }

  /// Work that tells of what it has on the way: `step` is called for each, then `done` for the last.
  void start_in_steps(QObject* owner, std::function<Result(Progress&, const Publish&)> work,
                      std::function<void(Result)> step, std::function<void(Result)> done,
                      std::function<void(const QString&)> failed) {
    cancel();
    progress_ = std::make_shared<Progress>();
    mark_ = std::make_unique<PendingMark>();
    // In the interface's thread, and only while this computation is the newest of an owner that lives.
    const auto deliver = [this, alive = QPointer<QObject>(owner),
                          progress = progress_](std::function<void()> then) {
      QMetaObject::invokeMethod(
          QCoreApplication::instance(),
          [this, alive, progress, then = std::move(then)] {
            if (alive && !progress->cancelled() && progress == progress_) then();
          },
          Qt::QueuedConnection);
    };
    run_in_background([this, deliver, progress = progress_, work = std::move(work), step = std::move(step),
                       done = std::move(done), failed = std::move(failed)] {
      const auto end = [&](std::function<void()> then) {
        deliver([this, then = std::move(then)] {
          progress_ = nullptr;
          const auto mark = std::move(mark_);  // what follows may start more: the count does not fall between
          then();
        });
      };
      try {
        const auto publish = [&](Result partial) {
          deliver(
              [step, partial = std::make_shared<Result>(std::move(partial))] { step(std::move(*partial)); });
        };
        auto result = std::make_shared<Result>(work(*progress, publish));
        end([done, result] { done(std::move(*result)); });
      } catch (const Cancelled&) {
        // Whoever cancelled has already moved on.
      } catch (const std::exception& error) {
        end([failed, why = QString::fromUtf8(error.what())] { failed(why); });
      } catch (...) {
        end([failed] { failed("the computation failed"); });
      }
    });
  }

 private:
  std::shared_ptr<Progress> progress_;
  std::unique_ptr<PendingMark> mark_;
};

}  // namespace uadze::gui
