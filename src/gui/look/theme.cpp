#include "gui/look/theme.h"

#include <QApplication>
#include <QPalette>
#include <QStyleFactory>
#include <algorithm>
#include <mutex>

#include "card/fonts.h"

// Resources of a static library have to be asked for, outside any namespace.
static void load_resources() { Q_INIT_RESOURCE(resources); }

namespace uadze::gui {
namespace {

QColor mixed(const QColor& a, const QColor& b, double part) {
  const auto mix = [part](int x, int y) { return static_cast<int>(x + (y - x) * part + 0.5); };
  return {mix(a.red(), b.red()), mix(a.green(), b.green()), mix(a.blue(), b.blue())};
}

}  // namespace

Theme Theme::make(bool dark) {
  Theme t;
  t.dark = dark;
  t.paper = dark ? QColor("#11181B") : QColor("#F6F3EC");
  t.ink = dark ? QColor("#E6E2D8") : QColor("#1C2A2E");
  t.field = dark ? QColor("#1B2529") : QColor("#FFFDF8");
  t.faint = mixed(t.paper, t.ink, dark ? 0.62 : 0.65);
  t.rule = mixed(t.paper, t.ink, 0.22);
  t.dry = QColor("#C8A15A");
  t.thin = QColor("#9DB8A8");
  t.covered = dark ? QColor("#1A7F8A") : QColor("#0E6A73");
  t.trouble = dark ? QColor("#E07A66") : QColor("#A8392B");
  return t;
}

QColor Theme::wet(double fraction) const {
  const double f = std::clamp(fraction, 0.0, 1.0);
  return f < 0.5 ? mixed(dry, thin, f * 2) : mixed(thin, covered, f * 2 - 1);
}

QFont text_font(double scale, bool bold) {
  QFont font("B612");
  font.setPointSizeF(QApplication::font().pointSizeF() * scale);
  font.setBold(bold);
  return font;
}

QFont figure_font(double scale, bool bold) {
  // All digits of B612 are of one width; those of its Mono stand far apart, and the point farther.
  QFont font("B612");
  font.setPointSizeF(QApplication::font().pointSizeF() * scale);
  font.setBold(bold);
  return font;
}

namespace {

/// What no theme changes; each of these goes over all widgets.
void put_on_style(QApplication& app) {
  load_resources();
  card::load_fonts();
  const double system = app.font().pointSizeF();
  QApplication::setStyle(QStyleFactory::create("Fusion"));
  QFont font("B612");
  font.setPointSizeF(system > 0 ? std::clamp(system, 8.0, 14.0) : 9.0);
  app.setFont(font);
}

}  // namespace

void apply_theme(QApplication& app, const Theme& t) {
  static std::once_flag once;
  std::call_once(once, [&] { put_on_style(app); });
  QPalette p;
  p.setColor(QPalette::Window, t.paper);
  p.setColor(QPalette::WindowText, t.ink);
  p.setColor(QPalette::Base, t.field);
  p.setColor(QPalette::AlternateBase, t.paper);
  p.setColor(QPalette::Text, t.ink);
  p.setColor(QPalette::PlaceholderText, t.faint);
  p.setColor(QPalette::Button, t.paper);
  p.setColor(QPalette::ButtonText, t.ink);
  p.setColor(QPalette::ToolTipBase, t.field);
  p.setColor(QPalette::ToolTipText, t.ink);
  p.setColor(QPalette::Highlight, t.covered);
  p.setColor(QPalette::HighlightedText, QColor("#FFFFFF"));
  p.setColor(QPalette::Link, t.covered);
  p.setColor(QPalette::Mid, t.rule);
  p.setColor(QPalette::Dark, t.rule);
  p.setColor(QPalette::Light, t.field);
  for (auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
    p.setColor(QPalette::Disabled, role, t.faint);
  const QString sheet = R"(
    QToolTip { background: %field; color: %ink; border: 1px solid %rule; padding: 4px; }
    QLineEdit, QComboBox, QPlainTextEdit { background: %field; color: %ink; border: 1px solid %rule; padding: 2px 4px; }
    QLineEdit:focus, QComboBox:focus, QAbstractItemView:focus, QPlainTextEdit:focus { border: 1px solid %covered; }
    QComboBox QAbstractItemView { background: %field; color: %ink; selection-background-color: %covered; }
    QPushButton, QToolButton { background: transparent; color: %ink; border: 1px solid %rule; padding: 3px 8px; }
    QPushButton:hover, QToolButton:hover { background: %field; }
    QPushButton:focus, QToolButton:focus { border: 1px solid %covered; }
    QPushButton:checked, QToolButton:checked { background: %covered; color: white; }
    QTableView { background: %field; gridline-color: %rule; border: 1px solid %rule; }
    QHeaderView::section { background: %paper; color: %faint; border: none; border-bottom: 1px solid %rule; padding: 3px 2px; }
    QTextBrowser { background: transparent; border: none; }
    QScrollArea { border: none; background: transparent; }
    QSplitter::handle { background: %rule; }
    QMenuBar { background: %paper; } QMenuBar::item:selected, QMenu::item:selected { background: %covered; color: white; }
    QMenu { background: %field; color: %ink; border: 1px solid %rule; }
    QSlider::groove:horizontal { height: 4px; background: %rule; }
    QSlider::sub-page:horizontal { background: %covered; }
    QSlider::handle:horizontal { width: 10px; margin: -7px 0; background: %ink; }
    QSlider:focus { border: 1px dotted %covered; }
    QProgressBar { border: 1px solid %rule; background: %field; text-align: center; color: %ink; }
    QProgressBar::chunk { background: %thin; }
    QStatusBar { background: %paper; color: %faint; } QStatusBar::item { border: none; }
  )";
  QString out = sheet;
  for (const auto& [key, colour] :
       std::initializer_list<std::pair<const char*, QColor>>{{"%field", t.field},
                                                             {"%ink", t.ink},
                                                             {"%rule", t.rule},
                                                             {"%covered", t.covered},
                                                             {"%paper", t.paper},
                                                             {"%faint", t.faint},
                                                             {"%thin", t.thin}})
    out.replace(key, colour.name());
  if (app.styleSheet() == out) return;
  app.setPalette(p);
  app.setStyleSheet(out);
}

SheetOff::SheetOff() : sheet_(qApp->styleSheet()) { qApp->setStyleSheet({}); }

SheetOff::~SheetOff() {
  // A theme that was put on meanwhile stays.
  if (qApp->styleSheet().isEmpty()) qApp->setStyleSheet(sheet_);
}

}  // namespace uadze::gui
