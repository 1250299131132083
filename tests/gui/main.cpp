// The window's tests as one program; with another first word, one of the children that they begin.
#include <gtest/gtest.h>

#include <QApplication>

#include "children.h"
#include "gui/look/theme.h"

int main(int argc, char** argv) {
  ::testing::InitGoogleTest(&argc, argv);
  QApplication app(argc, argv);
  QApplication::setOrganizationName("undertow-adze-test");
  QApplication::setApplicationName("undertow-adze-test");
  uadze::gui::apply_theme(app, uadze::gui::Theme::make(false));
  if (argc > 2 && std::string(argv[1]) == "--work-until-killed")
    return uadze::gui::work_until_killed(argv[2]);
  if (argc > 3 && std::string(argv[1]) == "--edit-until-killed")
    return uadze::gui::edit_until_killed(argv[2], QString(argv[3]).toUInt());
  if (argc > 1 && std::string(argv[1]) == "--end-while-working") return uadze::gui::end_while_working();
  return RUN_ALL_TESTS();
}
