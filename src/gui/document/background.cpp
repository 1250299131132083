#include "gui/document/background.h"

namespace uadze::gui {

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
