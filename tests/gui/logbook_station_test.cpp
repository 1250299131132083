// The Logbook station in a real window: the last gate with two names, ready at the verdict, amended,
// searched; a worn pump taken into the model and undone; another window's records; a broken book.
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QImage>
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>

#include "core/build/bench.h"
#include "gui/frame/verdict_strip.h"
#include "gui/stations/logbook/gate_form.h"
#include "gui/widgets/table_page.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

class Logbooks : public WindowTest {
 protected:
  void SetUp() override {
    ::setenv("UADZE_CLOCK", "2026-11-20T18:00:00Z", 1);
    WindowTest::SetUp();
    window->show_station(Station::logbook);
    wait_for_gates();
  }
  void TearDown() override {
    WindowTest::TearDown();
    ::unsetenv("UADZE_CLOCK");
  }
  void wait_for_gates() {
    settle_all();
    ASSERT_TRUE(wait_for([this] { return workspace().book.garage() != nullptr && pending_work() == 0; }));
  }
  TablePage* page(const char* name) { return window->findChild<TablePage*>(name); }
  int row_of(TablePage* table, const QString& what) {
    for (int r = 0; r < table->rowCount(); ++r)
      for (int c = 0; c < table->columnCount(); ++c)
        if (table->item(r, c)->text().contains(what)) return r;
    ADD_FAILURE() << "no row " << what.toStdString();
    return 0;
  }
  void go_to(int tab) {
    for (QTabWidget* tabs : window->findChildren<QTabWidget*>())
      if (tabs->isVisible() && tabs->tabText(0) == "Gates") tabs->setCurrentIndex(tab);
    QCoreApplication::processEvents();
  }
  QString text(const char* label) { return window->findChild<QLabel*>(label)->text(); }
  void fill(const char* field, const QString& with) {
    auto* edit = find<QLineEdit>(field);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, with);
  }
  void click(const char* button) { QTest::mouseClick(find<QPushButton>(button), Qt::LeftButton); }
  QString car() { return window->findChild<VerdictFigure*>("verdict car")->large(); }
  void choose_gate(const QString& title) {
    page("gates")->setCurrentCell(row_of(page("gates"), title), 0);
    QCoreApplication::processEvents();
  }
};

TEST_F(Logbooks, TheLastGateNeedsTwoPeopleAndTurnsTheVerdictToReady) {
  EXPECT_EQ(car(), "not ready");
  EXPECT_EQ(page("gates")->currentRow(), row_of(page("gates"), "Hot check"))
      << "the open one is looked at first";
  EXPECT_TRUE(text("gate cautions").contains("Extinguisher manned")) << "the caution stands at its step";
  const size_t before = workspace().book.records().size();
  for (QCheckBox* box : window->findChildren<QCheckBox*>())
    if (box->isVisible()) {
      box->setFocus();
      QTest::keyClick(box, Qt::Key_Space);
    }
  fill("by", "R. Fell");
  EXPECT_FALSE(find<QPushButton>("write test")->isEnabled());
  EXPECT_TRUE(text("gate verdict").contains("second person")) << text("gate verdict").toStdString();
  fill("second", "r. fell");
  EXPECT_TRUE(text("gate verdict").contains("not the same one twice"));
  EXPECT_FALSE(find<QPushButton>("write test")->isEnabled());
  fill("second", "M. Dunn");
  EXPECT_TRUE(text("gate verdict").contains("Passed")) << text("gate verdict").toStdString();
  // What was typed at one gate is there when it is looked at again.
  choose_gate("What stops the pumps");
  choose_gate("Hot check");
  EXPECT_TRUE(find<QPushButton>("write test")->isEnabled());
  click("write test");
  EXPECT_EQ(workspace().book.records().size(), before + 1);
  wait_for_gates();
  EXPECT_EQ(car(), "ready");
  EXPECT_TRUE(text("readiness").contains("is ready"));
  // The form is empty again: nothing is written a second time.
  EXPECT_FALSE(find<QPushButton>("write test")->isEnabled());
  EXPECT_EQ(steps(), 0) << "a record is no edit: it is not undone";

  // It is amended, then withdrawn: each stays in the book, and the gate opens.
  go_to(2);
  EXPECT_EQ(page("records")->currentRow(), 0);
  fill("amended note", "left side looked at twice");
  fill("record by", "M. Dunn");
  click("amend record");
  EXPECT_EQ(workspace().book.records().size(), before + 2);
  EXPECT_TRUE(text("record says").contains("left side looked at twice")) << text("record says").toStdString();
  click("withdraw record");
  wait_for_gates();
  EXPECT_EQ(workspace().book.records().size(), before + 3);
  EXPECT_EQ(car(), "not ready");
  click("verify book");
  EXPECT_TRUE(text("found in the book").contains("each as it was written"))
      << text("found in the book").toStdString();
  fill("search the book", "looked twice");
  EXPECT_EQ(page("records")->rowCount(), 2);
}

TEST_F(Logbooks, ALowFlowSaysWhyAndGoesIntoTheModelAsOneEdit) {
  choose_gate("Flow of main 1");
  const double before = workspace().setup()->circuit->mains[0].parts[0].measured;
  // A pump worn to 70 %, its wires as they should be, by the circuit at 13.2 V.
  circuit::Case c = workspace().book.garage()->at;
  c.circuit.mains[0].parts[0].measured = 0.7;
  c.at.supply = 13.2;
  build::FlowReading worn;
  for (const auto& f : build::flow_readings(c))
    if (f.pump == "main 1") worn = f;
  fill("reading volts at the battery", "13.2");
  fill("reading flow", "many");
  EXPECT_TRUE(text("gate verdict").contains("a flow, or litres")) << text("gate verdict").toStdString();
  fill("reading flow", QString("%1 L / 36 s").arg(36e3 * worn.flow, 0, 'f', 3));
  fill("reading volts at the pump", QString::number(worn.voltage, 'f', 2));
  fill("by", "R. Fell");
  EXPECT_TRUE(text("gate verdict").contains("Failed: flow")) << text("gate verdict").toStdString();
  click("write test");
  EXPECT_TRUE(text("gate explained").contains("less than its curve")) << text("gate explained").toStdString();
  wait_for_gates();
  EXPECT_EQ(workspace().book.garage()->readiness.open.size(), 3u)
      << "and the hot check, and the pump, which gives less than nine tenths of its first flow";
  click("into model");
  EXPECT_EQ(steps(), 1);
  EXPECT_NEAR(workspace().setup()->circuit->mains[0].parts[0].measured, 0.7, 0.01);
  EXPECT_NE(workspace().setup()->circuit->mains[0].parts[0].measured_by.find("record"), std::string::npos);
  workspace().document.undo()->undo();
  EXPECT_EQ(workspace().setup()->circuit->mains[0].parts[0].measured, before);
}

TEST_F(Logbooks, AnotherWindowsRecordsAreSeenAndATestsEndIsSaid) {
  auto other = logbook::Book::open(folder / "ostrel-p4.book");
  other.append({.kind = logbook::Kind::event,
                .setup = workspace().setup()->name,
                .subject = logbook::crash_event,
                .by = "T. Arkle"},
               *utc_of("2026-11-20T18:00:30Z"));
  ASSERT_TRUE(wait_for([this] { return text("readiness").contains("15 open"); }, 20000))
      << text("readiness").toStdString();
  choose_gate("Leak test");
  fill("by", "R. Fell");
  click("begin test");
  wait_for_gates();
  EXPECT_TRUE(text("gate verdict").contains("12 h 0 min left")) << text("gate verdict").toStdString();
  EXPECT_FALSE(find<QPushButton>("begin test")->isEnabled());
  ::setenv("UADZE_CLOCK", "2026-11-21T06:10:00Z", 1);
  ASSERT_TRUE(wait_for(
      [this] {
        for (const QLabel* l : window->findChildren<QLabel*>())
          if (l->isVisible() && l->text().contains("its hours are over")) return true;
        return false;
      },
      20000));
}

TEST_F(Logbooks, WhatHappensToTheCarAndItsServiceIsWrittenByHand) {
  go_to(1);
  auto* due = page("due list");
  due->setCurrentCell(row_of(due, "fuel in the tank"), 0);
  const QString was = due->item(row_of(due, "fuel in the tank"), 2)->text();
  fill("due by", "R. Fell");
  click("task done");
  wait_for_gates();
  EXPECT_NE(due->item(row_of(due, "fuel in the tank"), 2)->text(), was) << "its four weeks begin anew";
  find<QComboBox>("event")->setCurrentText("kerb");
  click("write event");
  wait_for_gates();
  EXPECT_TRUE(due->item(row_of(due, "mounts, lines"), 1)->text().contains("overdue"));
  EXPECT_EQ(due->item(0, 0)->text(), "mounts, lines and seams") << "the most urgent stands first";
  EXPECT_EQ(workspace().book.garage()->readiness.open.size(), 2u) << "the hot check, and the mounts";

  go_to(2);
  find<QComboBox>("new kind")->setCurrentText("incident");
  fill("new subject", "wept at the banjo");
  fill("new cause", "washer used twice");
  fill("new done", "both new");
  fill("record by", "M. Dunn");
  click("write record");
  EXPECT_TRUE(text("record says").contains("washer used twice")) << text("record says").toStdString();
  EXPECT_TRUE(find<QLineEdit>("new cause")->text().isEmpty());
  // A picture is kept by content, shown small, and said where it is missing.
  QImage picture(400, 300, QImage::Format_RGB32);
  picture.fill(Qt::darkCyan);
  picture.save(QString::fromStdString((folder / "banjo.png").string()));
  const auto photo = workspace().book.keep(QString::fromStdString((folder / "banjo.png").string()));
  ASSERT_TRUE(photo);
  const auto shown = [&] {
    for (const QLabel* l : window->findChildren<QLabel*>())
      if (l->isVisible() && l->toolTip() == "banjo.png")
        return l->pixmap().isNull() ? l->text() : QString("a picture");
    return QString("nothing");
  };
  ASSERT_TRUE(workspace().book.write({.kind = logbook::Kind::note,
                                      .setup = workspace().setup()->name,
                                      .by = "M. Dunn",
                                      .note = "see the photo",
                                      .photos = {*photo}}));
  settle_all();
  EXPECT_EQ(shown(), "a picture");
  EXPECT_FALSE(workspace().book.keep(path())) << "a project is no picture";
  std::filesystem::remove_all(folder / "ostrel-p4.book.photos");
  page("records")->setCurrentCell(1, 0);
  page("records")->setCurrentCell(0, 0);
  EXPECT_TRUE(shown().contains("missing: banjo.png")) << shown().toStdString();

  find<QComboBox>("new kind")->setCurrentText("running");
  fill("new hours", "soon");
  const size_t before = workspace().book.records().size();
  click("write record");
  EXPECT_EQ(workspace().book.records().size(), before) << "soon is no time";
  EXPECT_EQ(find<QLineEdit>("new hours")->text(), "soon") << "and nothing typed is lost";
  fill("new hours", "40 min");
  click("write record");
  EXPECT_EQ(workspace().book.records().back().seconds, 2400);
}

TEST_F(Logbooks, ABrokenBookIsSavedAsideAndAProjectNeverSavedHasNone) {
  std::string bytes = test::slurp(folder / "ostrel-p4.book");
  for (size_t i = bytes.size() / 2; i < bytes.size() / 2 + 5000; ++i) bytes[i] = 'x';
  std::filesystem::remove(folder / "ostrel-p4.book.copy");
  folder.write("ostrel-p4.book", bytes);
  ASSERT_TRUE(window->open(path()));
  wait_for_gates();
  EXPECT_TRUE(text("readiness").contains("broken")) << text("readiness").toStdString();
  choose_gate("Leak test");
  EXPECT_FALSE(find<QPushButton>("write test")->isEnabled());
  go_to(2);
  click("rescue book");
  wait_for_gates();
  EXPECT_TRUE(workspace().book.trouble().isEmpty()) << workspace().book.trouble().toStdString();
  EXPECT_GT(workspace().book.records().size(), 20u);
  EXPECT_EQ(test::slurp(folder / "ostrel-p4.book.broken"), bytes) << "the broken one is left";

  workspace().document.start_new();
  QCoreApplication::processEvents();
  EXPECT_TRUE(workspace().book.records().empty());
  EXPECT_TRUE(workspace().book.no_writing().contains("Save the project first"));
}

}  // namespace
}  // namespace uadze::gui
