#include "core/base/units.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>

#include "core/base/derivation.h"

namespace uadze {
namespace {

TEST(Units, KnownConversions) {
  const struct {
    const char* text;
    Quantity quantity;
    double si;
  } cases[] = {
      {"1 US gal", Quantity::volume, 3.785411784e-3},
      {"12.5gal", Quantity::volume, 12.5 * 3.785411784e-3},
      {"3 in", Quantity::length, 0.0762},
      {"250", Quantity::length, 0.25},
      {"100 °C", Quantity::temperature, 373.15},
      {"212 F", Quantity::temperature, 373.15},
      {"-40 °F", Quantity::temperature, 233.15},
      {"3.6 L/h", Quantity::flow, 1e-6},
      {"60 cc/min", Quantity::flow, 1e-6},
      {"1 g", Quantity::acceleration, 9.80665},
      {"50 %", Quantity::fraction, 0.5},
      {"1 psi", Quantity::pressure, 6894.757293168},
      {"360 g/kWh", Quantity::consumption, 1e-7},
      {"6000 rpm", Quantity::rotation, 100},
      {"3 min", Quantity::duration, 180},
      {"1 kW", Quantity::power, 1000},
      {"2 lb", Quantity::mass, 0.90718474},
      {"100 mph", Quantity::speed, 44.704},
  };
  for (const auto& c : cases) {
    const auto value = parse_quantity(c.text, c.quantity);
    ASSERT_TRUE(value) << c.text;
    EXPECT_NEAR(*value, c.si, 1e-9 * std::abs(c.si)) << c.text;
  }
}

TEST(Units, WhatIsShownReadsBack) {
  UnitSystem us = UnitSystem::us();
  us.flow = FlowUnit::pound_per_hour;
  for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us(), us})
    for (int q = 0; q <= static_cast<int>(Quantity::ratio_mass); ++q) {
      const auto quantity = static_cast<Quantity>(q);
      const double si = shown_unit(quantity, units).to_si(12.0);
      const auto back = parse_quantity(format(si, quantity, units), quantity, units);
      ASSERT_TRUE(back) << format(si, quantity, units);
      EXPECT_NEAR(*back, si, 1e-9 * std::abs(si)) << format(si, quantity, units);
    }
}

constexpr Quantity last_quantity = Quantity::turn_rate;

std::string lower(std::string_view text) {
  std::string out;
  for (char c : text)
    if (c != ' ') out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return out;
}

TEST(Units, EveryKnownUnitIsReadByItsNameInAnyCase) {
  for (int q = 0; q <= static_cast<int>(last_quantity); ++q) {
    const auto quantity = static_cast<Quantity>(q);
    std::map<std::string, Unit> seen;
    for (const Unit& unit : known_units(quantity)) {
      const std::string name(unit.name);
      if (name.empty()) continue;
      SCOPED_TRACE("quantity " + std::to_string(q) + " in " + name);
      for (const std::string& text : {"1.25 " + name, "1.25" + name, " 1.25  " + name + " "}) {
        // A unit that begins with a figure stands apart.
        if (std::isdigit(static_cast<unsigned char>(name[0])) && text.find(" ") == std::string::npos)
          continue;
        const auto value = parse_quantity(text, quantity);
        ASSERT_TRUE(value) << text;
        EXPECT_NEAR(*value, unit.to_si(1.25), 1e-12 * std::abs(unit.to_si(1.25))) << text;
      }
      EXPECT_NEAR(unit.from_si(unit.to_si(-3.5)), -3.5, 1e-9);
      EXPECT_GT(unit.factor, 0) << "more is more";
      // Of two units that are written alike but for their case, both must be the same.
      const auto other = seen.find(lower(name));
      if (other != seen.end()) {
        EXPECT_EQ(other->second.factor, unit.factor);
      }
      seen.emplace(lower(name), unit);
    }
  }
}

TEST(Units, FiguresOfAnySizeReadBackAsTheyAreShown) {
  for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us()})
    for (int q = 0; q <= static_cast<int>(last_quantity); ++q) {
      const auto quantity = static_cast<Quantity>(q);
      const Unit unit = shown_unit(quantity, units);
      for (double shown : {-250.0, -1.0, 0.0, 0.004, 0.5, 1.0, 9.99, 47.5, 1234.5, 98765.0, 1.0e7}) {
        const double si = unit.to_si(shown);
        const std::string text = format(si, quantity, units);
        EXPECT_EQ(text.find("e+"), std::string::npos) << text;
        EXPECT_FALSE(text.starts_with("-0") && text.find_first_of("123456789") == std::string::npos) << text;
        const auto back = parse_quantity(text, quantity, units);
        ASSERT_TRUE(back) << text;
        // Within half of the last digit that is shown.
        const double digit = unit.factor * std::pow(10.0, -unit.decimals);
        EXPECT_NEAR(*back, si, 0.5001 * digit + 1e-9 * std::abs(si)) << text << " of " << shown;
        // The figure alone is the same without its unit.
        const std::string figure = format_figure(si, quantity, units);
        EXPECT_TRUE(text.starts_with(figure)) << text << ", " << figure;
      }
    }
}

TEST(Units, PoundsPerHourGoByTheFuelsDensity) {
  UnitSystem units;
  units.flow = FlowUnit::pound_per_hour;
  units.fuel_density = 750;
  // 100 L/h of 0.75 kg/L is 75 kg/h.
  EXPECT_EQ(format(100e-3 / 3600, Quantity::flow, units), "165 lb/h");
}

TEST(Units, RefusesWhatIsNoQuantity) {
  for (const char* text :
       {"", " ", "abc", "12,5", "1 2", "nan", "inf", "5 furlong", "--3", "1e999", "0x10", "5 L"})
    EXPECT_FALSE(parse_quantity(text, Quantity::length)) << text;
}

TEST(Units, NumbersHaveADecimalPointOnly) {
  EXPECT_EQ(parse_number(" 1.5 "), 1.5);
  EXPECT_EQ(parse_number("+2"), 2.0);
  EXPECT_EQ(parse_number("-3e-2"), -0.03);
  for (const char* text : {"1,5", "1.5.2", "1.5 x", "", "nan", "-inf", "+-1"})
    EXPECT_FALSE(parse_number(text)) << text;
}

TEST(Units, OddValuesAreSaidInWords) {
  EXPECT_EQ(format(INFINITY, Quantity::duration), "no limit");
  EXPECT_EQ(format(NAN, Quantity::duration), "no value");
  EXPECT_EQ(format(-1e-9, Quantity::volume), "0.0 L") << "no negative zero";
  EXPECT_EQ(format_working(0.0025149, Quantity::volume), "2.51 L");
}

TEST(Derivation, TextNamesFormulaInputsAndSource) {
  const Derivation step{.name = "Step", .value = 0.001, .quantity = Quantity::volume};
  const Derivation d{.name = "Sum",
                     .value = 0.003,
                     .quantity = Quantity::volume,
                     .formula = "V = a + b",
                     .inputs = {{"a", "first", 0.001, Quantity::volume, "entered"}},
                     .source = "arithmetic",
                     .note = "nothing else",
                     .steps = {step}};
  const std::string text = render_text(d, {});
  for (const char* part : {"Sum = 3.00 L", "V = a + b", "first (entered)", "Source: arithmetic",
                           "Note: nothing else", "Step = 1.00 L"})
    EXPECT_NE(text.find(part), std::string::npos) << part << " in\n" << text;
}

}  // namespace
}  // namespace uadze
