#pragma once
// A lap where there is no log yet: the track's segments in a table with its line beside them as they are
// typed, the car's few figures, and the lap that follows at once. Taken, it stands beside the project's other
// laps, with the track and the car that it was made of.
#include <QDialog>

#include "core/project/track_file.h"
#include "gui/document/workspace.h"

class QCheckBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace uadze::gui {

class TrackSketch;

class MakeLapDialog : public QDialog {
  Q_OBJECT
 public:
  explicit MakeLapDialog(Workspace& workspace, QWidget* parent = nullptr);
  const lap::Track& track() const { return track_; }
  /// The lap as it is now, if the car can make the track.
  const std::optional<lap::Lap>& lap() const { return lap_; }
  /// A track file, and the car file beside it ("name.track.json" has "name.car.json"). Says what is wrong.
  void open_track(const QString& file);
  /// Writes lap, track and car, and adds the lap as an edit. False, and says why, where it can not.
  bool take();

 private:
  struct CarField {
    QLineEdit* edit;
    double lap::Car::*figure;
    Quantity quantity;
    const char* name;
  };
  void fill_table();
  void read_table();
  void read_car();
  void fill_car();
  void compute();
  void say(const QString& text);

  Workspace& w_;
  lap::Track track_;
  project::CarFile car_;
  std::optional<lap::Lap> lap_;
  QLineEdit* name_;
  QCheckBox* closed_;
  QTableWidget* segments_;
  TrackSketch* sketch_;
  std::vector<CarField> fields_;
  QLabel* says_;
  QPushButton* take_;
  bool filling_ = false;
};

/// Asks for a lap of the project scaled to other grip and power, and adds it.
class ScaleLapDialog : public QDialog {
  Q_OBJECT
 public:
  ScaleLapDialog(Workspace& workspace, const std::string& lap_name, lap::Lap lap, QWidget* parent = nullptr);
  bool take();

 private:
  void compute();

  Workspace& w_;
  std::string name_;
  lap::Lap lap_;
  std::optional<lap::Lap> scaled_;
  QLineEdit *grip_, *power_;
  QLabel* says_;
  QPushButton* take_;
};

}  // namespace uadze::gui
