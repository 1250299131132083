#pragma once
// One background computation of a view: starting another cancels the one before, and only the newest answer
// arrives, in the interface's thread.
//
//   Background<Reach> reach_;
//   reach_.start(this, [=](Progress& progress) { return compute(..., &progress); }, [=](Reach r) { show(r);
//   });
#include <QCoreApplication>
#include <QPointer>
#include <QThreadPool>
#include <functional>
#include <memory>

#include "core/base/progress.h"

namespace uadze::gui {

template <class Result>
class Background {
 public:
  ~Background() { cancel(); }
  void cancel() {
    if (progress_) progress_->cancel();
    progress_ = nullptr;
  }
  bool running() const { return progress_ != nullptr; }

  /// `done` is called unless `owner` is gone or another computation was started. What `work` uses it must
  /// own.
  void start(QObject* owner, std::function<Result(Progress&)> work, std::function<void(Result)> done) {
    cancel();
    progress_ = std::make_shared<Progress>();
    QThreadPool::globalInstance()->start([this, alive = QPointer<QObject>(owner), progress = progress_,
                                          work = std::move(work), done = std::move(done)] {
      try {
        auto result = std::make_shared<Result>(work(*progress));
        // The owner is looked at in its own thread only.
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [this, alive, progress, result, done] {
              if (!alive || progress->cancelled() || progress != progress_) return;
              progress_ = nullptr;
              done(std::move(*result));
            },
            Qt::QueuedConnection);
      } catch (const Cancelled&) {
        // Whoever cancelled has already moved on.
      }
    });
  }

 private:
  std::shared_ptr<Progress> progress_;
};

}  // namespace uadze::gui
