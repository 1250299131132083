#pragma once
// The accelerations of a stretch of the log by their frequency, as they come and with what lies above the
// cut-off taken out; the fuel's own swing is a band in it. The cut-off is dragged, or moved by the arrows.
#include <qcustomplot.h>

#include "gui/document/background.h"
#include "gui/stations/logs/opened_log.h"

class QLabel;

namespace uadze::gui {

class SpectrumView : public QWidget {
  Q_OBJECT
 public:
  explicit SpectrumView(Workspace& workspace, QWidget* parent = nullptr);
  /// `lap`: the one that is looked at; the whole log (its first ten minutes) if there is none.
  void show_log(std::shared_ptr<const log::Log> log, std::shared_ptr<const log::Laps> laps);
  void choose_lap(int lap);
  void set_cut_off(double hertz);

 signals:
  void cut_off_changed(double hertz);

 protected:
  void showEvent(QShowEvent*) override { compute(); }
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  struct Spectrum {
    std::vector<double> frequency;            ///< Hz
    std::vector<double> raw[3], filtered[3];  ///< m/s2: lateral, longitudinal, vertical; empty: not logged
    std::vector<double> own;                  ///< Hz, lowest modes of each space, half full
  };
  void compute();
  void draw();
  void drag(double pixel);

  Workspace& w_;
  std::shared_ptr<const log::Log> log_;
  std::shared_ptr<const log::Laps> laps_;
  int lap_ = 0;
  double cut_off_ = 5;
  QLabel* says_;
  QCustomPlot* plot_;
  QTimer* soon_;
  Spectrum spectrum_;
  Background<Spectrum> work_;
  bool dragging_ = false;
};

}  // namespace uadze::gui
