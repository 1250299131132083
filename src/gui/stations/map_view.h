#pragma once
// The starvation map: level upward, distance along the lap to the right; covered, thin, bare by tone and
// hatch, starving stretches crossed, the clean level as a line. A click moves the lap cursor and the level
// shown.
#include <QImage>
#include <QWidget>

#include "gui/document/workspace.h"

namespace uadze::gui {

class MapView : public QWidget {
  Q_OBJECT
 public:
  explicit MapView(Workspace& workspace, QWidget* parent = nullptr);
  /// Where a distance and a level stand in the widget, for tests.
  QPointF on_screen(double distance, double level) const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void resizeEvent(QResizeEvent*) override { image_ = {}; }

 private:
  QRectF plot_area() const;
  void build_image();
  void seek(const QPointF& point, bool with_level);

  Workspace& workspace_;
  QImage image_;
  const void* image_of_ = nullptr;
  bool image_dark_ = false;
};

}  // namespace uadze::gui
