#pragma once
// Eight numbers side by side, for loops that the compiler puts into wide registers.
//
// A function marked UADZE_WIDE is compiled for several kinds of registers, and the widest that the machine
// has is taken. Its operations are written out lane by lane and sums are taken in one order, so the digits
// are the same on all of them.
//
// Example:
//   const Lane x{1, 2, 3, 4, 5, 6, 7, 8};
//   EXPECT_EQ(total(x), 36.0);
#include <array>
#include <cstddef>

// Not under sanitizers, which can not look into the choice.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(__SANITIZE_ADDRESS__)
#define UADZE_WIDE __attribute__((target_clones("avx512f", "avx2", "default")))
#else
#define UADZE_WIDE
#endif

namespace uadze {

inline constexpr size_t lanes = 8;
using Lane = std::array<double, lanes>;

inline double total(const Lane& x) {
  return ((x[0] + x[4]) + (x[2] + x[6])) + ((x[1] + x[5]) + (x[3] + x[7]));
}
inline size_t lane_blocks(size_t count) { return (count + lanes - 1) / lanes; }

}  // namespace uadze
