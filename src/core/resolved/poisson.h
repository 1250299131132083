#pragma once
// Symmetric positive systems on a lattice's cells, each joined to at most six neighbours, by conjugate
// gradients with a modified incomplete Cholesky factor (Gustafsson 1978; Bridson 2008, Fluid simulation for
// computer graphics, gives it for this use).
//
// Rows are cut into a fixed number of blocks, each with its own factor, whose sums are added in order: the
// digits do not depend on the number of threads.
//
// Example:
//   resolved::Poisson system;                          // -x" = 1 between two walls at 0
//   system.begin(3);
//   for (int i = 0; i < 3; ++i) system.diagonal[i] = 2, system.right[i] = 1;
//   for (int i = 1; i < 3; ++i) system.join(0, i - 1, i, 1.0);
//   const auto solved = system.solve({.enough = 1e-12});
//   EXPECT_NEAR(system.x[1], 2.0, 1e-10);
//   EXPECT_LE(solved.left, 1e-12);
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
  /// Rows without any coupling; what was there is gone, x is zero.
  void begin(int rows);
  int rows() const { return static_cast<int>(diagonal.size()); }
  /// Couples a lower row to a higher along an axis: -k in both, k on neither diagonal.
  void join(int axis, int low, int high, double k) {
    couple(axis, high, low, false, k);
    couple(axis, low, high, true, k);
  }
  /// The row's own half of that, for rows that are written at once by several threads.
  void couple(int axis, int row, int other, bool higher, double k) {
    Links& links = links_[static_cast<std::size_t>(row)];
    links.to[higher][axis] = other, links.k[higher][axis] = k;
  }
  /// The factor of the matrix as it is now: once, then any number of right sides.
  void factor();
  /// From x as it stands. Needs factor(), and does it if it was not done.
  Solved solve(const SolveOptions& options);

  std::vector<double> diagonal, right, x;

 private:
  struct Range {
    int begin = 0, end = 0;
  };
  /// To the lower and the higher rows along each axis: itself, with 0, where there is none.
  struct Links {
    int to[2][3];
    double k[2][3];
  };
  /// The factor's row, ready to be multiplied; what leads beyond its block leads to itself, with 0.
  struct Factor {
    double pivot, k[2][3];
    int to[2][3];
  };
  double product(const Range& rows, const std::vector<double>& v, std::vector<double>& out) const;
  double precondition(const Range& rows);
  template <class F>
  double sum(F&& of) const;

  std::vector<Links> links_;
  std::vector<Factor> factor_;
  std::vector<Range> blocks_;
  std::vector<double> residual_, direction_, image_, step_;
  bool factored_ = false;
};

}  // namespace uadze::resolved
