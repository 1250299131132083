#pragma once
// A log held against the chosen setup: laps downward by falling level, places along the lap to the right, and
// in each cell what log and model say of it. A cell chosen brings its stretch into sight. Below it, what the
// laps teach of the model's figures, to be taken into the setup.
#include <QWidget>

#include "core/solve/calibrate.h"
#include "gui/stations/logs/fuel_page.h"

class QCheckBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace uadze::gui {

class HeldGrid;

class HeldPage : public QWidget {
  Q_OBJECT
 public:
  explicit HeldPage(Workspace& workspace, QWidget* parent = nullptr);
  void show_log(const SharedLog& log);
  /// How the laps are taken from the log: sensor's axes and place.
  void set_how(const log::ToLapOptions& how);

 signals:
  /// Pa across the injectors at each moment of the log as computed; empty: nothing was.
  void computed(const std::vector<float>& difference);
  /// s of the log.
  void looked_at(double begin, double end);

 protected:
  void showEvent(QShowEvent*) override { refresh(); }

 private:
  struct Held {
    std::shared_ptr<const solve::LoggedCase> made;
    std::vector<solve::ComputedLap> run;
    solve::Scores scores;
  };
  void refresh();
  void show_held(Held held);
  void show_summary();
  void calibrate();
  void show_calibration();
  void take();
  void drop();
  void stop();

  Workspace& w_;
  SharedLog log_;
  log::ToLapOptions how_;
  HeldGrid* grid_;
  QLabel *says_, *learnt_says_;
  QPushButton *calibrate_, *stop_, *take_, *drop_;
  QProgressBar* bar_;
  QTableWidget* figures_;
  QTimer* poll_;
  std::optional<ContentKey> key_;
  Held held_;
  std::vector<solve::CalibrationLog> before_;  ///< other logs held against the same setup
  ContentKey before_key_{};
  std::optional<solve::CalibrationResult> learnt_;
  Background<Held> work_;
  Background<solve::CalibrationResult> learning_;
};

}  // namespace uadze::gui
