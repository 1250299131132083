#pragma once
// What a log's header says of a column: its name and its unit, however the unit is set beside it.
//
// Example:
//   EXPECT_EQ(log::heading("Fuel Press (kPa)").unit, "kPa");
//   EXPECT_EQ(log::heading("wheel_speed_kmh").name, "wheel_speed");
//   EXPECT_EQ(log::heading("Lambda").unit, "");
//   EXPECT_EQ(log::known_unit("m/s²"), "m/s2");
//   EXPECT_EQ(log::words_of("FuelPress_2"), (std::vector<std::string>{"fuel", "press", "2"}));
#include <string>
#include <string_view>
#include <vector>

namespace uadze::log {

struct Heading {
  std::string name, unit;  ///< as they are written, blanks taken off; the unit is empty if none is said
  bool operator==(const Heading&) const = default;
};

/// Units stand in brackets of any kind, or behind the name after a blank, a comma, "_", "/" or "|".
Heading heading(std::string_view text);

/// The unit's name as `base/units.h` has it ("kph" is "km/h"), or the text itself, trimmed, where it is none
/// of those; empty for what says that there is no unit ("-", "[]", "none").
std::string known_unit(std::string_view text);
/// Whether a text is a unit that is known, such as a row of units has.
bool is_unit(std::string_view text);

/// The words of a name in small letters: parted at blanks, marks, digits and changes of case.
std::vector<std::string> words_of(std::string_view name);

}  // namespace uadze::log
