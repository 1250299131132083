#pragma once
// A log's channels over its time, one strip each: drawn by the least and the most of every pixel, so that ten
// million samples move as easily as ten thousand. Laps stand as marks along the top, the chosen one shaded.
// The wheel zooms about the pointer, a drag moves along, a click chooses the lap; arrows, plus, minus and
// Home do the same from the keyboard.
#include <QWidget>
#include <functional>

#include "core/log/envelope.h"
#include "core/log/laps.h"
#include "gui/document/workspace.h"

namespace uadze::gui {

/// A stretch of the log that is marked: an event.
struct LogMark {
  double begin = 0, end = 0;  ///< s
  QString what;
};

class LogView : public QWidget {
  Q_OBJECT
 public:
  explicit LogView(Workspace& workspace, QWidget* parent = nullptr);
  /// `shown`: names of the channels to draw, in their order; laps by number.
  void show_log(std::shared_ptr<const log::Log> log, std::shared_ptr<const log::Laps> laps);
  void show_channels(const QStringList& names);
  /// One strip more, under the others: of Pa across the injectors, found from several channels.
  void show_difference(const std::vector<double>& difference);
  /// What the model says of it, drawn dashed over the same strip; not a number where nothing was computed.
  void show_computed(std::vector<float> difference);
  void choose_lap(int number);
  void mark(std::vector<LogMark> marks);
  /// Brings a stretch into sight, s.
  void look_at(double begin, double end);
  std::pair<double, double> in_sight() const { return {begin_, end_}; }

 signals:
  void lap_chosen(int number);

 protected:
  void paintEvent(QPaintEvent*) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  struct Strip {
    const log::Channel* channel = nullptr;
    log::Envelope envelope;
  };
  QRectF area() const;
  double time_at(double x) const;
  double x_of(double t) const;
  void zoom(double factor, double about);
  void draw_strip(QPainter& p, const Strip& strip, const QRectF& box) const;
  void draw_computed(QPainter& p, const QRectF& box, const std::function<double(double)>& y_of) const;
  void draw_laps(QPainter& p) const;

  Workspace& w_;
  std::shared_ptr<const log::Log> log_;
  std::shared_ptr<const log::Laps> laps_;
  std::vector<Strip> strips_;
  QStringList names_;
  log::Channel difference_;
  std::vector<float> computed_;  ///< Pa, at the log's moments; empty: none
  std::vector<LogMark> marks_;
  int chosen_ = 0;
  double begin_ = 0, end_ = 1;
  std::optional<double> dragged_;
  bool moved_ = false;
  double pointer_ = -1;
};

}  // namespace uadze::gui
