#pragma once
// The frame: sight glass, verdict strip, the station's picture and side panel, lap ribbon, menus.
#include <QMainWindow>
#include <array>
#include <memory>
#include <optional>

#include "gui/document/workspace.h"
#include "gui/look/theme.h"
#include "gui/stations/station.h"

class QLabel;
class QStackedWidget;

namespace uadze::gui {

class SightGlass;
class VerdictStrip;
class LapRibbon;
class NoticeBar;

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  explicit MainWindow(QWidget* parent = nullptr);
  ~MainWindow() override;

  Workspace& workspace() { return workspace_; }
  VerdictStrip& verdict() { return *verdict_; }
  NoticeBar& notice() { return *notice_; }
  /// False, with a notice that says why, if the file can not be opened.
  bool open(const QString& path, solve::Outside outside = solve::Outside::refused);
  /// Reads it in the background and shows its station.
  void open_log(const QString& path);
  void show_station(Station station);
  Station station() const { return station_; }
  /// Offers work that an earlier run left behind.
  void offer_leftovers();
  /// Saves one picture a station, with `pages` of its further pages too; returns the files.
  QStringList save_pictures(const QString& folder, const QString& suffix = {}, bool pages = false);

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  /// Made when it is first asked for: a window of one station is there in a third of the time of one of ten.
  StationView& view_of(Station station);
  void build_menus();
  void build_unit_menu(class QMenu* menu);
  void look_at_circuit();
  void look_at_build();
  void look_at_book();
  void refresh();
  void refresh_recent();
  bool save(bool over_foreign_changes = false);
  bool save_as();
  /// The files that the open project names may be read from now on, wherever they stand: the user chose them.
  void agree_to_its_files();
  /// True if the unsaved changes are saved or may be lost.
  bool may_leave();

  std::optional<SheetOff> building_{std::in_place};  ///< before the first widget
  Workspace workspace_;
  SightGlass* glass_;
  VerdictStrip* verdict_;
  LapRibbon* ribbon_;
  NoticeBar* notice_;
  QStackedWidget *pictures_, *sides_;
  std::array<std::unique_ptr<StationView>, station_count> stations_;
  Station station_ = Station::car;
  class QMenu* recent_ = nullptr;
  std::optional<Phrase> circuit_trouble_;  ///< at full load; nothing if there is none
  QString fault_said_, refusal_said_;      ///< by the notice
  ContentKey circuit_of_;
  Background<std::optional<Phrase>> circuit_job_;
};

}  // namespace uadze::gui
