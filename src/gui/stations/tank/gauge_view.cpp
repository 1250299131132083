#include "gui/stations/tank/gauge_view.h"

#include <qcustomplot.h>

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

#include "gui/widgets/edit_table.h"

namespace uadze::gui {

using project::Project;

namespace {

EditTable* make_filled_table(Workspace& w) {
  const auto steps_of = [&w](Project& p) -> std::vector<tank::FilledStep>& {
    return p.setups.at(static_cast<size_t>(w.selection.setup_index())).tank.filled;
  };
  const auto optional = [&w, steps_of](const QString& title, Quantity quantity,
                                       std::optional<double> tank::FilledStep::*what) {
    return EditColumn{title, quantity, false,
                      [&w, steps_of, quantity, what](const Project& p, int r) {
                        const auto& v = steps_of(const_cast<Project&>(p)).at(static_cast<size_t>(r)).*what;
                        return v ? QString::fromStdString(format_figure(*v, quantity, w.units())) : QString();
                      },
                      [&w, steps_of, quantity, what](Project& p, int r, const QString& text) {
                        auto& v = steps_of(p).at(static_cast<size_t>(r)).*what;
                        if (text.trimmed().isEmpty())
                          v.reset();
                        else
                          v = typed_quantity(text, quantity, w.units());
                      }};
  };
  return new EditTable(w, "Filled in steps",
                       {quantity_column(w, "filled in steps: in the tank", Quantity::volume,
                                        [steps_of](Project& p, int r) -> double& {
                                          return steps_of(p).at(static_cast<size_t>(r)).volume;
                                        }),
                        optional("dip", Quantity::length, &tank::FilledStep::dip),
                        optional("gauge", Quantity::fraction, &tank::FilledStep::gauge)},
                       {[&w](const Project& p) {
                          const int i = w.selection.setup_index();
                          return i < 0 || i >= static_cast<int>(p.setups.size())
                                     ? 0
                                     : static_cast<int>(p.setups[static_cast<size_t>(i)].tank.filled.size());
                        },
                        [&w, steps_of](Project& p) {
                          if (w.selection.setup_index() < 0) throw std::runtime_error("choose a setup first");
                          auto& all = steps_of(p);
                          all.push_back({.volume = (all.empty() ? 0.0 : all.back().volume) + 5e-3});
                        },
                        [steps_of](Project& p, int r) { steps_of(p).erase(steps_of(p).begin() + r); },
                        "What the tank itself says, filled from empty by a known amount at a time: dip, "
                        "gauge or both. It stands "
                        "above the geometry."});
}

}  // namespace

GaugeView::GaugeView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), plot_(new QCustomPlot), says_(new QLabel) {
  auto* row = new QHBoxLayout;
  row->setContentsMargins(8, 4, 8, 0);
  const auto field = [&](const QString& label, const QString& tip) {
    row->addWidget(new QLabel(label));
    auto* edit = new QLineEdit;
    edit->setFont(figure_font());
    edit->setMaximumWidth(84);
    edit->setAccessibleName(label);
    edit->setObjectName(label);
    edit->setToolTip(tip);
    row->addWidget(edit);
    return edit;
  };
  x_ = field("Stick at x", "Where the dip stick goes in, forward of the origin");
  y_ = field("y", "Where the dip stick goes in, to the left of the origin");
  pitch_ = field("Nose up", "How the car stands when it is dipped");
  roll_ = field("Left side up", "How the car stands when it is dipped");
  row->addStretch();
  for (QLineEdit* edit : {x_, y_, pitch_, roll_})
    connect(edit, &QLineEdit::editingFinished, this, [this, edit] {
      if (!edit->isModified()) return;
      edit->setModified(false);
      try {
        const bool length = edit == x_ || edit == y_;
        const double value =
            typed_quantity(edit->text(), length ? Quantity::length : Quantity::angle, workspace_.units());
        if (length && told_) {
          if (!place_) place_ = told_->place;
          (*place_)[edit == x_ ? 0 : 1] = value;
        }
        if (!length) (edit == pitch_ ? rake_.pitch : rake_.roll) = std::clamp(value, -0.7, 0.7);
      } catch (const std::exception& error) {
        emit workspace_.document.refused(QString("Dip stick: ") + error.what());
      }
      refresh();
    });
  says_->setWordWrap(true);
  says_->setContentsMargins(12, 4, 12, 6);
  says_->setObjectName("what the gauge hides");
  plot_->setMinimumHeight(240);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addLayout(row);
  layout->addWidget(plot_, 1);
  layout->addWidget(says_);
  auto* filled = make_filled_table(workspace_);
  filled->set_visible_rows(3);
  filled->setToolTip(
      "What stick and gauge of the tank itself said as it was filled: it stands above geometry");
  layout->addWidget(filled);
  for (auto signal : {&Workspace::changed, &Workspace::appearance_changed, &Workspace::level_changed})
    connect(&workspace_, signal, this, [this] {
      if (isVisible()) refresh();
    });
}

void GaugeView::refresh() {
  const auto car = workspace_.runs.car();
  if (!car || !workspace_.setup()) return;
  const Asked now{car->tank, workspace_.setup()->tank, place_, rake_};
  if (told_ && asked_ == now) return tell();
  asked_ = now;
  work_.start(
      this,
      [now](Progress&) {
        Told out;
        out.place = now.place.value_or(tank::deepest_place(*now.tank));
        out.on_tank = tank::floor_under(*now.tank, out.place).has_value();
        out.table = gauge_table(now.parts, *now.tank, out.place, now.rake, 80);
        return out;
      },
      [this](Told told) {
        told_ = std::move(told);
        tell();
      },
      [this](const QString& why) { says_->setText("▲ " + why); });
}

void GaugeView::tell() {
  x_->setText(workspace_.show(told_->place.x(), Quantity::length));
  y_->setText(workspace_.show(told_->place.y(), Quantity::length));
  pitch_->setText(workspace_.show(rake_.pitch, Quantity::angle));
  roll_->setText(workspace_.show(rake_.roll, Quantity::angle));
  const auto& parts = asked_.parts;
  const tank::GaugeTable& table = told_->table;
  draw(table);
  QString text;
  if (!told_->on_tank)
    text += "▲ There is no tank under the stick at this place.<br>";
  else if (table.unreached > 0.05e-3)
    text +=
        QString(
            "▲ Under this place the floor is not the deepest: with less than %1 the stick comes up dry.<br>")
            .arg(workspace_.show(table.unreached, Quantity::volume, 2));
  for (const auto& h : table.hidden) {
    text += QString("<b>%1</b> begins to be bare at rest with %2 in the tank")
                .arg(QString::fromStdString(h.pickup), workspace_.show(h.volume, Quantity::volume, 2));
    text += parts.sender ? QString(": the gauge reads %1, as if %2.<br>")
                               .arg(workspace_.show(h.reading, Quantity::fraction, 0),
                                    workspace_.show(h.believed, Quantity::volume, 2))
                         : QString(".<br>");
  }
  if (!parts.sender) text += "No level sender: add one at the Tank tab to see what its gauge says.";
  says_->setText(text);
}

void GaugeView::draw(const tank::GaugeTable& table) {
  const Theme& t = workspace_.theme();
  plot_->clearItems();
  plot_->clearPlottables();
  plot_->setBackground(t.paper);
  const Unit volume = shown_unit(Quantity::volume, workspace_.units()),
             length = shown_unit(Quantity::length, workspace_.units());
  const auto named = [](const Unit& u) {
    return QString::fromUtf8(u.name.data(), static_cast<int>(u.name.size()));
  };
  QVector<double> v, dip, reading;
  for (const auto& row : table.rows) {
    v.push_back(volume.from_si(row.volume));
    dip.push_back(row.dip ? length.from_si(*row.dip) : 0.0);
    reading.push_back(row.reading * 100);
  }
  const bool sender = asked_.parts.sender.has_value();
  for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis, plot_->yAxis2}) {
    axis->setBasePen(QPen(t.rule));
    axis->setTickPen(QPen(t.rule));
    axis->setSubTickPen(Qt::NoPen);
    axis->setTickLabelColor(t.faint);
    axis->setLabelColor(t.ink);
    axis->setTickLabelFont(figure_font(0.85));
    axis->setLabelFont(text_font(0.95));
    axis->grid()->setPen(QPen(t.rule, 1, Qt::DotLine));
    axis->grid()->setZeroLinePen(QPen(t.rule));
  }
  plot_->xAxis->setLabel(QString("fuel in the tank [%1]").arg(named(volume)));
  plot_->yAxis->setLabel(QString("dip, solid line [%1]").arg(named(length)));
  plot_->yAxis2->setLabel("gauge, dashed line [%]");
  plot_->yAxis2->setVisible(sender);
  auto* stick = plot_->addGraph(plot_->xAxis, plot_->yAxis);
  stick->setData(v, dip, true);
  stick->setPen(QPen(t.covered, 2));
  if (sender) {
    auto* gauge = plot_->addGraph(plot_->xAxis, plot_->yAxis2);
    gauge->setData(v, reading, true);
    gauge->setPen(QPen(t.trouble, 1.8, Qt::DashLine));
  }
  plot_->xAxis->setRange(0, v.back());
  plot_->yAxis->setRange(0, std::max(1.0, *std::max_element(dip.begin(), dip.end()) * 1.05));
  plot_->yAxis2->setRange(0, 105);
  const auto mark = [&](double at, const QString& text, const QPen& pen, double height) {
    auto* line = new QCPItemLine(plot_);
    line->start->setTypeY(QCPItemPosition::ptAxisRectRatio),
        line->end->setTypeY(QCPItemPosition::ptAxisRectRatio);
    line->start->setCoords(at, 0), line->end->setCoords(at, 1);
    line->setPen(pen);
    auto* label = new QCPItemText(plot_);
    label->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
    label->position->setCoords(at, height);
    label->setPositionAlignment((at < v.back() * 0.7 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    label->setText(" " + text + " ");
    label->setFont(text_font(0.9));
    label->setColor(t.ink);
  };
  double height = 0.06;
  for (const auto& h : table.hidden) {
    mark(volume.from_si(h.volume), QString::fromStdString(h.pickup) + " bare below",
         QPen(t.trouble, 1, Qt::DotLine), height);
    height += 0.07;
  }
  // Both curves rise from the lower left to the upper right: its words stand where they are not.
  const double level = volume.from_si(workspace_.runs.level());
  mark(level, "level shown", QPen(t.ink, 1, Qt::DashLine), level < v.back() / 2 ? height : 0.93);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace uadze::gui
