#pragma once
// A signal of a CAN bus: which bits of which frame, and what they stand for (can_text.h).
//
// Example:
//   EXPECT_EQ(log::Signal{}.order, log::ByteOrder::little);
#include <string>

namespace uadze::log {

enum class ByteOrder { little, big };
constexpr const char* name_of(ByteOrder order) {
  switch (order) {
    case ByteOrder::little:
      return "little";
    case ByteOrder::big:
      return "big";
  }
  return nullptr;
}

struct Signal {
  std::string name;
  std::string id;  ///< of the frame, hexadecimal: "1A0"
  int start_bit = 0, length = 8;
  ByteOrder order = ByteOrder::little;
  bool negative = false;         ///< whether the highest bit is a sign (two's complement)
  double scale = 1, offset = 0;  ///< value = raw * scale + offset, in `unit`
  std::string unit;
  bool operator==(const Signal&) const = default;
};

}  // namespace uadze::log
