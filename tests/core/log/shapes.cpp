#include "core/log/shapes.h"

namespace uadze::test {
namespace {

constexpr double kmh = 1 / 3.6, one_g = standard_gravity, deg = 0.017453292519943295, psi = 6894.757293168;

/// The usual channels with usual names and units.
std::vector<ShapeColumn> usual() {
  return {{Role::time, "Time", "s", 1, 0, 3},
          {Role::speed, "Speed", "km/h", kmh, 0, 2},
          {Role::lat_acc, "Lateral Acc", "g", one_g, 0, 4},
          {Role::long_acc, "Longitudinal Acc", "g", one_g, 0, 4},
          {Role::throttle, "Throttle", "%", 0.01, 0, 1},
          {Role::rpm, "RPM", "rpm", 1.0 / 60, 0, 0},
          {Role::rail_pressure, "Fuel Pressure", "bar", 1e5, 0, 3},
          {Role::lambda, "Lambda", "", 1, 0, 3},
          {Role::battery, "Battery Voltage", "V", 1, 0, 2}};
}

std::vector<ShapeColumn> named(std::vector<std::pair<std::string, std::string>> names) {
  auto out = usual();
  for (size_t i = 0; i < names.size(); ++i) {
    out[i].name = names[i].first;
    if (!names[i].second.empty()) out[i].unit = names[i].second == "none" ? "" : names[i].second;
  }
  return out;
}

Shape shape(std::string name) {
  Shape out;
  out.name = std::move(name);
  out.columns = usual();
  return out;
}

template <class Change>
Shape changed(std::string name, Change&& change) {
  Shape out = shape(std::move(name));
  change(out);
  return out;
}

std::string two(double t, int digits, char mark) {
  const int minutes = static_cast<int>(t) / 60;
  std::string seconds = fmt::format("{:0{}.{}f}", t - 60 * minutes, digits ? digits + 3 : 2, digits);
  if (digits) seconds[2] = mark;
  return fmt::format("{:02d}:{}", minutes, seconds);
}

}  // namespace

std::vector<Shape> log_shapes() {
  using Units = Shape::Units;
  std::vector<Shape> out;
  const auto add = [&](std::string name, auto&& change) { out.push_back(changed(std::move(name), change)); };
  // Separators, decimals, line ends, encodings.
  out.push_back(shape("comma, brackets"));
  add("semicolon", [](Shape& s) { s.separator = ';'; });
  add("tab", [](Shape& s) { s.separator = '\t'; });
  add("bar sign", [](Shape& s) { s.separator = '|'; });
  add("blanks", [](Shape& s) {
    s.separator = ' ', s.units = Units::behind, s.unit_lead = "_";
    for (auto& c : s.columns) std::replace(c.name.begin(), c.name.end(), ' ', '_');
  });
  add("blanks, columns of one width, names with blanks", [](Shape& s) { s.separator = ' ', s.padded = 24; });
  add("blanks, unit in brackets", [](Shape& s) {
    s.separator = ' ';
    for (auto& c : s.columns) std::erase(c.name, ' ');
  });
  add("semicolon, decimal comma", [](Shape& s) { s.separator = ';', s.decimal = ','; });
  add("tab, decimal comma", [](Shape& s) { s.separator = '\t', s.decimal = ','; });
  add("comma, decimal comma in quotes", [](Shape& s) { s.decimal = ',', s.quoted = true; });
  add("blanks, decimal comma", [](Shape& s) {
    s.separator = ' ', s.decimal = ',';
    for (auto& c : s.columns) std::erase(c.name, ' ');
  });
  add("thousands by comma in quotes", [](Shape& s) { s.thousands = ",", s.quoted = true; });
  add("semicolon, thousands by points",
      [](Shape& s) { s.separator = ';', s.decimal = ',', s.thousands = "."; });
  add("semicolon, thousands by apostrophes", [](Shape& s) { s.separator = ';', s.thousands = "'"; });
  add("semicolon, thousands by blanks",
      [](Shape& s) { s.separator = ';', s.decimal = ',', s.thousands = " "; });
  add("semicolon, thousands by hard blanks",
      [](Shape& s) { s.separator = ';', s.decimal = ',', s.thousands = "\xC2\xA0"; });
  add("CRLF", [](Shape& s) { s.end = "\r\n"; });
  add("CR alone", [](Shape& s) { s.end = "\r"; });
  add("blank lines between rows", [](Shape& s) { s.end = "\n\n"; });
  add("UTF-8 with a mark", [](Shape& s) { s.mark = true; });
  add("UTF-16 with a mark",
      [](Shape& s) { s.encoding = "UTF-16", s.mark = true, s.separator = '\t', s.end = "\r\n"; });
  add("UTF-16, big end first", [](Shape& s) { s.encoding = "UTF-16 big", s.mark = true; });
  add("UTF-16 without a mark", [](Shape& s) { s.encoding = "UTF-16"; });
  add("Latin-1, degree sign", [](Shape& s) {
    s.encoding = "Latin-1", s.separator = ';', s.decimal = ',';
    s.columns.push_back({Role::fuel_temperature, "Fuel Temp", "°C", 1, 273.15, 1});
  });
  add("gzip", [](Shape& s) { s.packed = true; });
  add("gzip of UTF-16", [](Shape& s) { s.packed = true, s.encoding = "UTF-16", s.mark = true; });
  // Header and units.
  add("units in round brackets", [](Shape& s) { s.units = Units::round; });
  add("units in curly brackets", [](Shape& s) { s.units = Units::curly; });
  add("units behind a line below", [](Shape& s) { s.units = Units::behind, s.unit_lead = "_"; });
  add("units behind a blank", [](Shape& s) { s.units = Units::behind; });
  add("units behind a slash", [](Shape& s) { s.units = Units::behind, s.unit_lead = " / "; });
  add("units behind a comma, quoted",
      [](Shape& s) { s.units = Units::behind, s.unit_lead = ", ", s.quoted = true; });
  add("units in a row", [](Shape& s) { s.units = Units::row; });
  add("units in a row, semicolon, decimal comma",
      [](Shape& s) { s.units = Units::row, s.separator = ';', s.decimal = ','; });
  add("units in a row of brackets", [](Shape& s) {
    s.units = Units::row;
    for (auto& c : s.columns) c.unit = "[" + c.unit + "]";
  });
  add("units in a row, then a blank line",
      [](Shape& s) { s.units = Units::row, s.between_header_and_rows = "\n"; });
  add("no units at all", [](Shape& s) { s.units = Units::none; });
  add("no units, SI figures", [](Shape& s) {
    s.units = Units::none;
    s.columns[2].factor = s.columns[3].factor = 1;
    s.columns[6].factor = 1e3;
  });
  add("two preamble lines",
      [](Shape& s) { s.preamble = "Log of the club's practice\nRecorded at noon\n\n"; });
  add("a preamble of pairs", [](Shape& s) {
    s.preamble =
        "\"Driver\",\"one\"\n\"Car\",\"blue\"\n\"Sample "
        "rate\",\"50\"\n\"Duration\",\"12.0\"\n\"Date\",\"2026-03-01\"\n\n";
  });
  add("a padded preamble", [](Shape& s) {
    s.preamble = "Session,Practice,,,,,,,\nSegment,1,,,,,,,\nLength,12,s,,,,,,\n,,,,,,,,\n";
  });
  add("a preamble of sixty lines", [](Shape& s) {
    for (int i = 0; i < 60; ++i) s.preamble += fmt::format("parameter {};{};unit\n", i, i * 3);
    s.separator = ';';
  });
  add("remarks by #", [](Shape& s) { s.preamble = "# made by hand\n# twice\n"; });
  add("header behind #", [](Shape& s) { s.columns[0].name = "# Time"; });
  add("a trailing separator", [](Shape& s) { s.trailing = true; });
  add("everything quoted", [](Shape& s) { s.quoted = true; });
  add("a summary at the end", [](Shape& s) { s.tail = "\nBest lap: 1, in all two laps, end of log\n"; });
  add("joined, header and all", [](Shape& s) { s.joined = 2; });
  add("joined with preamble and units",
      [](Shape& s) { s.joined = 3, s.preamble = "Log of a day\n\n", s.units = Units::row; });
  add("a row of short names under the names", [](Shape& s) {
    s.between_header_and_rows = "";
    s.preamble = "Quantity,chassis,chassis,chassis,driver,engine,engine,engine,power\n";
  });
  // Clocks.
  add("milliseconds",
      [](Shape& s) { s.columns[0].unit = "ms", s.columns[0].factor = 1e-3, s.columns[0].digits = 0; });
  add("milliseconds, not said",
      [](Shape& s) { s.columns[0].unit = "", s.columns[0].factor = 1e-3, s.columns[0].digits = 0; });
  add("microseconds, not said", [](Shape& s) {
    s.columns[0] = {Role::time, "timestamp", "", 1e-6, 0, 0};
    s.time_begin = 1000;
  });
  add("seconds since 1970",
      [](Shape& s) { s.columns[0] = {Role::time, "timestamp", "s", 1, 0, 3}, s.time_begin = 1.77e9; });
  add("minutes and seconds",
      [](Shape& s) { s.columns[0].unit = "", s.clock = [](double t) { return two(t, 3, '.'); }; });
  add("hours, minutes and seconds",
      [](Shape& s) { s.columns[0].unit = "", s.clock = [](double t) { return "14:" + two(t, 2, '.'); }; });
  add("clock with decimal comma", [](Shape& s) {
    s.separator = ';', s.decimal = ',', s.columns[0].unit = "";
    s.clock = [](double t) { return "14:" + two(t, 3, ','); };
  });
  add("date and time with T", [](Shape& s) {
    s.columns[0].unit = "", s.clock = [](double t) { return "2026-03-01T14:" + two(t, 3, '.') + "Z"; };
  });
  add("date and time, day first", [](Shape& s) {
    s.separator = ';', s.decimal = ',', s.columns[0].unit = "";
    s.clock = [](double t) { return "01.03.2026 14:" + two(t, 3, ','); };
  });
  add("over midnight", [](Shape& s) {
    s.columns[0].unit = "";
    s.clock = [](double t) {
      return t < 6 ? fmt::format("23:59:{:06.3f}", 54 + t) : fmt::format("00:00:{:06.3f}", t - 6);
    };
  });
  add("afternoon", [](Shape& s) {
    s.columns[0].unit = "", s.clock = [](double t) { return "02:" + two(t, 2, '.') + " PM"; };
  });
  add("a clock of whole seconds", [](Shape& s) {
    s.rate = 10, s.columns[0].unit = "";
    s.clock = [](double t) { return "10:" + two(std::floor(t + 1e-9), 0, '.'); };
  });
  add("no header, times first", [](Shape& s) { s.header = false; });
  // Rates and blank cells.
  add("channels at three rates",
      [](Shape& s) { s.columns[5].every = 5, s.columns[6].every = 2, s.columns[8].every = 10; });
  add("no value as NaN",
      [](Shape& s) { s.columns[6].every = 2, s.columns[8].every = 10, s.missing = "NaN"; });
  add("no value as a dash", [](Shape& s) { s.columns[6].every = 2, s.missing = "-", s.separator = '\t'; });
  add("no value as n/a, quoted",
      [](Shape& s) { s.columns[6].every = 5, s.missing = "n/a", s.quoted = true; });
  add("1 kHz", [](Shape& s) { s.rate = 1000; });
  // Names and units of other houses.
  add("short names", [](Shape& s) {
    s.columns = named({{"t", ""},
                       {"v", ""},
                       {"ay", ""},
                       {"ax", ""},
                       {"TPS", ""},
                       {"rpm", ""},
                       {"FP", ""},
                       {"LAM", ""},
                       {"VBAT", ""}});
  });
  add("names run together", [](Shape& s) {
    s.columns = named({{"Time", ""},
                       {"VehicleSpeed", ""},
                       {"GForceLat", ""},
                       {"GForceLong", ""},
                       {"ThrottlePos", ""},
                       {"EngineSpeed", "1/min"},
                       {"FuelRailPress", ""},
                       {"Lambda1", ""},
                       {"BattVolt", "volts"}});
  });
  add("names with lines below", [](Shape& s) {
    s.columns = named({{"time", "sec"},
                       {"gps_speed", "kph"},
                       {"lat_acc", "G"},
                       {"long_acc", "G"},
                       {"throttle_pos", "pct"},
                       {"engine_rpm", "none"},
                       {"fuel_press", ""},
                       {"lambda_1", ""},
                       {"batt_volt", "v"}});
  });
  add("accelerometer axes, m/s2", [](Shape& s) {
    s.columns = named({{"", ""}, {"Ground Speed", "m/s"}, {"Accel Y", "m/s²"}, {"Accel X", "m/s^2"}});
    s.columns[0].name = "Time";
    s.columns[1].factor = 1, s.columns[2].factor = s.columns[3].factor = 1;
  });
  add("German", [](Shape& s) {
    s.separator = ';', s.decimal = ',', s.encoding = "Latin-1", s.units = Units::row;
    s.columns = named({{"Zeit", ""},
                       {"Geschwindigkeit", ""},
                       {"Querbeschleunigung", ""},
                       {"Längsbeschleunigung", ""},
                       {"Drosselklappe", ""},
                       {"Drehzahl", "U/min"},
                       {"Kraftstoffdruck", ""},
                       {"Lambda", ""},
                       {"Bordspannung", ""}});
  });
  add("US units", [](Shape& s) {
    s.columns[1].unit = "mph", s.columns[1].factor = 0.44704;
    s.columns[6].unit = "psi", s.columns[6].factor = psi, s.columns[6].digits = 2;
    s.columns[7].unit = "AFR", s.columns[7].name = "Air Fuel Ratio", s.columns[7].factor = 1 / 14.7,
    s.columns[7].digits = 2;
    s.columns.push_back(
        {Role::fuel_temperature, "Fuel Temperature", "°F", 5.0 / 9, 273.15 - 32 * 5.0 / 9, 1});
  });
  add("US figures without units", [](Shape& s) {
    s.units = Units::none;
    s.columns[6].factor = psi, s.columns[6].digits = 2;
    s.columns[7].factor = 1 / 14.7, s.columns[7].digits = 2;
  });
  add("kPa, rad, shares", [](Shape& s) {
    s.columns[4].unit = "1", s.columns[4].factor = 1, s.columns[4].digits = 3;
    s.columns[6].unit = "kPa", s.columns[6].factor = 1e3, s.columns[6].digits = 1;
    s.columns.push_back({Role::yaw_rate, "Yaw Rate", "rad/s", 1, 0, 4});
  });
  add("more channels", [](Shape& s) {
    s.columns.push_back({Role::yaw_rate, "Gyro Z", "deg/s", deg, 0, 2});
    s.columns.push_back({Role::manifold_pressure, "MAP", "kPa", 1e3, 0, 1});
    s.columns.push_back({Role::distance, "Distance", "m", 1, 0, 2});
    s.columns.push_back({Role::lap, "Lap", "", 1, 0, 0});
    s.columns.push_back({Role::vert_acc, "Vertical Acc", "g", one_g, 0, 3});
    s.columns.push_back({Role::none, "Oil Pressure", "bar", 1, 0, 1});
    s.columns.push_back({Role::none, "Brake Pressure Front", "bar", 1, 0, 1});
    s.columns.push_back({Role::none, "Water Temp", "°C", 1, 0, 1});
    s.columns.push_back({Role::none, "Fuel Pressure Target", "bar", 1, 0, 1});
    s.columns.push_back({Role::none, "Wheel Speed FL", "km/h", 1, 0, 1});
  });
  return out;
}

}  // namespace uadze::test
