#pragma once
// The stations along a vertical glass tube. The fuel in it reaches as far as the project is complete and
// good; a stale station shows ripples, one in trouble a notch with a mark, an empty one a hollow ring.
#include <QWidget>
#include <array>

#include "gui/document/workspace.h"

namespace uadze::gui {

enum class StationState { empty, good, stale, trouble };

class SightGlass : public QWidget {
  Q_OBJECT
 public:
  explicit SightGlass(Workspace& workspace, QWidget* parent = nullptr);
  void set_current(Station station);
  void set_state(Station station, StationState state, const QString& why);
  StationState state(Station station) const { return states_[static_cast<size_t>(station)]; }
  QSize sizeHint() const override { return {88, 400}; }

 signals:
  void chosen(uadze::gui::Station station);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QRectF slot(int index) const;
  int at(const QPointF& point) const;

  Workspace& workspace_;
  int current_ = 0;
  std::array<StationState, station_count> states_{};
  std::array<QString, station_count> reasons_;
};

QString station_title(Station station);
/// 1 to 9, and 0 for the tenth: with Ctrl.
Qt::Key station_key(Station station);

}  // namespace uadze::gui
