#pragma once
// A station: its picture, worked on directly, and a side panel with values, working and cautions.
#include <QWidget>

#include "gui/document/workspace.h"

namespace uadze::gui {

class StationView {
 public:
  virtual ~StationView() = default;
  virtual QWidget* picture() = 0;
  virtual QWidget* side() = 0;
  /// Called when the station comes into sight: what follows the cursor is brought up to date.
  virtual void shown() {}
  /// Opens a file that belongs here and not to the project: a log.
  virtual void open_file(const QString&) {}
};

std::unique_ptr<StationView> make_car_station(Workspace& workspace);
std::unique_ptr<StationView> make_tank_station(Workspace& workspace);
std::unique_ptr<StationView> make_laps_station(Workspace& workspace);
std::unique_ptr<StationView> make_logs_station(Workspace& workspace);
std::unique_ptr<StationView> make_slosh_station(Workspace& workspace);
std::unique_ptr<StationView> make_circuit_station(Workspace& workspace);
std::unique_ptr<StationView> make_sizing_station(Workspace& workspace);
std::unique_ptr<StationView> make_build_station(Workspace& workspace);
std::unique_ptr<StationView> make_logbook_station(Workspace& workspace);
std::unique_ptr<StationView> make_sessions_station(Workspace& workspace);

/// A side panel: editors above, in a scroll area, the working below.
class SidePanel : public QWidget {
 public:
  /// `upper` is the editors' share of the height, in per cent.
  SidePanel(QWidget* editors, QWidget* working, int upper = 55, QWidget* parent = nullptr);
};

}  // namespace uadze::gui
