// Folders include only folders to their left: in the core, which has nothing of the interface, and in the
// window.
#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cctype>

#include "support/temp_folder.h"

namespace uadze {
namespace {

struct House {
  std::string root;  ///< "core/"
  std::vector<std::string> order;
};

const House core{"core/",
                 {"base", "fluid", "tank", "lap", "slosh", "resolved", "circuit", "starvation", "sizing",
                  "session", "log", "diagnosis", "build", "logbook", "project", "solve", "report"}};
const House gui{"gui/", {"look", "document", "widgets", "stations", "frame", "app"}};

/// What is wrong with one line of a file in `folder` of the house; empty if nothing is.
std::string fault(const House& house, const std::string& folder, const std::string& line) {
  std::string packed = line;
  std::erase_if(packed, [](unsigned char c) { return std::isspace(c); });
  constexpr size_t begin = std::string_view("#include<").size();
  if (!packed.starts_with("#include") || packed.size() <= begin) return "";
  const std::string what = packed.substr(begin, packed.find_first_of(">\"", begin) - begin);
  const auto begins = [&](const char* name) { return what.starts_with(name); };
  if (&house == &core &&
      ((what.size() > 1 && what[0] == 'Q' && std::isupper(what[1])) ||
       std::ranges::any_of(std::array{"Qt", "qcustomplot", "gui/", "cli/", "GL/"}, begins)))
    return what + " is interface";
  if (!what.starts_with(house.root))
    return what.ends_with(".h") && what.find('/') == std::string::npos && line.find('"') != std::string::npos
               ? what + " has no folder"
               : "";
  const std::string other =
      what.substr(house.root.size(), what.find('/', house.root.size()) - house.root.size());
  const auto rank = [&](const std::string& name) {
    return std::find(house.order.begin(), house.order.end(), name) - house.order.begin();
  };
  if (rank(other) == static_cast<std::ptrdiff_t>(house.order.size()))
    return other + " is no folder of " + house.root;
  return rank(other) > rank(folder) ? folder + " may not include " + other : "";
}

void check(const House& house, int least_lines) {
  int lines = 0;
  const auto root = test::source("src/" + house.root);
  for (const auto& entry : std::filesystem::recursive_directory_iterator(root)) {
    const auto extension = entry.path().extension();
    if (extension != ".h" && extension != ".cpp") continue;
    const std::string folder = entry.path().lexically_relative(root).begin()->string();
    EXPECT_NE(std::find(house.order.begin(), house.order.end(), folder), house.order.end()) << folder;
    std::istringstream text(test::slurp(entry.path()));
    for (std::string line; std::getline(text, line); ++lines)
      EXPECT_EQ(fault(house, folder, line), "") << entry.path();
  }
  EXPECT_GT(lines, least_lines);
}

TEST(Architecture, CoreFoldersIncludeOnlyToTheirLeft) { check(core, 15000); }

TEST(Architecture, TheWindowsFoldersIncludeOneWay) { check(gui, 5000); }

TEST(Architecture, TheRuleItselfBites) {
  EXPECT_NE(fault(core, "tank", "#include \"core/lap/lap.h\""), "");
  EXPECT_NE(fault(core, "project", "#include <QString>"), "");
  EXPECT_NE(fault(core, "project", " #  include<QString> // a text"), "");
  EXPECT_NE(fault(core, "base", "#include \"gui/look/theme.h\""), "");
  EXPECT_NE(fault(core, "tank", "#include \"core/nowhere/x.h\""), "");
  EXPECT_NE(fault(core, "project", "#include \"core/solve/plan.h\""), "");
  EXPECT_NE(fault(gui, "widgets", "#include \"gui/frame/main_window.h\""), "");
  EXPECT_EQ(fault(core, "slosh", "#include \"core/tank/solid.h\""), "");
  EXPECT_EQ(fault(core, "slosh", "#include <vector>"), "");
  EXPECT_EQ(fault(gui, "frame", "#include <QLabel>"), "");
}

}  // namespace
}  // namespace uadze
