#pragma once
// What was put in before a log and drained after it, what its laps burnt, what was in the tank; the flow's
// scale and the session's record taken from it.
#include <QWidget>

#include "core/solve/logged.h"
#include "gui/document/background.h"
#include "gui/document/workspace.h"

class QLabel;
class QPushButton;

namespace uadze::gui {

class EditForm;

/// A log as the pages of the station share it.
struct SharedLog {
  QString file;  ///< name without folder
  std::shared_ptr<const log::Log> log;
  std::shared_ptr<const log::Laps> laps;
  std::shared_ptr<const diagnosis::Found> found;
};

class FuelPage : public QWidget {
  Q_OBJECT
 public:
  explicit FuelPage(Workspace& workspace, QWidget* parent = nullptr);
  void show_log(const SharedLog& log);

 protected:
  void showEvent(QShowEvent*) override { refresh(); }

 private:
  struct Shown {
    solve::LoggedFuel fuel;
    log::LapsBurnt burnt;
    double counted = 0.0;  ///< m3, all of the log, unscaled
    std::optional<log::GaugeCheck> gauge;
  };
  void refresh();
  void show(Shown shown);
  void note();
  void take_scale();
  void record();

  Workspace& w_;
  SharedLog log_;
  EditForm* form_;
  QPushButton *note_, *scale_, *record_;
  QLabel* says_;
  std::optional<ContentKey> key_;
  std::optional<Shown> shown_;
  Background<Shown> work_;
};

/// Of all that what was burnt and held hangs on: setup, lap, note, log.
ContentKey held_key(const Workspace& workspace, const SharedLog& log);

}  // namespace uadze::gui
