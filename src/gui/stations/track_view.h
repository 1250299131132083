#pragma once
// The track from the lap's own path: corners named, the car at the cursor, the way coloured and thickened by
// how well the pickups are covered at the level shown. A click moves the cursor.
#include <QWidget>

#include "gui/document/workspace.h"

namespace uadze::gui {

class TrackView : public QWidget {
  Q_OBJECT
 public:
  explicit TrackView(Workspace& workspace, QWidget* parent = nullptr);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void fit();
  void seek(const QPointF& point);

  Workspace& workspace_;
  QVector<QPointF> points_;  ///< in the widget
};

}  // namespace uadze::gui
