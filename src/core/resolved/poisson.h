#pragma once
// Symmetric positive systems on a lattice's cells, each joined to at most six neighbours, by conjugate
// gradients with a modified incomplete Cholesky factor (Gustafsson 1978; Bridson 2008, Fluid simulation for
// computer graphics, gives it for this use).
//
// Couplings, the factor and the directions in which is looked are single numbers, so that more of them stay
// in a machine's cache: right to some ten-millionths, not to a double's last digits.
//
// Rows are eliminated in their order. What is not joined but through the rows after it may be done side by
// side: so cells are numbered from a lattice's corners towards its middle (van der Vorst 1987, SIAM J. Sci.
// Stat. Comput. 8), and nothing is cut off the factor for it. Sums are added range by range: the digits do
// not depend on the number of threads.
//
// Example:
//   resolved::Poisson system;                          // -x" = 1 between two walls at 0
//   system.begin(3);
//   for (int i = 0; i < 3; ++i) system.diagonal[i] = 2, system.right[i] = 1;
//   for (int i = 1; i < 3; ++i) system.join(0, i - 1, i, 1.0);      // from one end to the other
//   const auto solved = system.solve({.enough = 1e-7});
//   EXPECT_NEAR(system.x[1], 2.0, 1e-6);
//   EXPECT_LE(solved.left, 1e-7);
#include <array>
#include <cstddef>
#include <vector>

namespace uadze::resolved {

struct SolveOptions {
  double enough = 1e-6;  ///< largest residual that may be left, in the right side's unit
  int most = 400;        ///< iterations
};

struct Solved {
  int iterations = 0;
  double left = 0.0;  ///< largest residual
};

class Poisson {
 public:
  /// Rows without any coupling; what was there is gone, x is zero. `apart`: where ranges end, from the first
  /// row on, that are joined to none of each other, only to the rows after the last of them.
  void begin(int rows, const std::vector<int>& apart = {});
  int rows() const { return static_cast<int>(diagonal.size()); }
  /// Couples two rows, `high` on the upper side of `low` along an axis: -k in both, k on neither diagonal.
  void join(int axis, int low, int high, double k) {
    couple(axis, high, low, false, k);
    couple(axis, low, high, true, k);
  }
  /// The row's own half of that, for rows that are written at once by several threads.
  void couple(int axis, int row, int other, bool upper, double k) {
    Links& links = links_[static_cast<std::size_t>(row)];
    links.to[upper][axis] = other, links.k[upper][axis] = static_cast<float>(k);
  }
  /// The factor of the matrix as it is now: once, then any number of right sides.
  void factor();
  /// From x as it stands. Needs factor(), and does it if it was not done.
  Solved solve(const SolveOptions& options);

  std::vector<double> diagonal, right, x;

 private:
  struct Range {
    int begin = 0, end = 0;
    bool few = true;  ///< no row is joined to more than three before it
  };
  /// On the lower and the upper side along each axis: itself, with 0, where there is none.
  struct Links {
    int to[2][3];
    float k[2][3];
  };
  /// Half of the factor's row, to rows before it or after it, ready to be multiplied: itself, with 0, where
  /// there are fewer. Each half is gone through once, by itself.
  struct Half {
    int to[3];
    float pivot, k[3];
  };
  template <class F>
  double sum(F&& of) const;
  template <class F>
  void apart(F&& each) const;
  void factor(Range& rows);
  template <class In, class Use>
  void product(const Range& rows, const std::vector<In>& v, Use&& use) const;
  template <class Before>
  double precondition(Before&& before);
  void forward(const Range& rows);
  double back(const Range& rows);

  std::vector<Links> links_;
  std::vector<Half> before_, after_;
  std::vector<Range> apart_;  ///< side by side
  Range last_;                ///< after all of them
  std::vector<double> residual_;
  std::vector<float> direction_, image_, step_;
  bool factored_ = false;
};

}  // namespace uadze::resolved
