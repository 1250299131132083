// The widgets that all stations are made of, each alone: what is typed, pasted, refused and undone.
#include <gtest/gtest.h>

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTableWidget>
#include <QTextBlock>
#include <QtTest>

#include "core/project/field_finder.h"
#include "gui/document/workspace.h"
#include "gui/widgets/edit_form.h"
#include "gui/widgets/edit_table.h"
#include "gui/widgets/elided_box.h"
#include "gui/widgets/filling.h"
#include "gui/widgets/lap_picture.h"
#include "gui/widgets/plot.h"
#include "gui/widgets/quantity_plot.h"
#include "gui/widgets/table_page.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

using project::Project;

/// A workspace with a new project: one tank, one pickup, no lap, so that nothing is computed beside.
class Widgets : public testing::Test {
 protected:
  void SetUp() override {
    workspace.document.start_new();
    QObject::connect(&workspace.document, &Document::refused,
                     [this](const QString& why) { refusals << why; });
  }
  const std::vector<tank::Pickup>& pickups() { return workspace.project().setups[0].tank.pickups; }
  static void type(QLineEdit* field, const QString& text) {
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
  }
  static void shown(QWidget& widget) {
    widget.resize(500, 300);
    widget.show();
    widget.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&widget));
  }

  std::unique_ptr<EditTable> pickup_table() {
    const auto at = [](Project& p, int r) -> tank::Pickup& {
      return p.setups[0].tank.pickups[static_cast<size_t>(r)];
    };
    std::vector<EditColumn> columns{
        text_column("name", [at](Project& p, int r) -> std::string& { return at(p, r).name; }),
        quantity_column(workspace, "forward", Quantity::length,
                        [at](Project& p, int r) -> double& { return at(p, r).position.x(); }),
        quantity_column(workspace, "up", Quantity::length,
                        [at](Project& p, int r) -> double& { return at(p, r).position.z(); })};
    return std::make_unique<EditTable>(
        workspace, "Pickups", std::move(columns),
        EditRows{
            [](const Project& p) { return static_cast<int>(p.setups[0].tank.pickups.size()); },
            [](Project& p) {
              auto& all = p.setups[0].tank.pickups;
              all.push_back(all.front());
              all.back().name = "pickup " + std::to_string(all.size());
            },
            [](Project& p, int r) { p.setups[0].tank.pickups.erase(p.setups[0].tank.pickups.begin() + r); }});
  }

  Workspace workspace;
  QStringList refusals;
};

TEST_F(Widgets, ATablesCellsAreEditsInAnyUnit) {
  const auto table = pickup_table();
  shown(*table);
  QTableWidget* cells = table->table();
  ASSERT_EQ(cells->rowCount(), 1);
  EXPECT_EQ(cells->item(0, 1)->text(), "-200");
  EXPECT_EQ(cells->horizontalHeaderItem(1)->text(), "forward\n[mm]");
  cells->item(0, 1)->setText("-4 in");
  EXPECT_NEAR(pickups()[0].position.x(), -0.1016, 1e-12);
  EXPECT_EQ(cells->item(0, 1)->text(), "-101.6");
  // What can not be read changes nothing, is told, and the old figure stands there again.
  for (const char* bad : {"1,5", "abc", "", "nan", "1e999", "12 bar"}) {
    const int steps = workspace.document.undo()->count();
    cells->item(0, 1)->setText(bad);
    EXPECT_EQ(workspace.document.undo()->count(), steps) << bad;
    EXPECT_EQ(cells->item(0, 1)->text(), "-101.6") << bad;
    ASSERT_FALSE(refusals.isEmpty()) << bad;
    EXPECT_TRUE(refusals.takeLast().startsWith("Change forward: ")) << bad;
  }
  workspace.document.undo()->undo();
  EXPECT_EQ(cells->item(0, 1)->text(), "-200");
  workspace.appearance.set_units(UnitSystem::us(), false);
  table->refresh();
  EXPECT_EQ(cells->horizontalHeaderItem(1)->text(), "forward\n[in]");
  EXPECT_EQ(cells->item(0, 1)->text(), "-7.87");
  EXPECT_DOUBLE_EQ(pickups()[0].position.x(), -0.2) << "a look changes nothing";
}

TEST_F(Widgets, ATableIsCopiedAndPastedAsASpreadsheetDoes) {
  const auto table = pickup_table();
  shown(*table);
  QTableWidget* cells = table->table();
  QTest::keyClick(cells, Qt::Key_Insert);
  ASSERT_EQ(pickups().size(), 2u);
  cells->selectAll();
  QTest::keyClick(cells, Qt::Key_C, Qt::ControlModifier);
  EXPECT_EQ(QApplication::clipboard()->text(), "pickup\t-200\t5\npickup 2\t-200\t5\n");
  // Pasted over the second row: it and two new ones, with another program's line ends.
  const int steps = workspace.document.undo()->count();
  QApplication::clipboard()->setText("left\t-150\t6\r\nright\t150\t7\r\nmiddle\t0\t8\r\n\r\n");
  cells->setCurrentCell(1, 0);
  QTest::keyClick(cells, Qt::Key_V, Qt::ControlModifier);
  ASSERT_EQ(pickups().size(), 4u);
  EXPECT_EQ(pickups()[3].name, "middle");
  EXPECT_NEAR(pickups()[2].position.x(), 0.15, 1e-12);
  EXPECT_EQ(workspace.document.undo()->count(), steps + 1) << "one paste, one step";
  // One bad cell, and nothing of it is taken.
  QApplication::clipboard()->setText("a\t1\t2\nb\tfar\t2\n");
  cells->setCurrentCell(0, 0);
  const auto before = pickups();
  QTest::keyClick(cells, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(pickups(), before);
  EXPECT_TRUE(refusals.last().contains("\"far\"")) << refusals.last().toStdString();
  // Nothing to paste is nothing.
  QApplication::clipboard()->setText("\n\n");
  QTest::keyClick(cells, Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(workspace.document.undo()->count(), steps + 1);
  cells->setCurrentCell(3, 0);
  QTest::keyClick(cells, Qt::Key_Delete, Qt::ControlModifier);
  EXPECT_EQ(pickups().size(), 3u);
  // What would leave the project with a fault is refused: two of one name.
  cells->item(0, 0)->setText("left");
  EXPECT_EQ(pickups()[0].name, "pickup");
  EXPECT_EQ(cells->item(0, 0)->text(), "pickup");
}

TEST_F(Widgets, AFormFollowsWhatItEdits) {
  EditForm form(workspace);
  QLineEdit* power =
      form.add_quantity("Power", Quantity::power, [](Project& p) { return &p.setups[0].engine.power; });
  QLineEdit* ethanol = form.add_optional(
      "Measured", Quantity::temperature,
      [](Project& p) { return p.sessions.empty() ? nullptr : &p.sessions[0].temperature; }, "the setup's");
  QLineEdit* name = form.add_text("Name", [](Project& p) { return &p.setups[0].name; });
  shown(form);
  type(power, "250 kW");
  EXPECT_NEAR(workspace.project().setups[0].engine.power, 250e3, 1e-6);
  const QString text = power->text();
  type(power, "-3");
  EXPECT_EQ(power->text(), text) << "a refused figure does not stay in its field";
  EXPECT_FALSE(refusals.isEmpty());
  EXPECT_FALSE(ethanol->isEnabled()) << "no session, nothing to enter";
  type(name, "  Second  ");
  EXPECT_EQ(workspace.project().setups[0].name, "Second") << "blanks at the ends are nobody's name";
  workspace.document.undo()->undo();
  EXPECT_EQ(name->text(), "First setup");
  workspace.document.undo()->undo();
  EXPECT_NE(power->text(), text);
  // Return on a field that was only looked at is no edit: its figure has more digits than are shown.
  workspace.document.edit("Power", [](Project& p) { p.setups[0].engine.power = 123456.789; });
  const int steps = workspace.document.undo()->count();
  power->setFocus();
  QTest::keyClick(power, Qt::Key_Return);
  EXPECT_EQ(workspace.document.undo()->count(), steps);
  EXPECT_EQ(workspace.project().setups[0].engine.power, 123456.789);
}

TEST_F(Widgets, AChoiceIsAnEditAndUndone) {
  EditForm form(workspace);
  form.add_choice(
      "Pickup", {"one", "two"},
      [](const Project& p) { return p.setups[0].tank.pickups[0].name == "two" ? 1 : 0; },
      [](Project& p, int k) { p.setups[0].tank.pickups[0].name = k == 1 ? "two" : "one"; });
  shown(form);
  auto* box = form.findChild<QComboBox*>("Pickup");
  ASSERT_NE(box, nullptr);
  QTest::keyClick(box, Qt::Key_Down);
  EXPECT_EQ(pickups()[0].name, "two");
  EXPECT_EQ(box->currentText(), "two");
  workspace.document.undo()->undo();
  EXPECT_EQ(box->currentIndex(), 0);
}

TEST_F(Widgets, AListIsCopiedWithItsTitlesAndTakesOnlyWhatItAsksFor) {
  TablePage page("order");
  page.show_table({{"what", "needed", "have"}, {{"O-ring", "3", "0"}, {"hose, \"-8\"", "1.2 m", "1"}}}, {2});
  shown(page);
  page.setCurrentCell(0, 0);
  QTest::keyClick(&page, Qt::Key_C, Qt::ControlModifier);
  EXPECT_EQ(QApplication::clipboard()->text(), "what\tneeded\thave\nO-ring\t3\t0\nhose, \"-8\"\t1.2 m\t1");
  QSignalSpy typed(&page, &TablePage::typed);
  QApplication::clipboard()->setText("x\t9\t5\ny\t9\t6\nz\t9\t7");
  QTest::keyClick(&page, Qt::Key_V, Qt::ControlModifier);
  ASSERT_EQ(typed.count(), 1) << "all of a paste at once";
  const auto cells = typed[0][0].value<QList<std::tuple<int, int, QString>>>();
  ASSERT_EQ(cells.size(), 2) << "what is not asked for, and rows that are not there, are left out";
  EXPECT_EQ(cells[1], std::tuple(1, 2, QString("6")));
  page.show_table({{"what"}, {}});
  QTest::keyClick(&page, Qt::Key_C, Qt::ControlModifier);
  EXPECT_EQ(QApplication::clipboard()->text(), "what") << "an empty list is its titles";
}

TEST_F(Widgets, CurvesStandInTheUsersUnitsAndLeaveOutWhatIsNone) {
  QCustomPlot* plot = make_plot("curve");
  const double inf = std::numeric_limits<double>::infinity();
  const std::vector<Curve> curves{{"lift", {0, 1e-5, 2e-5, 3e-5}, {1e-3, inf, std::nan(""), 2e-3}}};
  for (const bool us : {false, true}) {
    workspace.appearance.set_units(us ? UnitSystem::us() : UnitSystem{}, false);
    show_curves(plot, workspace, "flow", Quantity::flow, "share", Quantity::volume, curves,
                CurvePlace{inf, 1, "nowhere"});
    ASSERT_EQ(plot->graphCount(), 1) << "a place that is none is not marked";
    EXPECT_EQ(plot->graph(0)->dataCount(), 2);
    EXPECT_EQ(plot->xAxis->label(), us ? "flow [US gal/h]" : "flow [L/h]");
    EXPECT_NEAR(plot->graph(0)->data()->at(1)->key, us ? 28.53 : 108, 0.01);
  }
  show_curves(plot, workspace, "ratio", Quantity::plain, "share", Quantity::fraction, {});
  EXPECT_EQ(plot->xAxis->label(), "ratio") << "no empty brackets";
  EXPECT_FALSE(plot->legend->visible());
  delete plot;
}

TEST_F(Widgets, ATraceOfNothingIsDrawnAsNothing) {
  LapPlot plot(workspace);
  shown(plot);
  plot.show_panes({}, {});
  plot.show_panes({0, 1, 2}, {{{{"lateral", Quantity::acceleration, {1, std::nan(""), 3}}}, false}});
  const QImage picture = plot.grab().toImage();
  EXPECT_GT(picture.width(), 100);
  QTest::mouseClick(&plot, Qt::LeftButton, {}, QPoint(250, 150));  // no lap: the cursor has nowhere to go
  QTest::keyClick(&plot, Qt::Key_Right);
  EXPECT_EQ(workspace.selection.cursor(), 0u);
}

TEST_F(Widgets, AChoiceGrowsWithItsNameAndEndsInDots) {
  ElidedBox box;
  box.addItems({"short", "Practice of the second day, before noon", QString("very ").repeated(60) + "long"});
  shown(box);
  EXPECT_EQ(box.sizeHint().width(), ElidedBox::least);
  EXPECT_EQ(box.shown_text(), "short");
  box.setCurrentIndex(1);
  const int middle = box.sizeHint().width();
  EXPECT_GT(middle, ElidedBox::least);
  EXPECT_LT(middle, ElidedBox::most);
  box.resize(middle, 28);
  EXPECT_EQ(box.shown_text(), box.currentText()) << "what it asks for is enough";
  box.resize(ElidedBox::least, 28);
  EXPECT_TRUE(box.shown_text().endsWith("…")) << box.shown_text().toStdString();
  box.setCurrentIndex(2);
  EXPECT_EQ(box.sizeHint().width(), ElidedBox::most) << "names are as long as a person likes";
  EXPECT_EQ(box.minimumSizeHint().width(), ElidedBox::pressed);
  // In a row that is too narrow for all it gives way, down to that, and is as wide as it likes before.
  QWidget row;
  auto* beside = new QWidget;
  beside->setFixedWidth(300);
  auto* layout = new QHBoxLayout(&row);
  auto* inside = new ElidedBox;
  inside->addItem("P4");
  for (QWidget* w : std::initializer_list<QWidget*>{inside, beside}) layout->addWidget(w);
  layout->setContentsMargins(0, 0, 0, 0);
  EXPECT_EQ(row.sizeHint().width() - row.minimumSizeHint().width(), ElidedBox::least - ElidedBox::pressed);
  EXPECT_GT(box.grab().width(), 100);
}

TEST_F(Widgets, AWorkingHasALineForEachOfItsParts) {
  WorkingView view(workspace);
  shown(view);
  const Derivation bare{.name = "Not reached",
                        .value = 0.001,
                        .quantity = Quantity::volume,
                        .formula = "what lies under the sock",
                        .source = "exact"};
  Derivation whole{.name = "Start",
                   .value = 0.003,
                   .quantity = Quantity::volume,
                   .formula = "V = a + b",
                   .source = "the plan",
                   .note = "with <care> & patience"};
  whole.inputs = {{"a", "at the end", 0.001, Quantity::volume, "computed"},
                  {"b", "burnt", 0.002, Quantity::volume, ""}};
  whole.steps = {bare};
  view.show_all({whole}, {"Mind the fuel."}, {"Two figures."});
  const QString text = view.toPlainText();
  // A formula without figures does not run into its source.
  EXPECT_TRUE(text.contains("what lies under the sock\nSource: exact")) << text.toStdString();
  EXPECT_TRUE(text.contains("with <care> & patience")) << "no mark-up of what is said";
  for (const char* part : {"Two figures.", "Start = 3.00", "at the end · computed", "burnt",
                           "Not reached = 1.00", "Mind the fuel."})
    EXPECT_TRUE(text.contains(part)) << part << "\n" << text.toStdString();
  EXPECT_LT(text.indexOf("Start"), text.indexOf("Not reached")) << "steps stand below";
  workspace.appearance.set_units(UnitSystem::us(), false);
  view.show_all({whole}, {}, {});
  EXPECT_TRUE(view.toPlainText().contains("US gal")) << view.toPlainText().toStdString();
  view.show_all({}, {}, {});
  EXPECT_EQ(view.toPlainText().trimmed(), "");
}

TEST_F(Widgets, AFiguresUnitStaysBesideItAtALinesEnd) {
  WorkingView view(workspace);
  shown(view);
  view.show_all({}, {},
                {"The return carries 110.5 L/h at 3.02 bar and 85.0 % of its duty, of 12 kg/h in all"});
  int broken = 0;
  for (int width = 90; width < 420; width += 3) {
    view.resize(width, 300);
    const QTextBlock block = view.document()->begin();
    ASSERT_GT(block.layout()->lineCount(), 0);
    broken += block.layout()->lineCount() > 1;
    for (int l = 0; l + 1 < block.layout()->lineCount(); ++l) {
      const QTextLine line = block.layout()->lineAt(l);
      const QString text = block.text().mid(line.textStart(), line.textLength()).trimmed();
      EXPECT_FALSE(text.back() == '/' || text.back().isDigit() || text.endsWith(QChar(0x2060)))
          << width << ": " << text.toStdString();
    }
  }
  EXPECT_GT(broken, 50) << "it was tried";
}

TEST_F(Widgets, ATableIsToldOfAllItsCellsAtOnce) {
  QTableWidget table(3, 2);
  shown(table);
  QSignalSpy told(table.model(), &QAbstractItemModel::dataChanged);
  {
    const Filling quiet(&table);
    for (int r = 0; r < 3; ++r)
      for (int c = 0; c < 2; ++c) table.setItem(r, c, new QTableWidgetItem(QString::number(10 * r + c)));
    EXPECT_TRUE(told.isEmpty());
  }
  ASSERT_EQ(told.size(), 1);
  EXPECT_EQ(told[0][0].toModelIndex(), table.model()->index(0, 0));
  EXPECT_EQ(told[0][1].toModelIndex(), table.model()->index(2, 1));
  EXPECT_EQ(table.item(2, 1)->text(), "21");
  table.setItem(0, 0, new QTableWidgetItem("alone"));
  EXPECT_EQ(told.size(), 2) << "heard again";
}

/// Shows the first pickup's name, and counts how often that is drawn.
class NamePicture : public LapPicture {
 public:
  explicit NamePicture(Workspace& w) : LapPicture(w, "name", "The first pickup's name") {}
  int drawn = 0;

 protected:
  void draw_still(QPainter&) override { ++drawn; }
  void draw_moving(QPainter&) override {}
  std::optional<ContentKey> still_of() const override {
    return KeyMaker().add(workspace_.setup()->tank.pickups[0].name).key();
  }
};

TEST_F(Widgets, APictureIsDrawnAnewForWhatItShowsOnly) {
  NamePicture picture(workspace);
  shown(picture);
  const auto drawn_by = [&](const std::function<void(Project&)>& change) {
    const int before = picture.drawn;
    workspace.document.edit("change", change);
    picture.repaint();
    return picture.drawn - before;
  };
  picture.repaint();
  EXPECT_EQ(drawn_by([](Project& p) { p.setups[0].tank.pickups[0].position.x() += 0.01; }), 0);
  EXPECT_EQ(drawn_by([](Project& p) { p.setups[0].tank.pickups[0].name = "rear"; }), 1);
  const int before = picture.drawn;
  workspace.appearance.set_dark(!workspace.theme().dark, false);
  picture.resize(picture.width() + 20, picture.height());
  picture.repaint();
  EXPECT_EQ(picture.drawn, before + 1) << "other colours, another size";
}

}  // namespace
}  // namespace uadze::gui
