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

}  // namespace
}  // namespace uadze::circuit
