// What is saved and what is not: refused files, failed saves, files that somebody else changed, and what a
// project may read.
#include <signal.h>
#include <sys/resource.h>

#include <QLineEdit>
#include <QMessageBox>
#include <QPushButton>
#include <QTimer>
#include <QtTest>

#include "core/base/files.h"
#include "core/project/project_file.h"
#include "gui/frame/notice_bar.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

using test::slurp;

class Saving : public WindowTest {};

TEST_F(Saving, SavedWorkReopensAsItWas) {
  window->show_station(Station::car);
  auto* field = find<QLineEdit>("Surge volume");
  field->setFocus();
  field->selectAll();
  QTest::keyClicks(field, "0.5 gal");
  QTest::keyClick(field, Qt::Key_Return);
  EXPECT_NEAR(workspace().setup()->surge->volume, 1.892705892e-3, 1e-12) << "any unit may be typed";
  EXPECT_TRUE(window->windowTitle().contains('*'));
  const project::Project edited = workspace().project();
  QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
  EXPECT_FALSE(window->windowTitle().contains('*'));
  MainWindow other;
  ASSERT_TRUE(other.open(path()));
  EXPECT_NEAR(other.workspace().setup()->surge->volume, edited.setups[0].surge->volume, 1e-9);
  // Only that line is different from the shipped file.
  std::istringstream one(original), two(slurp(folder / "ostrel-p4.uadze.json"));
  int differ = 0;
  for (std::string a, b; std::getline(one, a) && std::getline(two, b);) differ += a != b;
  EXPECT_EQ(differ, 1);
}

TEST_F(Saving, BrokenFilesAreRefusedAndTheOpenProjectStays) {
  const project::Project before = workspace().project();
  for (const auto& [name, text] :
       {std::pair{"cut.json", slurp(folder / "ostrel-p4.uadze.json").substr(0, 900)},
        {"empty.json", std::string()},
        {"other.json", std::string("{\"a\": 1}")}}) {
    const auto file = folder.write(name, text);
    EXPECT_FALSE(window->open(QString::fromStdString(file.string())));
    EXPECT_TRUE(window->notice().text().contains(name)) << window->notice().text().toStdString();
    EXPECT_EQ(workspace().project(), before);
  }
  EXPECT_FALSE(window->open("/nowhere/at/all.json"));
}

TEST_F(Saving, AFailedSaveKeepsTheWork) {
  workspace().document.edit("rename", [](project::Project& p) { p.setups[0].name = "Renamed"; });
  struct rlimit old {};
  ::getrlimit(RLIMIT_FSIZE, &old);
  struct rlimit small = old;
  small.rlim_cur = 100;
  ::signal(SIGXFSZ, SIG_IGN);
  ::setrlimit(RLIMIT_FSIZE, &small);
  QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
  ::setrlimit(RLIMIT_FSIZE, &old);
  EXPECT_TRUE(window->notice().text().contains("Not saved")) << window->notice().text().toStdString();
  EXPECT_TRUE(workspace().document.is_modified());
  EXPECT_EQ(workspace().project().setups[0].name, "Renamed");
  EXPECT_EQ(slurp(folder / "ostrel-p4.uadze.json"), original);
}

TEST_F(Saving, AFileThatSomebodyElseChangedIsNotSavedOver) {
  workspace().document.edit("rename", [](project::Project& p) { p.setups[0].name = "Renamed"; });
  const std::string foreign = slurp(folder / "ostrel-p4.uadze.json") + "\n";
  folder.write("ostrel-p4.uadze.json", foreign);
  QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
  EXPECT_EQ(slurp(folder / "ostrel-p4.uadze.json"), foreign);
  EXPECT_TRUE(window->notice().text().contains("changed by something else"));
  QTest::mouseClick(find<QPushButton>("Save over it"), Qt::LeftButton);
  EXPECT_NE(slurp(folder / "ostrel-p4.uadze.json").find("Renamed"), std::string::npos);
}

TEST_F(Saving, UnsavedChangesAreGuarded) {
  workspace().document.edit("rename", [](project::Project& p) { p.setups[0].name = "Renamed"; });
  const auto answer = [&](QMessageBox::StandardButton button) {
    QTimer::singleShot(100, [button] {
      if (auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget()))
        box->button(button)->click();
    });
    window->close();
  };
  answer(QMessageBox::Cancel);
  EXPECT_TRUE(window->isVisible());
  answer(QMessageBox::Save);
  EXPECT_FALSE(window->isVisible());
  EXPECT_NE(slurp(folder / "ostrel-p4.uadze.json").find("Renamed"), std::string::npos);
}

TEST_F(Saving, FilesOutsideTheFolderAreAskedAboutOnce) {
  std::string text = original;
  text.replace(text.find("laps/brackenholt"), 4, "../laps");
  const QString inner = QString::fromStdString(folder.write("inner/p4.uadze.json", text).string());
  EXPECT_FALSE(window->open(inner));
  EXPECT_TRUE(window->notice().text().contains("outside its folder"))
      << window->notice().text().toStdString();
  EXPECT_EQ(workspace().document.path(), path()) << "nothing was opened";
  QTest::mouseClick(find<QPushButton>("Read them"), Qt::LeftButton);
  EXPECT_EQ(workspace().document.path(), inner);
  EXPECT_TRUE(workspace().runs.lap());
  EXPECT_TRUE(window->open(inner)) << "the word was kept";
}

}  // namespace
}  // namespace uadze::gui
