// Work that outlives its program: autosaves, leftovers of killed windows, and windows that end during work.
#include <unistd.h>

#include <QDir>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QPushButton>
#include <QRandomGenerator>
#include <QThread>
#include <QtTest>
#include <atomic>

#include "children.h"
#include "core/base/files.h"
#include "core/project/project_file.h"
#include "gui/document/background.h"
#include "gui/frame/notice_bar.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

using test::slurp;

class Recovery : public WindowTest {};

/// A table as the core has many: made when it is first asked, gone with the program.
struct Table {
  ~Table() { there = false; }
  std::atomic<bool> there = true;
};

}  // namespace

int work_until_killed(const QString& file) {
  MainWindow window;
  window.show();
  if (!window.open(file)) return 3;
  window.workspace().document.edit("rename",
                                   [](project::Project& p) { p.setups[0].name = "Made before the kill"; });
  const auto saved = [] {
    return !QDir(Document::autosave_folder()).entryList({"*.json"}, QDir::Files).isEmpty();
  };
  if (!wait_for(saved)) return 4;
  std::puts("ready");
  std::fflush(stdout);
  QTest::qWait(60000);
  return 0;
}

int edit_until_killed(const QString& file, quint32 seed) {
  MainWindow window;
  window.show();
  if (!window.open(file)) return 3;
  QRandomGenerator draw(seed);
  const auto tell = [](const char* what, int k) { std::printf("%s %d\n", what, k), std::fflush(stdout); };
  tell("pid", static_cast<int>(::getpid()));
  for (int k = 1;; ++k) {
    window.workspace().document.edit(
        "rename", [k](project::Project& p) { p.notes = "Edit " + std::to_string(k) + "."; });
    tell("edit", k);
    if (draw.bounded(25) == 0) {
      window.workspace().document.save();
      tell("saved", k);
    }
    QTest::qWait(static_cast<int>(draw.bounded(5, 80)));
  }
}

int end_while_working() {
  QObject owner;
  Background<int> job;
  std::atomic<bool> begun = false;
  job.start_in_steps(
      &owner,
      [&begun](Progress&, const Background<int>::Publish& publish) {
        static const Table table;
        begun = true;
        QElapsedTimer clock;
        for (clock.start(); clock.elapsed() < 300; QThread::usleep(1)) {
          if (!table.there) std::abort();
          publish(0);
        }
        return 0;
      },
      [](int) {}, [](int) {}, [](const QString&) {});
  while (!begun) QThread::usleep(100);
  return 0;
}

namespace {

TEST(WindowsEnd, WaitsForWorkThatStillTells) {
  QProcess child;
  child.start(QCoreApplication::applicationFilePath(), {"--end-while-working"});
  ASSERT_TRUE(child.waitForFinished());
  EXPECT_EQ(child.exitStatus(), QProcess::NormalExit);
  EXPECT_EQ(child.exitCode(), 0);
}

TEST_F(Recovery, WorkSurvivesAKillAndIsOffered) {
  QProcess child;
  child.start(QCoreApplication::applicationFilePath(), {"--work-until-killed", path()});
  ASSERT_TRUE(wait_for([&] { return child.bytesAvailable() > 0 || child.state() == QProcess::NotRunning; }));
  ASSERT_EQ(child.readAllStandardOutput().trimmed(), "ready");
  EXPECT_TRUE(Document::leftovers().empty()) << "a living process keeps its own work";
  child.kill();
  ASSERT_TRUE(child.waitForFinished());
  EXPECT_EQ(slurp(folder / "ostrel-p4.uadze.json"), original);

  window->offer_leftovers();
  EXPECT_TRUE(window->notice().text().contains("ostrel-p4.uadze.json"));
  QTest::mouseClick(find<QPushButton>("Restore"), Qt::LeftButton);
  EXPECT_EQ(workspace().project().setups[0].name, "Made before the kill");
  EXPECT_TRUE(workspace().document.is_modified());
  EXPECT_EQ(workspace().document.path(), path());
  QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
  EXPECT_NE(slurp(folder / "ostrel-p4.uadze.json").find("Made before the kill"), std::string::npos);
  EXPECT_TRUE(Document::leftovers().empty());
  EXPECT_TRUE(QDir(Document::autosave_folder()).entryList({"*.json"}, QDir::Files).isEmpty())
      << "a save ends the autosave";
}

/// As a process left it that is gone: its number now belongs to this one.
QString leave_behind(const QString& project, const std::string& name, const std::string& disk_text) {
  auto changed = project::parse_project(disk_text, "p").value;
  changed.setups[0].name = name;
  const QJsonObject json{{"process", "another boot 1"},
                         {"pid", static_cast<qint64>(QCoreApplication::applicationPid())},
                         {"project", project},
                         {"when", "2026-01-01 12:00:00"},
                         {"disk_text", QString::fromStdString(disk_text)},
                         {"text", QString::fromStdString(project::project_text(changed, disk_text))}};
  const QString file = Document::autosave_folder() + "/" + QString::fromStdString(name) + ".json";
  write_file_atomically(file.toStdString(), QJsonDocument(json).toJson().toStdString());
  return file;
}

TEST_F(Recovery, EveryLeftoverIsOfferedAndTheOfferStands) {
  leave_behind(path(), "one", original);
  leave_behind(path(), "two", original);
  ASSERT_EQ(Document::leftovers().size(), 2u) << "a number used again is not the process";
  window->offer_leftovers();
  EXPECT_TRUE(window->notice().text().contains("was not saved"));
  window->notice().say("Something else.", true);
  EXPECT_TRUE(window->notice().text().contains("Something else"));
  QTest::mouseClick(find<QPushButton>("Close"), Qt::LeftButton);
  EXPECT_TRUE(window->notice().text().contains("was not saved")) << "the offer comes back";
  QTest::mouseClick(find<QPushButton>("Restore"), Qt::LeftButton);
  const std::string first = workspace().project().setups[0].name;
  EXPECT_TRUE(first == "one" || first == "two");
  EXPECT_TRUE(window->notice().text().contains("was not saved")) << "the second is offered";
  QTest::mouseClick(find<QPushButton>("Discard"), Qt::LeftButton);
  EXPECT_FALSE(window->notice().isVisible());
  EXPECT_TRUE(Document::leftovers().empty());
}

TEST_F(Recovery, AfterRecoveryAFileChangedMeanwhileIsAskedAbout) {
  leave_behind(path(), "recovered", original);
  const std::string foreign = original + "\n";
  folder.write("ostrel-p4.uadze.json", foreign);
  window->offer_leftovers();
  QTest::mouseClick(find<QPushButton>("Restore"), Qt::LeftButton);
  QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
  EXPECT_TRUE(window->notice().text().contains("was changed by something else"));
  EXPECT_EQ(slurp(folder / "ostrel-p4.uadze.json"), foreign);
}

TEST_F(Recovery, HeldKeysDoNotPutTheAutosaveOff) {
  const auto saved = [] { return !QDir(Document::autosave_folder()).entryList({"*.json"}).isEmpty(); };
  QElapsedTimer clock;
  clock.start();
  for (int k = 0; !saved() && clock.elapsed() < 60000; ++k) {
    workspace().document.edit("move", [&](project::Project& p) { p.notes = std::to_string(k); });
    QTest::qWait(30);  // as a key repeats
  }
  EXPECT_TRUE(saved());
}

TEST_F(Recovery, AFailedAutosaveSaysThatTheWorkIsOnlyInMemory) {
  const QString autosaves = Document::autosave_folder();
  QDir(autosaves).removeRecursively();
  folder.write("a-file", "");
  ASSERT_TRUE(QFile::link(QString::fromStdString((folder / "a-file").string()), autosaves));
  workspace().document.edit("rename", [](project::Project& p) { p.setups[0].name = "Renamed"; });
  EXPECT_TRUE(wait_for([&] { return window->notice().text().contains("only in memory"); }));
  EXPECT_EQ(workspace().project().setups[0].name, "Renamed");
  QFile::remove(autosaves);
}

}  // namespace
}  // namespace uadze::gui
