#pragma once
// The circuit as a picture in the order of flow: a row for each leg between the vessels it joins, parts as
// glyphs, live values under them, trouble marked at its part.
//
//   main tank |--o--P--===--~--> | surge tank
//   main tank | <-------===----- |
//      merge  <--P--===--------- |
//      merge  |--===--[F]--(s)--------> | rail
//   ends here <--===--------[R]-------- |
//
// Click or arrow keys choose a part; parts from the catalogue are dropped into a leg.
#include <QWidget>

#include "gui/stations/circuit/circuit_bench.h"

namespace uadze::gui {

/// What is chosen: a part of a leg, or (part -1) the leg or rail as a whole.
struct CircuitChoice {
  circuit::LegPlace leg;
  int part = -1;
  bool operator==(const CircuitChoice&) const = default;
};

class CircuitView : public QWidget {
  Q_OBJECT
 public:
  CircuitView(Workspace& workspace, CircuitBench& bench, QWidget* parent = nullptr);

  const std::optional<CircuitChoice>& chosen() const { return chosen_; }
  void choose(const std::optional<CircuitChoice>& choice);
  /// Where a part stands in the widget, for tips and tests.
  QPointF place_of(const CircuitChoice& choice) const;
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return {560, 150}; }

  /// The kind and type a dragged catalogue entry carries.
  static constexpr const char* part_mime = "application/x-undertow-adze-part";

 signals:
  void part_chosen();
  void part_dropped(uadze::gui::CircuitChoice before, const QString& kind, const QString& type);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dragMoveEvent(QDragMoveEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  void dragLeaveEvent(QDragLeaveEvent*) override;

 private:
  struct Row {
    circuit::LegPlace leg;
    bool leftward = false;
    double y = 0;
    QString from, to;
    std::vector<double> x;  ///< of each part, by index
  };
  void lay_out();
  void draw_row(QPainter& p, const Row& row);
  void draw_part(QPainter& p, const Row& row, size_t part, const QPointF& at, double room);
  void draw_engine(QPainter& p);
  void draw_rails(QPainter& p, const QRectF& box);
  std::optional<CircuitChoice> at(const QPointF& point) const;
  CircuitChoice gap_at(const QPointF& point) const;
  QString tip_of(const CircuitChoice& choice) const;
  const circuit::PartState* moment_of(const CircuitChoice& choice) const;
  std::vector<const circuit::Finding*> findings_of(const CircuitChoice& choice) const;

  Workspace& workspace_;
  CircuitBench& bench_;
  std::vector<Row> rows_;
  std::optional<CircuitChoice> chosen_;
  std::optional<CircuitChoice> drop_;
};

/// "pump", "line -8", "2 x 90°": a part in few words.
QString short_label(const circuit::Part& part);

}  // namespace uadze::gui
