#pragma once
// The version, as the build gives it.
//
// Example:
//   EXPECT_STRNE(version(), "");

namespace uadze {

/// "0.1.0"
const char* version();

}  // namespace uadze
