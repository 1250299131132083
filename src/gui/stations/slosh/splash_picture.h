#pragma once
// The resolved fuel as a picture: its surface and drops in the tank's outline, turned with the mouse or the
// arrow keys. Painted in software: some thousand triangles at thirty pictures a second.
#include <QWidget>

#include "gui/document/workspace.h"

namespace uadze::gui {

class SplashPicture : public QWidget {
  Q_OBJECT
 public:
  explicit SplashPicture(Workspace& workspace, QWidget* parent = nullptr);
  void show_tank(std::shared_ptr<const tank::Tank> tank, std::vector<tank::Pickup> pickups);
  void show_frame(std::shared_ptr<const solve::ResolvedFrame> frame);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  struct Seen {
    QPointF at;
    double depth;  ///< m towards the eye
  };
  Seen seen(const Vec3& p) const;
  void turn(double heading, double height);

  Workspace& w_;
  std::shared_ptr<const tank::Tank> tank_;
  std::vector<tank::Pickup> pickups_;
  std::vector<std::pair<Vec3, Vec3>> edges_;
  std::shared_ptr<const solve::ResolvedFrame> frame_;
  double heading_ = -0.6, height_ = 0.45;  ///< rad
  QPoint last_;
};

}  // namespace uadze::gui
