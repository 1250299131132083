#pragma once
// The page "Resolved": the lap's worst corners, one of them, or a manoeuvre run in three dimensions, at one
// level or at three; corner by corner beside the fast model, seen as it splashes, and what that says.
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

class TablePage;

class ResolvedView : public QWidget {
  Q_OBJECT
 public:
  explicit ResolvedView(Workspace& workspace, QWidget* parent = nullptr);
  /// film-0001.png and so on, a picture each; how many, or why not.
  int save_film(const QString& folder, QString* why = nullptr);

 private:
  using Row = std::shared_ptr<const solve::CornerRow>;

  void showEvent(QShowEvent*) override { refresh(); }
  QLayout* make_bar();
  QLayout* make_player();
  void refresh();
  void fill_choices();
  std::vector<solve::PlannedCheck> planned() const;
  void say_estimate();
  void run_or_stop();
  void ended();
  void show_rows();
  void show_row();
  void show_instant(int frame);
  void calibrate();
  void see_in_tank();
  Row shown() const;
  std::filesystem::path folder() const;

  Workspace& w_;
  QComboBox *what_, *levels_, *cells_;
  QPushButton *run_, *calibrate_, *play_, *tank_, *film_, *kept_;
  QProgressBar* bar_;
  QLabel *says_, *estimate_;
  SplashPicture* picture_;
  TablePage* table_;
  QCustomPlot* plot_;
  QSlider* slider_;
  QTimer *poll_, *ticks_;
  double began_ = 0.0;  ///< s, of what runs
  std::vector<std::vector<solve::WorstCorner>> choices_;
  std::vector<std::optional<lap::Manoeuvre>> manoeuvres_;  ///< of each choice
  QString choices_of_;
  std::vector<Row> rows_;  ///< of the setup as it is
  ContentKey of_;
  Background<std::vector<Row>> work_;
  Background<solve::ResolvedLearnt> learning_;
};

}  // namespace uadze::gui
