#include "core/base/version.h"

namespace uadze {

const char* version() { return UADZE_VERSION; }

}  // namespace uadze
