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
  void draw(QPainter& p) override;
  void seek(const QPointF& point) override;
  void keyPressEvent(QKeyEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void resizeEvent(QResizeEvent*) override { image_ = {}; }

 private:
  QRectF plot_area() const;
  void build_image();

  int layer_ = 0;
  QImage image_;
  const void* image_of_ = nullptr;
  bool image_dark_ = false;
};

}  // namespace uadze::gui
