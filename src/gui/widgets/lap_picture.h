#pragma once
// A picture that follows the lap cursor, moved along by the arrow keys, with a ring when it has the
// keyboard's focus. What stands still while the cursor moves is drawn once and kept.
//
//   class TrackView : public LapPicture {
//     void draw_still(QPainter& p) override;   // the track
//     void draw_moving(QPainter& p) override;  // the car
//   };
#include <QPixmap>
#include <QWidget>
#include <optional>

#include "core/base/content_key.h"
#include "gui/document/workspace.h"

namespace uadze::gui {

/// Arrow keys, Home and End on the lap cursor, the same in every view. True if the key was one of them.
bool move_cursor_by_key(Workspace& workspace, int key, Qt::KeyboardModifiers modifiers);

/// The ring round a widget that has the focus.
void draw_focus_ring(QPainter& p, const QRect& rect, const Theme& theme);

class LapPicture : public QWidget {
  Q_OBJECT
 public:
  /// With `level_stands` what stands still shows the level too, and is drawn anew when it changes.
  LapPicture(Workspace& workspace, const QString& name, const QString& accessible, QWidget* parent = nullptr,
             bool level_stands = false);

 protected:
  /// Both are called with antialiasing set, the still part first, on paper.
  virtual void draw_still(QPainter&) {}
  virtual void draw_moving(QPainter&) = 0;
  /// Of all in the project that the still part shows: an edit or a result that leaves it as it is draws
  /// nothing anew. None: every one does.
  virtual std::optional<ContentKey> still_of() const { return std::nullopt; }
  /// What stands still is another: it is drawn anew.
  void drop_still();
  /// A press or drag with the left button.
  virtual void seek(const QPointF&) {}

  void paintEvent(QPaintEvent* event) final;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

  Workspace& workspace_;

 private:
  QPixmap still_;
  std::optional<ContentKey> still_is_of_;
};

}  // namespace uadze::gui
