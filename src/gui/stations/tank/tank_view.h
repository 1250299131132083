#pragma once
// The tank in three dimensions with its parts and the fuel, at the cursor's moment or as it is thrown about.
// Drag the empty space to orbit, the wheel to zoom; drag a part to move it (in the level, or in the plane of
// a standard view; it snaps to walls and to other parts); Tab chooses a part, the arrow keys move it by 5 mm,
// with Shift by 1 mm, Page Up and Down raise and lower it.
#include <QMatrix4x4>
#include <QWidget>
#include <functional>

#include "gui/document/workspace.h"
#include "gui/stations/tank/scene_image.h"
#include "gui/stations/tank/tank_part.h"

namespace uadze::gui {

class TankView : public QWidget {
  Q_OBJECT
 public:
  enum class Look { corner, side, front, top };

  explicit TankView(Workspace& workspace, QWidget* parent = nullptr);

  void look(Look from);
  std::optional<PartRef> chosen_part() const { return chosen_; }
  void choose_part(const std::optional<PartRef>& part);
  /// Where a point of the car stands in the widget.
  QPointF on_screen(const Vec3& point) const;
  /// Where the fuel comes from; by default the lap at the cursor.
  void set_source(std::function<std::optional<FuelMoment>()> source) { source_ = std::move(source); }
  void set_opacity(double walls);
  /// `axis` 0 none, 1 from the left, 2 from the front, 3 from above; `depth` 0..1 of the tank.
  void set_cut(int axis, double depth);
  /// Triangles to show as faulty, in place of none.
  void redraw();

 signals:
  void part_chosen();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool focusNextPrevChild(bool next) override;

 private:
  tank::MeshSource meshes() const;
  QMatrix4x4 projection() const;
  QMatrix4x4 view() const;
  QPointF on_screen(const Vec3& point, const QMatrix4x4& transform) const;
  Vec3 eye_direction() const;
  SceneLook make_look(const std::optional<FuelMoment>& fuel) const;
  std::optional<PartRef> part_at(const QPointF& point) const;
  void drag_part(const QPointF& point);
  bool move_chosen(const Vec3& wanted, bool snap);
  Vec3 snapped(const PartRef& part, const Vec3& wanted) const;

  Workspace& workspace_;
  SceneImage scene_;
  std::function<std::optional<FuelMoment>()> source_;
  double yaw_ = -0.65, pitch_ = 0.42, zoom_ = 1.0, opacity_ = 0.05, cut_depth_ = 0.5;
  int cut_axis_ = 0;
  QPointF last_;
  std::optional<PartRef> chosen_;
  bool dragging_ = false;
  QPointF grab_offset_;
};

}  // namespace uadze::gui
