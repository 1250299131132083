// What must not change a circuit's answer: a mirror, a turn of car and force together, the order of like
// legs, a line cut in two.
#include <gtest/gtest.h>

#include <Eigen/Geometry>

#include "core/circuit/circuit.h"
#include "support/circuits.h"

namespace uadze::circuit {
namespace {

/// Every direction of the case through `turn`.
Case turned(Case c, const Mat3& turn) {
  const auto through = [&](Leg& leg) {
    for (Part& p : leg) p.run = turn * p.run;
  };
  for (const LegPlace& place : legs_of(c.circuit, c.surroundings))
    if (Leg* leg = leg_at(c.circuit, place)) through(*leg);
  c.at.force = turn * c.at.force;
  for (auto& pickup : c.surroundings.pickups)
    if (pickup.place) pickup.place = turn * *pickup.place;
  for (Vec3& at : c.surroundings.returns) at = turn * at;
  return c;
}

/// Flows, pressures and currents alike, but for what the solver leaves.
void expect_alike(const State& a, const State& b, int n, const char* what) {
  ASSERT_EQ(a.solution.converged, b.solution.converged) << what << " " << n;
  if (!a.solution.converged) return;
  EXPECT_NEAR(a.rail_difference, b.rail_difference, 1e-4 * std::abs(a.rail_difference) + 20)
      << what << " " << n;
  EXPECT_NEAR(a.delivered, b.delivered, 1e-4 * a.delivered + 2e-9) << what << " " << n;
  EXPECT_NEAR(a.regulator.flow, b.regulator.flow, 1e-4 * a.delivered + 2e-9) << what << " " << n;
  EXPECT_EQ(a.regulator.mode, b.regulator.mode) << what << " " << n;
  double current = 0, other = 0;
  for (const PumpState& p : a.pumps) current += p.current;
  for (const PumpState& p : b.pumps) other += p.current;
  EXPECT_NEAR(current, other, 1e-4 * current + 1e-3) << what << " " << n;
}

TEST(Symmetry, ACircuitInAMirrorDoesTheSame) {
  test::Random random(11);
  const Mat3 mirror = Vec3(1, -1, 1).asDiagonal();
  for (int n = 0; n < 150; ++n) {
    const Case c = test::random_case(random);
    expect_alike(run(c), run(turned(c, mirror)), n, "mirrored");
  }
}

// About the upright only: the regulator was set in the garage, where the car stood on its wheels.
TEST(Symmetry, TurnedTogetherWithItsForceNothingChanges) {
  test::Random random(12);
  for (int n = 0; n < 150; ++n) {
    const Case c = test::random_case(random);
    const Mat3 turn = Eigen::AngleAxisd(random.uniform(0, 6), Vec3::UnitZ()).toRotationMatrix();
    expect_alike(run(c), run(turned(c, turn)), n, "turned");
  }
}

TEST(Symmetry, TheOrderOfTheMainPumpsDoesNotMatter) {
  test::Random random(13);
  int tried = 0;
  for (int n = 0; n < 150; ++n) {
    Case c = test::random_case(random);
    if (c.circuit.mains.size() < 2) continue;
    ++tried;
    const State before = run(c);
    std::reverse(c.circuit.mains.begin(), c.circuit.mains.end());
    const State after = run(c);
    expect_alike(before, after, n, "reversed");
    // Each pump has gone with its leg.
    std::vector<double> flows, others;
    for (const PumpState& p : before.pumps)
      if (p.leg.kind == LegKind::main) flows.push_back(p.flow);
    for (const PumpState& p : after.pumps)
      if (p.leg.kind == LegKind::main) others.push_back(p.flow);
    std::sort(flows.begin(), flows.end()), std::sort(others.begin(), others.end());
    ASSERT_EQ(flows.size(), others.size());
    for (size_t k = 0; k < flows.size(); ++k)
      EXPECT_NEAR(flows[k], others[k], 1e-4 * std::abs(before.delivered) + 2e-9) << n;
  }
  EXPECT_GT(tried, 50);
}

TEST(Symmetry, ALineCutInTwoIsTheSameLine) {
  test::Random random(14);
  for (int n = 0; n < 150; ++n) {
    const Case c = test::random_case(random);
    Case cut = c;
    for (const LegPlace& place : legs_of(cut.circuit, cut.surroundings)) {
      Leg* leg = leg_at(cut.circuit, place);
      if (!leg) continue;
      for (size_t i = 0; i < leg->size(); ++i) {
        if ((*leg)[i].kind != PartKind::line) continue;
        const double share = random.uniform(0.1, 0.9);
        Part rest = (*leg)[i];
        rest.length *= 1 - share, rest.run *= 1 - share;
        (*leg)[i].length *= share, (*leg)[i].run *= share;
        leg->insert(leg->begin() + static_cast<std::ptrdiff_t>(i) + 1, rest);
        ++i;
      }
    }
    expect_alike(run(c), run(cut), n, "cut");
  }
}

// Hand over hand: what leaves one place arrives at the next, along every leg of a hundred random circuits.
TEST(Symmetry, PressureIsHandedOnFromPartToPart) {
  test::Random random(15);
  for (int n = 0; n < 100; ++n) {
    const State s = run(test::random_case(random));
    if (!s.solution.converged) continue;
    for (size_t i = 1; i < s.parts.size(); ++i) {
      const PartState &before = s.parts[i - 1], &now = s.parts[i];
      if (!(before.leg == now.leg) || now.part != before.part + 1) continue;
      if (std::abs(before.flow - now.flow) > 1e-12) continue;  // ways side by side
      EXPECT_NEAR(before.outlet, now.inlet, 1e-3 * std::abs(now.inlet) + 300) << n << ", " << now.label;
      EXPECT_FALSE(std::isnan(now.loss)) << n;
    }
  }
}

}  // namespace
}  // namespace uadze::circuit
