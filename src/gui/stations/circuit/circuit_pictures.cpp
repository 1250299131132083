#include "gui/stations/circuit/circuit_pictures.h"

#include <QPainter>
#include <cmath>

#include "core/circuit/wiring.h"

namespace uadze::gui {

BudgetView::BudgetView(Workspace& workspace, CircuitBench& bench, QWidget* parent)
    : QWidget(parent), workspace_(workspace), bench_(bench) {
  setAccessibleName("Pressure budget");
  connect(&bench, &CircuitBench::changed, this, qOverload<>(&QWidget::update));
  connect(&workspace, &Workspace::appearance_changed, this, qOverload<>(&QWidget::update));
}

void BudgetView::paintEvent(QPaintEvent*) {
  const Theme& t = workspace_.theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.paper);
  if (!bench_.state()) return;
  const auto items = budget(*bench_.point(), *bench_.state());
  if (items.empty()) {
    p.setPen(t.faint);
    p.drawText(rect(), Qt::AlignCenter, "No main pump runs at this moment: there is no way to follow.");
    return;
  }
  std::vector<circuit::BudgetItem> other;
  if (bench_.other_state()) other = budget(*bench_.other_point(), *bench_.other_state());
  const double ambient = bench_.state()->ambient;
  double top = ambient, low = ambient;
  for (const auto& list : {items, other})
    for (const auto& i : list) top = std::max(top, i.after), low = std::min(low, i.after);
  const QRectF area(12, 22, width() - 24, height() - 22 - 44);
  const auto y = [&](double pressure) {
    return area.bottom() - area.height() * (pressure - low) / (top - low + 1);
  };
  const double step = area.width() / static_cast<double>(items.size());
  p.setPen(QPen(t.rule, 1));
  p.drawLine(QPointF(area.left(), y(ambient)), QPointF(area.right(), y(ambient)));
  p.setFont(text_font(0.78));
  p.setPen(t.faint);
  p.drawText(QRectF(area.right() - 180, y(ambient) - 15, 120, 13), Qt::AlignLeft, "the air's pressure");
  double before = items.front().after;
  for (size_t i = 0; i < items.size(); ++i) {
    const auto& item = items[i];
    const double x = area.left() + step * static_cast<double>(i);
    const QRectF bar = QRectF(QPointF(x + 2, y(before)), QPointF(x + step - 2, y(item.after))).normalized();
    if (i > 0 && std::abs(item.after - before) > 1) {
      p.setPen(QPen(t.ink, 0.8));
      p.setBrush(item.after > before ? QBrush(t.covered) : QBrush(t.dry, Qt::BDiagPattern));
      p.drawRect(bar);
    }
    p.setPen(QPen(t.ink, 1.6));
    p.drawLine(QPointF(x + 2, y(item.after)), QPointF(x + step - 2, y(item.after)));
    p.setFont(figure_font(0.74));
    const double change = item.change + item.head;
    p.drawText(QRectF(x - 6, std::max(bar.top() - 14, 4.0), step + 12, 13), Qt::AlignCenter,
               i == 0 ? workspace_.show(item.after - ambient, Quantity::pressure)
                      : (change > 0 ? "+" : "") + QString::fromStdString(format_figure(
                                                      change, Quantity::pressure, workspace_.units())));
    p.setFont(text_font(0.72));
    p.setPen(t.faint);
    const QString name = QString::fromStdString(item.label).section(',', 0, 0);
    p.save();
    p.setClipRect(QRectF(x + 1, area.bottom() + 2, step - 2, 42));
    p.drawText(QRectF(x + 1, area.bottom() + 4, step - 2, 40),
               Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, name);
    p.restore();
    before = item.after;
  }
  if (!other.empty()) {
    p.setPen(QPen(t.ink, 1.4, Qt::DashLine));
    QPolygonF stair;
    const double each = area.width() / static_cast<double>(other.size());
    for (size_t i = 0; i < other.size(); ++i) {
      stair << QPointF(area.left() + each * static_cast<double>(i), y(other[i].after))
            << QPointF(area.left() + each * static_cast<double>(i + 1), y(other[i].after));
    }
    p.drawPolyline(stair);
  }
  p.setPen(t.faint);
  p.setFont(text_font(0.8));
  p.drawText(QRectF(12, 2, width() - 24, 15), Qt::AlignRight,
             QString("change at each part, %1%2")
                 .arg(QString::fromUtf8(shown_unit(Quantity::pressure, workspace_.units()).name.data()),
                      other.empty() ? "" : "; dashed: the compared setup"));
}

WiringView::WiringView(Workspace& workspace, CircuitBench& bench, QWidget* parent)
    : QWidget(parent), workspace_(workspace), bench_(bench) {
  setAccessibleName("Wiring of the pumps");
  connect(&bench, &CircuitBench::changed, this, [this] {
    updateGeometry();
    update();
  });
  connect(&workspace, &Workspace::appearance_changed, this, qOverload<>(&QWidget::update));
}

QSize WiringView::minimumSizeHint() const {
  const auto* s = bench_.state();
  return {400, s ? 44 * static_cast<int>(s->pumps.size()) + 8 : 60};
}

void WiringView::paintEvent(QPaintEvent*) {
  const Theme& t = workspace_.theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.paper);
  const auto* s = bench_.state();
  const auto* c = bench_.point();
  if (!s) return;
  double y = 18;
  for (size_t i = 0; i < s->pumps.size(); ++i, y += 44) {
    const auto& pump = s->pumps[i];
    const auto& wire = s->wires[i];
    const auto& w = leg_at(c->circuit, pump.leg)->at(static_cast<size_t>(pump.part)).wiring;
    if (pump.engine_driven) {
      p.setPen(t.faint);
      p.setFont(text_font(0.85));
      p.drawText(QPointF(12, y + 4),
                 QString("%1: driven by the engine").arg(QString::fromStdString(pump.name)));
      continue;
    }
    struct Stop {
      QString name;
      double ohm;
    };
    const double temperature = c->circuit.wire_temperature;
    std::vector<Stop> stops;
    const auto* fuse = circuit::find(c->catalogue->fuses, w.fuse);
    const auto* relay = circuit::find(c->catalogue->relays, w.relay);
    stops.push_back({fuse ? QString::fromStdString(w.fuse) : "no fuse!", fuse ? fuse->resistance : 0.0});
    if (relay) stops.push_back({QString::fromStdString(w.relay), relay->resistance});
    stops.push_back(
        {QString("feed %1").arg(w.feed_area > 0 ? QString::fromStdString(circuit::gauge_text(w.feed_area))
                                                : "no resistance"),
         circuit::wire_resistance(w.feed_area, w.feed_length, temperature)});
    stops.push_back(
        {QString("%1 contacts").arg(w.connectors), w.connectors * circuit::contact_resistance + w.extra});
    stops.push_back({QString("ground %1")
                         .arg(w.ground_area > 0 ? QString::fromStdString(circuit::gauge_text(w.ground_area))
                                                : "no resistance"),
                     circuit::wire_resistance(w.ground_area, w.ground_length, temperature)});
    const double left = 108, wide = width() - left - 240, each = wide / static_cast<double>(stops.size());
    p.setPen(t.ink);
    p.setFont(text_font(0.85, true));
    p.drawText(QRectF(10, y - 14, 94, 14), Qt::AlignLeft,
               QFontMetrics(p.font()).elidedText(QString::fromStdString(pump.name), Qt::ElideRight, 92));
    p.setFont(figure_font(0.82));
    p.drawText(QRectF(10, y + 1, 94, 14), Qt::AlignLeft, workspace_.show(pump.supply, Quantity::voltage));
    p.setPen(QPen(pump.on ? t.ink : t.faint, 1.6, pump.on ? Qt::SolidLine : Qt::DashLine));
    p.drawLine(QPointF(left - 8, y), QPointF(left + wide + 8, y));
    for (size_t k = 0; k < stops.size(); ++k) {
      const double x = left + each * (static_cast<double>(k) + 0.5);
      p.setPen(QPen(t.ink, 1.2));
      p.setBrush(t.paper);
      p.drawRect(QRectF(x - 11, y - 5, 22, 10));
      p.setFont(text_font(0.74));
      p.setPen(stops[k].name == "no fuse!" ? t.trouble : t.faint);
      p.drawText(QRectF(x - each / 2, y + 7, each, 12), Qt::AlignCenter, stops[k].name);
      p.setFont(figure_font(0.74));
      p.setPen(t.ink);
      p.drawText(QRectF(x - each / 2, y - 18, each, 12), Qt::AlignCenter,
                 pump.on ? workspace_.show(-pump.current * stops[k].ohm, Quantity::voltage, 2) : "");
    }
    p.setPen(t.ink);
    p.setFont(figure_font(0.82));
    const QRectF end(left + wide + 12, y - 14, 224, 14);
    p.drawText(end, Qt::AlignLeft,
               pump.on ? QString("%1 %2%3").arg(workspace_.show(pump.voltage, Quantity::voltage),
                                                workspace_.show(pump.current, Quantity::current),
                                                pump.dry ? ", draws gas" : "")
                       : QString("stands still"));
    p.setFont(text_font(0.76));
    p.setPen(t.faint);
    if (pump.on && !pump.dry)
      p.drawText(
          end.translated(0, 15), Qt::AlignLeft,
          QString("wires cost %1%2")
              .arg(workspace_.show(pump.lost_to_wires, Quantity::flow),
                   wire.advised ? QString("; AWG %1 for %2")
                                      .arg(*wire.advised)
                                      .arg(workspace_.show(c->circuit.wished_drop, Quantity::voltage, 1))
                                : QString()));
  }
}

}  // namespace uadze::gui
