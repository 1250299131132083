#pragma once
// The resolved fuel as a picture: its surface and drops in the tank's outline, turned with the mouse or the
// arrow keys. Painted in software: some thousand triangles at thirty pictures a second.
#include <QWidget>

#include "core/resolved/surface.h"
#include "core/tank/tank.h"
#include "gui/document/workspace.h"

namespace uadze::gui {

/// What is seen at one instant.
struct SplashFrame {
  double time = 0.0;
  Vec3 pull = Vec3(0, 0, -standard_gravity);
  resolved::Surface surface;
  std::vector<double> wet;  ///< of each pickup
};

class SplashPicture : public QWidget {
  Q_OBJECT
 public:
  explicit SplashPicture(Workspace& workspace, QWidget* parent = nullptr);
  void show_tank(std::shared_ptr<const tank::Tank> tank, std::vector<tank::Pickup> pickups);
  /// Kept by whoever shows it until the next.
  void show_frame(const SplashFrame* frame);

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
  const SplashFrame* frame_ = nullptr;
  double heading_ = -0.6, height_ = 0.45;  ///< rad
  QPoint last_;
};

}  // namespace uadze::gui
