#pragma once
// Which column of a log is which channel, in which unit, with which sign: proposed from names, units and the
// look of the values, changed by a person, kept for files with the same header.
//
// Example:
//   const auto layout = log::find_layout("Time [s],Lat Acc [g],Long Acc [g],Speed [km/h]\n0,0.1,0,60\n0.1,0.2,0.1,61\n");
//   const log::Mapping m = log::propose(layout, {{"0", "0.1", "0", "60"}, {"0.1", "0.2", "0.1", "61"}});
//   EXPECT_EQ(m.columns[1].role, log::Role::lat_acc);
//   EXPECT_EQ(m.column_of(log::Role::speed), 3u);
#include <optional>
#include <string>
#include <vector>

#include "core/base/content_key.h"
#include "core/log/layout.h"
#include "core/log/role.h"

namespace uadze::log {

/// Whether a pressure is told against the air's or against nothing.
enum class Against { air, vacuum };
constexpr const char* name_of(Against against) {
  switch (against) {
    case Against::air:
      return "air";
    case Against::vacuum:
      return "vacuum";
  }
  return nullptr;
}

struct ColumnUse {
  std::string column;  ///< its name in the file
  Role role = Role::none;
  std::string unit;  ///< as `known_unit` has it; of a channel without a role it is only told
  bool reversed = false;
  Against against = Against::air;  ///< of pressures
  double sure = 0.0;               ///< 0..1, of the proposal; 1 where a person chose
  std::string why;                 ///< what the proposal goes by
};

/// A channel made of others (formula.h).
struct Formula {
  std::string name, text;
  std::string unit;  ///< what its figures are in, told only
  bool operator==(const Formula&) const = default;
};

struct Mapping {
  std::vector<ColumnUse> columns;  ///< in the order of the file's
  std::vector<Formula> formulas;   ///< on top, in this order
  std::optional<double> rate;      ///< 1/s, where the file has no time

  /// Place of the column with a role, if one has it.
  std::optional<size_t> column_of(Role role) const;
};

/// By the columns' names, units and sampled cells. Each role goes to one column, the likeliest.
Mapping propose(const Layout& layout, const std::vector<std::vector<std::string>>& sample);

/// By what a header's columns are, in their order: files of one logger have the same.
ContentKey header_key(const Layout& layout);

/// A kept or written mapping on a file's columns, by their names; columns that it does not name keep what is
/// proposed, without a role where the mapping gives that role to another. Throws InputError where it names
/// columns that the file has not.
Mapping applied(const Mapping& wanted, const Mapping& proposed);

}  // namespace uadze::log
