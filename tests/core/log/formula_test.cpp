// Channels made of others.
#include "core/log/formula.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/refusal.h"

namespace uadze::log {
namespace {

Log sample(size_t n) {
  Log out;
  out.parts = {0};
  Channel rail{.name = "Fuel Press 2", .unit = "", .role = Role::rail_pressure},
      odd{.name = "3rd Ölstand (x)", .unit = "mm"};
  for (size_t i = 0; i < n; ++i) {
    out.time.push_back(0.001 * static_cast<double>(i));
    rail.values.push_back(3e5f + static_cast<float>(i % 1000));
    odd.values.push_back(static_cast<float>(i) - 2);
  }
  out.channels = {rail, odd};
  return out;
}

TEST(Formula, IsEvaluatedAtEveryMomentOfALongLog) {
  Log log = sample(200001);  // several pieces, the last not whole
  add_formula(log, {.name = "over", .text = "rail_pressure / bar - 3", .unit = "bar"});
  add_formula(log, {.name = "twice", .text = "over * 2 + 0 * fuel_press_2"});
  add_formula(log, {.name = "seven", .text = "3 + 4"});
  for (size_t i : {0u, 65535u, 65536u, 131072u, 200000u}) {
    EXPECT_NEAR(log.channels[2].values[i], 1e-5 * static_cast<double>(i % 1000), 1e-6) << i;
    EXPECT_NEAR(log.channels[3].values[i], 2e-5 * static_cast<double>(i % 1000), 1e-6) << i;
    EXPECT_EQ(log.channels[4].values[i], 7.0f);
  }
  EXPECT_EQ(log.channels[2].unit, "bar");
}

TEST(Formula, NamesOfAnyKindHaveAWord) {
  Log log = sample(3);
  EXPECT_NO_THROW(add_formula(log, {.name = "x", .text = identifier("3rd Ölstand (x)") + " > 0 ? 1 : 0"}));
  EXPECT_EQ(log.channels.back().values, (std::vector<float>{0, 0, 0}));
  add_formula(log, {.name = "root", .text = "sqrt(" + identifier("3rd Ölstand (x)") + ")"});
  EXPECT_TRUE(std::isnan(log.channels.back().values[0])) << "of less than nothing";
  EXPECT_EQ(log.channels.back().values[2], 0.0f);
}

TEST(Formula, WhatCanNotBeReadIsSaidAndAddsNothing) {
  Log log = sample(3);
  for (const auto& [name, text, says] :
       std::vector<std::array<const char*, 3>>{{"a", "rail_pressure +", "formula a"},
                                               {"a", "no_such + 1", "rail_pressure"},
                                               {"a", "", "formula a"},
                                               {"a", "(1", "formula a"},
                                               {"a", "bar(3)", "formula a"},
                                               {"", "1", "a name"},
                                               {"Fuel Press 2", "1", "that no channel has"}})
    EXPECT_NE(test::refusal([&, n = name, t = text] { add_formula(log, {.name = n, .text = t}); }).find(says),
              std::string::npos)
        << name << " = " << text;
  EXPECT_EQ(log.channels.size(), 2u);
}

}  // namespace
}  // namespace uadze::log
