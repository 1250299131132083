// The open project without a window: edits at random, back and forth, through the file and through an
// autosave.
#include "gui/document/document.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <QSignalSpy>
#include <QtTest>

#include "core/base/files.h"
#include "core/project/project_file.h"
#include "gui/document/selection.h"
#include "support/random_shapes.h"
#include "support/temp_folder.h"

namespace uadze::gui {
namespace {

using project::Project;

struct Change {
  const char* what;
  std::function<void(Project&, test::Random&)> make;
};

project::Setup& any_setup(Project& p, test::Random& r) {
  return p.setups[static_cast<size_t>(r.whole(0, static_cast<int>(p.setups.size()) - 1))];
}

/// What a person changes at the stations.
const std::vector<Change> sound_changes{
    {"Move pickup",
     [](Project& p, test::Random& r) {
       auto& pickups = any_setup(p, r).tank.pickups;
       pickups[static_cast<size_t>(r.whole(0, static_cast<int>(pickups.size()) - 1))].position +=
           1e-3 * r.direction();
     }},
    {"Power", [](Project& p, test::Random& r) { any_setup(p, r).engine.power *= r.uniform(0.9, 1.1); }},
    {"Rename setup",
     [](Project& p, test::Random& r) {
       project::Setup& s = any_setup(p, r);
       s.name += r.whole(0, 1) ? "é" : "'";
     }},
    {"Rename session", [](Project& p, test::Random&) { p.sessions.front().name += " again"; }},
    {"Duplicate setup",
     [](Project& p, test::Random& r) {
       project::Setup copy = any_setup(p, r);
       copy.name += fmt::format(" {}", p.setups.size());
       p.setups.push_back(copy);
     }},
    {"Remove setup",
     [](Project& p, test::Random&) {
       if (p.setups.size() > 1) p.setups.pop_back();
     }},
    {"Laps",
     [](Project& p, test::Random& r) {
       auto& s = p.sessions.front();
       s.duration.reset();
       s.laps = s.refuel_stops + s.neutral_laps + r.whole(1, 60);
     }},
    {"Risk", [](Project& p, test::Random& r) { p.sessions.back().risk = r.uniform(0.001, 0.2); }},
    {"Note", [](Project& p, test::Random& r) { p.name += static_cast<char>('a' + r.whole(0, 25)); }},
};

/// What must be refused, whole, with a word that says where.
const std::vector<Change> unsound_changes{
    {"power_kw", [](Project& p, test::Random& r) { any_setup(p, r).engine.power = -1; }},
    {"power_kw", [](Project& p, test::Random& r) { any_setup(p, r).engine.power = std::nan(""); }},
    {"name", [](Project& p, test::Random&) { p.setups.front().name.clear(); }},
    {"sessions", [](Project& p, test::Random&) { p.sessions.front().lap = "no such lap"; }},
    {"laps",
     [](Project& p, test::Random&) {
       p.sessions.front().laps = -3;
       p.sessions.front().duration.reset();
     }},
    {"risk", [](Project& p, test::Random&) { p.sessions.front().risk = 0.7; }},
    {"setups", [](Project& p, test::Random&) { p.setups.push_back(p.setups.front()); }},
};

class Documents : public testing::TestWithParam<const char*> {
 protected:
  void SetUp() override {
    test::copy_demo(folder);
    file = QString::fromStdString((folder / GetParam()).string());
    document.open(file);
  }
  test::TempFolder folder;
  QString file;
  Document document;
};

TEST_P(Documents, AnyEditsAreUndoneAndDoneAgainToTheLastDigit) {
  test::Random r(8);
  std::vector<Project> states{document.project()};
  for (int k = 0; k < 60; ++k) {
    const Change& change =
        sound_changes[static_cast<size_t>(r.whole(0, static_cast<int>(sound_changes.size()) - 1))];
    const Project before = document.project();
    ASSERT_TRUE(document.edit(change.what, [&](Project& p) { change.make(p, r); })) << change.what;
    if (document.project() == before) continue;  // nothing to change is no step
    states.push_back(document.project());
    ASSERT_EQ(static_cast<size_t>(document.undo()->count()) + 1, states.size()) << change.what;
  }
  // A walk through the history ends where its index says.
  for (int k = 0; k < 100; ++k) {
    const int to = r.whole(0, document.undo()->count());
    document.undo()->setIndex(to);
    ASSERT_TRUE(document.project() == states[static_cast<size_t>(to)]) << "at step " << to;
  }
  document.undo()->setIndex(0);
  EXPECT_FALSE(document.is_modified()) << "all undone is as it was opened";
}

TEST_P(Documents, UnsoundEditsAreRefusedWholeAndSayWhere) {
  test::Random r(3);
  QSignalSpy refused(&document, &Document::refused), changed(&document, &Document::changed);
  for (const Change& change : unsound_changes) {
    const Project before = document.project();
    EXPECT_FALSE(document.edit("Edit", [&](Project& p) {
      p.name += " half";  // goes with the rest
      change.make(p, r);
    })) << change.what;
    EXPECT_TRUE(document.project() == before) << change.what;
    ASSERT_FALSE(refused.isEmpty()) << change.what;
    const QString why = refused.takeLast().at(0).toString();
    EXPECT_TRUE(why.contains(change.what)) << change.what << ": " << why.toStdString();
    EXPECT_FALSE(why.contains(".json")) << "the open project needs no file's name: " << why.toStdString();
  }
  EXPECT_FALSE(document.edit("Edit", [](Project&) { throw std::runtime_error("no such thing"); }));
  EXPECT_EQ(refused.takeLast().at(0).toString(), "Edit: no such thing");
  EXPECT_EQ(document.undo()->count(), 0);
  EXPECT_TRUE(changed.isEmpty()) << "nobody is told of what did not happen";
}

TEST_P(Documents, WhatIsSavedIsWhatIsOpened) {
  const std::string as_it_was = test::slurp(file.toStdString());
  test::Random r(5);
  for (int round = 0; round < 5; ++round) {
    for (int k = 0; k < 6; ++k) {
      const Change& change =
          sound_changes[static_cast<size_t>(r.whole(0, static_cast<int>(sound_changes.size()) - 1))];
      // A layout is gone with the save of a removal; a key that was absent stays once it was written.
      if (change.what == std::string("Remove setup") || change.what == std::string("Risk")) continue;
      document.edit(change.what, [&](Project& p) { change.make(p, r); });
    }
    EXPECT_TRUE(document.is_modified());
    document.save();
    EXPECT_FALSE(document.is_modified());
    EXPECT_FALSE(document.changed_on_disk());
    Document other;
    other.open(file);
    // To the last digit that a file has: its own text again.
    EXPECT_EQ(project::project_text(other.project(), ""), project::project_text(document.project(), ""));
    EXPECT_EQ(other.project().setups.size(), document.project().setups.size());
  }
  // All undone and saved: the file's own bytes, whatever lay between.
  document.undo()->setIndex(0);
  document.save();
  EXPECT_EQ(test::slurp(file.toStdString()), as_it_was);
}

TEST_P(Documents, AnotherFolderTakesItsLapsAlong) {
  test::TempFolder elsewhere;
  const QString copy = QString::fromStdString((elsewhere / "copy.uadze.json").string());
  const size_t laps = document.project().laps.size();
  document.save_as(copy);
  EXPECT_EQ(document.path(), copy);
  Document other;
  other.open(copy, solve::Outside::agreed);
  EXPECT_EQ(other.project().laps.size(), laps);
  for (const project::LapReference& lap : other.project().laps)
    EXPECT_TRUE(std::filesystem::exists(other.folder() / lap.file)) << lap.file;
  EXPECT_FALSE(document.changed_on_disk());
}

TEST_P(Documents, MergesWhatIsDraggedAndNothingElse) {
  const auto drag = [&](double by) {
    document.edit(
        "Move pickup", [by](Project& p) { p.setups[0].tank.pickups[0].position.x() += by; }, 17);
  };
  const double x = document.project().setups[0].tank.pickups[0].position.x();
  for (int k = 0; k < 5; ++k) drag(1e-4);
  EXPECT_EQ(document.undo()->count(), 1) << "one drag, one step";
  document.end_merge();
  drag(1e-4);
  EXPECT_EQ(document.undo()->count(), 2) << "the next drag is its own";
  document.edit("Risk", [](Project& p) { p.sessions[0].risk = 0.02; });
  drag(1e-4);
  EXPECT_EQ(document.undo()->count(), 4) << "not across another edit";
  document.undo()->setIndex(0);
  EXPECT_EQ(document.project().setups[0].tank.pickups[0].position.x(), x);
}

TEST_P(Documents, TheSelectionFollowsTheProject) {
  Selection selection(document);
  QSignalSpy changed(&selection, &Selection::changed), moved(&selection, &Selection::cursor_moved);
  EXPECT_EQ(selection.setup(), &document.project().setups[0]);
  selection.choose_setup(99);
  EXPECT_GE(selection.setup_index(), 0) << "never one that is not there";
  EXPECT_LT(selection.setup_index(), static_cast<int>(document.project().setups.size()));
  selection.set_cursor(1000, 10);
  EXPECT_LT(selection.cursor(), 10u) << "the cursor stays on the lap";
  // Setups go while the last is chosen.
  selection.choose_setup(static_cast<int>(document.project().setups.size()) - 1);
  document.edit("Remove", [](Project& p) { p.setups.resize(1); });
  EXPECT_EQ(selection.setup(), &document.project().setups[0]);
  document.undo()->undo();
  ASSERT_NE(selection.setup(), nullptr);
  document.start_new();
  selection.reset();
  EXPECT_EQ(selection.setup_index(), 0);
  EXPECT_EQ(selection.session_index(), -1);
  EXPECT_EQ(selection.lap_reference(), nullptr);
}

INSTANTIATE_TEST_SUITE_P(Demos, Documents,
                         testing::Values("ostrel-p4.uadze.json", "ostrel-tarn.uadze.json",
                                         "ostrel-wisp.uadze.json"),
                         [](const auto& each) { return std::string(each.param).substr(7, 2); });

TEST(Document, OpensNothingHalf) {
  test::TempFolder folder;
  test::copy_demo(folder);
  const QString good = QString::fromStdString((folder / "ostrel-p4.uadze.json").string());
  const std::string bad = (folder / "bad.uadze.json").string();
  Document document;
  document.open(good);
  document.edit("Risk", [](Project& p) { p.sessions[0].risk = 0.02; });
  const Project open = document.project();
  const std::string text = test::slurp(good.toStdString());
  for (const std::string& broken : {std::string(), std::string("{"), text.substr(0, text.size() / 2),
                                    std::string("[]"), std::string(1000, 'x'), text + "]"}) {
    write_file_atomically(bad, broken);
    EXPECT_THROW(document.open(QString::fromStdString(bad)), InputError) << broken.substr(0, 20);
    EXPECT_TRUE(document.project() == open);
    EXPECT_EQ(document.path(), good);
    EXPECT_EQ(document.undo()->count(), 1) << "the history is kept";
  }
  EXPECT_THROW(document.open(QString::fromStdString((folder / "missing.json").string())), InputError);
  EXPECT_THROW(document.save_as("/nowhere/at/all.json"), InputError);
  EXPECT_TRUE(document.is_modified());
  EXPECT_EQ(document.path(), good);
}

TEST(Document, AnotherHandsWriteIsSeen) {
  test::TempFolder folder;
  test::copy_demo(folder);
  const QString file = QString::fromStdString((folder / "ostrel-wisp.uadze.json").string());
  Document document;
  document.open(file);
  EXPECT_FALSE(document.changed_on_disk());
  write_file_atomically(file.toStdString(), test::slurp(file.toStdString()) + "\n");
  EXPECT_TRUE(document.changed_on_disk());
  QFile::remove(file);
  EXPECT_FALSE(document.changed_on_disk()) << "nothing stands there to be lost";
}

}  // namespace
}  // namespace uadze::gui
