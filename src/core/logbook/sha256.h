#pragma once
// SHA-256 (FIPS 180-4), by libsodium: where a change should be found that somebody made on purpose. Keys of
// what is only kept for speed are base/content_key.h.
//
// Example:
//   EXPECT_EQ(logbook::sha256("abc").substr(0, 16), "ba7816bf8f01cfea");   // FIPS 180-4's own example
#include <string>
#include <string_view>

namespace uadze::logbook {

/// 64 hexadecimal digits.
std::string sha256(std::string_view bytes);
/// Whether a text is one.
bool is_sha256(std::string_view text);

}  // namespace uadze::logbook
