#pragma once
// Where a function of one number changes: a root between two ends, or the place where an answer turns from
// no to yes. Boost.Math's TOMS 748 and bisection behind one report.
//
// Example:
//   const Root two = root_between([](double x) { return x * x - 4; }, 0.0, 10.0, 1e-12);
//   EXPECT_NEAR(two.value, 2.0, 1e-11);
//   EXPECT_TRUE(two.found());
//   const Turn turn = turn_between([](double x) { return x >= 3; }, 0.0, 10.0, 1e-6);
//   EXPECT_LT(turn.no, 3.0);
//   EXPECT_GE(turn.yes, 3.0);
#include <algorithm>
#include <boost/math/tools/roots.hpp>
#include <cmath>
#include <cstdint>

#include "core/base/require.h"

namespace uadze {

enum class RootStop {
  narrow,      ///< the bracket is as narrow as asked
  exact,       ///< the function is zero there
  no_change,   ///< it has one sign at both ends: `value` is the end nearer to zero
  evaluations  ///< the most evaluations were used up
};

struct Root {
  double value = 0.0;
  double low = 0.0, high = 0.0;  ///< the last bracket
  int evaluations = 0;
  RootStop stop = RootStop::narrow;
  bool found() const { return stop == RootStop::narrow || stop == RootStop::exact; }
};

/// Root of a continuous function between `low` and `high` (low <= high), to `width`. Alefeld, Potra and Shi
/// 1995 (TOMS 748). The value is the bracket's middle.
template <class Function>
Root root_between(Function&& f, double low, double high, double width, int most = 200);

/// The same with the values at the ends known.
template <class Function>
Root root_between(Function&& f, double low, double high, double at_low, double at_high, double width,
                  int most = 200) {
  UADZE_REQUIRE(low <= high, "a bracket's low end is not above its high end");
  Root out{low, low, high, 0, RootStop::narrow};
  if (at_low == 0 || at_high == 0) {
    out.value = out.low = out.high = at_low == 0 ? low : high;
    out.stop = RootStop::exact;
    return out;
  }
  if ((at_low < 0) == (at_high < 0) || std::isnan(at_low) || std::isnan(at_high)) {
    out.value = std::abs(at_low) <= std::abs(at_high) ? low : high;
    out.stop = RootStop::no_change;
    return out;
  }
  const auto counted = [&](double x) {
    ++out.evaluations;
    return static_cast<double>(f(x));
  };
  std::uintmax_t left = static_cast<std::uintmax_t>(most);
  const auto narrow = [width](double a, double b) { return std::abs(b - a) <= width; };
  const auto [a, b] = boost::math::tools::toms748_solve(counted, low, high, at_low, at_high, narrow, left);
  out.low = a, out.high = b;
  out.value = a == b ? a : a + (b - a) / 2;
  out.stop = a == b ? RootStop::exact : narrow(a, b) ? RootStop::narrow : RootStop::evaluations;
  return out;
}

template <class Function>
Root root_between(Function&& f, double low, double high, double width, int most) {
  const double at_low = f(low), at_high = f(high);
  Root out = root_between(f, low, high, at_low, at_high, width, most);
  out.evaluations += 2;
  return out;
}

/// Between a `no` and a `yes` that are `width` apart at the most.
struct Turn {
  double no = 0.0, yes = 0.0;
  int evaluations = 0;
};

/// Where an answer turns, by halving; it is no at `no` and yes at `yes`, which are not asked again.
template <class Answer>
Turn turn_between(Answer&& is, double no, double yes, double width) {
  Turn out{no, yes, 0};
  if (std::abs(yes - no) <= width) return out;
  const double low = std::min(no, yes), high = std::max(no, yes);
  const auto sign = [&](double x) {
    if (x == no) return -1;
    if (x == yes) return 1;
    ++out.evaluations;
    return is(x) ? 1 : -1;
  };
  std::uintmax_t left = 200;
  const auto [a, b] = boost::math::tools::bisect(
      sign, low, high, [width](double x, double y) { return std::abs(y - x) <= width; }, left);
  out.no = no < yes ? a : b;
  out.yes = no < yes ? b : a;
  return out;
}

/// The same in thirds: `both` answers two places at once (first the one nearer to `no`), for work that runs
/// on two cores. Ends when they are `width` apart or after `rounds`.
template <class Answers>
Turn turn_in_thirds(Answers&& both, double no, double yes, double width, int rounds = 200) {
  Turn out{no, yes, 0};
  for (int round = 0; round < rounds && std::abs(out.yes - out.no) > width; ++round) {
    const double third = (out.yes - out.no) / 3, near_no = out.no + third, near_yes = out.yes - third;
    const auto [first, second] = both(near_no, near_yes);
    out.evaluations += 2;
    if (!second)
      out.no = near_yes;
    else if (!first)
      out.no = near_no, out.yes = near_yes;
    else
      out.yes = near_no;
  }
  return out;
}

/// The same where it is likely to turn close to `no`: outward from there, three times as far with each place.
template <class Answers>
Turn turn_close_to(Answers&& both, double no, double yes, double width) {
  const double start = no, whole = yes - no, sign = whole < 0 ? -1 : 1;
  int asked = 0;
  for (double step = width * (1 - 1e-9); 3 * step < std::abs(whole); step *= 9) {
    const double nearer = start + sign * step, further = start + sign * 3 * step;
    const auto [first, second] = both(nearer, further);
    asked += 2;
    if (!second) {
      no = further;
      continue;
    }
    (first ? yes : no) = nearer;
    if (!first) yes = further;
    break;
  }
  Turn out = turn_in_thirds(both, no, yes, width);
  out.evaluations += asked;
  return out;
}

}  // namespace uadze
