#include "core/log/cell.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/log/envelope.h"
#include "core/log/heading.h"
#include "core/log/mapping.h"
#include "support/random_shapes.h"

namespace uadze::log {
namespace {

TEST(Number, EveryStyleReadsItsOwnAndRefusesWhatIsNone) {
  EXPECT_EQ(number("1,234,567.5", {'.', ','}), 1234567.5);
  EXPECT_EQ(number("-1.234,5", {',', '.'}), -1234.5);
  EXPECT_EQ(number("1 234", {',', ' '}), 1234);
  EXPECT_EQ(number("1'234.5", {'.', '\''}), 1234.5);
  EXPECT_EQ(number("+3e2", {}), 300);
  for (const char* none : {"", "-", "1.2.3", "1,2", "nan", "inf", "0x10", "1 2", "12abc", "--3"})
    EXPECT_EQ(number(none, {}), std::nullopt) << none;
  EXPECT_EQ(number("12,34,567", {'.', ','}), std::nullopt) << "marks stand at every third digit";
  EXPECT_EQ(number(",123", {'.', ','}), std::nullopt);
  EXPECT_EQ(number(std::string(100, '1') + ",5", {',', 0}), std::nullopt);
}

TEST(Number, RandomOnesComeBackInEveryStyle) {
  test::Random random(17);
  for (int n = 0; n < 500; ++n) {
    const double value = random.uniform(-1, 1) * std::pow(10.0, random.whole(0, 8));
    const std::string plain = fmt::format("{:.3f}", value);
    std::string comma = plain, marked = plain;
    comma[comma.find('.')] = ',';
    for (size_t i = marked.find('.'); i > (marked[0] == '-' ? 4u : 3u);) marked.insert(i -= 3, ",");
    EXPECT_EQ(number(plain, {}), *number(comma, {',', 0})) << plain;
    EXPECT_EQ(number(plain, {}), *number(marked, {'.', ','})) << marked;
  }
}

TEST(Clock, FormsByHand) {
  EXPECT_EQ(clock_seconds("12:34"), 754.0);
  EXPECT_EQ(clock_seconds("12:34.5"), 754.5);
  EXPECT_EQ(clock_seconds("1:00:00"), 3600.0);
  EXPECT_EQ(clock_seconds("12:00:00 AM"), 0.0);
  EXPECT_EQ(clock_seconds("12:30 pm"), 45000.0);
  EXPECT_EQ(clock_seconds("1970-01-02 00:00:01"), 86401.0);
  EXPECT_EQ(clock_seconds("01.01.1970 00:01"), 60.0);
  EXPECT_EQ(clock_seconds("2000-03-01T00:00:00+02:00"), 951868800.0);  // 11017 days
  for (const char* none : {"", "12", "12.5", "a:b", "1:75:00", "12:34x", ":30", "12:"})
    EXPECT_EQ(clock_seconds(none), std::nullopt) << none;
}

TEST(Dates, DayFirstWhereBothCouldBe) {
  EXPECT_EQ(date_days("1970-01-01"), 0);
  EXPECT_EQ(date_days("02.01.1970"), 1);
  EXPECT_EQ(date_days("03/04/2026"), date_days("2026-04-03"));
  EXPECT_EQ(date_days("03/25/2026"), date_days("2026-03-25"));
  for (const char* none : {"2026-02-30", "1.2", "1-2.2026", "99/99/2026", "1.1.1800"})
    EXPECT_EQ(date_days(none), std::nullopt) << none;
}

TEST(HeadingOf, UnitsHoweverTheyStand) {
  const Heading wanted{"Fuel Pressure", "bar"};
  for (const char* text : {"Fuel Pressure [bar]", "Fuel Pressure (bar)", "Fuel Pressure{bar}",
                           "Fuel Pressure<bar>", "Fuel Pressure_bar", "Fuel Pressure, bar",
                           "Fuel Pressure / bar", "Fuel Pressure bar", " Fuel Pressure  [ bar ] "})
    EXPECT_EQ(heading(text), wanted) << text;
  EXPECT_EQ(heading("Pump_A"), (Heading{"Pump_A", ""})) << "a letter behind a line is a name's";
  EXPECT_EQ(heading("Lambda 1").unit, "");
  EXPECT_EQ(heading("Pressure [bar(g)]").unit, "bar(g)");
  EXPECT_EQ(heading("Gear (selected by driver)").name, "Gear (selected by driver)") << "a remark is no unit";
}

TEST(Words, ArePartedAtCaseDigitsAndMarks) {
  using Words = std::vector<std::string>;
  EXPECT_EQ(words_of("FuelRailPress"), (Words{"fuel", "rail", "press"}));
  EXPECT_EQ(words_of("lat_acc-2"), (Words{"lat", "acc", "2"}));
  EXPECT_EQ(words_of("MAPSensor"), (Words{"map", "sensor"}));
  EXPECT_EQ(words_of("Längs.beschl"), (Words{"längs", "beschl"}));
}

TEST(Proposal, LikeNamesAreToldApart) {
  // Each is one column among others that sound like it.
  const struct {
    const char* header;
    Role wanted;
    size_t at;
  } cases[] = {
      {"Time [s],Fuel Pressure Target [bar],Fuel Pressure [bar]", Role::rail_pressure, 2},
      {"Time [s],Oil Pressure [bar],Fuel Pressure [bar],Brake Pressure [bar]", Role::rail_pressure, 2},
      {"Time [s],Wheel Speed FL [km/h],GPS Speed [km/h],Engine Speed [1/min]", Role::speed, 2},
      {"Time [s],Wheel Speed FL [km/h],GPS Speed [km/h],Engine Speed [1/min]", Role::rpm, 3},
      {"Lap Time [s],Time [s],Best Time [s],Speed [km/h]", Role::time, 1},
      {"Time [s],Lambda Target,Lambda,Lambda Heater [V]", Role::lambda, 2},
      {"Time [s],Air Temp [°C],Fuel Temp [°C],Water Temp [°C]", Role::fuel_temperature, 2},
      {"Time [s],GPS Latitude [deg],GPS Lat Acc [g]", Role::lat_acc, 2},
      {"Time [s],Fuel Level [L],Fuel Flow [L/h],Fuel Used [L]", Role::fuel_flow, 2},
      {"Time [s],Fuel Rate [kg/h],Speed [km/h]", Role::fuel_mass_flow, 1}};
  for (const auto& c : cases) {
    std::string text = std::string(c.header) + "\n";
    const size_t columns = static_cast<size_t>(std::count(text.begin(), text.end(), ',')) + 1;
    for (int i = 0; i < 20; ++i)
      for (size_t k = 0; k < columns; ++k)
        text +=
            fmt::format("{}{}", 1 + 0.1 * i + 0.01 * static_cast<double>(k), k + 1 < columns ? "," : "\n");
    const Layout layout = find_layout(text);
    const Mapping m = propose(layout, sample_rows(text, layout, 100));
    EXPECT_EQ(m.column_of(c.wanted), c.at) << c.header << " for " << name_of(c.wanted);
  }
}

TEST(Envelope, OverAnyStretchItIsTheLeastAndTheMost) {
  test::Random random(23);
  std::vector<float> values;
  for (int i = 0; i < 5000; ++i) values.push_back(static_cast<float>(random.uniform(-1, 1)));
  const Envelope envelope(values);
  for (int n = 0; n < 500; ++n) {
    const auto first = static_cast<size_t>(random.whole(0, 4998)),
               past = static_cast<size_t>(random.whole(static_cast<int>(first) + 1, 5000));
    const auto [low, high] = std::minmax_element(values.begin() + static_cast<std::ptrdiff_t>(first),
                                                 values.begin() + static_cast<std::ptrdiff_t>(past));
    EXPECT_EQ(envelope.over(values, first, past), (std::pair{*low, *high})) << first << " to " << past;
  }
}

}  // namespace
}  // namespace uadze::log
