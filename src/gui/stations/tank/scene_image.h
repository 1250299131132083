#pragma once
// The tank's scene as a picture, drawn aside from the screen. A window with an OpenGL widget in it is put
// together by OpenGL as a whole, each time that anything in it changes; without a graphics card that takes
// longer than the scene does. So the scene comes as an image, and the window stays a plain one.
#include <QImage>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <memory>

#include "gui/stations/tank/tank_scene.h"

namespace uadze::gui {

class SceneImage {
 public:
  ~SceneImage();
  /// `size` in pixels. Nothing where there is no OpenGL 3.3.
  QImage of(const std::shared_ptr<const tank::Tank>& tank, const SceneLook& look, const Theme& theme,
            const QSize& size);
  /// Lines over it, by a painter.
  TankScene& scene() { return scene_; }

 private:
  bool make_current();

  QOffscreenSurface surface_;
  std::unique_ptr<QOpenGLContext> context_;
  std::unique_ptr<QOpenGLFramebufferObject> buffer_;
  TankScene scene_;
  bool failed_ = false;
};

}  // namespace uadze::gui
