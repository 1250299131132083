#pragma once

namespace uadze {

/// "0.1.0"
const char* version();

}  // namespace uadze
