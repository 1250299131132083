#include "gui/stations/slosh/modes_view.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <numbers>

#include "core/slosh/planar_tank.h"
#include "core/tank/foam.h"

namespace uadze::gui {
namespace {

constexpr double highest_swing = 4.0;  // Hz

}  // namespace

ModesView::ModesView(Workspace& workspace, QWidget* parent)
    : LapPicture(workspace, "modes", "Sloshing frequencies against the level, with the lap's excitation",
                 parent) {
  connect(&workspace, &Workspace::changed, this, [this] {
    if (isVisible()) compute();
  });
}

void ModesView::compute() {
  if (const auto entry = workspace_.runs.lap(); entry != lap_of_) {
    lap_of_ = entry;
    spectrum_ = {};
    if (entry)
      spectrum_work_.start(
          this, [entry](Progress&) { return lap::excitation(lap::force_trace(entry->value), highest_swing); },
          [this](lap::Spectrum spectrum) {
            spectrum_ = std::move(spectrum);
            update();
          },
          [this](const QString& why) { say(why); });
  }
  const auto car = workspace_.runs.car();
  if (!car || of_ == car->tank) return;
  of_ = car->tank;
  work_.start(
      this, [tank = car->tank](Progress& progress) { return curves_of(*tank, progress); },
      [this](std::vector<Curve> c) {
        curves_ = std::move(c);
        update();
      },
      [this](const QString& why) { say(why); });
}

void ModesView::say(const QString& why) {
  fault_ = why;
  update();
}

std::vector<ModesView::Curve> ModesView::curves_of(const tank::Tank& tank, const Progress& progress) {
  std::vector<Curve> out;
  constexpr int steps = 12;
  for (const auto& space : tank.spaces)
    for (int k = 0; k < 2; ++k) out.push_back({QString::fromStdString(space.name), k == 1, {}, {}});
  for (int i = 1; i < steps; ++i) {
    const double level = tank.volume() * i / steps;
    const std::vector<double> held = slosh::level_fill(tank, level);
    for (size_t s = 0; s < tank.spaces.size(); ++s) {
      progress.check();
      if (tank::is_in_foam(tank.spaces[s])) continue;
      const tank::Solid& body = tank.spaces[s].body;
      const slosh::PlaneSwing swing =
          slosh::plane_swing(body, held[s] / tank.spaces[s].volume() * body.volume());
      for (size_t k = 0; k < 2; ++k) {
        if (!(swing.frequency[k] > 0)) continue;
        const Vec3& way = swing.section.axis[k];
        Curve& curve = out[2 * s + (std::abs(way.y()) > std::abs(way.x()) ? 1 : 0)];
        if (!curve.level.empty() && curve.level.back() == level) continue;
        curve.level.push_back(level);
        curve.frequency.push_back(swing.frequency[k] / (2 * std::numbers::pi));
      }
    }
  }
  return out;
}

QRectF ModesView::plot_area() const { return QRectF(62, 30, width() - 62 - 230, height() - 30 - 44); }

void ModesView::draw_moving(QPainter& p) {
  const Theme& t = workspace_.theme();
  const auto car = workspace_.runs.car();
  if (!car) return;
  const QRectF r = plot_area();
  const double whole = car->tank->volume();
  const auto at = [&](double level, double hertz) {
    return QPointF(r.left() + r.width() * level / whole, r.bottom() - r.height() * hertz / highest_swing);
  };
  // The lap's shaking as bars from the right edge: lateral above, longitudinal hatched over it.
  double most = 1e-9;
  for (size_t k = 0; k < spectrum_.frequency.size(); ++k)
    most = std::max({most, spectrum_.lateral[k], spectrum_.longitudinal[k]});
  const double wide = r.width() * 0.3;
  for (size_t k = 0; k < spectrum_.frequency.size(); ++k) {
    const double y = at(0, spectrum_.frequency[k]).y(),
                 tall = r.height() / static_cast<double>(spectrum_.frequency.size());
    QColor side = t.dry, along = t.thin;
    side.setAlpha(120), along.setAlpha(150);
    p.fillRect(
        QRectF(r.right() - wide * spectrum_.lateral[k] / most, y, wide * spectrum_.lateral[k] / most, tall),
        side);
    p.fillRect(QRectF(r.right() - wide * spectrum_.longitudinal[k] / most, y + tall * 0.25,
                      wide * spectrum_.longitudinal[k] / most, tall * 0.5),
               along);
  }
  p.setPen(QPen(t.rule, 1));
  p.setBrush(Qt::NoBrush);
  p.drawRect(r);
  const Unit volume = shown_unit(Quantity::volume, workspace_.units());
  p.setFont(figure_font(0.85));
  for (int k = 0; k <= 4; ++k) {
    p.setPen(t.faint);
    p.drawText(QRectF(0, at(0, k).y() - 8, r.left() - 8, 16), Qt::AlignRight | Qt::AlignVCenter,
               QString::number(k));
    p.drawText(QRectF(at(whole * k / 4, 0).x() - 40, r.bottom() + 4, 80, 16), Qt::AlignCenter,
               QString::number(volume.from_si(whole * k / 4), 'f', 1));
    p.setPen(QPen(t.rule, 1, Qt::DotLine));
    p.drawLine(at(0, k), at(whole, k));
  }
  p.setFont(text_font(0.9));
  p.setPen(t.ink);
  p.drawText(QRectF(8, 6, 300, 18), Qt::AlignLeft, "sloshing frequency at rest [Hz]");
  p.drawText(QRectF(r.left(), height() - 22, r.width(), 16), Qt::AlignCenter,
             QString("fuel in the tank [%1]")
                 .arg(QString::fromUtf8(volume.name.data(), static_cast<int>(volume.name.size()))));
  constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};
  double y = r.top() + 4;
  const double x = r.right() + 12;
  p.drawText(QRectF(r.right() - wide - 60, 6, wide + 60, 18), Qt::AlignRight, "the lap's shaking");
  const auto key = [&](const QPen& pen, const QString& text) {
    p.setPen(pen);
    p.drawLine(QPointF(x, y + 8), QPointF(x + 24, y + 8));
    p.setPen(t.ink);
    p.drawText(QRectF(x + 30, y, width() - x - 32, 32), Qt::AlignLeft | Qt::TextWordWrap, text);
    y += 34;
  };
  for (size_t k = 0; k < curves_.size(); ++k) {
    const Curve& curve = curves_[k];
    if (curve.level.empty()) continue;
    const QPen pen(curve.lateral ? t.covered : t.trouble, 2, styles[(k / 2) % 4]);
    QPainterPath path;
    for (size_t i = 0; i < curve.level.size(); ++i) {
      const QPointF q = at(curve.level[i], std::min(curve.frequency[i], highest_swing));
      i == 0 ? path.moveTo(q) : path.lineTo(q);
    }
    p.setPen(pen);
    p.setBrush(Qt::NoBrush);
    p.drawPath(path);
    key(pen, curve.name + (curve.lateral ? ", side to side" : ", front to back"));
  }
  const auto swatch = [&](const QColor& tone, const QString& text) {
    p.fillRect(QRectF(x, y + 3, 24, 10), tone);
    p.setPen(t.ink);
    p.drawText(QRectF(x + 30, y, width() - x - 32, 16), Qt::AlignLeft, text);
    y += 20;
  };
  if (!spectrum_.frequency.empty()) {
    swatch(t.dry, "lap, sideways");
    swatch(t.thin, "lap, front to back");
  }
  p.setPen(t.faint);
  QString calm;
  for (const tank::Space& space : car->tank->spaces)
    if (tank::is_in_foam(space))
      calm += QString(" Fuel in \"%1\" seeps and does not swing.").arg(QString::fromStdString(space.name));
  p.drawText(QRectF(x, y + 4, width() - x - 6, 180), Qt::AlignLeft | Qt::TextWordWrap,
             !fault_.isEmpty() ? "▲ " + fault_
             : work_.running()
                 ? QString("Computing the modes.")
                 : QString("Where a curve passes a long bar the tank swings with the track. Under load all "
                           "frequencies rise with the root of the pull: half as much again at 2 g.") +
                       calm);
  p.setPen(QPen(t.ink, 1.2, Qt::DashLine));
  p.drawLine(at(workspace_.runs.level(), 0), at(workspace_.runs.level(), highest_swing));
}

void ModesView::seek(const QPointF& point) {
  const auto car = workspace_.runs.car();
  const QRectF r = plot_area();
  if (car)
    workspace_.selection.pick_level(std::clamp((point.x() - r.left()) / r.width(), 0.0, 1.0) *
                                    car->tank->volume());
}

}  // namespace uadze::gui
