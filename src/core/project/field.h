#pragma once
// A field of a file described once: its key, what a form calls it, the sentence that a reader is told, its
// unit in the file, its range. Descriptions are function templates `describe(visitor, value)` over plain
// values (describe_*.h); all that can be made from them is a visitor: reading (field_reader.h), writing
// (field_writer.h), the JSON Schema and the tables of the documentation (schema.h), checking values in memory
// and finding their places in the file (places.h), content keys (keys.h), the rows of forms (field_finder.h).
// A field's default is what a value made by default holds.
//
//   template <class V> void describe(V& v, Sphere& s) {
//     v.vector({"centre_mm", "Centre", "Its middle", must}, s.centre, in_file::millimetre, {-20000, 20000});
//     v.number({"radius_mm", "Radius", "", must}, s.radius, in_file::millimetre, {0, 20000});
//   }
//
// A visitor has, each taking the field, the member and what restricts it:
//   number, optional_number   a double (std::optional<double>) by unit and range; SI in memory
//   whole, optional_whole     an int by its least and most
//   text, texts               a std::string, not empty where it is needed; a list of them
//   choice                    an enumeration by its table of names (base/names.h)
//   flag                      a bool by the two words it has in the file
//   vector, points            a Vec3; a list of Vec2
//   pair                      two doubles that stand as a list of two
//   coded                     a double that has a text in the file ("AWG 12")
//   one_of                    a double that is one of some, each with a name ("mm", "inch")
//   listed                    "yes" where a word is in a list of words
//   object, optional_object   a described value under a key; null or absent where there is none
//   list                      a list of described values
//   variant                   a std::variant of described values, told apart by a word
//   cases                     members that depend on the value of a choice described before
//   inline_or_list            the one prism of a tank, its keys without a list
//   either                    exactly one of two keys
// Example:
//   EXPECT_DOUBLE_EQ(project::in_file::millimetre.to_si(250), 0.25);
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/base/names.h"
#include "core/base/units.h"
#include "core/base/vector.h"

namespace uadze::project {

inline constexpr bool must = true;  ///< stand in the file

struct Field {
  const char* key;
  const char* label;     ///< of a form's row
  const char* sentence;  ///< what a user is told
  bool needed = false;   ///< absent is a fault
  /// What a form shows in an empty field: what absence stands for, or 0 where that is no value of its own.
  const char* otherwise = nullptr;
};

/// What a number of a file is in.
struct FileUnit {
  const char* name;
  double factor = 1.0, offset = 0.0;  ///< SI = file * factor + offset
  Quantity quantity = Quantity::plain;
  double to_si(double value) const { return value * factor + offset; }
  double from_si(double value) const { return (value - offset) / factor; }
};

namespace in_file {
inline constexpr FileUnit plain{""};
inline constexpr FileUnit millimetre{"mm", 1e-3, 0, Quantity::length};
inline constexpr FileUnit metre{"m", 1, 0, Quantity::distance};
inline constexpr FileUnit square_metre{"m2", 1, 0, Quantity::plain};
inline constexpr FileUnit litre{"L", 1e-3, 0, Quantity::volume};
inline constexpr FileUnit millilitre{"ml", 1e-6, 0, Quantity::volume};
inline constexpr FileUnit percent{"%", 0.01, 0, Quantity::fraction};
inline constexpr FileUnit celsius{"°C", 1, 273.15, Quantity::temperature};
inline constexpr FileUnit kilogram_per_cubic_metre{"kg/m3", 1, 0, Quantity::density};
inline constexpr FileUnit megajoule_per_kilogram{"MJ/kg", 1e6, 0, Quantity::heating};
inline constexpr FileUnit air_ratio{"kg/kg", 1, 0, Quantity::ratio_mass};
inline constexpr FileUnit kilopascal{"kPa", 1e3, 0, Quantity::pressure};
inline constexpr FileUnit bar{"bar", 1e5, 0, Quantity::pressure};
inline constexpr FileUnit kilowatt{"kW", 1e3, 0, Quantity::power};
inline constexpr FileUnit gram_per_kilowatt_hour{"g/kWh", 1e-3 / 3.6e6, 0, Quantity::consumption};
inline constexpr FileUnit litre_per_hour{"L/h", 1e-3 / 3600, 0, Quantity::flow};
inline constexpr FileUnit second{"s", 1, 0, Quantity::duration};
inline constexpr FileUnit minute{"min", 60, 0, Quantity::duration};
inline constexpr FileUnit millilitre_per_bar{"ml/bar", 1e-11, 0, Quantity::plain};
inline constexpr FileUnit millimetre_per_second{"mm/s", 1e-3, 0, Quantity::velocity};
inline constexpr FileUnit degree{"°", 0.017453292519943295, 0, Quantity::angle};
inline constexpr FileUnit volt{"V", 1, 0, Quantity::voltage};
inline constexpr FileUnit ampere{"A", 1, 0, Quantity::current};
inline constexpr FileUnit milliohm{"mΩ", 1e-3, 0, Quantity::resistance};
inline constexpr FileUnit ampere_hour{"Ah", 3600, 0, Quantity::charge};
inline constexpr FileUnit rotation{"1/min", 1.0 / 60, 0, Quantity::rotation};
inline constexpr FileUnit watt{"W", 1, 0, Quantity::heat_flow};
inline constexpr FileUnit watt_per_kelvin{"W/K", 1, 0, Quantity::plain};
inline constexpr FileUnit kilogram{"kg", 1, 0, Quantity::mass};
inline constexpr FileUnit kilogram_per_metre{"kg/m", 1, 0, Quantity::plain};
inline constexpr FileUnit micron{"µm", 1e-6, 0, Quantity::plain};
inline constexpr FileUnit gravity{"g", 9.80665, 0, Quantity::acceleration};
inline constexpr FileUnit kilometre_per_hour{"km/h", 1 / 3.6, 0, Quantity::speed};
}  // namespace in_file

/// In the file's unit.
struct Range {
  double low = -1e300, high = 1e300;
  bool above_low = false;  ///< the low end itself is not allowed
};

/// A number under a word.
struct NamedValue {
  const char* name;
  double value;  ///< SI
};

/// A number that stands as a text.
struct Coding {
  std::optional<double> (*read)(const std::string& text);
  std::string (*write)(double value);
  const char* expected;  ///< "a gauge such as \"AWG 12\""
};

}  // namespace uadze::project
