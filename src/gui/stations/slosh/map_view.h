#pragma once
// The starvation map: level upward, distance along the lap to the right; covered, thin, bare by tone and
// hatch, starving stretches crossed, the clean level as a line. A click moves the lap cursor and the level
// shown.
#include <QImage>

#include "gui/widgets/lap_picture.h"

namespace uadze::gui {

class MapView : public LapPicture {
 public:
  explicit MapView(Workspace& workspace, QWidget* parent = nullptr);
  /// What is shown: 0 mean of the pickups, then each pickup, then the reserve, then the rail's pressure.
  void set_layer(int layer);
  QStringList layers() const;
  /// Where a distance and a level stand in the widget, for tests.
  QPointF on_screen(double distance, double level) const;

 protected:
  void draw_still(QPainter& p) override;
  void draw_moving(QPainter& p) override;
  void seek(const QPointF& point) override;
  void keyPressEvent(QKeyEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;

 private:
  QRectF plot_area() const;
  /// Rows, tones and hatching; null without a map of the lap.
  QImage map_image() const;
  void draw_logged(QPainter& p);
  void label_clean_level(QPainter& p, double here);

  int layer_ = 0;
};

}  // namespace uadze::gui
