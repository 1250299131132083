#include "gui/document/background.h"

#include <sys/resource.h>
// The library has a function called as Qt's macro is.
#pragma push_macro("emit")
#undef emit
#include <tbb/task_scheduler_observer.h>
#pragma pop_macro("emit")

#include <QCoreApplication>
#include <QThreadPool>

namespace uadze::gui {
namespace {

int pending = 0;  // only touched in the interface's thread

/// The interface's thread goes first wherever the cores are few. Linux keeps this for each thread.
void stand_back() {
  thread_local const int done = ::setpriority(PRIO_PROCESS, 0, 10);
  static_cast<void>(done);
}

/// The threads among which one computation is shared out.
class Helpers : public tbb::task_scheduler_observer {
 public:
  Helpers() { observe(true); }
  void on_scheduler_entry(bool is_worker) override {
    if (is_worker) stand_back();
  }
};

}  // namespace

int pending_work() { return pending; }
PendingMark::PendingMark() { ++pending; }
PendingMark::~PendingMark() { --pending; }

void run_in_background(std::function<void()> work) {
  static Helpers helpers;
  static QThreadPool pool;
  static const bool ready = [] {
    // More threads than cores, so that a short answer need not wait for a long one to end.
    pool.setMaxThreadCount(8);
    // Work that has not heard yet of its window's end goes on for a while: the application waits for it,
    // while the tables that it reads are still there (what is static is destroyed in turn, and some of it
    // before the pool).
    qAddPostRoutine([] { pool.waitForDone(); });
    return true;
  }();
  static_cast<void>(ready);
  pool.start([work = std::move(work)] {
    stand_back();
    work();
  });
}

}  // namespace uadze::gui
