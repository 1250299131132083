// The core's folders include only folders to their left, and nothing of the interface.
#include <gtest/gtest.h>

#include <map>
#include <regex>

#include "support/temp_folder.h"

namespace uadze {
namespace {

const std::vector<std::string> order{"base",    "fluid",      "tank",   "lap",     "slosh",
                                     "circuit", "starvation", "sizing", "session", "build",
                                     "logbook", "diagnosis",  "project"};

/// What is wrong with one line of a file in `folder`; empty if nothing is.
std::string fault(const std::string& folder, const std::string& line) {
  static const std::regex include(R"(^\s*#\s*include\s*[<"]([^>"]+)[>"])");
  std::smatch match;
  if (!std::regex_search(line, match, include)) return "";
  const std::string what = match[1];
  static const std::regex interface(R"(^(Q[A-Z]|Qt|qcustomplot|gui/|cli/|GL/))");
  if (std::regex_search(what, interface)) return what + " is interface";
  if (!what.starts_with("core/"))
    return what.ends_with(".h") && what.find('/') == std::string::npos && line.find('"') != std::string::npos
               ? what + " has no folder"
               : "";
  const std::string other = what.substr(5, what.find('/', 5) - 5);
  const auto rank = [](const std::string& name) {
    return std::find(order.begin(), order.end(), name) - order.begin();
  };
  if (rank(other) == static_cast<std::ptrdiff_t>(order.size())) return other + " is no folder of the core";
  return rank(other) > rank(folder) ? folder + " may not include " + other : "";
}

TEST(Architecture, CoreFoldersIncludeOnlyToTheirLeft) {
  int lines = 0;
  for (const auto& entry : std::filesystem::recursive_directory_iterator(test::source("src/core"))) {
    const auto extension = entry.path().extension();
    if (extension != ".h" && extension != ".cpp") continue;
    const std::string folder = entry.path().parent_path().filename().string();
    EXPECT_NE(std::find(order.begin(), order.end(), folder), order.end()) << folder;
    std::istringstream text(test::slurp(entry.path()));
    for (std::string line; std::getline(text, line); ++lines)
      EXPECT_EQ(fault(folder, line), "") << entry.path();
  }
  EXPECT_GT(lines, 1000);
}

TEST(Architecture, TheRuleItselfBites) {
  EXPECT_NE(fault("tank", "#include \"core/lap/lap.h\""), "");
  EXPECT_NE(fault("project", "#include <QString>"), "");
  EXPECT_NE(fault("base", "#include \"gui/app/theme.h\""), "");
  EXPECT_NE(fault("tank", "#include \"core/nowhere/x.h\""), "");
  EXPECT_EQ(fault("slosh", "#include \"core/tank/solid.h\""), "");
  EXPECT_EQ(fault("slosh", "#include <vector>"), "");
}

}  // namespace
}  // namespace uadze
