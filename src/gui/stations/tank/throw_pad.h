#pragma once
// Throws the car about by hand: drag in the square (or hold the arrow keys) to accelerate it, let go to let
// it stand. The fuel answers by the planar model, in real time.
//
//        forward
//     +-----o-----+    The middle is 0; the edge is 2 g.
//  left     +    right
//     +-----------+
//        braking
#include <QElapsedTimer>
#include <QSet>
#include <QTimer>
#include <QWidget>
#include <memory>

#include "gui/document/workspace.h"

namespace uadze::gui {

class ThrowPad : public QWidget {
  Q_OBJECT
 public:
  explicit ThrowPad(Workspace& workspace, QWidget* parent = nullptr);

  /// Begins with the fuel at the level shown, at rest; ends.
  void start();
  void stop();
  /// Plays a manoeuvre from rest, then lets the fuel come to rest; a hand on the pad ends it.
  void play(const lap::ForceTrace& manoeuvre);
  bool running() const { return fuel_ != nullptr; }
  std::optional<FuelMoment> state();
  /// Vehicle acceleration, m/s2.
  Vec3 acceleration() const { return acceleration_; }
  void push(const Vec3& acceleration) { acceleration_ = acceleration; }
  double frames_per_second() const { return rate_; }

 signals:
  void moved();

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  void drag(const QPointF& point);
  void tick();

  Workspace& workspace_;
  std::shared_ptr<const starvation::FuelSystem> car_;
  std::unique_ptr<slosh::FuelMotion> fuel_;
  Vec3 acceleration_ = Vec3::Zero();
  std::optional<lap::ForceTrace> playing_;
  double played_ = 0.0;  ///< s
  QSet<int> keys_;
  QTimer timer_;
  QElapsedTimer clock_;
  double rate_ = 0.0;
};

}  // namespace uadze::gui
