#pragma once
// The tank in three dimensions with the fuel at the cursor's moment. Drag the empty space to orbit, the wheel
// to zoom; drag a pickup to move it (in the level, or in the plane of a standard view); Tab chooses a pickup,
// the arrow keys move it by 5 mm, with Shift by 1 mm, Page Up and Down raise and lower it.
#include <QMatrix4x4>
#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>
#include <QOpenGLWidget>

#include "gui/document/workspace.h"

namespace uadze::gui {

class TankView : public QOpenGLWidget, protected QOpenGLFunctions_3_3_Core {
  Q_OBJECT
 public:
  enum class Look { corner, side, front, top };

  explicit TankView(Workspace& workspace, QWidget* parent = nullptr);
  ~TankView() override;

  void look(Look from);
  int chosen_pickup() const { return chosen_; }
  void choose_pickup(int index);
  /// Where a point of the car stands in the widget.
  QPointF on_screen(const Vec3& point) const;

 signals:
  void pickup_chosen(int index);

 protected:
  void initializeGL() override;
  void paintGL() override;
  void resizeGL(int w, int h) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool focusNextPrevChild(bool next) override;

 private:
  struct Batch {
    int first = 0, count = 0;
  };
  QMatrix4x4 projection() const;
  QMatrix4x4 view() const;
  Vec3 eye_direction() const;
  void redraw();
  void upload();
  void draw(const Batch& batch, GLenum mode, const QColor& colour, double alpha, bool lit);
  void paint_overlay(QPainter& p);
  int pickup_at(const QPointF& point) const;
  void drag_pickup(const QPointF& point);
  bool move_pickup(int index, const Vec3& wanted);

  Workspace& workspace_;
  QOpenGLShaderProgram program_;
  QOpenGLBuffer buffer_;
  QOpenGLVertexArrayObject array_;
  Batch walls_, edges_, fuel_, surface_, outline_;
  double yaw_ = -0.65, pitch_ = 0.42, zoom_ = 1.0;
  QPointF last_;
  int chosen_ = -1, dragged_ = -1;
  QPointF grab_offset_;
  QWidget* overlay_;
};

}  // namespace uadze::gui
