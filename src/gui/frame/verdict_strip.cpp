#include "gui/frame/verdict_strip.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QProgressBar>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "gui/widgets/elided_box.h"

namespace uadze::gui {

VerdictFigure::VerdictFigure(Workspace& workspace, const QString& caption, QWidget* parent)
    : QWidget(parent), workspace_(workspace), caption_(caption) {
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::PointingHandCursor);
  setAccessibleName(caption);
  setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
}

void VerdictFigure::set_text(const QString& large, const QString& small, bool trouble, bool stale) {
  large_ = large, small_ = small, trouble_ = trouble, stale_ = stale;
  setAccessibleDescription(large + ", " + small);
  setToolTip(caption_ + ": " + large + "\n" + small + "\nOpens the cause");
  updateGeometry();
  update();
}

void VerdictFigure::set_caption(const QString& caption) {
  if (caption_ == caption) return;
  caption_ = caption;
  updateGeometry();
  update();
}

QSize VerdictFigure::sizeHint() const {
  const int large = QFontMetrics(figure_font(1.8)).horizontalAdvance(large_);
  const int small = QFontMetrics(text_font(0.9)).horizontalAdvance(small_);
  const int caption = QFontMetrics(text_font(0.85)).horizontalAdvance(caption_);
  return {std::max({large + (trouble_ ? 20 : 0), small, caption, 60}) + 20, 64};
}

void VerdictFigure::paintEvent(QPaintEvent*) {
  const Theme& t = workspace_.theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (underMouse()) p.fillRect(rect(), t.field);
  p.setPen(t.rule);
  p.drawLine(0, 8, 0, height() - 8);
  p.setPen(t.faint);
  p.setFont(text_font(0.85));
  // The sign alone where the word has no room.
  const QString computing = caption_ + "  ≈ computing";
  const bool room = p.fontMetrics().horizontalAdvance(computing) <= width() - 10;
  p.drawText(QRect(10, 4, width() - 10, 16), Qt::AlignLeft | Qt::AlignVCenter,
             !stale_ ? caption_
             : room  ? computing
                     : "≈ " + caption_);
  int x = 10;
  if (trouble_) {
    p.setPen(Qt::NoPen);
    p.setBrush(t.trouble);
    p.drawPolygon(QPolygonF{{10, 44}, {18, 26}, {26, 44}});
    p.setPen(Qt::white);
    p.setFont(text_font(0.8, true));
    p.drawText(QRectF(12, 29, 12, 14), Qt::AlignCenter, "!");
    x += 20;
  }
  p.setPen(trouble_ ? t.trouble : stale_ ? t.faint : t.ink);
  p.setFont(figure_font(1.8));
  p.drawText(QRect(x, 18, width() - x, 28), Qt::AlignLeft | Qt::AlignVCenter, large_);
  p.setPen(t.faint);
  p.setFont(text_font(0.9));
  p.drawText(QRect(10, 45, width() - 10, 16), Qt::AlignLeft | Qt::AlignVCenter, small_);
  if (hasFocus()) {
    p.setPen(QPen(t.covered, 1, Qt::DotLine));
    p.setBrush(Qt::NoBrush);
    p.drawRect(rect().adjusted(4, 2, -3, -3));
  }
}

void VerdictFigure::mouseReleaseEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton && rect().contains(event->pos())) emit clicked();
}

void VerdictFigure::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
    emit clicked();
  else
    QWidget::keyPressEvent(event);
}

VerdictStrip::VerdictStrip(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      setup_(new ElidedBox(this)),
      session_(new ElidedBox(this)),
      start_(new VerdictFigure(workspace, "least start", this)),
      tightest_(new VerdictFigure(workspace, "tightest", this)),
      reserve_(new VerdictFigure(workspace, "reserve, brought back", this)),
      rail_(new VerdictFigure(workspace, "rail", this)),
      car_(new VerdictFigure(workspace, "car", this)),
      progress_(new QProgressBar(this)),
      cancel_(new QToolButton(this)),
      next_(new QPushButton(this)) {
  setup_->setObjectName("setup");
  setup_->setAccessibleName("Setup");
  session_->setObjectName("session");
  session_->setAccessibleName("Session");
  start_->setObjectName("verdict start");
  tightest_->setObjectName("verdict tightest");
  reserve_->setObjectName("verdict reserve");
  rail_->setObjectName("verdict rail");
  car_->setObjectName("verdict car");
  progress_->setRange(0, 100);
  progress_->setFixedWidth(72);
  progress_->setTextVisible(false);
  progress_->setFixedHeight(10);
  progress_->setAccessibleName("Progress of the computation");
  cancel_->setText("Stop");
  cancel_->setObjectName("stop computation");
  cancel_->setToolTip("Stops the computation; what is known stays (Esc)");
  cancel_->setShortcut(Qt::Key_Escape);

  auto* choosers = new QVBoxLayout;
  choosers->setSpacing(4);
  choosers->addWidget(setup_);
  choosers->addWidget(session_);
  auto* working = new QVBoxLayout;
  working->addStretch();
  working->addWidget(progress_);
  working->addWidget(cancel_);
  working->addStretch();
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(12, 4, 8, 4);
  layout->setSpacing(8);
  layout->addLayout(choosers);
  layout->addLayout(working);
  layout->addWidget(next_);
  layout->addStretch();
  layout->addWidget(start_);
  layout->addWidget(tightest_);
  layout->addWidget(reserve_);
  layout->addWidget(rail_);
  layout->addWidget(car_);
  // Kept in the layout while hidden, so that nothing moves when a run starts.
  for (QWidget* w : std::initializer_list<QWidget*>{progress_, cancel_}) {
    QSizePolicy policy = w->sizePolicy();
    policy.setRetainSizeWhenHidden(true);
    w->setSizePolicy(policy);
    w->hide();
  }

  next_->setObjectName("next step");
  connect(next_, &QPushButton::clicked, this, [this] { emit workspace_.station_wanted(next_station_); });
  connect(setup_, &QComboBox::activated, &workspace_.selection, &Selection::choose_setup);
  connect(session_, &QComboBox::activated, &workspace_.selection, &Selection::choose_session);
  connect(cancel_, &QToolButton::clicked, &workspace_.runs.evaluator, &Evaluator::cancel);
  connect(&workspace_, &Workspace::changed, this, &VerdictStrip::refresh);
  connect(start_, &VerdictFigure::clicked, this, [this] {
    emit workspace_.station_wanted(Station::sessions);
    if (const auto* v = workspace_.runs.verdict()) emit workspace_.working_wanted(v->working);
  });
  // What the reserve follows from stands beside the map too.
  for (VerdictFigure* figure : {tightest_, reserve_})
    connect(figure, &VerdictFigure::clicked, this, &VerdictStrip::lead_to_tightest);
  connect(car_, &VerdictFigure::clicked, this, [this] { emit workspace_.station_wanted(Station::logbook); });
  connect(rail_, &VerdictFigure::clicked, this, [this] {
    emit workspace_.station_wanted(Station::circuit);
    const Evaluation& now = workspace_.runs.evaluator.result();
    if (now.lap && !now.lap->course.delivery->faults.empty())
      workspace_.set_cursor_time(now.lap->course.delivery->faults.front().start);
    else if (now.at_back && now.lap)
      workspace_.set_cursor_time(now.lap->lap->value.time[now.at_back->margin_at]);
  });
  // Short runs show no bar: only what lasts longer than a glance is worth one.
  auto* ticker = new QTimer(this);
  connect(ticker, &QTimer::timeout, this, [this, shown = 0]() mutable {
    const bool running = workspace_.runs.evaluator.running();
    shown = running ? shown + 1 : 0;
    progress_->setVisible(shown > 2);
    cancel_->setVisible(shown > 2);
    progress_->setValue(static_cast<int>(workspace_.runs.evaluator.progress() * 100));
  });
  ticker->start(80);
  refresh();
}

void VerdictStrip::lead_to_tightest() {
  emit workspace_.station_wanted(Station::slosh);
  if (const auto* v = workspace_.runs.verdict()) {
    workspace_.selection.pick_level(std::nullopt);
    workspace_.set_cursor_time(v->lap->lap->value.time[v->lap->clean.at.tightest]);
  }
}

QString VerdictStrip::start_text() const { return start_->large(); }
QString VerdictStrip::tightest_text() const { return tightest_->large(); }

void VerdictStrip::refresh() {
  const auto fill = [](QComboBox* box, const auto& list, int current) {
    QStringList names;
    for (const auto& item : list) names << QString::fromStdString(item.name);
    QStringList present;
    for (int i = 0; i < box->count(); ++i) present << box->itemText(i);
    if (present != names) {
      box->clear();
      box->addItems(names);
    }
    box->setCurrentIndex(current);
    box->setToolTip(box->currentText());
  };
  fill(setup_, workspace_.project().setups, workspace_.selection.setup_index());
  fill(session_, workspace_.project().sessions, workspace_.selection.session_index());
  show_next();
  tell_readiness();
  const bool stale = workspace_.runs.evaluator.stale();
  if (const auto* first = workspace_.runs.first())
    tell(figures_of(*first), stale);
  else if (const auto* v = workspace_.runs.verdict())
    tell(figures_of(*v), stale);
  else
    tell_why_not(stale);
}

void VerdictStrip::tell_readiness() {
  const auto* ready = workspace_.book.readiness();
  if (!ready) {
    car_->set_text("–", workspace_.book.trouble().isEmpty() ? "no circuit" : "book",
                   !workspace_.book.trouble().isEmpty(), false);
    return;
  }
  car_->set_text(ready->ready ? "ready" : "not ready",
                 ready->ready ? QString("all gates passed") : QString("%1 open").arg(ready->open.size()),
                 !ready->ready, false);
  QStringList open;
  for (size_t k = 0; k < std::min<size_t>(ready->open.size(), 12); ++k)
    open << QString::fromStdString(ready->open[k]);
  if (!open.isEmpty()) car_->setToolTip("Open:\n" + open.join("\n"));
}

void VerdictStrip::show_next() {
  const auto& project = workspace_.project();
  const bool setup = workspace_.setup(), lap = !project.laps.empty(), session = !project.sessions.empty();
  next_station_ = !setup ? Station::car : !lap ? Station::laps : Station::sessions;
  next_->setText(!setup ? "Next: add a setup" : !lap ? "Next: add a lap" : "Next: add a session");
  next_->setToolTip("What the first answer still needs; goes to where it is added");
  next_->setVisible(!setup || !lap || !session);
}

void VerdictStrip::tell_why_not(bool stale) {
  const QString fault = workspace_.runs.fault();
  // Nothing entered yet is no trouble; a lap that can not be read is.
  const bool trouble =
      !fault.isEmpty() && workspace_.selection.lap_reference() && workspace_.selection.session();
  const QString why = fault.isEmpty() ? QString("computing")
                      : trouble       ? QString("see the note below")
                                      : fault.section(':', 0, 0);
  for (auto* figure : {start_, tightest_, reserve_, rail_})
    figure->set_text("–", figure == start_ ? why : "", trouble && figure == start_, stale);
  start_->setToolTip(fault);
}

VerdictStrip::Figures VerdictStrip::figures_of(const solve::SessionResult& v) const {
  const auto& clean = v.lap->clean;
  const auto at = workspace_.runs.evaluator.result().at_back;
  // The lap at what is brought back is of the chosen session; of another its clean level's serves.
  const bool chosen = at && workspace_.runs.evaluator.result().lap == v.lap;
  Figures out{.risk = v.risk,
              .tightest_place = clean.at.tightest_place,
              .tightest_side = clean.at.tightest_side,
              .left = starvation::figures_of(chosen ? *at : clean.at, v.lap->course)};
  out.tank = v.lap->car->tank->volume();
  out.usable = v.lap->usable_volume;
  out.density = v.lap->car->fuel_density;
  out.hopeless = !v.possible();
  // What holds the start fuel up: the first thing that goes wrong just under the clean level.
  out.held_by_circuit = !clean.below.events.empty() && clean.below.events.front().side.empty();
  out.surge = v.lap->car->surge.has_value();
  out.by_circuit = v.lap->course.delivery->by_circuit;
  out.faults = v.lap->course.delivery->faults;
  return out;
}

VerdictStrip::Figures VerdictStrip::figures_of(const solve::FirstAnswer& first) const {
  return {.about = "≈ ",
          .risk = first.risk,
          .tightest_place = first.clean.at.tightest_place,
          .tightest_side = first.clean.at.tightest_side,
          .left = first.clean.beside,
          .tank = first.tank_volume,
          .usable = first.usable_volume,
          .density = first.density,
          .hopeless = !first.clean.exists,
          .held_by_circuit = first.clean.at.by_circuit,
          .surge = first.surge,
          .by_circuit = first.by_circuit};
}

void VerdictStrip::tell(const Figures& f, bool stale) {
  const double start = session::rounded_up(f.risk.start, workspace_.units());
  const auto* setup = workspace_.setup();
  // Room for "calibrated on 34 laps"; what resolved runs taught is said without them.
  const std::string learnt = setup && setup->calibration && setup->calibration->laps == 0
                                 ? "calibrated"
                                 : starvation::calibrated_words(setup ? setup->calibration : std::nullopt);
  start_->set_caption("least start" + (learnt.empty() ? QString() : ", " + QString::fromStdString(learnt)));
  start_->set_text(
      f.hopeless ? QString("none") : f.about + workspace_.show(start, Quantity::volume),
      f.hopeless    ? "starves even when full"
      : f.risk.fits ? workspace_.show(start * f.density, Quantity::mass) + " · " +
                          workspace_.show(start / f.tank, Quantity::fraction, 0) + " · risk " +
                          workspace_.show(f.risk.risk, Quantity::fraction, 1)
                    : QString("more than may be filled, %1").arg(workspace_.show(f.usable, Quantity::volume)),
      f.hopeless || !f.risk.fits, stale);
  const QString side = QString::fromStdString(f.tightest_side);
  tightest_->set_text(f.about + QString::fromStdString(f.tightest_place),
                      f.hopeless && f.held_by_circuit ? "the circuit holds it back"
                      : side.isEmpty()                ? "pickups covered"
                                                      : side + " not covered",
                      f.hopeless, stale);
  const bool drawn = std::isfinite(f.left.least_seconds);
  reserve_->set_text(drawn ? workspace_.show(f.left.least_seconds, Quantity::duration) : "full",
                     workspace_.show(f.left.least_reserve, Quantity::volume, 2) + " least in " +
                         (f.surge ? "surge tank" : "line, filter"),
                     f.hopeless, stale);
  if (!f.faults.empty()) {
    const circuit::LapFault& worst = f.faults.front();
    const bool lift = worst.kind == circuit::LapFaultKind::lift_short,
               open = worst.kind == circuit::LapFaultKind::injectors, lean = worst.leaner() > 0;
    rail_->set_text(lift   ? QString("drains")
                    : open ? workspace_.show(std::min(worst.open, 1.0), Quantity::fraction, 0)
                           : workspace_.show(worst.difference, Quantity::pressure),
                    lift   ? QString("the lift pumps bring too little")
                    : open ? QString("of the time injectors are open")
                    : lean ? QString("the circuit's own fault, %1 a lap").arg(worst.count)
                           : QString("too high by the circuit"),
                    worst.severity == Severity::error, stale);
    QStringList all;
    for (const auto& fault : f.faults) all << QString::fromStdString(fault.text.in(workspace_.units()));
    rail_->setToolTip("Whatever is in the tank:\n" + all.join("\n"));
    rail_->setAccessibleDescription(all.join(" "));
    return;
  }
  rail_->set_text(
      std::isfinite(f.left.least_margin) ? workspace_.show(f.left.least_margin, Quantity::pressure) : "–",
      !f.by_circuit ? "no circuit: taken as held"
      : f.left.least_margin < 0 && f.left.clean
          ? "under the lean limit for " + workspace_.show(f.left.lean_time, Quantity::duration, 2)
          : "over the lean limit, least",
      !f.left.clean && f.left.least_margin < 0, stale);
}

}  // namespace uadze::gui
