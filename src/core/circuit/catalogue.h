#pragma once
// Types of parts with their figures. The shipped catalogue holds generic classes, made up for the purpose; a
// user's own file adds to it or takes the place of an entry of the same name.
//
// Example:
//   const auto& catalogue = *project::shipped_catalogue();
//   const circuit::PumpType* pump = find(catalogue.pumps, "lift pump, 130 l/h class");
//   ASSERT_TRUE(pump);
//   EXPECT_EQ(pump->role, circuit::PumpRole::lift);
#include <map>
#include <string>
#include <vector>

#include "core/circuit/element.h"
#include "core/circuit/pump.h"
#include "core/circuit/ratings.h"

namespace uadze::circuit {

enum class CostClass { low, middle, high };
constexpr const char* name_of(CostClass value) {
  switch (value) {
    case CostClass::low:
      return "low";
    case CostClass::middle:
      return "middle";
    case CostClass::high:
      return "high";
  }
  return nullptr;
}

/// What a pump is made for: filling a surge tank, feeding an engine at rail pressure, feeding carburettors
/// and high-pressure pumps at a low one.
enum class PumpRole { any, lift, main, feed };
constexpr const char* name_of(PumpRole value) {
  switch (value) {
    case PumpRole::any:
      return "any";
    case PumpRole::lift:
      return "lift";
    case PumpRole::main:
      return "main";
    case PumpRole::feed:
      return "feed";
  }
  return nullptr;
}

struct Entry {
  std::string name;
  std::string note;
  double mass = 0.0;  ///< kg; of hoses kg/m at -8
  CostClass cost = CostClass::middle;
  std::optional<Ratings> ratings;
};

struct PumpType : Entry {
  PumpCurves curves;
  PumpRole role = PumpRole::any;
  double turns = 1.0;  ///< of an engine-driven one: its shaft's usual speed over the crankshaft's
  bool built_in_check = true;
  bool alcohol = true;  ///< stands high-ethanol blends
};

struct FilterType : Entry {
  double flow = 0.0;     ///< m3/s of its ratings
  double clean = 0.0;    ///< Pa
  double loaded = 0.0;   ///< Pa, when it is due
  double viscous = 0.6;  ///< share of the drop that follows viscosity
  double mesh = 0.0;     ///< m
  bool paper = false;
};

struct CheckValveType : Entry {
  double cracking = 0.0;  ///< Pa
  double flow = 0.0;      ///< m3/s of its rating
  double drop = 0.0;      ///< Pa there, over the cracking pressure
};

/// Sensors and diffusers: parts known by their drop at one flow.
struct RestrictionType : Entry {
  double flow = 0.0;  ///< m3/s
  double drop = 0.0;  ///< Pa
};

struct RegulatorType : Entry {
  double slope = 0.0;      ///< Pa s/m3
  double open_flow = 0.0;  ///< m3/s
  double open_drop = 0.0;  ///< Pa at that flow, wide open
};

struct InjectorType : Entry {
  double flow = 0.0;        ///< m3/s, held open
  double difference = 3e5;  ///< Pa at which it was measured
};

struct HoseType : Entry {
  std::map<int, double> bore;          ///< m by dash size
  std::map<int, double> mass_by_size;  ///< kg/m by dash size; for others -8's by the dash number
  double roughness = 1e-5;             ///< m
  bool lies_in_fuel = false;           ///< rated to
  bool alcohol = true;
};

struct RelayType : Entry {
  double rating = 0.0;      ///< A
  double resistance = 0.0;  ///< ohm of its contact
};

struct FuseType : Entry {
  double rating = 0.0;      ///< A
  double resistance = 0.0;  ///< ohm, with its holder
};

struct AlternatorType : Entry {
  std::vector<std::pair<double, double>> output;  ///< 1/s of its own shaft, A; rising
  double voltage = 13.8;
  /// A at a shaft speed: straight lines, nothing under the first speed.
  double current(double rotation) const;
};

/// Reticulated foam by its figures; a tank's foam takes them over, and holds them by itself.
struct FoamType : Entry {
  double porosity = 0.97, permeability = 1e-8, keeps = 0.025;  ///< see tank::Foam
};

struct Catalogue {
  std::vector<PumpType> pumps;
  std::vector<FilterType> filters;
  std::vector<CheckValveType> check_valves;
  std::vector<RestrictionType> sensors, diffusers;
  std::vector<RegulatorType> regulators;
  std::vector<InjectorType> injectors;
  std::vector<HoseType> hoses;
  std::vector<RelayType> relays;
  std::vector<FuseType> fuses;
  std::vector<AlternatorType> alternators;
  std::vector<FoamType> foams;
};

/// The entry of that name; nothing if there is none.
template <class Type>
const Type* find(const std::vector<Type>& list, const std::string& name) {
  for (const Type& t : list)
    if (t.name == name) return &t;
  return nullptr;
}

/// kg/m of a hose at a dash size.
double mass_of(const HoseType& hose, int dash);

/// m, of a hose at a dash size; 0 if it is not made so.
double bore_of(const HoseType& hose, int dash);

/// Ohm of a contact pair, typical (1 to 5 mohm).
inline constexpr double contact_resistance = 3e-3;

}  // namespace uadze::circuit
