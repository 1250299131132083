#pragma once
// A track's line while it is typed: corners named, the chosen segment thick, and where it does not come back
// to its start the gap dashed. A click chooses a segment.
#include <QWidget>

#include "core/lap/track_path.h"
#include "gui/document/workspace.h"

namespace uadze::gui {

class TrackSketch : public QWidget {
  Q_OBJECT
 public:
  explicit TrackSketch(Workspace& workspace, QWidget* parent = nullptr);
  void show_track(const lap::Track& track, int chosen);

 signals:
  void segment_chosen(int segment);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  QPointF on_screen(const Vec2& at) const;

  Workspace& w_;
  lap::Track track_;
  lap::TrackPath path_;
  Vec2 low_ = Vec2::Zero(), high_ = Vec2::Zero();  ///< m, the path's ends along both axes
  int chosen_ = -1;
};

}  // namespace uadze::gui
