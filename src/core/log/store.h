#pragma once
// Logs that were read are kept as columns, by the content of the file and all that decided how it was read:
// a large one opens at once the second time, whatever it was called or moved to meanwhile.
//
// Example:
//   test::TempFolder folder;
//   const auto file = folder.write("a.csv", "Time [s],Speed [km/h]\n0,36\n1,72\n2,72\n");
//   const log::Store store{folder / "kept", 0};
//   const auto first = log::read_log(file, store), second = log::read_log(file, store);
//   EXPECT_EQ(second.value.log.values(log::Role::speed)[1], first.value.log.values(log::Role::speed)[1]);
#include "core/log/log.h"

namespace uadze::log {

struct Store {
  std::filesystem::path folder;
  size_t least_bytes = size_t{16} << 20;  ///< files under it are read quicker than kept
  size_t most_bytes = size_t{4} << 30;    ///< of all that is kept: the longest unused goes first
};

/// As read_log, with what is kept. What is kept and can not be read (another version's, cut off) is read from
/// the log again and replaced; a folder that can not be written keeps nothing.
Read<LogFile> read_log(const std::filesystem::path& path, const Store& store,
                       const Mapping* mapping = nullptr, const std::vector<Signal>& signal_table = {},
                       Progress* progress = nullptr);

}  // namespace uadze::log
