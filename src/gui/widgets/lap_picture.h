#pragma once
// A picture that follows the lap cursor: drawn anew when anything it shows may have changed, moved along by
// the arrow keys, with a ring when it has the keyboard's focus.
//
//   class TrackView : public LapPicture { protected: void draw(QPainter& p) override; void seek(const
//   QPointF&) override; };
#include <QWidget>

#include "gui/document/workspace.h"

namespace uadze::gui {

/// Arrow keys, Home and End on the lap cursor, the same in every view. True if the key was one of them.
bool move_cursor_by_key(Workspace& workspace, int key, Qt::KeyboardModifiers modifiers);

/// The ring round a widget that has the focus.
void draw_focus_ring(QPainter& p, const QRect& rect, const Theme& theme);

class LapPicture : public QWidget {
  Q_OBJECT
 public:
  LapPicture(Workspace& workspace, const QString& name, const QString& accessible, QWidget* parent = nullptr);

 protected:
  /// Called on paper, with antialiasing set.
  virtual void draw(QPainter& p) = 0;
  /// A press or drag with the left button.
  virtual void seek(const QPointF&) {}

  void paintEvent(QPaintEvent* event) final;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

  Workspace& workspace_;
};

}  // namespace uadze::gui
