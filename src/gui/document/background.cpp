#include "gui/document/background.h"

namespace uadze::gui {
namespace {

int pending = 0;  // only touched in the interface's thread

}  // namespace

int pending_work() { return pending; }
PendingMark::PendingMark() { ++pending; }
PendingMark::~PendingMark() { --pending; }

QThreadPool& background_pool() {
  static QThreadPool pool;
  static const bool sized = [] {
    pool.setMaxThreadCount(8);
    return true;
  }();
  static_cast<void>(sized);
  return pool;
}

}  // namespace uadze::gui
