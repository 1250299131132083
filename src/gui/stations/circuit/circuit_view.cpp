#include "gui/stations/circuit/circuit_view.h"

#include <QDragEnterEvent>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMimeData>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <cmath>

#include "gui/widgets/lap_picture.h"

namespace uadze::gui {
namespace {

using circuit::LegKind;
using circuit::LegPlace;
using circuit::Part;
using circuit::PartKind;

constexpr double row_height = 50, first_row = 4, left = 92, right_room = 92;

/// A notch with a mark, as on the sight glass.
void draw_mark(QPainter& p, const QPointF& at, const Theme& t, bool error) {
  p.setPen(QPen(t.paper, 1));
  p.setBrush(error ? t.trouble : t.ink);
  p.drawPolygon(QPolygonF{at + QPointF(-7, 0), at + QPointF(0, -8), at + QPointF(7, 0), at + QPointF(0, 8)});
  p.setPen(t.paper);
  p.setFont(text_font(0.75, true));
  p.drawText(QRectF(at.x() - 7, at.y() - 8, 14, 16), Qt::AlignCenter, "!");
}

void draw_glyph(QPainter& p, const Part& part, const QPointF& c, const Theme& t, bool running,
                bool leftward) {
  p.setPen(QPen(t.ink, 1.4));
  p.setBrush(t.paper);
  switch (part.kind) {
    case PartKind::pump: {
      p.setBrush(running ? t.covered : t.field);
      p.drawEllipse(c, 10, 10);
      if (running) {
        const double s = leftward ? -1 : 1;
        p.setPen(Qt::NoPen);
        p.setBrush(Qt::white);
        p.drawPolygon(QPolygonF{c + QPointF(-4 * s, -5), c + QPointF(6 * s, 0), c + QPointF(-4 * s, 5)});
      } else {
        p.drawLine(c + QPointF(-5, -5), c + QPointF(5, 5));
        p.drawLine(c + QPointF(-5, 5), c + QPointF(5, -5));
      }
      break;
    }
    case PartKind::filter: {
      // The sign of ISO 1219-1: a diamond with a dashed line across the flow.
      p.drawPolygon(
          QPolygonF{c + QPointF(-11, 0), c + QPointF(0, -11), c + QPointF(11, 0), c + QPointF(0, 11)});
      QPen dashed(t.ink, 1.2);
      dashed.setDashPattern({2.5, 2});
      p.setPen(dashed);
      p.drawLine(c + QPointF(0, -10), c + QPointF(0, 10));
      break;
    }
    case PartKind::check_valve: {
      const double s = leftward ? -1 : 1;
      p.drawPolygon(QPolygonF{c + QPointF(-7 * s, -7), c + QPointF(6 * s, 0), c + QPointF(-7 * s, 7)});
      p.drawLine(c + QPointF(7 * s, -7), c + QPointF(7 * s, 7));
      break;
    }
    case PartKind::sensor:
      p.drawEllipse(c, 8, 8);
      p.drawEllipse(c, 3, 3);
      break;
    case PartKind::diffuser:
      for (double y : {-6.0, 0.0, 6.0}) p.drawEllipse(c + QPointF(0, y), 2.2, 2.2);
      break;
    case PartKind::restriction:
      p.drawLine(c + QPointF(0, -9), c + QPointF(0, -3));
      p.drawLine(c + QPointF(0, 3), c + QPointF(0, 9));
      break;
    case PartKind::line:
      break;  // the row itself is the line
    case PartKind::fitting: {
      QPainterPath elbow;
      elbow.moveTo(c + QPointF(-6, 5));
      elbow.quadTo(c + QPointF(5, 5), c + QPointF(5, -6));
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(t.ink, 2));
      if (part.form == circuit::FittingForm::straight || part.form == circuit::FittingForm::bulkhead ||
          part.form == circuit::FittingForm::quick_connector || part.form == circuit::FittingForm::reducer) {
        p.drawLine(c + QPointF(-3, -6), c + QPointF(-3, 6));
        p.drawLine(c + QPointF(3, -6), c + QPointF(3, 6));
      } else if (part.form == circuit::FittingForm::tee_through ||
                 part.form == circuit::FittingForm::tee_branch) {
        p.drawLine(c + QPointF(-6, 0), c + QPointF(6, 0));
        p.drawLine(c, c + QPointF(0, 7));
      } else if (part.form == circuit::FittingForm::entry || part.form == circuit::FittingForm::exit) {
        p.drawArc(QRectF(c.x() - 6, c.y() - 6, 12, 12), 90 * 16, 180 * 16);
      } else {
        p.drawPath(elbow);
      }
      break;
    }
  }
}

}  // namespace

namespace {

QString plain_label(const Part& part) {
  if (!part.name.empty()) return QString::fromStdString(part.name);
  switch (part.kind) {
    case PartKind::line:
      return part.dash > 0 ? QString("line -%1").arg(part.dash) : QString("line");
    case PartKind::fitting: {
      const QString form = words_of(part.form);
      return part.count > 1 ? QString("%1 x %2").arg(part.count).arg(form) : form;
    }
    case PartKind::restriction:
      return "restriction";
    default:
      // "main pump, 190 l/h class" as "main pump"
      return QString::fromStdString(part.type).section(',', 0, 0);
  }
}

}  // namespace

QString short_label(const Part& part) {
  const QString plain = plain_label(part);
  return part.way > 0 ? QString("%1: %2").arg(QString("①②③").at(part.way - 1)).arg(plain) : plain;
}

CircuitView::CircuitView(Workspace& workspace, CircuitBench& bench, QWidget* parent)
    : QWidget(parent), workspace_(workspace), bench_(bench) {
  setObjectName("circuit");
  setAccessibleName("Circuit in the order of flow");
  setFocusPolicy(Qt::StrongFocus);
  setAcceptDrops(true);
  setMouseTracking(true);
  connect(&bench_, &CircuitBench::changed, this, [this] {
    lay_out();
    // A part that is gone is no longer chosen.
    const auto* c = bench_.point();
    if (chosen_ && c) {
      const circuit::Leg* leg = leg_at(c->circuit, chosen_->leg);
      if (leg && chosen_->part >= static_cast<int>(leg->size())) choose(std::nullopt);
    }
    updateGeometry();
    update();
  });
  connect(&workspace_, &Workspace::appearance_changed, this, qOverload<>(&QWidget::update));
  lay_out();
}

QSize CircuitView::sizeHint() const {
  return {760, static_cast<int>(2 * first_row +
                                row_height * static_cast<double>(std::max<size_t>(rows_.size(), 3)))};
}

void CircuitView::lay_out() {
  rows_.clear();
  const auto* c = bench_.point();
  if (!c) return;
  const bool surge = c->surroundings.surge;
  const QString source = surge ? "surge tank" : c->circuit.suctions.empty() ? "main tank" : "drawn from";
  for (const LegPlace& leg : legs_of(c->circuit, c->surroundings)) {
    if (leg.kind == LegKind::rail) continue;
    Row row{.leg = leg};
    switch (leg.kind) {
      case LegKind::lift:
        row.from = "main tank", row.to = "surge tank";
        break;
      case LegKind::suction:
        row.from = "main tank", row.to = source;
        break;
      case LegKind::overflow:
        row.leftward = true;
        row.from = "surge tank";
        row.to = c->surroundings.return_to == circuit::ReturnTo::overflow_tee ? "tee" : "main tank";
        break;
      case LegKind::tee:
        row.leftward = true;
        row.from = "tee", row.to = "main tank";
        break;
      case LegKind::main:
        row.leftward = true;
        row.from = source, row.to = "merge";
        break;
      case LegKind::feed:
        row.from = "merge", row.to = "engine";
        break;
      case LegKind::back:
        row.leftward = true;
        row.from = c->circuit.engine_supply == circuit::EngineSupply::returnless ? "merge" : "engine";
        row.to = !surge                                                       ? "main tank"
                 : c->surroundings.return_to == circuit::ReturnTo::surge_tank ? "surge tank"
                 : c->surroundings.return_to == circuit::ReturnTo::main_tank  ? "main tank"
                                                                              : "tee";
        break;
      case LegKind::transfer:
        row.from = "far side", row.to = "pump's side";
        break;
      case LegKind::rail:
        break;
    }
    rows_.push_back(std::move(row));
  }
  const double wide = width() - left - right_room;
  for (size_t r = 0; r < rows_.size(); ++r) {
    Row& row = rows_[r];
    row.y = first_row + row_height * (static_cast<double>(r) + 0.3);
    const size_t n = leg_at(c->circuit, row.leg)->size();
    for (size_t i = 0; i < n; ++i) {
      const double share = (static_cast<double>(i) + 0.5) / static_cast<double>(n);
      row.x.push_back(left + wide * (row.leftward ? 1 - share : share));
    }
  }
}

const circuit::PartState* CircuitView::moment_of(const CircuitChoice& choice) const {
  if (const auto* s = bench_.state())
    for (const auto& part : s->parts)
      if (part.leg == choice.leg && part.part == choice.part) return &part;
  return nullptr;
}

std::vector<const circuit::Finding*> CircuitView::findings_of(const CircuitChoice& choice) const {
  std::vector<const circuit::Finding*> out;
  if (const auto* s = bench_.state())
    for (const auto& f : s->findings)
      if (f.leg == choice.leg && f.part == choice.part) out.push_back(&f);
  return out;
}

void CircuitView::draw_part(QPainter& p, const Row& row, size_t i, const QPointF& at, double room) {
  const Theme& t = workspace_.theme();
  const Part& part = (*leg_at(bench_.point()->circuit, row.leg))[i];
  const CircuitChoice choice{row.leg, static_cast<int>(i)};
  const auto* state = moment_of(choice);
  if (chosen_ == choice) {
    p.setPen(QPen(t.ink, 1.2, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(at.x() - room / 2 + 2, at.y() - 13, room - 4, 47), 4, 4);
  }
  bool running = true;
  const circuit::PumpState* pump = nullptr;
  if (const auto* s = bench_.state())
    for (const auto& x : s->pumps)
      if (x.leg == row.leg && x.part == choice.part) pump = &x, running = x.on;
  draw_glyph(p, part, at, t, running, row.leftward);
  p.setPen(t.ink);
  p.setFont(text_font(0.78));
  const QRectF label(at.x() - room / 2 + 2, at.y() + 9, room - 4, 13);
  p.drawText(
      label, Qt::AlignCenter,
      QFontMetrics(p.font()).elidedText(short_label(part), Qt::ElideRight, static_cast<int>(label.width())));
  if (state) {
    p.setFont(figure_font(0.78));
    p.setPen(t.faint);
    QString value = workspace_.show(-state->loss, Quantity::pressure, std::abs(state->loss) < 5e3 ? 3 : -1);
    if (pump && pump->dry)
      value = "draws gas";
    else if (pump)
      value = (pump->rise > 0 ? "+" : "") + workspace_.show(pump->rise, Quantity::pressure);
    p.drawText(QRectF(at.x() - room / 2, at.y() + 20, room, 13), Qt::AlignCenter, value);
  }
  const auto findings = findings_of(choice);
  if (!findings.empty()) draw_mark(p, at + QPointF(15, -8), t, findings.front()->severity == Severity::error);
}

void CircuitView::draw_row(QPainter& p, const Row& row) {
  const Theme& t = workspace_.theme();
  const auto* c = bench_.point();
  const auto* s = bench_.state();
  const circuit::Leg& leg = *leg_at(c->circuit, row.leg);
  const double x0 = left, x1 = width() - right_room;
  double flow = 0, pressure = s ? s->ambient : 0;
  if (s) {
    for (const auto& part : s->parts)
      if (part.leg == row.leg) flow = part.flow, pressure = std::max(pressure, part.outlet);
    if (leg.empty() && row.leg.kind == LegKind::back) flow = s->regulator.flow;
    if (row.leg.kind == LegKind::transfer) flow = s->transfer;
  }
  const bool air = row.leg.kind == LegKind::overflow && flow < 0;
  if (air) flow = 0;
  const bool chosen = chosen_ && chosen_->leg == row.leg && chosen_->part < 0;
  // Wide where much flows, dark where the pressure is high, dashed where nothing does.
  const double shade = s ? std::clamp((pressure - s->ambient) / 5e5, 0.0, 1.0) : 0.0;
  QColor tone = t.thin;
  tone.setRedF(static_cast<float>(std::lerp(t.thin.redF(), t.covered.redF(), shade)));
  tone.setGreenF(static_cast<float>(std::lerp(t.thin.greenF(), t.covered.greenF(), shade)));
  tone.setBlueF(static_cast<float>(std::lerp(t.thin.blueF(), t.covered.blueF(), shade)));
  const bool flows = std::abs(flow) > 1e-9;
  const double thick = flows ? 2 + 0.5 * std::sqrt(std::abs(flow) * 3.6e6) : 1.2;
  const double tip = row.leftward ? x0 : x1, way = row.leftward ? 1 : -1, barb = std::max(6.0, thick / 2 + 4);
  p.setPen(QPen(flows ? tone : t.faint, thick, flows ? Qt::SolidLine : Qt::DashLine, Qt::FlatCap));
  p.drawLine(QPointF(row.leftward ? x0 + barb : x0, row.y), QPointF(row.leftward ? x1 : x1 - barb, row.y));
  p.setPen(Qt::NoPen);
  p.setBrush(flows ? tone : t.faint);
  p.drawPolygon(QPolygonF{
      {tip, row.y}, {tip + 1.3 * barb * way, row.y - barb}, {tip + 1.3 * barb * way, row.y + barb}});
  // The vessels the row joins, at both ends.
  const auto vessel = [&](bool at_left, const QString& name) {
    const QRectF r =
        at_left ? QRectF(4, row.y - 11, x0 - 8, 22) : QRectF(x1 + 4, row.y - 11, right_room - 8, 22);
    p.setPen(QPen(t.ink, 1));
    p.setBrush(t.field);
    p.drawRect(r);
    p.setPen(t.ink);
    p.setFont(text_font(0.82));
    p.drawText(r.adjusted(3, 0, -3, 0), Qt::AlignCenter, name);
  };
  vessel(true, row.leftward ? row.to : row.from);
  vessel(false, row.leftward ? row.from : row.to);
  // Name and flow over the vessel where the leg begins.
  p.setPen(chosen ? t.ink : t.faint);
  p.setFont(text_font(0.8, true));
  const QRectF head =
      row.leftward ? QRectF(x1 + 4, row.y + 11, right_room - 8, 13) : QRectF(4, row.y + 11, x0 - 8, 13);
  p.drawText(head, Qt::AlignCenter,
             QFontMetrics(p.font()).elidedText(QString::fromStdString(row.leg.title(c->circuit)),
                                               Qt::ElideRight, static_cast<int>(head.width())));
  p.setFont(figure_font(0.82));
  p.setPen(t.ink);
  p.drawText(head.translated(0, 12), Qt::AlignCenter,
             air ? QString("air") : workspace_.show(flow, Quantity::flow));
  if (chosen) {
    p.setPen(QPen(t.ink, 1.2, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(head.adjusted(-2, -2, 2, 15), 4, 4);
  }
  const double room = (x1 - x0) / static_cast<double>(std::max<size_t>(leg.size(), 1));
  for (size_t i = 0; i < leg.size(); ++i) draw_part(p, row, i, {row.x[i], row.y}, std::min(room, 130.0));
  if (leg.empty()) {
    p.setFont(text_font(0.8));
    p.setPen(t.faint);
    p.drawText(QRectF(x0, row.y + 8, x1 - x0, 16), Qt::AlignCenter, "nothing between: drag a part here");
  }
  const auto whole = findings_of({row.leg, -1});
  if (!whole.empty())
    draw_mark(p, {row.leftward ? x1 - 12 : x0 + 12, row.y - 10}, t,
              whole.front()->severity == Severity::error);
  if (row.leg.kind == LegKind::feed) draw_engine(p);
  if (drop_ && drop_->leg == row.leg) {
    const auto at_part = static_cast<size_t>(drop_->part);
    const double step = room / 2 * (row.leftward ? -1 : 1);
    const double x = row.x.empty()            ? (x0 + x1) / 2
                     : at_part < row.x.size() ? row.x[at_part] - step
                                              : row.x.back() + step;
    p.setPen(QPen(t.ink, 3));
    p.drawLine(QPointF(x, row.y - 16), QPointF(x, row.y + 16));
  }
}

void CircuitView::draw_engine(QPainter& p) {
  const Theme& t = workspace_.theme();
  const auto* s = bench_.state();
  if (!s) return;
  for (const Row& row : rows_) {
    if (row.leg.kind != LegKind::feed) continue;
    const double x1 = width() - right_room;
    const bool chosen = chosen_ && chosen_->leg.kind == LegKind::rail;
    const QRectF box(x1 + 4, row.y + 13, right_room - 8, 28);
    p.setPen(t.ink);
    p.setFont(figure_font(0.82));
    p.drawText(box, Qt::AlignTop | Qt::AlignHCenter, workspace_.show(s->rail_difference, Quantity::pressure));
    p.setPen(t.faint);
    p.setFont(text_font(0.78));
    p.drawText(box.translated(0, 12), Qt::AlignTop | Qt::AlignHCenter,
               s->injectors.empty()
                   ? QString("over air")
                   : QString("duty %1").arg(workspace_.show(s->duty, Quantity::fraction, 0)));
    draw_rails(p, {x1 + 4, row.y - 11, right_room - 8, 22});
    if (chosen) {
      p.setPen(QPen(t.ink, 1.2, Qt::DashLine));
      p.setBrush(Qt::NoBrush);
      p.drawRoundedRect(box.adjusted(0, -24, 0, -1), 4, 4);
    }
    const auto findings = findings_of({{LegKind::rail, 0}, -1});
    if (!findings.empty())
      draw_mark(p, {width() - 12.0, row.y - 12}, t, findings.front()->severity == Severity::error);
  }
}

/// The rails are the engine's upper and lower edge, with a dot for each injector, the leanest full. Two in
/// series are joined at the end of the first; two side by side at the feed too, unless each has its own.
void CircuitView::draw_rails(QPainter& p, const QRectF& engine) {
  const circuit::Circuit& circuit = bench_.point()->circuit;
  const circuit::Rail& rail = circuit.rail;
  const auto& injectors = bench_.state()->injectors;
  if (injectors.empty()) return;
  const Theme& t = workspace_.theme();
  const size_t rails = rail.rails == circuit::Rails::one ? 1 : 2,
               each = (injectors.size() + rails - 1) / rails;
  const double edge[] = {engine.top(), engine.bottom()};
  p.setPen(QPen(t.ink, 2.2, Qt::SolidLine, Qt::FlatCap));
  for (size_t k = 0; k < rails; ++k)
    p.drawLine(QPointF(engine.left(), edge[k]), QPointF(engine.right(), edge[k]));
  const bool beside = rail.rails == circuit::Rails::side_by_side;
  if (rails == 2 && !(beside && rail.entry == circuit::RailEntry::dead_end))
    p.drawLine(engine.topRight(), engine.bottomRight());
  if (beside && !two_feeds(circuit)) p.drawLine(engine.topLeft(), engine.bottomLeft());
  p.setPen(QPen(t.ink, 1.2));
  for (size_t i = 0; i < injectors.size(); ++i) {
    const size_t k = i / each, of = std::min(each, injectors.size() - k * each);
    const double share = (static_cast<double>(i % each) + 0.5) / static_cast<double>(of);
    p.setBrush(static_cast<int>(i) == bench_.state()->leanest ? t.ink : t.field);
    p.drawEllipse(QPointF(std::lerp(engine.left() + 8, engine.right() - 8, share), edge[k]), 2.6, 2.6);
  }
}

void CircuitView::paintEvent(QPaintEvent*) {
  lay_out();
  const Theme& t = workspace_.theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.paper);
  if (!bench_.point()) {
    p.setPen(t.faint);
    p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
               "This setup has no circuit yet. \"Start a circuit\" beside lays out a plain one.");
    return;
  }
  for (const Row& row : rows_) draw_row(p, row);
  if (hasFocus()) draw_focus_ring(p, rect(), t);
}

std::optional<CircuitChoice> CircuitView::at(const QPointF& point) const {
  const double x1 = width() - right_room;
  for (const Row& row : rows_) {
    if (std::abs(point.y() - row.y - 10) > row_height / 2) continue;
    if (row.leg.kind == LegKind::feed && point.x() > x1) return CircuitChoice{{LegKind::rail, 0}, -1};
    double nearest = 1e9;
    int best = -1;
    for (size_t i = 0; i < row.x.size(); ++i)
      if (const double d = std::abs(point.x() - row.x[i]); d < nearest)
        nearest = d, best = static_cast<int>(i);
    if (point.x() > left && point.x() < x1 && nearest < 50) return CircuitChoice{row.leg, best};
    return CircuitChoice{row.leg, -1};
  }
  return std::nullopt;
}

CircuitChoice CircuitView::gap_at(const QPointF& point) const {
  const Row* nearest = nullptr;
  for (const Row& row : rows_)
    if (!nearest || std::abs(point.y() - row.y) < std::abs(point.y() - nearest->y)) nearest = &row;
  if (!nearest) return {};
  int index = 0;
  for (double x : nearest->x)
    if (nearest->leftward ? x > point.x() : x < point.x()) ++index;
  return {nearest->leg, index};
}

QPointF CircuitView::place_of(const CircuitChoice& choice) const {
  for (const Row& row : rows_) {
    if (choice.leg.kind == LegKind::rail && row.leg.kind == LegKind::feed)
      return {width() - right_room / 2, row.y};
    if (row.leg == choice.leg)
      return choice.part >= 0 && choice.part < static_cast<int>(row.x.size())
                 ? QPointF(row.x[static_cast<size_t>(choice.part)], row.y)
                 : QPointF(row.leftward ? width() - right_room / 2 : left / 2, row.y + 20);
  }
  return {};
}

void CircuitView::choose(const std::optional<CircuitChoice>& choice) {
  if (choice == chosen_) return;
  chosen_ = choice;
  update();
  emit part_chosen();
}

QString CircuitView::tip_of(const CircuitChoice& choice) const {
  const auto* c = bench_.point();
  if (!c) return {};
  QStringList lines;
  if (const circuit::Leg* leg = leg_at(c->circuit, choice.leg); leg && choice.part >= 0) {
    const Part& part = (*leg)[static_cast<size_t>(choice.part)];
    lines << QString::fromStdString(part.type.empty() ? short_label(part).toStdString() : part.type);
    if (const auto* s = moment_of(choice)) {
      lines << QString("%1 through it; %2 before, %3 behind, over air")
                   .arg(workspace_.show(s->flow, Quantity::flow),
                        workspace_.show(s->inlet - bench_.state()->ambient, Quantity::pressure),
                        workspace_.show(s->outlet - bench_.state()->ambient, Quantity::pressure));
      if (s->bore > 0)
        lines << QString("bore %1, %2, Reynolds number %3")
                     .arg(workspace_.show(s->bore, Quantity::length),
                          workspace_.show(s->velocity, Quantity::velocity))
                     .arg(s->reynolds, 0, 'f', 0);
      if (!s->measured)
        lines << QString("its figures end at %1: prolonged, not known")
                     .arg(workspace_.show(s->rated, Quantity::flow));
    }
  }
  for (const auto* f : findings_of(choice)) lines << QString::fromStdString(f->text.in(workspace_.units()));
  return lines.join("\n");
}

bool CircuitView::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto what = at(help->pos());
    const QString tip = what ? tip_of(*what) : QString();
    if (tip.isEmpty())
      QToolTip::hideText();
    else
      QToolTip::showText(help->globalPos(), tip, this);
    return true;
  }
  return QWidget::event(event);
}

void CircuitView::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton) choose(at(event->position()));
}

void CircuitView::keyPressEvent(QKeyEvent* event) {
  const auto* c = bench_.point();
  if (!c || rows_.empty()) return QWidget::keyPressEvent(event);
  size_t r = 0;
  while (chosen_ && r + 1 < rows_.size() && !(rows_[r].leg == chosen_->leg)) ++r;
  const int parts = static_cast<int>(rows_[r].x.size());
  const int now = chosen_ ? chosen_->part : -1;
  const int along = rows_[r].leftward ? -1 : 1;
  switch (event->key()) {
    case Qt::Key_Right:
    case Qt::Key_Left: {
      const int step = (event->key() == Qt::Key_Right ? 1 : -1) * along;
      return choose(CircuitChoice{rows_[r].leg, std::clamp(now + step, -1, parts - 1)});
    }
    case Qt::Key_Down:
      if (!chosen_) return choose(CircuitChoice{rows_[0].leg, -1});
      if (r + 1 < rows_.size()) choose(CircuitChoice{rows_[r + 1].leg, -1});
      return;
    case Qt::Key_Up:
      if (r > 0) choose(CircuitChoice{rows_[r - 1].leg, -1});
      return;
    case Qt::Key_Escape:
      return choose(std::nullopt);
    default:
      QWidget::keyPressEvent(event);
  }
}

void CircuitView::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasFormat(part_mime)) event->acceptProposedAction();
}

void CircuitView::dragMoveEvent(QDragMoveEvent* event) {
  if (!event->mimeData()->hasFormat(part_mime) || rows_.empty()) return;
  drop_ = gap_at(event->position());
  event->acceptProposedAction();
  update();
}

void CircuitView::dragLeaveEvent(QDragLeaveEvent*) {
  drop_.reset();
  update();
}

void CircuitView::dropEvent(QDropEvent* event) {
  if (!event->mimeData()->hasFormat(part_mime) || rows_.empty()) return;
  const QStringList what = QString::fromUtf8(event->mimeData()->data(part_mime)).split('\n');
  const CircuitChoice gap = gap_at(event->position());
  drop_.reset();
  event->acceptProposedAction();
  if (what.size() == 2) emit part_dropped(gap, what[0], what[1]);
  update();
}

}  // namespace uadze::gui
