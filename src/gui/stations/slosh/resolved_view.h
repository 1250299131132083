#pragma once
// The page "Resolved": a manoeuvre or a corner of the lap run in three dimensions at the level that is looked
// at, seen as it splashes, with the fast model beside it and what that says of the fast model.
#include "core/solve/resolved_calibrate.h"
#include "gui/document/background.h"
#include "gui/stations/slosh/splash_picture.h"

class QComboBox;
class QCustomPlot;
class QLabel;
class QProgressBar;
class QPushButton;
class QSlider;
class QTimer;

namespace uadze::gui {

class ResolvedView : public QWidget {
  Q_OBJECT
 public:
  explicit ResolvedView(Workspace& workspace, QWidget* parent = nullptr);

 private:
  /// One that was run, as it is kept and shown.
  struct Ran {
    std::shared_ptr<const solve::ResolvedJob> job;
    resolved::RunResult run;
    std::vector<slosh::Instant> fast;
    solve::Agreement agreement;
    std::vector<SplashFrame> frames;
    double seconds = 0.0;
  };
  struct What {
    std::optional<lap::Manoeuvre> manoeuvre;
    double from = 0.0, to = 0.0;  ///< s of the lap
  };

  void showEvent(QShowEvent*) override { refresh(); }
  void refresh();
  void fill_choices();
  std::optional<solve::ResolvedAsk> asked() const;
  void say_estimate();
  void run_or_stop();
  void show_ran();
  void show_instant(int frame);
  void calibrate();

  Workspace& w_;
  QComboBox *what_, *cells_;
  QPushButton *run_, *calibrate_, *play_;
  QProgressBar* bar_;
  QLabel *says_, *estimate_;
  SplashPicture* picture_;
  QCustomPlot* plot_;
  QSlider* slider_;
  QTimer *poll_, *ticks_;
  std::vector<What> choices_;
  QString choices_of_;
  std::vector<std::shared_ptr<const Ran>> ran_;  ///< of the setup and level as they are; the last is shown
  ContentKey of_;
  Background<std::shared_ptr<const Ran>> work_;
  Background<solve::ResolvedLearnt> learning_;
};

}  // namespace uadze::gui
