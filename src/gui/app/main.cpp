// undertow-adze: the window.
#include <QApplication>
#include <QCommandLineParser>
#include <QSurfaceFormat>
#include <QTimer>
#include <cstdio>

#include "core/base/version.h"
#include "gui/frame/main_window.h"

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QApplication::setOrganizationName("undertow-adze");
  QApplication::setApplicationName("undertow-adze");
  QApplication::setApplicationVersion(uadze::version());
  QApplication::setDesktopFileName("undertow-adze");

  QCommandLineParser parser;
  parser.setApplicationDescription("Undertow Adze: fuel in a race car.");
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument("project", "Project to open.", "[project]");
  const QCommandLineOption pictures("save-pictures", "Saves one picture of each view in <folder> and ends.",
                                    "folder");
  const QCommandLineOption theme("theme", "light or dark, for this run.", "theme");
  const QCommandLineOption units("units", "si or us, for this run.", "units");
  const QCommandLineOption suffix("picture-suffix", "Added to the pictures' names.", "suffix");
  const QCommandLineOption log("log", "Opens a log of the car too.", "file");
  const QCommandLineOption pages("pages", "Pictures of the stations' further pages too.");
  const QCommandLineOption quit_when_ready("quit-when-ready",
                                           "Ends when the first window is complete, with all results.");
  parser.addOptions({pictures, theme, units, suffix, log, pages, quit_when_ready});
  parser.process(app);

  // Before there are widgets: a theme that comes later lays out each of them anew.
  uadze::gui::apply_theme(app, uadze::gui::Appearance().theme());
  uadze::gui::MainWindow window;
  if (const bool dark = parser.value(theme) == "dark";
      parser.isSet(theme) && dark != window.workspace().theme().dark)
    window.workspace().appearance.set_dark(dark, false);
  if (parser.isSet(units))
    window.workspace().appearance.set_units(
        parser.value(units) == "us" ? uadze::UnitSystem::us() : uadze::UnitSystem(), false);
  bool opened = true;
  if (!parser.positionalArguments().isEmpty()) opened = window.open(parser.positionalArguments().front());
  if (opened && parser.isSet(log)) window.open_log(parser.value(log));
  window.show();
  if (parser.isSet(pictures)) {
    QTimer::singleShot(0, &window, [&] {
      if (!opened) {
        std::fprintf(stderr, "%s\n", "undertow-adze: the project could not be opened");
        return QApplication::exit(1);
      }
      for (const QString& file :
           window.save_pictures(parser.value(pictures), parser.value(suffix), parser.isSet(pages)))
        std::printf("%s\n", qPrintable(file));
      QApplication::exit(0);
    });
  } else if (parser.isSet(quit_when_ready)) {
    QObject::connect(&window.workspace().runs.evaluator, &uadze::gui::Evaluator::finished, &window,
                     [] { QTimer::singleShot(0, [] { QApplication::exit(0); }); });
  } else {
    window.offer_leftovers();
  }
  return QApplication::exec();
}
