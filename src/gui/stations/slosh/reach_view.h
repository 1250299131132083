#pragma once
// Reach of the pickups: round the car by the direction of a steady push, the least fuel that keeps each
// covered; the lap's own points as dots where they fall.
#include <QWidget>

#include "core/slosh/reach.h"
#include "gui/document/background.h"
#include "gui/widgets/lap_picture.h"

namespace uadze::gui {

class ReachView : public LapPicture {
 public:
  explicit ReachView(Workspace& workspace, QWidget* parent = nullptr);
  void set_strength(double g);
  bool ready() const { return !reach_.empty(); }

 protected:
  void draw_moving(QPainter& p) override;
  void seek(const QPointF& point) override;
  void showEvent(QShowEvent*) override { compute(); }

 private:
  void compute();

  double strength_ = 1.2;
  std::shared_ptr<const starvation::FuelSystem> of_;
  double of_strength_ = 0.0;
  std::vector<slosh::Reach> reach_;  ///< of each pickup
  QString fault_;
  Background<std::vector<slosh::Reach>> work_;
};

}  // namespace uadze::gui
