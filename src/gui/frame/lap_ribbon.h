#pragma once
// The lap as a ribbon: corners as named bands, the load trace, the cursor, play and speed.
#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include "gui/document/workspace.h"

class QComboBox;
class QToolButton;

namespace uadze::gui {

class RibbonPicture;

class LapRibbon : public QWidget {
  Q_OBJECT
 public:
  explicit LapRibbon(Workspace& workspace, QWidget* parent = nullptr);
  void toggle_play();
  bool playing() const { return timer_.isActive(); }

 private:
  void tick();

  Workspace& workspace_;
  RibbonPicture* picture_;
  QToolButton* play_;
  QComboBox* speed_;
  QTimer timer_;
  QElapsedTimer clock_;
  double time_ = 0.0;
};

/// The ribbon itself; a click or drag moves the cursor.
class RibbonPicture : public QWidget {
  Q_OBJECT
 public:
  explicit RibbonPicture(Workspace& workspace, QWidget* parent);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent*) override { still_ = {}; }

 private:
  void draw_still(QPainter& p, const lap::Lap& lap);
  void seek(double x);
  double x_of(double distance, const lap::Lap& lap) const;

  Workspace& workspace_;
  QPixmap still_;  ///< all but the cursor
};

}  // namespace uadze::gui
