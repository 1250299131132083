#pragma once
// The track from the lap's own path: corners named, the car at the cursor, the way coloured and thickened by
// how well the pickups are covered at the level shown. A click moves the cursor.
#include "gui/widgets/lap_picture.h"

namespace uadze::gui {

class TrackView : public LapPicture {
 public:
  explicit TrackView(Workspace& workspace, QWidget* parent = nullptr);

 protected:
  void draw_still(QPainter& p) override;
  void draw_moving(QPainter& p) override;
  void seek(const QPointF& point) override;

 private:
  void fit();

  QVector<QPointF> points_;  ///< in the widget
};

}  // namespace uadze::gui
