#include "gui/stations/build/hose_picture.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <numbers>

namespace uadze::gui {
namespace {

double degrees_of(circuit::FittingForm form) {
  switch (form) {
    case circuit::FittingForm::bend_45:
      return 45;
    case circuit::FittingForm::bend_90:
      return 90;
    case circuit::FittingForm::bend_120:
      return 120;
    case circuit::FittingForm::bend_180:
      return 180;
    default:
      return 0;
  }
}

/// From the hose's mouth outward (`way`: -1 to the left, 1 to the right), round its bend, to the seat.
QPainterPath fitting_path(QPointF mouth, double way, double bend) {
  QPainterPath path(mouth);
  const double angle = bend * std::numbers::pi / 180, radius = 26;
  QPointF at = mouth + QPointF(14 * way, 0);
  path.lineTo(at);
  for (int k = 1; k <= 12 && bend > 0; ++k) {
    const double a = angle * k / 12;
    path.lineTo(at + QPointF(way * radius * std::sin(a), -radius * (1 - std::cos(a))));
  }
  const QPointF end = path.currentPosition();
  path.lineTo(end + QPointF(way * 14 * std::cos(angle), -14 * std::sin(angle)));
  return path;
}

}  // namespace

HosePicture::HosePicture(Workspace& workspace, QWidget* parent) : QWidget(parent), w_(workspace) {
  setObjectName("hose picture");
  setAccessibleName("The chosen line with its ends");
  setFixedHeight(190);
}

void HosePicture::show_hose(std::optional<build::HoseCut> hose) {
  hose_ = std::move(hose);
  update();
}

void HosePicture::paintEvent(QPaintEvent*) {
  const Theme& t = w_.theme();
  QPainter p(this);
  p.fillRect(rect(), t.paper);
  p.setFont(text_font(0.9));
  if (!hose_) {
    p.setPen(t.faint);
    p.drawText(rect(), Qt::AlignCenter, "Choose a line to see it with its ends.");
    return;
  }
  p.setRenderHint(QPainter::Antialiasing);
  const build::HoseCut& h = *hose_;
  const int decimals = w_.units().length == LengthUnit::millimetre ? 0 : 1;
  const auto length = [&](double metres) { return w_.show(metres, Quantity::length, decimals); };
  const double left = 150, right = width() - 150.0, y = 92;
  // The hose, between the mouths of its ends; never to scale, all in its order.
  p.setPen(QPen(t.covered, 12, Qt::SolidLine, Qt::FlatCap));
  p.drawLine(QPointF(left, y), QPointF(right, y));
  if (h.sleeved) {
    p.setPen(QPen(t.dry, 2, Qt::DashLine));
    p.drawRect(QRectF(left + 10, y - 10, right - left - 20, 20));
  }
  for (const auto& [end, mouth, way] :
       {std::tuple(&h.near_end, QPointF(left, y), -1.0), std::tuple(&h.far_end, QPointF(right, y), 1.0)}) {
    const QPainterPath path = fitting_path(mouth, way, degrees_of(end->form));
    p.setPen(
        QPen(t.ink, end->kind == build::EndKind::barb ? 5 : 9, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPath(path);
    p.setPen(QPen(t.ink, 2));
    p.drawLine(mouth + QPointF(0, -11), mouth + QPointF(0, 11));
  }
  // What is cut, and what the whole way is.
  const auto dimension = [&](double a, double b, double at, const QString& text) {
    p.setPen(QPen(t.ink, 1));
    p.drawLine(QPointF(a, at), QPointF(b, at));
    for (double x : {a, b}) p.drawLine(QPointF(x, at - 5), QPointF(x, at + 5));
    const double wide = p.fontMetrics().horizontalAdvance(text) + 12;
    const QRectF box((a + b - wide) / 2, at - 10, wide, 20);
    p.fillRect(box, t.paper);
    p.drawText(box, Qt::AlignCenter, text);
  };
  dimension(left, right, y + 34, "cut " + length(h.cut));
  // From seat to seat: beyond the cut where an end takes its share, short of it where the hose goes over a
  // barb.
  const auto seat = [](const build::HoseEnd& end) { return end.takes >= 0 ? 55.0 : -30.0; };
  dimension(left - seat(h.near_end), right + seat(h.far_end), y + 62, "route " + length(h.route));
  p.setPen(t.ink);
  const auto label = [&](const build::HoseEnd& end, double x, Qt::Alignment side) {
    const QString takes = end.takes >= 0 ? "takes " + length(end.takes) : "over it " + length(-end.takes);
    p.drawText(QRectF(x, y + 72, 250, 20), side, takes);
  };
  label(h.near_end, 12, Qt::AlignLeft);
  label(h.far_end, width() - 262.0, Qt::AlignRight);
  QString title =
      QString::fromStdString(h.label + ": " + h.type + (h.dash > 0 ? ", -" + std::to_string(h.dash) : ""));
  if (h.slack > 0) title += ", slack " + length(h.slack);
  if (h.clocked) title += "; mark on the car how its bends stand to each other";
  p.drawText(QRectF(12, 4, width() - 24.0, 20), Qt::AlignLeft, title);
  p.drawText(QRectF(12, 22, width() / 2.0 - 20, 20), Qt::AlignLeft,
             p.fontMetrics().elidedText("to " + QString::fromStdString(h.near_end.meets), Qt::ElideRight,
                                        width() / 2 - 20));
  p.drawText(QRectF(width() / 2.0, 22, width() / 2.0 - 12, 20), Qt::AlignRight,
             p.fontMetrics().elidedText("to " + QString::fromStdString(h.far_end.meets), Qt::ElideRight,
                                        width() / 2 - 20));
}

}  // namespace uadze::gui
