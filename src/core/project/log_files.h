#pragma once
// Files beside a log: its mapping, and the table of signals of a CAN log (JSON; see docs/file-formats.md).
//
// Example:
//   test::TempFolder folder;
//   log::Mapping mapping;
//   mapping.columns = {{.column = "FP", .role = log::Role::rail_pressure, .unit = "psi"}};
//   const auto file = folder.write("m.json", project::mapping_text(mapping));
//   EXPECT_EQ(project::read_mapping(file).value.columns[0].unit, "psi");
#include <filesystem>
#include <string_view>

#include "core/log/can_text.h"

namespace uadze::project {

Read<log::Mapping> read_mapping(const std::filesystem::path& path);
/// The same from text; `file` is what messages name.
Read<log::Mapping> parse_mapping(std::string_view text, const std::string& file);
std::string mapping_text(const log::Mapping& mapping);
Read<std::vector<log::Signal>> read_signals(const std::filesystem::path& path);
std::string signals_text(const std::vector<log::Signal>& table);

}  // namespace uadze::project
