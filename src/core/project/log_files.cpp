#include "core/project/log_files.h"

#include <fmt/format.h>

#include <set>

#include "core/project/described_file.h"

namespace uadze::project {

Read<log::Mapping> read_mapping(const std::filesystem::path& path) {
  return parse_mapping(read_file(path), path.string());
}

Read<log::Mapping> parse_mapping(std::string_view text, const std::string& in_file) {
  return parse_described<log::Mapping>(
      text, in_file, log_mapping_key,
      [](const log::Mapping& mapping, const std::string& file, Messages& messages) {
        std::set<std::string> columns;
        std::set<log::Role> taken;
        for (size_t i = 0; i < mapping.columns.size(); ++i) {
          const log::ColumnUse& use = mapping.columns[i];
          const auto fail = [&](const char* key, std::string expected, std::string found) {
            messages.push_back({Severity::error, file, fmt::format("/columns/{}/{}", i, key),
                                std::move(expected), std::move(found)});
          };
          if (!columns.insert(use.column).second)
            fail("column", "each column once", "\"" + use.column + "\" again");
          if (use.role != log::Role::none && !taken.insert(use.role).second)
            fail("channel", "each channel once", fmt::format("\"{}\" again", name_of(use.role)));
          if (use.role != log::Role::none && !use.unit.empty() &&
              !unit_for(use.role, log::known_unit(use.unit)))
            fail("unit", fmt::format("a unit of {}", log::info_of(use.role).label), "\"" + use.unit + "\"");
        }
      });
}

std::string mapping_text(const log::Mapping& mapping) { return described_text(mapping, log_mapping_key); }

Read<std::vector<log::Signal>> read_signals(const std::filesystem::path& path) {
  auto read = read_described<SignalTable>(
      path, can_signals_key, [](const SignalTable& table, const std::string& file, Messages& messages) {
        for (size_t i = 0; i < table.signal_table.size(); ++i)
          if (!log::frame_id(table.signal_table[i].id))
            messages.push_back({Severity::error, file, fmt::format("/signals/{}/id", i),
                                "a hexadecimal number of 29 bits at most, such as \"1A0\"",
                                "\"" + table.signal_table[i].id + "\""});
        if (table.signal_table.empty())
          messages.push_back({Severity::error, file, "/signals", "one signal or more", "an empty list"});
      });
  return {std::move(read.value.signal_table), std::move(read.notes)};
}

std::string signals_text(const std::vector<log::Signal>& table) {
  return described_text(SignalTable{.notes = {}, .signal_table = table}, can_signals_key);
}

}  // namespace uadze::project
