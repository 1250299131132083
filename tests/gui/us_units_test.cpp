// In US units nothing that a station says is left in litres, bar, millimetres, degrees Celsius or kilograms.
#include <qcustomplot.h>
#include <QAbstractButton>
#include <QAbstractItemView>
#include <QComboBox>
#include <QGroupBox>
#include <QHeaderView>
#include <QLabel>
#include <QPlainTextEdit>
#include <QRegularExpression>
#include <QTabWidget>
#include <QTextBrowser>

#include <set>

#include "pages.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

class UsUnits : public WindowTest, public ::testing::WithParamInterface<const char*> {
 protected:
  UsUnits() : WindowTest(std::string(GetParam()) + ".uadze.json") {}
};

/// A number with a unit of the metric system behind it, or a heading that says one.
const QRegularExpression& metric() {
  static const QRegularExpression is(
      R"((?:[0-9][0-9.,]* ?|\[)(L/h|L|bar|mm|°C|km/h|kg/m3|kg/h|kg|cm2|cm3)(?![A-Za-z0-9/]))");
  return is;
}

/// What a widget and all within it have to say, where it is seen.
std::set<QString> words_of(const QWidget& all) {
  std::set<QString> out;
  for (QWidget* w : all.findChildren<QWidget*>()) {
    if (!w->isVisible()) continue;
    if (auto* label = qobject_cast<QLabel*>(w)) out.insert(label->text());
    if (auto* button = qobject_cast<QAbstractButton*>(w)) out.insert(button->text());
    if (auto* edit = qobject_cast<QLineEdit*>(w)) out.insert({edit->text(), edit->placeholderText()});
    if (auto* box = qobject_cast<QComboBox*>(w)) out.insert(box->currentText());
    if (auto* group = qobject_cast<QGroupBox*>(w)) out.insert(group->title());
    if (auto* text = qobject_cast<QPlainTextEdit*>(w)) out.insert(text->toPlainText());
    if (auto* text = qobject_cast<QTextEdit*>(w))
      out.insert(text->toPlainText().remove(QChar(0x2060)));  // what joins "L/" to "h"
    if (auto* plot = qobject_cast<QCustomPlot*>(w))
      for (auto* rect : plot->axisRects())
        for (auto* axis : rect->axes()) out.insert(axis->label());
    if (auto* view = qobject_cast<QAbstractItemView*>(w); view && view->model()) {
      const auto* model = view->model();
      for (int c = 0; c < model->columnCount(); ++c) {
        out.insert(model->headerData(c, Qt::Horizontal).toString());
        for (int r = 0; r < model->rowCount(); ++r) out.insert(model->index(r, c).data().toString());
      }
    }
  }
  return out;
}

TEST_P(UsUnits, NothingIsLeftInMetricOnes) {
  compute_all();
  workspace().appearance.set_units(UnitSystem::us(), false);
  settle_all();
  std::set<QString> left;
  const auto look = [&](const QString& where) {
    for (const QString& words : cut_words(*window)) left.insert(where + ", cut: " + words);
    for (QString words : words_of(*window)) {
      // Laws have the temperatures that their sources give, goods are named by their nominal size.
      words.remove(QRegularExpression("(at |T - )(15|20) °C|^(vacuum hose, )?[0-9]+ mm$"));
      for (auto it = metric().globalMatch(words); it.hasNext();) {
        const auto match = it.next();
        const auto from = std::max<qsizetype>(0, match.capturedStart() - 30);
        left.insert(where + ": ..." + words.mid(from, 60 + match.capturedLength()) + "...");
      }
    }
  };
  on_each_page(
      *window, [this] { settle_all(); }, look);
  for (const QString& words : left) ADD_FAILURE() << words.toStdString();
}

INSTANTIATE_TEST_SUITE_P(Demos, UsUnits, ::testing::Values("ostrel-p4", "ostrel-tarn", "ostrel-wisp"));

}  // namespace
}  // namespace uadze::gui
