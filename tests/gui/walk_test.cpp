// The whole job from an empty start to a saved card through every station: once by mouse alone, once by keys
// alone.
#include <QFileDialog>
#include <QListView>
#include <QPushButton>
#include <QTableWidget>
#include <QTimer>

#include "gui/frame/notice_bar.h"
#include "gui/frame/sight_glass.h"
#include "gui/frame/verdict_strip.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

class Walk : public WindowTest {
 protected:
  void SetUp() override {
    copy_short_demo(folder);
    before_ = QDir::currentPath();
    // Where a file dialog begins, as it does where the user started the program.
    QDir::setCurrent(QString::fromStdString((folder / "laps").string()));
    start_window();
  }
  void TearDown() override {
    WindowTest::TearDown();
    QDir::setCurrent(before_);
  }

  /// Answers the next file dialog once it is there.
  void at_dialog(std::function<void(QFileDialog*)> then) {
    auto* timer = new QTimer(window.get());
    QObject::connect(timer, &QTimer::timeout, window.get(), [timer, then] {
      auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
      if (!dialog || !dialog->isVisible()) return;
      timer->stop();
      timer->deleteLater();
      then(dialog);
      if (!dialog->isVisible()) return;
      ADD_FAILURE() << "the file dialog is still open with "
                    << dialog->findChild<QLineEdit*>("fileNameEdit")->text().toStdString();
      dialog->reject();
    });
    timer->start(20);
  }
  /// By the row's place in the dialog's list: a double click opens it.
  static void double_click_file(QFileDialog* dialog, const QString& name) {
    auto* list = dialog->findChild<QListView*>("listView");
    QModelIndex index;
    ASSERT_TRUE(wait_for([&] {
      for (int r = 0; r < list->model()->rowCount(list->rootIndex()); ++r)
        if (list->model()->index(r, 0, list->rootIndex()).data().toString() == name) {
          index = list->model()->index(r, 0, list->rootIndex());
          return true;
        }
      return false;
    })) << name.toStdString();
    list->scrollTo(index);
    const QPoint at = list->visualRect(index).center();
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, at);
    QTest::mouseDClick(list->viewport(), Qt::LeftButton, {}, at);
  }
  /// A button by its name or what is written on it.
  void click(const QString& name) {
    for (auto* button : window->findChildren<QPushButton*>())
      if (button->isVisible() && (button->objectName() == name || button->text() == name)) {
        QTest::mouseClick(button, Qt::LeftButton);
        EXPECT_LE(window->height(), 800) << "the foot is pushed off the screen by " << name.toStdString();
        return;
      }
    FAIL() << "no button " << name.toStdString();
  }
  /// The station's name in the sight glass.
  void click_station(Station station) {
    auto* glass = window->findChild<SightGlass*>();
    for (int y = 4; y < glass->height(); y += 8) {
      QTest::mouseClick(glass, Qt::LeftButton, {}, {40, y});
      if (window->station() == station) return settle_all();
    }
    FAIL() << "no place in the sight glass leads to station " << static_cast<int>(station);
  }

  /// With Tab from where the keys are, round the whole window if need be.
  template <class Found>
  QWidget* tab_to(const Found& found) {
    for (int k = 0; k < 400; ++k) {
      QWidget* at = QApplication::focusWidget();
      if (at && found(at)) return at;
      QTest::keyClick(at ? at : window.get(), Qt::Key_Tab);
      // A table keeps Tab for its cells; Escape and Ctrl+Tab lead out of it.
      if (at && QApplication::focusWidget() == at) QTest::keyClick(at, Qt::Key_Tab, Qt::ControlModifier);
    }
    return nullptr;
  }
  void press(const QString& name) {
    QWidget* button = tab_to([&](QWidget* w) { return w->objectName() == name && w->isVisible(); });
    ASSERT_TRUE(button) << "Tab never reaches \"" << name.toStdString() << "\"";
    QTest::keyClick(button, Qt::Key_Space);
  }
  void press_station(Station station) {
    QTest::keyClick(window.get(), station_key(station), Qt::ControlModifier);
    ASSERT_EQ(window->station(), station);
    settle_all();
  }
  static void type_file(QFileDialog* dialog, const QString& path) {
    auto* field = dialog->findChild<QLineEdit*>("fileNameEdit");
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, path);
    for (auto* button : dialog->findChildren<QPushButton*>())
      if (button->isDefault() && button->isVisible()) return QTest::keyClick(button, Qt::Key_Space);
  }

  /// What a finished walk leaves.
  void expect_finished(const QString& card) {
    ASSERT_TRUE(workspace().runs.verdict());
    EXPECT_GT(start(), 0.0);
    const auto& corners = workspace().project().laps.at(0).corners;
    EXPECT_FALSE(corners.empty()) << "proposed from the lap's own curves";
    EXPECT_FALSE(window->notice().isVisible()) << window->notice().text().toStdString();
    EXPECT_FALSE(window->findChild<QPushButton*>("next step")->isVisible()) << "nothing more is needed";
    QFile file(card);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly)) << card.toStdString();
    EXPECT_TRUE(file.read(5) == "%PDF-");
    EXPECT_GT(file.size(), 5000);
    EXPECT_LE(window->height(), 800) << "at no time was the foot pushed off the screen";
  }

 private:
  QString before_;
};

TEST_F(Walk, ByMouseAlone) {
  click_station(Station::car);
  click_station(Station::tank);
  click("Top");
  click("next step");
  ASSERT_EQ(window->station(), Station::laps);
  at_dialog([](QFileDialog* dialog) { double_click_file(dialog, "brackenholt-p4.csv"); });
  click("Add to Laps");
  ASSERT_EQ(workspace().project().laps.size(), 1u) << window->notice().text().toStdString();
  settle_all();
  click_station(Station::slosh);
  click_station(Station::circuit);
  click("start a circuit");
  settle_all();
  ASSERT_TRUE(workspace().setup()->circuit);
  click("next step");
  ASSERT_EQ(window->station(), Station::sessions);
  click("Add a session");
  settle_all();
  click_station(Station::sizing);
  click_station(Station::sessions);
  at_dialog([](QFileDialog* dialog) {
    for (auto* b : dialog->findChildren<QPushButton*>())
      if (b->isVisible() && b->text().contains("Save")) return QTest::mouseClick(b, Qt::LeftButton);
  });
  click("Save cards as PDF…");
  const auto made = QDir().entryList({"*.pdf"});
  ASSERT_EQ(made.size(), 1) << "under the name that was proposed";
  expect_finished(QDir().absoluteFilePath(made[0]));
}

TEST_F(Walk, ByKeysAlone) {
  press_station(Station::car);
  press_station(Station::tank);
  press_station(Station::laps);
  at_dialog([](QFileDialog* dialog) { type_file(dialog, "brackenholt-p4.csv"); });
  press("Add to Laps");
  ASSERT_EQ(workspace().project().laps.size(), 1u) << window->notice().text().toStdString();
  settle_all();
  press_station(Station::slosh);
  press_station(Station::circuit);
  press("start a circuit");
  settle_all();
  ASSERT_TRUE(workspace().setup()->circuit);
  press_station(Station::sizing);
  press_station(Station::sessions);
  press("Add a session");
  settle_all();
  at_dialog([](QFileDialog* dialog) { type_file(dialog, "mine.pdf"); });
  press("Save cards as PDF…");
  expect_finished(QDir().absoluteFilePath("mine.pdf"));
}

/// A notice of any length: the whole window stays within 1280x800, at every station.
TEST_F(Walk, NoNoticePushesTheFootOffTheScreen) {
  for (int s = 0; s < station_count; ++s) {
    window->show_station(static_cast<Station>(s));
    window->notice().say(QString("A long trouble that is told at length, ").repeated(20), true);
    QCoreApplication::processEvents();
    EXPECT_LE(window->minimumSizeHint().height(), 800) << s;
    EXPECT_LE(window->minimumSizeHint().width(), 1280) << s;
    EXPECT_EQ(window->height(), 800) << s;
  }
}

}  // namespace
}  // namespace uadze::gui
