#include "gui/stations/car/fuel_chain.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace uadze::gui {
namespace {

class ChainPainter {
 public:
  ChainPainter(QPainter& p, const Theme& t) : p_(p), t_(t) {}

  void vessel(const QRectF& r, double fill, const QString& title, const QStringList& lines) {
    p_.fillRect(r, t_.field);
    const double h = r.height() * std::clamp(fill, 0.0, 1.0);
    p_.fillRect(QRectF(r.left(), r.bottom() - h, r.width(), h), t_.covered);
    p_.setPen(QPen(t_.ink, 1.6));
    p_.setBrush(Qt::NoBrush);
    p_.drawRect(r);
    caption({r.left() - 40, r.bottom() + 4, r.width() + 80, 60}, title, lines);
  }

  void pump(const QPointF& c, double running, const QString& title, const QStringList& lines, bool above) {
    p_.setBrush(t_.wet(running));
    p_.setPen(QPen(t_.ink, 1.6));
    p_.drawEllipse(c, 15, 15);
    // A dry pump is crossed through, a covered one shows its arrow: not by colour alone.
    if (running > 0.02) {
      p_.setBrush(running > 0.5 ? QColor(Qt::white) : t_.ink);
      p_.setPen(Qt::NoPen);
      p_.drawPolygon(QPolygonF{c + QPointF(-5, -7), c + QPointF(8, 0), c + QPointF(-5, 7)});
    } else {
      p_.drawLine(c + QPointF(-8, -8), c + QPointF(8, 8));
      p_.drawLine(c + QPointF(-8, 8), c + QPointF(8, -8));
    }
    caption(above ? QRectF(c.x() - 75, c.y() - 66, 150, 48) : QRectF(c.x() - 75, c.y() + 18, 150, 60), title,
            lines);
  }

  /// A line through the points; its width grows with the flow (m3/s).
  void pipe(const QPolygonF& points, double flow, bool dashed = false) {
    const double wide = flow > 0 ? 1.5 + 2.2 * std::sqrt(flow * 3.6e6 / 100) : 1.2;
    p_.setPen(QPen(flow > 0 ? t_.covered : t_.faint, wide, dashed || flow <= 0 ? Qt::DashLine : Qt::SolidLine,
                   Qt::FlatCap, Qt::MiterJoin));
    p_.setBrush(Qt::NoBrush);
    p_.drawPolyline(points);
  }

  void note(const QPointF& at, const QString& text, Qt::Alignment align = Qt::AlignHCenter) {
    p_.setPen(t_.faint);
    p_.setFont(figure_font(0.9));
    const double wide = 130;
    const double x = align & Qt::AlignLeft ? at.x() : at.x() - wide / 2;
    p_.drawText(QRectF(x, at.y() - 8, wide, 16), align | Qt::AlignVCenter | Qt::TextDontClip, text);
  }

  void caption(const QRectF& r, const QString& title, const QStringList& lines) {
    p_.setPen(t_.ink);
    p_.setFont(text_font(0.95, true));
    p_.drawText(r, Qt::AlignTop | Qt::AlignHCenter | Qt::TextDontClip, title);
    p_.setFont(figure_font(0.9));
    for (int i = 0; i < lines.size(); ++i)
      p_.drawText(r.translated(0, 15 * (i + 1)), Qt::AlignTop | Qt::AlignHCenter | Qt::TextDontClip,
                  lines[i]);
  }

 private:
  QPainter& p_;
  const Theme& t_;
};

}  // namespace

FuelChain::FuelChain(Workspace& workspace, QWidget* parent)
    : LapPicture(workspace, "fuel chain", "Fuel from tank to engine", parent) {
  setMinimumSize(560, 320);
}

void FuelChain::draw_moving(QPainter& p) {
  const Theme& t = workspace_.theme();
  const auto* setup = workspace_.setup();
  const auto car = workspace_.runs.car();
  if (!setup || !car) return;
  const auto run = workspace_.runs.level_run();
  const auto entry = workspace_.runs.lap();
  const size_t i = entry ? std::min(workspace_.selection.cursor(), entry->value.size() - 1) : 0;
  const auto show = [&](double v, Quantity q, int d = -1) { return workspace_.show(v, q, d); };
  ChainPainter chain(p, t);

  p.setPen(t.ink);
  p.setFont(text_font(1.25, true));
  p.drawText(QRectF(16, 8, width() - 32, 24), Qt::AlignLeft, QString::fromStdString(setup->name));
  p.setPen(t.faint);
  p.setFont(text_font(0.95));
  const QString where = entry && workspace_.selection.lap_reference()
                            ? QString("at the lap cursor: %1, %2, with %3 in the main tank")
                                  .arg(QString::fromStdString(lap::place_at(
                                           workspace_.runs.corners(), entry->value, entry->value.time[i])),
                                       show(entry->value.time[i], Quantity::duration),
                                       show(workspace_.runs.level(), Quantity::volume))
                            : QString("no lap: flows are not known");
  p.drawText(QRectF(16, 32, width() - 32, 18), Qt::AlignLeft, where);

  const double w = width(), mid = 70 + (height() - 70) * 0.48,
               tall = std::clamp(height() * 0.15, 58.0, 110.0);
  const auto now = workspace_.runs.lap_case();
  const double demand = run ? run->draw[i] : 0, burnt = run && now ? now->course.demand[i] : 0;
  const double main_flow = run && now ? now->course.delivery->main[i] : setup->main_pump_flow;
  const QRectF tank(w * 0.04 + 12, mid - tall, w * 0.16, 2 * tall);
  const double engine_x = w * 0.90;
  const double fill = workspace_.runs.level() / std::max(car->tank->volume(), 1e-9);
  chain.vessel(tank, fill, "main tank",
               {show(workspace_.runs.level(), Quantity::volume) + " of " +
                show(car->tank->volume(), Quantity::volume)});

  const auto wet_of = [&](const std::string& target) {
    double sum = 0;
    int n = 0;
    if (run)
      for (size_t k = 0; k < car->pickups.size(); ++k)
        if (car->pickups[k].feeds == target) sum += run->coverage.wet[k][i], ++n;
    return n ? sum / n : 0.0;
  };
  const double main_x = w * 0.70;
  if (setup->surge) {
    const QRectF surge(w * 0.47, mid - tall * 1.15, std::max(44.0, w * 0.07), 2.3 * tall);
    const double volume = run ? run->reserve[i] : setup->surge->volume;
    const size_t n = car->lift_pumps.size();
    for (size_t k = 0; k < n; ++k) {
      const double y =
          mid + (static_cast<double>(k) - (static_cast<double>(n) - 1) / 2) * std::max(96.0, tall * 1.5);
      const double wet = wet_of(car->lift_pumps[k].name),
                   flow = wet * (run && now ? now->course.delivery->lift[k][i] : car->lift_pumps[k].flow);
      const double x = w * 0.325;
      chain.pipe({{tank.right(), std::clamp(y, tank.top() + 8, tank.bottom() - 8)},
                  {x - 46, std::clamp(y, tank.top() + 8, tank.bottom() - 8)},
                  {x - 46, y},
                  {x, y}},
                 flow);
      chain.pipe({{x, y},
                  {x + 46, y},
                  {x + 46, std::clamp(y, surge.top() + 10, surge.bottom() - 10)},
                  {surge.left(), std::clamp(y, surge.top() + 10, surge.bottom() - 10)}},
                 flow);
      chain.pump({x, y}, wet, QString::fromStdString(car->lift_pumps[k].name),
                 {show(flow, Quantity::flow), show(wet, Quantity::fraction, 0) + " covered"},
                 k + 1 < n || n == 1);
    }
    const double over =
        run && run->supply[i] > demand && volume > setup->surge->volume * 0.999 ? run->supply[i] - demand : 0;
    const double back_y = mid - tall * 1.15 - 58;
    chain.pipe({{surge.center().x(), surge.top()},
                {surge.center().x(), back_y},
                {tank.center().x(), back_y},
                {tank.center().x(), tank.top()}},
               over);
    chain.note({(surge.center().x() + tank.center().x()) / 2, back_y - 10},
               "overflow " + show(over, Quantity::flow));
    chain.vessel(
        surge, volume / setup->surge->volume, "surge tank",
        {show(volume, Quantity::volume, 2) + " of " + show(setup->surge->volume, Quantity::volume, 2)});
    chain.pipe({{surge.right(), mid + 40}, {main_x, mid + 40}, {engine_x - 26, mid + 40}},
               std::max(main_flow, burnt));
    chain.pump({main_x, mid + 40}, 1.0, "main pump", {show(std::max(main_flow, burnt), Quantity::flow)},
               false);
    const double returned = std::max(0.0, main_flow - burnt);
    const bool to_surge = setup->surge->engine_return == circuit::ReturnTo::surge_tank;
    if (to_surge)
      chain.pipe({{engine_x - 26, mid - 40}, {surge.right(), mid - 40}}, returned);
    else
      chain.pipe({{engine_x, mid - 44},
                  {engine_x, back_y - 34},
                  {tank.left() + 16, back_y - 34},
                  {tank.left() + 16, tank.top()}},
                 returned);
    chain.note({main_x, to_surge ? mid - 52 : back_y - 44}, "return " + show(returned, Quantity::flow));
  } else {
    const double wet = wet_of("engine"), through = std::max(main_flow, burnt);
    chain.pipe({{tank.right(), mid + 40}, {main_x, mid + 40}, {engine_x - 26, mid + 40}}, wet * through);
    chain.pump({main_x, mid + 40}, wet, "main pump",
               {show(through, Quantity::flow), show(wet, Quantity::fraction, 0) + " covered"}, false);
    const QRectF line(w * 0.42, mid + 26, w * 0.12, 28);
    const double volume = run ? run->reserve[i] : setup->line_hold;
    chain.vessel(line, setup->line_hold > 0 ? volume / setup->line_hold : 0, "line and filter",
                 {show(volume, Quantity::volume, 2) + " of " + show(setup->line_hold, Quantity::volume, 2)});
    const double returned = std::max(0.0, main_flow - burnt);
    chain.pipe({{engine_x, mid - 44},
                {engine_x, mid - tall - 42},
                {tank.center().x(), mid - tall - 42},
                {tank.center().x(), tank.top()}},
               returned);
    chain.note({main_x, mid - tall - 52}, "return " + show(returned, Quantity::flow));
  }
  const QRectF engine(engine_x - 26, mid - 44, 52, 100);
  p.setPen(QPen(t.ink, 1.6));
  p.setBrush(t.field);
  p.drawRect(engine);
  for (int k = 0; k < 4; ++k) p.drawRect(QRectF(engine.left() + 8 + k * 9.5, engine.top() + 12, 6, 24));
  chain.caption({engine.left() - 50, engine.bottom() + 4, engine.width() + 100, 48}, "engine",
                {"burns", show(burnt, Quantity::flow)});
  if (run && !run->events.empty()) {
    p.setPen(t.trouble);
    p.setFont(text_font(0.95, true));
    p.drawText(QRectF(16, height() - 44, w - 32, 36), Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap,
               QString("▲ At this level the engine starves: %1, %2")
                   .arg(QString::fromStdString(lap::in_words(run->events.front().place)),
                        QString::fromStdString(run->events.front().cause.in(workspace_.units()))));
  }
}

}  // namespace uadze::gui
