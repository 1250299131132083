#pragma once
// The log's laps, how the sensor sits and what is filtered, and a lap of them taken into the project.
#include "core/log/to_lap.h"
#include "gui/stations/logs/opened_log.h"

class QCheckBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace uadze::gui {

class LoggedLapsPage : public QWidget {
  Q_OBJECT
 public:
  explicit LoggedLapsPage(Workspace& workspace, QWidget* parent = nullptr);
  /// `file`: the log's name without folder.
  void show_log(const OpenedLog& opened, const QString& file);
  void choose(int lap);
  int chosen() const { return chosen_; }
  /// Sensor's axes and place, and the cut-off, as they are chosen.
  log::ToLapOptions how() const;
  void set_cut_off(double hertz);
  /// What the project allows has changed.
  void refresh();
  /// In the units of now.
  void show_list();

 signals:
  void lap_chosen(int lap);
  void how_changed();
  void spectrum_wanted();

 private:
  std::string bare_name() const;
  void show_place();
  void take_place(int axis);
  void add_lap();

  Workspace& w_;
  std::shared_ptr<const log::Log> log_;
  std::shared_ptr<const log::Laps> laps_;
  log::Mounting mounting_;
  QString file_;
  QTableWidget* list_;
  QLabel *by_, *says_;
  QDoubleSpinBox* cut_off_;
  QLineEdit* from_sensor_[3];
  Vec3 to_tank_ = Vec3::Zero();  ///< m, from the sensor
  QCheckBox* turn_;
  QPushButton* add_;
  int chosen_ = 0;
  bool filling_ = false;
};

}  // namespace uadze::gui
