#include "core/circuit/pump.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::circuit {
namespace {

using test::litre_per_hour;

using ::testing::HasSubstr;

PumpCurves two_curves() {
  return {.curves = {{10, {{0, 60e-6, 4}, {3e5, 40e-6, 7}, {6e5, 0, 10}}},
                     {14, {{0, 90e-6, 5}, {3e5, 75e-6, 8}, {8e5, 10e-6, 13}}}}};
}

TEST(Pump, MeetsItsPointsAndIsLinearBetweenThem) {
  const PumpCurves p = two_curves();
  EXPECT_NEAR(operate(p, 3e5, 14).flow, 75e-6, 1e-15);
  EXPECT_NEAR(operate(p, 3e5, 14).current, 8, 1e-12);
  EXPECT_NEAR(operate(p, 3e5, 12).flow, 57.5e-6, 1e-15);
  EXPECT_NEAR(operate(p, 1.5e5, 10).flow, 50e-6, 1e-15);
}

TEST(Pump, AffinityOutsideItsVoltages) {
  const PumpCurves p = two_curves();
  const double n = 7.0 / 10;
  EXPECT_NEAR(operate(p, 3e5 * n * n, 7).flow, n * 40e-6, 1e-15);
  EXPECT_NEAR(operate(p, 3e5 * n * n, 7).current, n * n * 7, 1e-12);
}

TEST(Pump, FixedPointOfVoltageAndCurrent) {
  const PumpCurves p = two_curves();
  test::Random random(4);
  for (int k = 0; k < 300; ++k) {
    const PumpDrive drive{random.uniform(9, 15), random.uniform(0, 0.25)};
    const double rise = random.uniform(0, 6e5);
    const Operation now = wired(p, rise, drive);
    EXPECT_NEAR(now.voltage + drive.resistance * now.current, drive.supply, 1e-7);
    EXPECT_NEAR(now.flow, operate(p, rise, now.voltage).flow, 1e-15);
    EXPECT_LE(now.flow, operate(p, rise, drive.supply).flow + 1e-15) << "wires never help";
    EXPECT_LE(now.flow_by_rise, 0);
  }
}

TEST(Pump, ASinglePointIsMetAndTheCurveSaysThatItIsEstimated) {
  const PumpCurves p = estimated_curves({.flow = 80e-6, .pressure = 3e5, .voltage = 13.5, .current = 9});
  EXPECT_TRUE(p.estimated);
  EXPECT_TRUE(curve_faults(p).empty());
  EXPECT_NEAR(operate(p, 3e5, 13.5).flow, 80e-6, 1e-12);
  EXPECT_NEAR(operate(p, 3e5, 13.5).current, 9, 1e-9);
  EXPECT_NEAR(operate(p, 0, 13.5).flow, 92e-6, 1e-12);
  const PumpCurves guessed = estimated_curves({.flow = 80e-6, .pressure = 3e5, .voltage = 13.5});
  EXPECT_NEAR(operate(guessed, 3e5, 13.5).current, 80e-6 * 3e5 / 0.3 / 13.5, 1e-9);
}

TEST(Pump, FaultsNameTheirPoint) {
  PumpCurves p = two_curves();
  p.curves[1].points[2].flow = 80e-6;
  const Faults faults = curve_faults(p);
  ASSERT_EQ(faults.size(), 1u);
  EXPECT_EQ(faults[0].at, place_of(p.curves[1].points[2]));
  EXPECT_THAT(faults[0].found, HasSubstr("rising curve"));
  p = two_curves();
  p.curves[0].points[1].pressure = 0;
  EXPECT_THAT(curve_faults(p)[0].expected, HasSubstr("above the 0 bar"));
  p = two_curves();
  p.curves[0].points[0].flow = std::nan("");
  EXPECT_FALSE(curve_faults(p).empty());
  p = two_curves();
  std::swap(p.curves[0], p.curves[1]);
  EXPECT_FALSE(curve_faults(p).empty()) << "voltages must rise";
  EXPECT_FALSE(curve_faults({}).empty());
}

TEST(Pump, BenchCurveInAnyOrderAndUnits) {
  const PumpCurves p = parse_bench_curve(
      "flow [l/min],pressure [psi],voltage [V],current [A]\n"
      "2,58,13.5,9\n5,0,13.5,5\n3,0,12,4\n1,58,12,8\n",
      "bench.csv");
  ASSERT_EQ(p.curves.size(), 2u);
  EXPECT_EQ(p.curves[0].drive, 12);
  EXPECT_NEAR(p.curves[1].points[0].flow, 300 * litre_per_hour, 1e-12);
  EXPECT_NEAR(p.curves[1].points[1].pressure, 3.9989e5, 10);
}

TEST(Pump, BenchCurveFaultsNameFileAndLine) {
  const auto text_of_fault = [](const char* text) {
    try {
      parse_bench_curve(text, "bench.csv");
    } catch (const InputError& error) {
      return std::string(error.what());
    }
    return std::string("accepted");
  };
  EXPECT_THAT(text_of_fault("voltage [V],pressure [bar]\n12,0\n"), HasSubstr("a column flow"));
  EXPECT_THAT(text_of_fault("voltage [V],pressure [bar],flow [l/h]\n12,0,x\n"),
              HasSubstr("line 2, column flow"));
  EXPECT_THAT(text_of_fault("voltage [V],pressure [furlong],flow [l/h]\n12,0,1\n"), HasSubstr("furlong"));
  EXPECT_THAT(text_of_fault("voltage [V],pressure [bar],flow [l/h]\n12,0,100\n12,3,120\n"),
              HasSubstr("rising curve"));
  EXPECT_THAT(text_of_fault("voltage [V],pressure [bar],flow [l/h]\n12,0,-1\n"), HasSubstr("0 or more"));
}

// All that the fastest curve moves at the opening goes round a tenth above it: a blocked outlet ends there.
TEST(Pump, AReliefValveEndsThePressure) {
  PumpCurves p = two_curves();
  p.relief = 4e5;
  EXPECT_EQ(operate(p, 3.9e5, 14).flow, operate(two_curves(), 3.9e5, 14).flow);
  const double at_opening = 75e-6 + (10e-6 - 75e-6) * 1e5 / 5e5;
  EXPECT_NEAR(operate(p, 4.2e5, 14).flow, operate(two_curves(), 4.2e5, 14).flow - at_opening * 0.2e5 / 0.4e5,
              1e-12);
  EXPECT_LT(operate(p, 4.4e5, 14).flow, 0) << "under a tenth over it nothing is left";
  EXPECT_NEAR(operate(p, 4.2e5, 14).current, operate(two_curves(), 4.2e5, 14).current, 1e-12);
}

// Pulses: the motor sees the mean voltage, the wires its current for a share of the time, the battery that
// share.
TEST(Pump, SpeedControlByPulsesAndByAResistor) {
  const PumpCurves p = two_curves();
  const PumpDrive pulses{13.8, 0.1, 0.7, true}, resistor{13.8, 0.1, 0.7, false};
  const Operation fast = wired(p, 2e5, pulses), slow = wired(p, 2e5, resistor);
  EXPECT_NEAR(fast.voltage, 0.7 * (13.8 - 0.1 * fast.current), 1e-7);
  EXPECT_NEAR(slow.voltage, 0.7 * 13.8 - 0.1 * slow.current, 1e-7);
  EXPECT_NEAR(pulses.battery_current(fast.current), 0.7 * fast.current, 1e-12);
  EXPECT_EQ(resistor.battery_current(slow.current), slow.current);
  // Power is kept: what leaves the battery heats wires and motor.
  EXPECT_NEAR(13.8 * pulses.battery_current(fast.current),
              fast.voltage * fast.current + 0.7 * 0.1 * fast.current * fast.current, 1e-6);
  const PumpSpeed steps{SpeedControl::stepped, {{10e-6, 0.5}, {20e-6, 1.0}}},
      ramp{SpeedControl::modulated, {{10e-6, 0.5}, {20e-6, 1.0}}};
  EXPECT_EQ(steps.share(5e-6), 0.5);
  EXPECT_EQ(steps.share(19e-6), 0.5);
  EXPECT_EQ(steps.share(20e-6), 1.0);
  EXPECT_NEAR(ramp.share(15e-6), 0.75, 1e-12);
  EXPECT_EQ(ramp.share(1.0), 1.0);
  EXPECT_EQ(PumpSpeed{}.share(1e-6), 1.0);
}

// The closed form against the motion integrated in time: I dQ/dt = -p - R Q', C dp/dt = Q - q(t), to its
// cycle.
TEST(Pump, SwingOfTheInletAgainstTheMotionInTime) {
  const PumpCurves p{.peak_flow = 3.1, .strokes = 0.5, .compliance = 3e-11};
  for (const double rotation : {12.0, 25.0, 90.0}) {
    const double inertance = 1.5e7, resistance = 3e8, mean = 12e-6;
    const double w = 2 * 3.14159265358979 * p.strokes * rotation, step = 1e-3 / w;
    double column = 0, pressure = 0, low = 0, high = 0;
    for (int k = 0; k * step * w < 400 * 6.283; ++k) {
      const double drawn = (p.peak_flow - 1) * mean * std::cos(w * k * step);
      column += step * (-pressure - resistance * column) / inertance;
      pressure += step * (column - drawn) / p.compliance;
      if (k * step * w < 396 * 6.283) continue;
      low = std::min(low, pressure), high = std::max(high, pressure);
    }
    EXPECT_NEAR(mean * inlet_swing(p, rotation, inertance, resistance), (high - low) / 2,
                0.01 * (high - low) / 2)
        << rotation;
  }
  EXPECT_EQ(inlet_swing({}, 50, 1e7, 1e8), 0) << "a smooth pump does not jerk";
}

}  // namespace
}  // namespace uadze::circuit
