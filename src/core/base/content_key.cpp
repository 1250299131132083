#include "core/base/content_key.h"

#define XXH_INLINE_ALL
#include <xxhash.h>

#include <bit>

namespace uadze {
namespace {

template <class T>
void append(std::string& bytes, const T& value) {
  bytes.append(reinterpret_cast<const char*>(&value), sizeof value);
}

double one_zero(double value) { return value == 0.0 ? 0.0 : value; }

}  // namespace

KeyMaker& KeyMaker::add(double value) {
  bytes_ += 'd';
  append(bytes_, one_zero(value));
  return *this;
}

KeyMaker& KeyMaker::add(std::int64_t value) {
  bytes_ += 'i';
  append(bytes_, value);
  return *this;
}

KeyMaker& KeyMaker::add(std::string_view text) {
  bytes_ += 's';
  append(bytes_, text.size());
  bytes_ += text;
  return *this;
}

KeyMaker& KeyMaker::add(std::span<const double> values) {
  bytes_ += 'v';
  append(bytes_, values.size());
  for (double v : values) append(bytes_, one_zero(v));
  return *this;
}

KeyMaker& KeyMaker::add(const ContentKey& key) {
  bytes_ += 'k';
  append(bytes_, key.high);
  append(bytes_, key.low);
  return *this;
}

ContentKey KeyMaker::key() const { return content_key(bytes_); }

ContentKey content_key(std::string_view bytes) {
  const XXH128_hash_t hash = XXH3_128bits(bytes.data(), bytes.size());
  return {hash.high64, hash.low64};
}

}  // namespace uadze
