#pragma once
// What a part can stand, where it may be, how it is joined and how long it lasts. All of it is the maker's
// word: the shipped catalogue's figures are typical of a class, made up for the purpose.
//
// Example:
//   circuit::Ratings hose{.pressure = 17e5, .hottest = 393.15, .in_fuel = true};
//   EXPECT_FALSE(hose.ethanol.has_value());   // not known
#include <optional>
#include <string>

namespace uadze::circuit {

/// How a part's port is sealed.
enum class Seal { unknown, flare, o_ring_boss, crush_washer, olive, barb, quick_connector };
constexpr const char* name_of(Seal value) {
  switch (value) {
    case Seal::unknown:
      return "not known";
    case Seal::flare:
      return "flare 37°";
    case Seal::o_ring_boss:
      return "O-ring boss";
    case Seal::crush_washer:
      return "crush washers";
    case Seal::olive:
      return "olive";
    case Seal::barb:
      return "barb";
    case Seal::quick_connector:
      return "quick connector";
  }
  return nullptr;
}

enum class Material { unknown, aluminium, steel, stainless, brass, copper, plastic };
constexpr const char* name_of(Material value) {
  switch (value) {
    case Material::unknown:
      return "not known";
    case Material::aluminium:
      return "aluminium";
    case Material::steel:
      return "steel";
    case Material::stainless:
      return "stainless steel";
    case Material::brass:
      return "brass";
    case Material::copper:
      return "copper";
    case Material::plastic:
      return "plastic";
  }
  return nullptr;
}

struct Ratings {
  double pressure = 0.0;                ///< Pa over air; 0: not known
  double coldest = 0.0, hottest = 0.0;  ///< K; 0: not known
  std::optional<double> ethanol;        ///< most share of it, 0..1; nothing: not known
  bool methanol = false;
  bool in_fuel = false;     ///< its outside may lie in fuel or its vapour
  bool engine_bay = false;  ///< or be there
  Seal seal = Seal::unknown;
  Material material = Material::unknown;
  std::string marking;   ///< what is printed on the right one
  std::string supplier;  ///< of an order
  double seasons = 0.0;  ///< that it lasts; 0: not limited
  double hours = 0.0;    ///< s of running that it lasts; 0: not limited
};

}  // namespace uadze::circuit
