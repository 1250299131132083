#pragma once
// What a logged column can be to this application: each role with its quantity, the range that a car's values
// lie in, the words by which columns are known, and how values between samples are meant.
//
// Example:
//   const log::RoleInfo& speed = log::info_of(log::Role::speed);
//   EXPECT_EQ(speed.quantity, Quantity::speed);
//   EXPECT_EQ(value_named<log::Role>("rail_pressure"), log::Role::rail_pressure);
//   EXPECT_NEAR(log::unit_for(log::Role::lambda, "AFR")->to_si(14.7), 1.0, 1e-12);
#include <optional>
#include <span>
#include <string>
#include <string_view>

#include "core/base/names.h"
#include "core/base/units.h"

namespace uadze::log {

enum class Role {
  none,
  time,
  date,
  lap,
  beacon,
  distance,
  speed,
  lat_acc,
  long_acc,
  vert_acc,
  yaw_rate,
  latitude,
  longitude,
  position_x,
  position_y,
  throttle,
  rpm,
  rail_pressure,
  manifold_pressure,
  air_pressure,
  lambda,
  injector_time,
  injector_duty,
  fuel_flow,
  fuel_mass_flow,
  air_flow,
  battery,
  pump_current,
  fuel_temperature,
  air_temperature,
  fuel_level,
  level_switch,
  ethanol,
};

/// In mapping files.
constexpr const char* name_of(Role role) {
  constexpr const char* names[] = {"none",
                                   "time",
                                   "date",
                                   "lap",
                                   "beacon",
                                   "distance",
                                   "speed",
                                   "lat_acc",
                                   "long_acc",
                                   "vert_acc",
                                   "yaw_rate",
                                   "latitude",
                                   "longitude",
                                   "position_x",
                                   "position_y",
                                   "throttle",
                                   "rpm",
                                   "rail_pressure",
                                   "manifold_pressure",
                                   "air_pressure",
                                   "lambda",
                                   "injector_time",
                                   "injector_duty",
                                   "fuel_flow",
                                   "fuel_mass_flow",
                                   "air_flow",
                                   "battery",
                                   "pump_current",
                                   "fuel_temperature",
                                   "air_temperature",
                                   "fuel_level",
                                   "level_switch",
                                   "ethanol"};
  const auto k = static_cast<size_t>(role);
  return k < std::size(names) ? names[k] : nullptr;
}

/// How a channel is meant between its samples.
enum class Between { straight, held };

struct RoleInfo {
  Role role;
  const char* label;  ///< as a person calls it
  Quantity quantity;
  double low, high;  ///< SI; nearly all values of a right channel lie between
  Between between;
  /// Sets of words, parted by "|": a name that has all of one set's words is taken for it. A word ending in
  /// "*" is the head of one.
  const char* words;
  const char* not_words;  ///< any of these in the name speaks against it
  bool varies;            ///< whether a channel of one value throughout is suspicious
};

std::span<const RoleInfo> roles();
const RoleInfo& info_of(Role role);

/// A unit of the role by its name as `known_unit` gives it; lambda takes "AFR" of petrol (14.7 kg/kg).
std::optional<Unit> unit_for(Role role, std::string_view name);
/// The unit in which values are, by their size alone, where the file says none: percentiles of their
/// amounts, in the file's figures.
std::string unit_by_size(Role role, double median, double high);

/// How well a name fits a role, 0 to 1.
double name_score(const RoleInfo& role, std::string_view name);

}  // namespace uadze::log
