// The Build station in a real window: list, stock, order, a step done and done again.
#include <QApplication>
#include <QClipboard>
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>

#include "core/solve/circuit_point.h"
#include "gui/stations/build/hose_picture.h"
#include "gui/widgets/edit_table.h"
#include "gui/widgets/print.h"
#include "gui/widgets/table_page.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

class Builds : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window->show_station(Station::build);
  }
  TablePage* page(const char* name) { return window->findChild<TablePage*>(name); }
  QString cell(TablePage* table, int row, int column) { return table->item(row, column)->text(); }
  int row_of(TablePage* table, const QString& what) {
    for (int r = 0; r < table->rowCount(); ++r)
      if (cell(table, r, 0) == what || cell(table, r, 1) == what) return r;
    ADD_FAILURE() << "no row " << what.toStdString();
    return 0;
  }
  QString text(const char* label) { return window->findChild<QLabel*>(label)->text(); }
  void go_to(int tab) {
    for (QTabWidget* tabs : window->findChildren<QTabWidget*>())
      if (tabs->isVisible() && tabs->tabText(0) == "Order of work") tabs->setCurrentIndex(tab);
  }
};

TEST_F(Builds, WhatArrivesLetsAStepBeginAndADoneStepIsSignedAndDoneAgainAfterAChange) {
  auto *steps = page("steps of the build"), *order = page("order list");
  ASSERT_GT(steps->rowCount(), 12);
  EXPECT_EQ(cell(steps, 0, 3), "→ can be started");
  // Without a name nothing is done.
  auto* done = find<QPushButton>("step done");
  auto* by = find<QLineEdit>("done by");
  by->clear();
  const size_t before = workspace().project().done.size();
  QTest::mouseClick(done, Qt::LeftButton);
  EXPECT_EQ(workspace().project().done.size(), before);
  by->setFocus();
  QTest::keyClicks(by, "R. Fell");
  QTest::mouseClick(done, Qt::LeftButton);
  EXPECT_EQ(cell(steps, 0, 3), "✓ done");
  EXPECT_TRUE(text("step of the build").contains("by R. Fell")) << text("step of the build").toStdString();

  // The right lift leg's parts arrive: all that is needed of each, pasted as one edit.
  go_to(1);
  const int lift = row_of(steps, "lift right: parts and lines");
  EXPECT_TRUE(cell(steps, lift, 4).contains("parts")) << cell(steps, lift, 4).toStdString();
  QStringList have;
  for (int r = 0; r < order->rowCount(); ++r) have << cell(order, r, 2);
  QApplication::clipboard()->setText(have.join('\n'));
  order->setCurrentCell(0, 4);
  const int edits = WindowTest::steps();
  QTest::keyClick(order, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(WindowTest::steps(), edits + 1);
  EXPECT_EQ(cell(steps, lift, 3), "→ can be started");
  EXPECT_EQ(cell(order, row_of(order, "lift pump, 130 l/h class"), 6), "0");
  EXPECT_EQ(cell(order, row_of(order, "lift pump, 130 l/h class"), 7), "");
  // What is no number changes nothing, in all of the paste.
  QApplication::clipboard()->setText("3\nmany\n5");
  order->setCurrentCell(0, 4);
  QTest::keyClick(order, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(WindowTest::steps(), edits + 1);
  workspace().document.undo()->undo();
  EXPECT_TRUE(workspace().project().stock.empty());

  // The feed line is done; a hose of it changes; it is to be done again, the rest is not.
  go_to(0);
  const int feed = row_of(steps, "feed line: parts and lines");
  steps->setCurrentCell(feed, 1);
  QTest::mouseClick(done, Qt::LeftButton);
  EXPECT_EQ(cell(steps, feed, 3), "✓ done");
  const int setup = workspace().selection.setup_index();
  workspace().document.edit("Longer feed", [&](project::Project& p) {
    for (auto& part : p.setups[static_cast<size_t>(setup)].circuit->feed)
      if (part.kind == circuit::PartKind::line) part.length += 0.1;
  });
  EXPECT_EQ(cell(steps, feed, 3), "▲ to be done again");
  EXPECT_EQ(cell(steps, 0, 3), "✓ done");
  EXPECT_TRUE(text("step of the build").contains("the circuit has changed since"));
  // A setup that is renamed keeps what was done on it.
  workspace().document.edit("Rename", [&](project::Project& p) {
    p.setups[static_cast<size_t>(setup)].name = "P4, surge refitted";
  });
  EXPECT_EQ(cell(steps, 0, 3), "✓ done");
}

TEST_F(Builds, ATorqueIsKeptAtTheStepAndInTheBook) {
  auto* steps = page("steps of the build");
  auto* done = find<QPushButton>("step done");
  find<QLineEdit>("done by")->setText("R. Fell");
  // A torque is kept at the step, and in the book, where it is proof and no draft.
  const int lid = row_of(steps, "Close the tank");
  steps->setCurrentCell(lid, 1);
  const size_t records = workspace().book.records().size();
  QTest::keyClicks(find<QLineEdit>("torque"), "9 N m");
  QTest::mouseClick(done, Qt::LeftButton);
  EXPECT_EQ(workspace().project().done.back().torque, "9 N m");
  ASSERT_EQ(workspace().book.records().size(), records + 1);
  EXPECT_EQ(workspace().book.records().back().torque, "9 N m");
  EXPECT_TRUE(text("step of the build").contains("9 N m")) << text("step of the build").toStdString();
  workspace().document.undo()->undo();
  EXPECT_NE(cell(steps, lid, 3), "✓ done");
  EXPECT_EQ(workspace().book.records().size(), records + 1) << "the book keeps what was written";
}

TEST_F(Builds, AStepOfOnesOwnAKeepOutAndSolderedTerminals) {
  auto* steps = page("steps of the build");
  const int rows = steps->rowCount();
  go_to(7);
  const auto table = [&](const char* name) {
    for (EditTable* t : window->findChildren<EditTable*>())
      if (t->table()->accessibleName() == name) return t;
    ADD_FAILURE() << name;
    return static_cast<EditTable*>(nullptr);
  };
  EditTable* own = table("Own steps");
  ASSERT_TRUE(own->add_row());
  own->table()->item(0, 0)->setText("Weigh the tank");
  own->table()->item(0, 1)->setText("Close the tank");
  own->table()->item(0, 3)->setText("empty; on the scale");
  ASSERT_EQ(workspace().project().own_steps.size(), 1u);
  EXPECT_EQ(workspace().project().own_steps[0].how.size(), 2u);
  EXPECT_EQ(steps->rowCount(), rows + 1);
  EXPECT_EQ(row_of(steps, "Weigh the tank"), row_of(steps, "Close the tank") + 1);
  // And one that is done otherwise.
  EditTable* changed = table("Changed steps");
  ASSERT_TRUE(changed->add_row());
  changed->table()->item(0, 0)->setText("Close the tank");
  changed->table()->item(0, 2)->setText("77");
  changed->table()->item(0, 3)->setText("new seal; photo of it");
  ASSERT_EQ(workspace().project().step_changes.size(), 1u);
  EXPECT_EQ(steps->item(row_of(steps, "Close the tank"), 2)->text(), "77 min");
  changed->table()->item(0, 2)->setText("soon");
  EXPECT_EQ(workspace().project().step_changes[0].minutes, 77.0) << "a word is no time";
  // A box right where the left lift leg runs.
  EditTable* keep = table("Keep-outs");
  ASSERT_TRUE(keep->add_row());
  ASSERT_EQ(workspace().setup()->keep_outs.size(), 1u);
  workspace().document.edit("Box", [](project::Project& p) {
    auto& k = p.setups[0].keep_outs[0];
    k.low = Vec3(-5, -5, -5), k.high = Vec3(5, 5, 5);
  });
  EXPECT_TRUE(text("findings of the build").contains("exhaust"))
      << text("findings of the build").toStdString();
  workspace().document.edit("Solder", [](project::Project& p) { p.scheme.joint = build::WireJoint::solder; });
  go_to(0);
  steps->setCurrentCell(row_of(steps, "main 1: wires"), 1);
  EXPECT_TRUE(text("step of the build").contains("soldered")) << text("step of the build").toStdString();
  EXPECT_TRUE(text("step of the build").contains("an iron lights vapour"));
}

TEST_F(Builds, ALineIsDrawnWithItsEndsAndAWeakPartIsSaid) {
  go_to(2);
  auto* cuts = page("cutting list");
  ASSERT_EQ(cuts->rowCount(), 8);
  auto* picture = find<HosePicture>();
  const auto drawn = [&] { return picture->grab().toImage(); };
  const QImage first = drawn();
  cuts->setCurrentCell(7, 0);
  EXPECT_NE(drawn(), first);
  QTest::keyClick(cuts, Qt::Key_C, Qt::ControlModifier);
  EXPECT_TRUE(QApplication::clipboard()->text().contains("1443 mm")) << "the chosen row, or all";
  const int setup = workspace().selection.setup_index();
  workspace().document.edit("Fine filter on the suction", [&](project::Project& p) {
    p.setups[static_cast<size_t>(setup)].circuit->lifts[0].parts[0].type = "fine filter, 10 micron";
  });
  EXPECT_TRUE(text("findings of the build").contains("stands before the pump"));
  workspace().document.edit(
      "No circuit", [&](project::Project& p) { p.setups[static_cast<size_t>(setup)].circuit.reset(); });
  EXPECT_TRUE(text("progress of the build").contains("no circuit yet"));
  EXPECT_EQ(cuts->rowCount(), 0);
}

TEST_F(Builds, ListsAndWorkOrderArePrinted) {
  const auto* setup = workspace().setup();
  const auto c = solve::circuit_case(*setup, workspace().runs.catalogue());
  const auto steps = build::assembly(c);
  std::vector<char> done(steps.size(), 0);
  done[0] = 1;
  const QString order = html_of(steps, done, 480, {});
  EXPECT_FALSE(order.contains("Make the place safe")) << "what is done is not printed";
  EXPECT_TRUE(order.contains("feed line 1: cut 1018 mm"));
  EXPECT_TRUE(order.contains("Torque ____"));
  EXPECT_EQ(html_of(report::Table{{"what"}, {{"a <b> & c"}}}).count("a &lt;b&gt; &amp; c"), 1);
  const QString file = QString::fromStdString((folder / "order of work.pdf").string());
  write_pdf(file, "P4: order of work", order);
  const std::string made = test::slurp(folder / "order of work.pdf");
  EXPECT_EQ(made.substr(0, 5), "%PDF-");
  EXPECT_GT(made.size(), 20000u) << "several pages of text with its font";
  EXPECT_THROW(write_pdf("/no/such/folder/x.pdf", "x", "x"), std::exception);
}

}  // namespace
}  // namespace uadze::gui
