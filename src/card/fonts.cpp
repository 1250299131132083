#include "card/fonts.h"

#include <QFontDatabase>
#include <QString>

static void load_resources() { Q_INIT_RESOURCE(card_fonts); }

namespace uadze::card {

void load_fonts() {
  static const bool once = [] {
    load_resources();
    for (const char* file : {"B612-Italic", "B612-Bold", "B612-Regular"})
      QFontDatabase::addApplicationFont(QString(":/fonts/%1.otf").arg(file));
    return true;
  }();
  (void)once;
}

}  // namespace uadze::card
