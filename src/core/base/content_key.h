#pragma once
// Keys by content: the same content has the same key, whoever asks and in whatever order things were read.
//
// Example:
//   KeyMaker maker;
//   maker.add("P4, surge fitted").add(0.0475).add(std::vector<double>{1.0, 2.0});
//   const ContentKey key = maker.key();
//   EXPECT_EQ(key, KeyMaker().add("P4, surge fitted").add(0.0475).add(std::vector<double>{1.0, 2.0}).key());
//
// XXH3, 128 bits (Collet 2019): two of a million different contents agree with a probability of about 1e-27.
#include <compare>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>

namespace uadze {

struct ContentKey {
  std::uint64_t high = 0, low = 0;
  auto operator<=>(const ContentKey&) const = default;
};

class KeyMaker {
 public:
  /// Numbers by their bits, but both zeros as one. Each addition is marked by its kind and length, so that
  /// two different rows of additions are two different contents.
  KeyMaker& add(double value);
  KeyMaker& add(std::int64_t value);
  KeyMaker& add(int value) { return add(static_cast<std::int64_t>(value)); }
  KeyMaker& add(bool value) { return add(static_cast<std::int64_t>(value)); }
  KeyMaker& add(std::string_view text);
  KeyMaker& add(const char* text) { return add(std::string_view(text)); }
  KeyMaker& add(std::span<const double> values);
  KeyMaker& add(const ContentKey& key);
  ContentKey key() const;

 private:
  std::string bytes_;
};

/// Of a file's bytes or another long text.
ContentKey content_key(std::string_view bytes);

}  // namespace uadze
