#pragma once
// Colours, fonts and the style sheet: paper and ink by day, the same by night.
#include <QColor>
#include <QFont>
#include <QString>

class QApplication;

namespace uadze::gui {

struct Theme {
  bool dark = false;
  QColor paper, ink, faint, rule, field;
  QColor dry, thin, covered;  ///< the fuel scale; never used without a shape, a pattern or a word
  QColor trouble;

  static Theme make(bool dark);
  /// Sand to teal by wet fraction 0..1.
  QColor wet(double fraction) const;
};

QFont text_font(double scale = 1.0, bool bold = false);
QFont figure_font(double scale = 1.0, bool bold = false);

/// Loads the shipped B612 and sets palette, font and style sheet of the whole application.
void apply_theme(QApplication& app, const Theme& theme);

/// While it lives the application has no style sheet. Qt goes over a whole branch of widgets anew each time
/// one under a sheet gets its parent, a third of what it takes to build the window; so the sheet is put on
/// once.
class SheetOff {
 public:
  SheetOff();
  ~SheetOff();
  SheetOff(const SheetOff&) = delete;
  SheetOff& operator=(const SheetOff&) = delete;

 private:
  QString sheet_;
};

}  // namespace uadze::gui
