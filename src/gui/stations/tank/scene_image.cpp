#include "gui/stations/tank/scene_image.h"

#include <QOpenGLExtraFunctions>
#include <QSurfaceFormat>

namespace uadze::gui {

SceneImage::~SceneImage() {
  if (!context_ || !context_->makeCurrent(&surface_)) return;
  scene_.release();
  buffer_.reset();
  context_->doneCurrent();
}

bool SceneImage::make_current() {
  if (failed_) return false;
  if (context_) return context_->makeCurrent(&surface_);
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  auto made = std::make_unique<QOpenGLContext>();
  made->setFormat(format);
  surface_.setFormat(format);
  surface_.create();
  failed_ = !made->create() || made->format().version() < qMakePair(3, 3) || !made->makeCurrent(&surface_) ||
            !scene_.initialize();
  if (!failed_) context_ = std::move(made);
  return !failed_;
}

QImage SceneImage::of(const std::shared_ptr<const tank::Tank>& tank, const SceneLook& look,
                      const Theme& theme, const QSize& size) {
  if (size.isEmpty() || !make_current()) return {};
  if (!buffer_ || buffer_->size() != size)
    // Lines are drawn over it with a painter: smooth without the cost of samples.
    buffer_ =
        std::make_unique<QOpenGLFramebufferObject>(size, QOpenGLFramebufferObject::CombinedDepthStencil);
  buffer_->bind();
  auto* gl = context_->extraFunctions();
  gl->glViewport(0, 0, size.width(), size.height());
  scene_.show(tank);
  scene_.paint(look, theme);
  // As the painter wants its pixels, so that nothing is turned over twice; only the rows are.
  QImage out(size, QImage::Format_RGB32);
  gl->glReadPixels(0, 0, size.width(), size.height(), GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV, out.bits());
  buffer_->release();
  context_->doneCurrent();
  out.mirror();
  return out;
}

}  // namespace uadze::gui
