#pragma once
// A real window with a copy of the demo open, and hands to work it with.
#include <gtest/gtest.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QMouseEvent>
#include <QTableWidget>
#include <QUndoStack>
#include <QtTest>
#include <functional>
#include <memory>

#include "gui/frame/main_window.h"
#include "support/temp_folder.h"

namespace uadze::gui {

inline bool wait_for(const std::function<bool()>& ready, int milliseconds = 180000) {
  QElapsedTimer clock;
  clock.start();
  while (!ready()) {
    if (clock.elapsed() > milliseconds) return false;
    QTest::qWait(10);
  }
  return true;
}

class WindowTest : public ::testing::Test {
 protected:
  /// `whole`: laps of full length, for figures of the demo; else short ones.
  explicit WindowTest(std::string project = "ostrel-p4.uadze.json", bool whole = false)
      : project_(std::move(project)), whole_(whole) {}

  void SetUp() override {
    whole_ ? copy_demo(folder) : copy_short_demo(folder);
    original = test::slurp(folder / project_);
    start_window();
    ASSERT_TRUE(window->open(path()));
    settle();
  }
  /// As the application starts without a file.
  void start_window() {
    window = std::make_unique<MainWindow>();
    // A coarse ladder: the tests look at the interface, and wait for it often.
    window->workspace().runs.set_effort(effort(false));
    window->workspace().runs.set_draws({.risk = {}, .draws = 2000});
    window->show();
    window->activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(window.get()));
  }
  static Runs::Effort effort(bool others) {
    return {.ladder = {.levels = 4, .resolution = 3e-3}, .band = false, .others = others, .points = 300};
  }
  void TearDown() override {
    // A test that did not save must not be asked about it.
    window->workspace().document.undo()->setClean();
  }

  QString path() const { return QString::fromStdString((folder / project_).string()); }
  Workspace& workspace() { return window->workspace(); }
  int steps() { return workspace().document.undo()->count(); }
  /// Computes the other setups and sessions too, which most tests do not need.
  void compute_all() {
    workspace().runs.set_effort(effort(true));
    workspace().evaluate();
    settle();
  }
  void settle() {
    ASSERT_TRUE(wait_for([this] { return !workspace().runs.evaluator.running(); }));
  }
  /// All that is computed, and all that is shown a little later, is there.
  void settle_all() {
    QCoreApplication::processEvents();
    ASSERT_TRUE(wait_for([] { return pending_work() == 0; }));
    QCoreApplication::processEvents();  // plots are drawn by the next event
  }
  /// The lap at the level looked at is there.
  void settle_level() {
    ASSERT_TRUE(wait_for([this] { return workspace().runs.level_run_is_current(); }));
  }
  template <class T>
  T* find(const QString& name = {}) {
    for (T* t : window->findChildren<T*>(name))
      if (t->isVisible()) return t;
    ADD_FAILURE() << "no visible " << name.toStdString();
    return nullptr;
  }
  /// Every row is as high as its words need.
  static void expect_whole(const QTableWidget& table) {
    const QAbstractItemView& view = table;
    for (int row = 0; row < table.rowCount(); ++row)
      EXPECT_GE(table.rowHeight(row), view.sizeHintForRow(row)) << "row " << row;
  }
  /// Of the widgets that say so to a screen reader.
  template <class T>
  T* find_accessible(const QString& name) {
    for (T* t : window->findChildren<T*>())
      if (t->isVisible() && t->accessibleName() == name) return t;
    ADD_FAILURE() << "nothing visible is called " << name.toStdString();
    return nullptr;
  }
  /// Into a field as a person does, with Return at the end.
  void type(QLineEdit* field, const QString& text) {
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
  }
  double start() {
    settle();
    return workspace().runs.verdict() ? workspace().runs.verdict()->risk.start : -1;
  }
  Vec3 pickup(size_t i) { return workspace().setup()->tank.pickups[i].position; }

  void drag(QWidget* widget, const QPointF& from, const QPointF& to) {
    QTest::mousePress(widget, Qt::LeftButton, {}, from.toPoint());
    for (int k = 1; k <= 8; ++k) {
      const QPointF p = from + (to - from) * k / 8;
      QMouseEvent move(QEvent::MouseMove, p, widget->mapToGlobal(p), Qt::NoButton, Qt::LeftButton, {});
      QApplication::sendEvent(widget, &move);
    }
    QTest::mouseRelease(widget, Qt::LeftButton, {}, to.toPoint());
  }

  test::TempFolder folder;
  std::string original;  ///< the project file as it was before the window opened it
  std::unique_ptr<MainWindow> window;

 private:
  std::string project_;
  bool whole_;
};

}  // namespace uadze::gui
