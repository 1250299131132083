#include "gui/stations/logs/spectrum_view.h"

#include <QKeyEvent>
#include <QLabel>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/log/filter.h"
#include "core/slosh/modes.h"
#include "core/slosh/planar_tank.h"
#include "core/tank/foam.h"
#include "gui/widgets/quantity_plot.h"

namespace uadze::gui {
namespace {

constexpr log::Role axes[3] = {log::Role::lat_acc, log::Role::long_acc, log::Role::vert_acc};
constexpr const char* axis_names[3] = {"lateral", "longitudinal", "vertical"};
constexpr Qt::PenStyle strokes[3] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine};
constexpr double highest_vibration = 25.0;  // Hz
constexpr int steps = 160;

/// Hz, of each space's swings both ways, the tank half full and at rest.
std::vector<double> own_swing(const tank::Tank& tank, const Progress& progress) {
  std::vector<double> out;
  const auto held = slosh::level_fill(tank, 0.5 * tank.volume());
  for (size_t s = 0; s < tank.spaces.size(); ++s) {
    progress.check();
    const auto& space = tank.spaces[s];
    if (tank::is_in_foam(space)) continue;
    const slosh::PlaneSwing swing =
        slosh::plane_swing(space.body, held[s] / space.volume() * space.body.volume());
    for (double f : swing.frequency)
      if (f > 0) out.push_back(f / (2 * std::numbers::pi));
  }
  std::sort(out.begin(), out.end());
  return out;
}

}  // namespace

SpectrumView::SpectrumView(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      says_(new QLabel),
      plot_(make_plot("spectrum of the log")),
      soon_(new QTimer(this)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 10, 14, 10);
  says_->setObjectName("spectrum says");
  says_->setWordWrap(true);
  column->addWidget(says_);
  column->addWidget(plot_, 1);
  plot_->setFocusPolicy(Qt::StrongFocus);
  plot_->installEventFilter(this);
  soon_->setSingleShot(true);
  soon_->setInterval(150);
  connect(soon_, &QTimer::timeout, this, &SpectrumView::compute);
  connect(&workspace, &Workspace::appearance_changed, this, &SpectrumView::draw);
}

void SpectrumView::show_log(std::shared_ptr<const log::Log> log, std::shared_ptr<const log::Laps> laps) {
  log_ = std::move(log), laps_ = std::move(laps);
  lap_ = 0;
  compute();
}

void SpectrumView::choose_lap(int lap) {
  if (lap == lap_) return;
  lap_ = lap;
  compute();
}

void SpectrumView::set_cut_off(double hertz) {
  if (hertz == cut_off_) return;
  cut_off_ = hertz;
  draw();
  soon_->start();
}

void SpectrumView::compute() {
  if (!isVisible()) return;
  if (!log_ || log_->size() < 20) {
    says_->setText(log_ ? "The log is too short for a spectrum." : "No log is open.");
    plot_->hide();
    return;
  }
  double begin = log_->time.front(), end = std::min(log_->time.back(), begin + 600);
  if (laps_)
    for (const auto& lap : laps_->all)
      if (lap.number == lap_) begin = lap.begin, end = lap.end;
  const auto car = w_.runs.car();
  work_.start(
      this,
      [log = log_, begin, end, cut_off = cut_off_,
       tank = car ? car->tank : std::shared_ptr<const tank::Tank>()](Progress& progress) {
        Spectrum out;
        const double step = std::max(log->step(), 1e-4), rate = 1 / step;
        const double top = std::min(highest_vibration, 0.5 * rate);
        for (int k = 1; k <= steps; ++k) out.frequency.push_back(top * k / steps);
        for (int a = 0; a < 3; ++a) {
          const log::Channel* channel = log->channel(axes[a]);
          if (!channel) continue;
          progress.check();
          const auto even = log::resampled(*log, channel->values, channel->between, begin, end, step);
          out.raw[a] = log::amplitude(even, rate, out.frequency);
          progress.check();
          out.filtered[a] = cut_off > 0
                                ? log::amplitude(log::low_pass(even, rate, cut_off), rate, out.frequency)
                                : out.raw[a];
        }
        if (tank) out.own = own_swing(*tank, progress);
        return out;
      },
      [this](Spectrum spectrum) {
        spectrum_ = std::move(spectrum);
        draw();
      },
      [this](const QString& why) { says_->setText("▲ " + why); });
}

void SpectrumView::draw() {
  if (spectrum_.frequency.empty() || !log_) return;
  plot_->show();
  const Theme& t = w_.theme();
  const Unit up = shown_unit(Quantity::acceleration, w_.units());
  style_plot(
      plot_, t, "frequency [Hz]",
      QString("amplitude [%1]").arg(QString::fromUtf8(up.name.data(), static_cast<int>(up.name.size()))));
  double most = 0;
  const auto curve = [&](const std::vector<double>& values, const QString& name, const QPen& pen) {
    QVector<double> xs, ys;
    for (size_t k = 0; k < values.size(); ++k)
      xs << spectrum_.frequency[k], ys << up.from_si(values[k]), most = std::max(most, ys.back());
    QCPGraph* graph = plot_->addGraph();
    graph->setData(xs, ys);
    graph->setName(name);
    graph->setPen(pen);
  };
  bool any = false;
  for (int a = 0; a < 3; ++a) {
    if (spectrum_.raw[a].empty()) continue;
    any = true;
    curve(spectrum_.raw[a], QString("%1, as logged").arg(axis_names[a]), QPen(t.faint, 1, strokes[a]));
    curve(spectrum_.filtered[a], QString("%1, filtered").arg(axis_names[a]),
          QPen(a == 1 ? t.dry : t.covered, 2, strokes[a]));
  }
  if (!any) {
    says_->setText("The log has no accelerations.");
    plot_->hide();
    return;
  }
  plot_->xAxis->setRange(0, spectrum_.frequency.back());
  // Over three decades: the engine's shaking is a hundredth of a corner's push.
  plot_->yAxis->setScaleType(QCPAxis::stLogarithmic);
  plot_->yAxis->setTicker(QSharedPointer<QCPAxisTickerLog>(new QCPAxisTickerLog));
  plot_->yAxis->setNumberFormat("gb");
  plot_->yAxis->setNumberPrecision(2);
  plot_->yAxis->setRange(std::max(1e-3 * most, 1e-9), std::max(1.5 * most, 1e-6));
  const auto words = [&](double x, const QString& text, Qt::Alignment side, double y) {
    auto* label = new QCPItemText(plot_);
    label->position->setTypeX(QCPItemPosition::ptPlotCoords);
    label->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
    label->position->setCoords(x, y);
    label->setPositionAlignment(side | Qt::AlignTop);
    label->setText(text);
    label->setFont(text_font(0.85));
    label->setColor(t.ink);
    label->setPadding(QMargins(4, 0, 4, 0));
    label->setBrush(t.paper);
  };
  QString own;
  if (!spectrum_.own.empty()) {
    auto* band = new QCPItemRect(plot_);
    QColor shade = t.covered;
    shade.setAlpha(45);
    band->setBrush(shade);
    band->setPen(Qt::NoPen);
    band->topLeft->setTypeY(QCPItemPosition::ptAxisRectRatio);
    band->bottomRight->setTypeY(QCPItemPosition::ptAxisRectRatio);
    band->topLeft->setCoords(spectrum_.own.front(), 0);
    band->bottomRight->setCoords(spectrum_.own.back(), 1);
    own = QString("%1 to %2 Hz").arg(spectrum_.own.front(), 0, 'f', 1).arg(spectrum_.own.back(), 0, 'f', 1);
    words(std::max(spectrum_.own.back(), cut_off_), "◂ the fuel's own swing, " + own, Qt::AlignLeft, 0.01);
  }
  if (cut_off_ > 0) {
    auto* line = new QCPItemStraightLine(plot_);
    line->point1->setTypeY(QCPItemPosition::ptAxisRectRatio);
    line->point2->setTypeY(QCPItemPosition::ptAxisRectRatio);
    line->point1->setCoords(cut_off_, 0);
    line->point2->setCoords(cut_off_, 1);
    line->setPen(QPen(t.ink, 2));
    words(cut_off_, QString("cut off at %1 Hz").arg(cut_off_, 0, 'f', 1), Qt::AlignLeft, 0.07);
  }
  plot_->replot();
  QString text = "Drag the line, or move it by the arrows: what is above it never reaches the fuel. ";
  if (!spectrum_.own.empty() && cut_off_ > 0 && cut_off_ < 1.3 * spectrum_.own.back())
    text +=
        QString("▲ It cuts into the fuel's own swing (%1), which would then be computed too small.").arg(own);
  else if (cut_off_ == 0)
    text += "▲ Nothing is filtered: the engine's shaking drives the fuel.";
  else if (!own.isEmpty())
    text += QString("The fuel's own swing, half full, is %1.").arg(own);
  says_->setText(text);
}

void SpectrumView::drag(double pixel) {
  const double at = std::clamp(plot_->xAxis->pixelToCoord(pixel), 0.5, plot_->xAxis->range().upper);
  const double hertz = std::round(10 * at) / 10;
  if (hertz == cut_off_) return;
  set_cut_off(hertz);
  emit cut_off_changed(hertz);
}

bool SpectrumView::eventFilter(QObject* watched, QEvent* event) {
  if (watched != plot_) return QWidget::eventFilter(watched, event);
  if (event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Left || key == Qt::Key_Right) {
      const double step = key == Qt::Key_Left ? -0.1 : 0.1;
      set_cut_off(std::clamp(std::round(10 * (cut_off_ + step)) / 10, 0.0, 50.0));
      emit cut_off_changed(cut_off_);
      return true;
    }
  }
  const auto* mouse = event->type() == QEvent::MouseButtonPress || event->type() == QEvent::MouseMove ||
                              event->type() == QEvent::MouseButtonRelease
                          ? static_cast<QMouseEvent*>(event)
                          : nullptr;
  if (mouse && event->type() == QEvent::MouseButtonPress && mouse->button() == Qt::LeftButton)
    dragging_ = true;
  if (mouse && dragging_) drag(mouse->position().x());
  if (event->type() == QEvent::MouseButtonRelease) dragging_ = false;
  return QWidget::eventFilter(watched, event);
}

}  // namespace uadze::gui
