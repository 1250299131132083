#include "core/logbook/sha256.h"

#include <sodium/crypto_hash_sha256.h>
#include <sodium/utils.h>

#include <algorithm>
#include <array>

namespace uadze::logbook {

std::string sha256(std::string_view bytes) {
  std::array<unsigned char, crypto_hash_sha256_BYTES> hash;
  crypto_hash_sha256(hash.data(), reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
  std::array<char, 2 * crypto_hash_sha256_BYTES + 1> text;
  sodium_bin2hex(text.data(), text.size(), hash.data(), hash.size());
  return text.data();
}

bool is_sha256(std::string_view text) {
  return text.size() == 2 * crypto_hash_sha256_BYTES && std::all_of(text.begin(), text.end(), [](char c) {
           return (c >= '0' && c <= '9') || (c >= 'a' && c <= 'f');
         });
}

}  // namespace uadze::logbook
