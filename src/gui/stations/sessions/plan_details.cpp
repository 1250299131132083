#include "gui/stations/sessions/plan_details.h"
#include "gui/widgets/filling.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QTableWidget>
#include <QVBoxLayout>
#include <optional>

namespace uadze::gui {

/// Shares of the margin, longest first.
class PlanDetails::Bars : public QWidget {
 public:
  explicit Bars(Workspace& w) : w_(w) {
    setMinimumHeight(120);
    setAccessibleName("Shares of the margin by cause");
    setObjectName("margin causes");
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = w_.theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), t.paper);
    const auto* v = w_.runs.verdict();
    if (!v) return;
    p.setPen(t.ink);
    p.setFont(text_font(0.95, true));
    if (!v->possible()) {
      p.drawText(QRectF(0, 0, width(), 38), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                 "No margin: no fuel is enough.");
      return;
    }
    p.drawText(
        QRectF(0, 0, width(), 38), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
        QString("Margin of %1 at a risk of %2, by cause")
            .arg(w_.show(v->risk.margin, Quantity::volume), w_.show(v->risk.risk, Quantity::fraction, 1)));
    double y = 42;
    const double words = std::min(width() * 0.5, 150.0), room = width() - words - 56;
    for (const auto& cause : v->risk.causes) {
      p.setFont(text_font(0.9));
      p.setPen(t.ink);
      p.drawText(QRectF(0, y, words, 18), Qt::AlignLeft | Qt::AlignVCenter,
                 QString::fromStdString(cause.name));
      const QRectF bar(words, y + 4, std::max(room * std::clamp(cause.share, 0.0, 1.0), 1.0), 10);
      p.setPen(QPen(t.ink, 0.6));
      p.setBrush(t.covered);
      p.drawRect(bar);
      p.setFont(figure_font(0.9));
      p.setPen(t.ink);
      p.drawText(QRectF(bar.right() + 6, y, 52, 18), Qt::AlignLeft | Qt::AlignVCenter,
                 w_.show(std::max(cause.share, 0.0), Quantity::fraction, 0));
      y += 20;
    }
    p.setFont(text_font(0.85));
    p.setPen(t.faint);
    p.drawText(QRectF(0, y + 2, width(), 34), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
               v->risk.with_band ? QString("The model's own band is in it%1.")
                                       .arg(v->lap->car->calibration
                                                ? ", " + QString::fromStdString(starvation::calibrated_words(
                                                             v->lap->car->calibration))
                                                : QString())
                                 : QString("Without the model's own band: it is still being computed."));
  }

 private:
  Workspace& w_;
};

PlanDetails::PlanDetails(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      stints_(new QTableWidget),
      fill_(new QTableWidget),
      rule_(new QLabel),
      bars_(new Bars(workspace)) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 6, 0, 0);
  row->setSpacing(16);
  auto* left = new QVBoxLayout;
  const auto prepare = [](QTableWidget* t, const char* name, const QStringList& header) {
    t->setColumnCount(static_cast<int>(header.size()));
    t->setHorizontalHeaderLabels(header);
    t->setObjectName(name);
    t->setAccessibleName(name);
    t->verticalHeader()->hide();
    t->verticalHeader()->setDefaultSectionSize(22);
    t->setEditTriggers(QAbstractItemView::NoEditTriggers);
    t->setSelectionBehavior(QAbstractItemView::SelectRows);
    t->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  };
  prepare(stints_, "Stints", {"", "", "", "", "", "", ""});
  for (int c : {0, 1}) stints_->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
  prepare(fill_, "What to put in", {"", ""});
  left->addWidget(stints_, 3);
  rule_->setWordWrap(true);
  rule_->setObjectName("rule says");
  left->addWidget(rule_);
  row->addLayout(left, 9);
  row->addWidget(fill_, 4);
  row->addWidget(bars_, 5);
}

void PlanDetails::refresh() {
  const auto* v = workspace_.runs.verdict();
  const UnitSystem& units = workspace_.units();
  const auto figure = [&](double volume) {
    return QString::fromStdString(format_figure(volume, Quantity::volume, units));
  };
  const auto up = [&](double volume) { return figure(session::rounded_up(volume, units)); };
  // The unit stands in the header: in a cell it would cost the figure its last digits.
  const auto unit = shown_unit(Quantity::volume, units).name;
  const QString in_unit =
      QString("\n[%1]").arg(QString::fromUtf8(unit.data(), static_cast<int>(unit.size())));
  stints_->setHorizontalHeaderLabels({"Stint", "Laps", "Start with" + in_unit, "Put in" + in_unit,
                                      "Full: stop\nafter lap", "One more" + in_unit, "or risks"});
  fill_->setHorizontalHeaderLabels({"In the tank" + in_unit, "Put in" + in_unit});
  const auto put = [](QTableWidget* t, int r, int c, const QString& text) {
    auto* item = new QTableWidgetItem(text);
    item->setFont(figure_font());
    item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    t->setItem(r, c, item);
  };
  bars_->update();
  const bool possible = v && v->possible();
  stints_->setRowCount(possible ? static_cast<int>(v->stints.size()) : 0);
  fill_->setRowCount(possible ? 7 : 0);
  if (!v) {
    rule_->clear();
    return;
  }
  const Filling quiet_stints(stints_), quiet_fill(fill_);
  for (int r = 0; r < stints_->rowCount(); ++r) {
    const auto& s = v->stints[static_cast<size_t>(r)];
    put(stints_, r, 0, QString::number(r + 1));
    put(stints_, r, 1, QString::number(s.laps));
    put(stints_, r, 2, up(s.need));
    put(stints_, r, 3, up(s.add));
    put(stints_, r, 4, QString::number(s.latest_lap));
    put(stints_, r, 5, up(s.one_more));
    put(stints_, r, 6, workspace_.show(s.one_more_risk, Quantity::fraction, 0));
  }
  for (int r = 0; r < fill_->rowCount(); ++r) {
    const double in = v->risk.bring_back + (v->risk.start - v->risk.bring_back) * r / 7;
    put(fill_, r, 0, figure(in));
    put(fill_, r, 1, "+ " + up(std::max(v->risk.start - in, 0.0)));
  }
  const auto whole_up = [&](double volume) {
    return workspace_.show(session::rounded_up(volume, units), Quantity::volume);
  };
  QString text;
  if (v->rule) {
    const auto& k = *v->rule;
    const QString rule = workspace_.show(k.share, Quantity::fraction, 0);
    text = k.starves
               ? QString("▲ The rule of thumb, never under %1 of the tank, starves on this lap: first %2.")
                     .arg(rule, QString::fromStdString(lap::in_words(k.place)))
           : k.saved >= 0 ? QString(
                                "The rule of thumb, never under %1 of the tank, would start with %2: the "
                                "plan carries %3 less.")
                                .arg(rule, whole_up(k.start), workspace_.show(k.saved, Quantity::mass))
                          : QString(
                                "The rule of thumb, never under %1 of the tank, would start with %2: the "
                                "plan asks for %3 more, as the rule leaves no margin for this risk.")
                                .arg(rule, whole_up(k.start), workspace_.show(-k.saved, Quantity::mass));
  }
  if (!possible)
    text =
        "▲ No fuel is enough: it starves with a full tank too. The verdict and the Circuit and Slosh "
        "stations say why." +
        QString(text.isEmpty() ? "" : " ") + text;
  else if (!v->risk.fits)
    text += QString(text.isEmpty() ? "" : " ") +
            QString("▲ Only %1 may be filled: plan shorter stints.")
                .arg(workspace_.show(v->lap->usable_volume, Quantity::volume));
  rule_->setText(text);
}

}  // namespace uadze::gui
