#pragma once
// Something shown anew a little later, once for all the signals that ask meanwhile.
//
//   Later later_{100, this, [this] { refresh(); }};
//   connect(&workspace, &Workspace::cursor_moved, this, [this] { later_.ask(); });
#include <QTimer>
#include <memory>

#include "gui/document/background.h"

namespace uadze::gui {

class Later {
 public:
  /// `then` is not called any more once `owner` is gone.
  template <class Then>
  Later(int milliseconds, QObject* owner, Then then) {
    timer_.setSingleShot(true);
    timer_.setInterval(milliseconds);
    QObject::connect(&timer_, &QTimer::timeout, owner, [this, then] {
      const auto mark = std::move(mark_);  // what it starts is counted before this is not
      then();
    });
  }
  void ask() {
    if (timer_.isActive()) return;
    mark_ = std::make_unique<PendingMark>();
    timer_.start();
  }

 private:
  QTimer timer_;
  std::unique_ptr<PendingMark> mark_;
};

}  // namespace uadze::gui
