#pragma once
// The lap as a ribbon: corners as named bands, the load trace, the cursor, play and speed.
#include <QElapsedTimer>
#include <QTimer>

#include "gui/widgets/lap_picture.h"

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
class RibbonPicture : public LapPicture {
 public:
  explicit RibbonPicture(Workspace& workspace, QWidget* parent);

 protected:
  void draw_still(QPainter& p) override;
  void draw_moving(QPainter& p) override;
  std::optional<ContentKey> still_of() const override;
  void seek(const QPointF& point) override;

 private:
  double x_of(double distance, const lap::Lap& lap) const;
};

}  // namespace uadze::gui
