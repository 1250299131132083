#pragma once
// Preconditions: what a function needs of its caller, checked in the dev and sanitize presets
// (UADZE_CHECKS), nothing in what is shipped. A broken one is a fault of this program, not of an input:
// inputs give an InputError.
//
// Example:
//   const std::vector<double> time{0.0, 0.5, 1.0};
//   UADZE_REQUIRE(std::is_sorted(time.begin(), time.end()), "time rises");
#include <cstdio>
#include <cstdlib>

namespace uadze {

[[noreturn]] inline void broken_precondition(const char* what, const char* file, int line) {
  std::fprintf(stderr, "%s:%d: precondition broken: %s\n", file, line, what);
  std::abort();
}

}  // namespace uadze

#ifdef UADZE_CHECKS
#define UADZE_REQUIRE(condition, what) \
  ((condition) ? static_cast<void>(0) : ::uadze::broken_precondition(what, __FILE__, __LINE__))
#else
#define UADZE_REQUIRE(condition, what) static_cast<void>(0)
#endif
