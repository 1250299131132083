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

TEST(FindLayout, ARowOfRatesUnderTheHeaderIsNoData) {
  const std::string data =
      "0.00,98.2,3.02,6000\n0.02,98.3,3.02,6010\n0.04,98.4,3.03,6020\n0.06,98.4,3.03,6020\n";
  const std::string header = "Time,Speed,Fuel Press,RPM\n", units = "s,km/h,bar,rpm\n",
                    rates = "50,50,10,100\n";
  for (const std::string& head : {header + units + rates, header + rates + units, header + rates}) {
    const Layout layout = find_layout(head + data);
    EXPECT_EQ(layout.first_row, static_cast<size_t>(std::count(head.begin(), head.end(), '\n')) + 1) << head;
    EXPECT_EQ(layout.header_line, 1u) << head;
    EXPECT_EQ(sample_rows(head + data + head + data, layout, 100).size(), 8u) << "not where they come again";
  }
  // Named in the first column, which the data leave blank.
  const std::string named = "Channel,Time,Speed,RPM\nUnit,s,km/h,rpm\nRate,50,50,100\n";
  EXPECT_EQ(find_layout(named + ",0.00,98.2,6000\n,0.02,98.3,6010\n,0.04,98.3,6010\n").first_row, 4u);
  // Rows of round figures that only rise are data, whatever they are.
  test::Random random(91);
  for (int round = 0; round < 200; ++round) {
    std::string table = "Time,Lap,Gear,Speed\n";
    const int first = random.whole(1, 10);
    for (int i = 0; i < 6; ++i)
      table += fmt::format("{},{},{},{}\n", first + 5 * i, 1, random.whole(1, 5), 50 * random.whole(1, 4));
    EXPECT_EQ(find_layout(table).first_row, 2u) << table;
  }
}

TEST(FindLayout, ARateInThePreambleStandsForTheTime) {
  const std::string table =
      "Speed [km/h],Fuel Press [bar],RPM\n98.2,3.02,6000\n98.3,3.02,6010\n98.3,3.03,6010\n";
  for (const auto& [preamble, rate] :
       std::vector<std::pair<std::string, double>>{{"Sample Rate: 50 Hz\n", 50},
                                                   {"Car;x\nAbtastrate;100;Hz\n\n", 100},
                                                   {"# logging frequency 12.5Hz\n", 12.5}}) {
    const Layout layout = find_layout(preamble + table);
    ASSERT_TRUE(layout.said_rate) << preamble;
    EXPECT_EQ(*layout.said_rate, rate);
    EXPECT_EQ(propose(layout, sample_rows(preamble + table, layout, 10)).rate, rate);
  }
  for (const char* preamble :
       {"Sample Rate: 50 Hz of 100 Hz\n", "Cut-off 30 Hz\n", "Rate: 0 Hz\n", "Rate: 50\n"})
    EXPECT_FALSE(find_layout(preamble + table).said_rate) << preamble;
  // A time of its own goes before it.
  const std::string timed = "Sample Rate: 50 Hz\nTime [s],Speed [km/h]\n0,98\n0.1,98\n0.2,99\n0.3,99\n";
  const Layout layout = find_layout(timed);
  EXPECT_FALSE(propose(layout, sample_rows(timed, layout, 10)).rate);
}

TEST(Proposal, NamesAsTheyAreWrittenInTheField) {
  const struct {
    Role role;
    std::vector<const char*> names;
    double (*look)(double t);
  } all[] = {
      {Role::lat_acc,
       {"GForce Y [g]", "G Force Lat", "LateralG", "ACC_LAT", "accY [g]", "Accel Y (g)", "chassis_lat_acc",
        "Side G", "G_LAT", "LatAccel", "Cross G", "Querbeschleunigung [g]", "G Force Y"},
       [](double t) { return 1.1 * std::sin(t / 3); }},
      {Role::long_acc,
       {"GForce X [g]", "LongG", "Accel X (g)", "G_LON", "ACCX", "Inline Acc", "Längsbeschleunigung [g]",
        "G Force X"},
       [](double t) { return 0.8 * std::sin(t / 4); }},
      {Role::rail_pressure,
       {"Fuel_Pressure_Rail", "PFUEL_RAIL [bar]", "FP1 [bar]", "Druck Kraftstoff [bar]", "Fuel P [bar]",
        "RailPress"},
       [](double t) { return 3 + 0.05 * std::sin(t); }},
      {Role::manifold_pressure,
       {"MAP [kPa]", "ManifoldPressure", "Boost Pressure [kPa]", "Saugrohrdruck [kPa]"},
       [](double t) { return 90 + 60 * std::sin(t / 5); }},
      {Role::lambda,
       {"Lambda 1", "WB Lambda", "O2 Lambda", "LAM"},
       [](double t) { return 0.9 + 0.02 * std::sin(t); }},
      {Role::throttle,
       {"ThrottlePosition [%]", "TPS 1 [%]", "Pedal Position", "APS [%]", "Drosselklappe [%]"},
       [](double t) { return 50 + 45 * std::sin(t / 2); }},
      {Role::rpm,
       {"EngineRPM", "nEngine [rpm]", "N [1/min]", "RPM (1/min)", "Drehzahl", "Eng Speed"},
       [](double t) { return 6000 + 1000 * std::sin(t / 2); }},
      {Role::speed,
       {"VehicleSpeed [km/h]", "Ground_Speed", "GPS_Speed[km/h]", "Geschwindigkeit [km/h]", "Vitesse (km/h)"},
       [](double t) { return 140 + 60 * std::sin(t / 7); }},
      {Role::battery,
       {"VBAT [V]", "Battery [V]", "ECU Voltage", "U_Batt", "Supply [V]"},
       [](double t) { return 13.6 + 0.1 * std::sin(t); }},
      {Role::pump_current,
       {"FuelPumpCurrent [A]", "I_FuelPump", "Pump Current"},
       [](double t) { return 8 + 0.3 * std::sin(t); }},
      {Role::injector_time,
       {"Inj PW [ms]", "InjectorPulseWidth", "t_inj [ms]"},
       [](double t) { return 8 + 4 * std::sin(t / 2); }},
      {Role::fuel_temperature,
       {"Tfuel [C]", "Fuel Temperature (°C)", "Kraftstofftemperatur [°C]"},
       [](double t) { return 35 + t / 60; }},
      {Role::yaw_rate,
       {"YawRate [deg/s]", "Gyro_Z", "GyroYaw [°/s]", "Gierrate [deg/s]"},
       [](double t) { return 20 * std::sin(t / 3); }},
      {Role::lap,
       {"LapNumber", "Lap #", "lapcount", "Lap_Nr", "Runde"},
       [](double t) { return std::floor(t / 20); }},
      {Role::latitude,
       {"Latitude (deg)", "GPS_Lat [deg]"},
       [](double t) { return 47 + 1e-4 * std::sin(t / 10); }},
      {Role::longitude, {"lng", "Longitude [°]"}, [](double t) { return 8 + 1e-4 * std::cos(t / 10); }}};
  for (const auto& of : all)
    for (const char* name : of.names) {
      std::string text = fmt::format("Time [s],Oil Temp [C],{}\n", name);
      for (int i = 0; i < 600; ++i) {
        const double t = 0.1 * i;
        text += fmt::format("{:.2f},{:.2f},{:.5f}\n", t, 90 + t / 100, of.look(t));
      }
      const Layout layout = find_layout(text);
      EXPECT_EQ(propose(layout, sample_rows(text, layout, 600)).column_of(of.role), 2u)
          << name << " for " << name_of(of.role);
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
