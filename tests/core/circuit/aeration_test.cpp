#include "core/circuit/aeration.h"

#include <gtest/gtest.h>

#include "support/circuits.h"

namespace uadze::circuit {
namespace {

// By hand: 8 mm, 2 m/s, falling 0.1 m: u_i = 2.441, d_i = 7.24 mm, Fr = 83.9, (L/d)^0.4 = 2.858, Fr^0.28
// = 3.456.
TEST(Aeration, PlungingJetByHand) {
  const double bore = 8e-3, flow = 2.0 * 3.14159265358979 / 4 * bore * bore;
  const AerationInput in{.flow = flow, .bore = bore, .fall = 0.1, .surface = 0.01, .drawn = 1e-4};
  const Aeration now = aeration(in);
  EXPECT_NEAR(now.speed, 2.4415, 1e-3);
  EXPECT_NEAR(now.entrained / flow, 0.04 * 3.456 * 2.858, 2e-3);
  EXPECT_NEAR(now.share, now.entrained / (0.1 * 0.01 + 1e-4 + now.entrained), 1e-12);
  EXPECT_FALSE(now.in_range) << "9.9 is under the 10 of the law's range, and is said to be";
  EXPECT_TRUE(
      aeration({.flow = 2 * flow, .bore = bore, .fall = 0.2, .surface = 0.01, .drawn = 1e-4}).in_range);
}

TEST(Aeration, LessWithDiffuserFoamALargerSurfaceOrALowerFall) {
  test::Random random(12);
  for (int k = 0; k < 200; ++k) {
    AerationInput in{.flow = random.uniform(10e-6, 120e-6),
                     .bore = random.uniform(5e-3, 14e-3),
                     .fall = random.uniform(0.02, 0.4),
                     .surface = random.uniform(0.005, 0.3),
                     .drawn = random.uniform(20e-6, 150e-6)};
    const double share = aeration(in).share;
    EXPECT_GE(share, 0);
    EXPECT_LT(share, 1);
    const auto with = [&](auto change) {
      AerationInput other = in;
      change(other);
      return aeration(other).share;
    };
    EXPECT_LE(with([](auto& o) { o.foam = true; }), share);
    EXPECT_LE(with([](auto& o) { o.surface *= 2; }), share);
    EXPECT_LE(with([](auto& o) { o.fall *= 0.5; }), share);
    EXPECT_EQ(with([](auto& o) { o.fall = 0; }), 0) << "under the fuel there is no jet";
    EXPECT_EQ(with([](auto& o) { o.flow = 0; }), 0);
  }
}

// The return into a small surge tank: the pumps that draw there bring less fuel, by about the gas's share.
TEST(Aeration, ActsOnThePumpsThatDrawWhereTheReturnEnds) {
  Case c = test::plain_case();
  c.surroundings.surge_area = 0.004;
  c.circuit.back = {test::line(6, 1.5)};
  const State under = run(c);
  c.circuit.return_above_fuel = true;
  c.circuit.return_fall = 0.15;
  const State above = run(c);
  ASSERT_TRUE(above.solution.converged);
  EXPECT_GT(above.aeration.share, 0.01);
  EXPECT_EQ(under.aeration.share, 0);
  EXPECT_NEAR(above.delivered, under.delivered * (1 - above.aeration.share), 0.01 * under.delivered);
  EXPECT_NEAR(above.surge.lift, under.surge.lift, 0.01 * under.surge.lift);
  bool said = false;
  for (const Finding& f : above.findings)
    said = said || f.text.in().find("draws gas down") != std::string::npos;
  EXPECT_TRUE(said);
  const double plain = above.aeration.share;
  c.circuit.back.insert(c.circuit.back.begin(), test::of_type(PartKind::diffuser, "surge diffuser"));
  EXPECT_LT(run(c).aeration.share, plain);
}

}  // namespace
}  // namespace uadze::circuit
