// The clean level as figures of the model are moved within their ranges.
#include "core/starvation/band.h"

#include <gtest/gtest.h>

namespace uadze::starvation {
namespace {

ModelBand band(double at_low, double at_high) {
  return {.nominal = 0.030,
          .least = 0.002,
          .terms = {{"damping", 0.8, 1.2, at_low, at_high}, {"grip", 0.9, 1.1, 0.030, 0.033}}};
}

TEST(Band, GoesStraightToItsEndsAndNotUnderWhatNeverComesOut) {
  const ModelBand sloping = band(0.026, 0.031);
  EXPECT_DOUBLE_EQ(sloping.level({0, 0}), 0.030);
  EXPECT_DOUBLE_EQ(sloping.level({-1, 0}), 0.026);
  EXPECT_DOUBLE_EQ(sloping.level({-0.5, 0}), 0.028);
  EXPECT_DOUBLE_EQ(sloping.level({1, 1}), 0.034) << "each adds its own";
  EXPECT_DOUBLE_EQ(sloping.level({2, -3}), 0.032) << "beyond its range on the same line";
  EXPECT_DOUBLE_EQ(sloping.level({-9, 0}), 0.002) << "never under what never comes out";
  EXPECT_DOUBLE_EQ(sloping.level({-1}), 0.026) << "those that are not moved stay";
}

TEST(Band, AnIslandOfTheNominalIsNoReasonForLessFuel) {
  // Both ends lie lower: the nominal's own boundary is one that others do not have.
  const ModelBand island = band(0.025, 0.028);
  for (double z : {-2.0, -1.0, -0.1, 0.0, 0.1, 1.0, 2.0}) EXPECT_DOUBLE_EQ(island.level({z, 0}), 0.030) << z;
  EXPECT_DOUBLE_EQ(island.level({1, 1}), 0.033) << "the others still count";
  // Both higher: either way asks for more.
  const ModelBand hollow = band(0.034, 0.031);
  EXPECT_DOUBLE_EQ(hollow.level({-1, 0}), 0.034);
  EXPECT_DOUBLE_EQ(hollow.level({1, 0}), 0.031);
}

TEST(Band, FiguresThatHangTogetherAreMovedTogether) {
  ModelBand both = band(0.026, 0.034);
  both.mix = {1.0, 0.0, 0.6, 0.8};  // rows: damping by its own draw; grip by both
  EXPECT_DOUBLE_EQ(both.level({1, 0}), 0.034 + 0.6 * 0.003);
  EXPECT_DOUBLE_EQ(both.level({0, 1}), 0.030 + 0.8 * 0.003);
  EXPECT_DOUBLE_EQ(both.level({-1, 0}), 0.026) << "grip lower asks for nothing less here";
}

}  // namespace
}  // namespace uadze::starvation
