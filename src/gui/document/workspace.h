#pragma once
// What all views share, in parts: the document, how things look, what is looked at, what was computed. The
// workspace joins them: it says to the views when to read anew, and keeps the parts in step.
#include <QObject>

#include "core/base/derivation.h"
#include "gui/document/appearance.h"
#include "gui/document/bookkeeper.h"
#include "gui/document/document.h"
#include "gui/document/runs.h"
#include "gui/document/selection.h"

namespace uadze::gui {

enum class Station { car, tank, laps, logs, slosh, circuit, sizing, build, logbook, sessions };
inline constexpr int station_count = 10;

/// Where a log showed that it starved, for the map: only of the setup and lap that it was held against.
struct LoggedMarks {
  struct Mark {
    double distance = 0, level = 0;  ///< m, m3
    bool computed = false;           ///< the model has it too
  };
  std::string setup, lap;
  std::vector<Mark> marks;
};

class Workspace : public QObject {
  Q_OBJECT
 public:
  explicit Workspace(QObject* parent = nullptr);

  Document document;
  Appearance appearance;
  Selection selection{document};
  Runs runs{document, selection};
  Bookkeeper book{document, selection, runs};

  // What nearly every view asks.
  const project::Project& project() const { return document.project(); }
  const project::Setup* setup() const { return selection.setup(); }
  const UnitSystem& units() const { return appearance.units(); }
  const Theme& theme() const { return appearance.theme(); }
  QString show(double si, Quantity quantity, int decimals = -1) const {
    return appearance.show(si, quantity, decimals);
  }

  const LoggedMarks& logged() const { return logged_; }
  void show_logged(LoggedMarks marks);

  /// A resolved run to be seen where the lap's cursor passes it; of the setup as it is.
  void show_splash(std::shared_ptr<const solve::CornerRow> row);
  const solve::CornerRow* splash() const { return splash_.get(); }
  /// What of it is seen at the cursor; nothing at other seconds and on other laps.
  std::shared_ptr<const solve::ResolvedFrame> splash_at_cursor() const;
  /// The same in place of what the fast model has there: surface, pull, spaces and pickups.
  void put_splash(FuelMoment& fuel) const;
  /// Of all of the setup but its calibration, which the resolved fuel does not know.
  ContentKey uncalibrated_key() const;

  /// The cursor, on the lap as it is now.
  void set_cursor(size_t sample);
  void set_cursor_time(double seconds);
  void set_cursor_distance(double metres);

  /// Computes anew, after another effort or number of draws.
  void evaluate();

 signals:
  void changed();  ///< project, choice or results: read all anew
  void cursor_moved();
  void level_changed();
  void appearance_changed();  ///< units or theme
  void station_wanted(uadze::gui::Station station);
  void working_wanted(const uadze::Derivation& derivation);

 private:
  LoggedMarks logged_;
  std::shared_ptr<const solve::CornerRow> splash_;
  ContentKey splash_of_;
};

}  // namespace uadze::gui
