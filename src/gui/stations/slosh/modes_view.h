#pragma once
// At which frequency the surface of each space swings, against the level, beside how strongly the lap shakes
// at each: where they meet, the tank resonates with the track.
#include "core/lap/spectrum.h"
#include "core/slosh/modes.h"
#include "gui/document/background.h"
#include "gui/widgets/lap_picture.h"

namespace uadze::gui {

class ModesView : public LapPicture {
 public:
  explicit ModesView(Workspace& workspace, QWidget* parent = nullptr);
  bool ready() const { return !curves_.empty(); }

 protected:
  void draw_moving(QPainter& p) override;
  void seek(const QPointF& point) override;
  void showEvent(QShowEvent*) override { compute(); }

 private:
  struct Curve {
    QString name;
    bool lateral = false;                  ///< moves the fuel sideways; otherwise forward and back
    std::vector<double> level, frequency;  ///< m3 in the whole tank, Hz
  };
  void compute();
  void say(const QString& why);
  static std::vector<Curve> curves_of(const tank::Tank& tank, const Progress& progress);
  QRectF plot_area() const;

  std::shared_ptr<const tank::Tank> of_;
  std::vector<Curve> curves_;
  solve::LapPtr lap_of_;
  lap::Spectrum spectrum_;
  QString fault_;
  Background<std::vector<Curve>> work_;
  Background<lap::Spectrum> spectrum_work_;
};

}  // namespace uadze::gui
