#pragma once
// The tank drawn with OpenGL: walls, plates and boxes lie in a buffer that changes with the tank only; the
// fuel of each space is the space's own triangles, cut by the graphics card at its surface and closed by a
// stencil: where more back faces than front faces are left of a cut body, the plane shows. So a moving
// surface costs nothing but its plane.
#include <QColor>
#include <QMatrix4x4>
#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>
#include <QPainter>
#include <QVector3D>
#include <functional>
#include <memory>
#include <optional>

#include "core/resolved/surface.h"
#include "core/tank/tank.h"
#include "gui/look/theme.h"

namespace uadze::gui {

inline QVector3D qt(const Vec3& v) {
  return {static_cast<float>(v.x()), static_cast<float>(v.y()), static_cast<float>(v.z())};
}

struct SceneLook {
  QMatrix4x4 transform;
  Vec3 light = Vec3::UnitZ();
  double wall_opacity = 0.05;
  std::optional<tank::Plane> cut;  ///< what is above it is left out
  /// Surfaces of the spaces; nothing where a space is empty.
  std::vector<std::optional<tank::Plane>> surface;
  /// In place of them: the surface as it was resolved. Kept by whoever asks for the picture.
  const resolved::Surface* splash = nullptr;
};

class TankScene : protected QOpenGLFunctions_3_3_Core {
 public:
  /// Needs a current context; whether it can draw there.
  bool initialize();
  void release();
  /// Uploads anew if it is another tank.
  void show(const std::shared_ptr<const tank::Tank>& tank);
  void paint(const SceneLook& look, const Theme& theme);
  /// Edges of walls, plates and boxes and the surfaces' outlines, over the picture.
  void paint_lines(QPainter& p, const SceneLook& look, const Theme& theme,
                   const std::function<QPointF(const Vec3&)>& on_screen);

 private:
  struct Batch {
    int first = 0, count = 0;
  };
  void upload();
  void draw(const Batch& batch, const QColor& colour, double alpha, bool lit);
  void paint_fuel(size_t space, const tank::Plane& surface, const SceneLook& look, const Theme& theme);
  void paint_splash(const resolved::Surface& surface, const SceneLook& look, const Theme& theme);
  void cap(size_t space, const tank::Plane& plane, const tank::Plane* other, const QColor& colour);
  void count_faces();
  void clip(int index, const tank::Plane* plane);

  std::shared_ptr<const tank::Tank> tank_;
  const void* uploaded_ = nullptr;
  QOpenGLShaderProgram program_;
  QOpenGLBuffer still_{QOpenGLBuffer::VertexBuffer}, moving_{QOpenGLBuffer::VertexBuffer};
  QOpenGLBuffer corners_{QOpenGLBuffer::IndexBuffer};
  QOpenGLVertexArrayObject still_array_, moving_array_;
  Batch walls_, plates_, boxes_;
  const void* lines_of_ = nullptr;
  std::vector<std::pair<Vec3, Vec3>> edges_, part_edges_;  ///< of the walls; of plates and boxes
  std::vector<Batch> spaces_;
};

}  // namespace uadze::gui
