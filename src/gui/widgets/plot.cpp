#include "gui/widgets/plot.h"

#include "gui/widgets/lap_picture.h"

#include <QFileDialog>
#include <QMenu>
#include <algorithm>

namespace uadze::gui {
namespace {

constexpr const char* at_cursor = "at the cursor";

}  // namespace

LapPlot::LapPlot(Workspace& workspace, QWidget* parent) : QCustomPlot(parent), workspace_(workspace) {
  // Its panes share what height there is: they ask for none that would push the window past its screen.
  setMinimumHeight(160);
  setFocusPolicy(Qt::StrongFocus);
  setInteractions(QCP::iRangeZoom);
  setPlottingHint(QCP::phFastPolylines);
  connect(&workspace_, &Workspace::cursor_moved, this, [this] {
    if (!isVisible()) return;  // a page behind another: it has no size to draw on
    move_cursor();
    layer(at_cursor)->replot();
  });
  addLayer(at_cursor);
  // Drawn by itself: a moving cursor does not draw the traces anew.
  layer(at_cursor)->setMode(QCPLayer::lmBuffered);
  connect(&workspace_, &Workspace::appearance_changed, this, &LapPlot::build);
}

void LapPlot::showEvent(QShowEvent* event) {
  QCustomPlot::showEvent(event);
  move_cursor();
  replot(QCustomPlot::rpQueuedReplot);
}

void LapPlot::show_panes(const std::vector<double>& distance, std::vector<Pane> panes) {
  distance_ = distance;
  panes_ = std::move(panes);
  build();
}

void LapPlot::build() {
  const Theme& theme = workspace_.theme();
  const UnitSystem& units = workspace_.units();
  clearItems();
  clearPlottables();
  plotLayout()->clear();
  cursors_.clear();
  readings_.clear();
  setBackground(theme.paper);
  auto* group = new QCPMarginGroup(this);
  const Unit length = shown_unit(Quantity::distance, units);
  QVector<double> x;
  for (double d : distance_) x.push_back(length.from_si(d));
  const QList<QColor> inks{theme.covered, theme.trouble, theme.faint};
  for (size_t p = 0; p < panes_.size(); ++p) {
    auto* rect = new QCPAxisRect(this);
    plotLayout()->addElement(static_cast<int>(p), 0, rect);
    rect->setMarginGroup(QCP::msLeft | QCP::msRight, group);
    rect->setMinimumMargins(QMargins(8, 19, 12, 2));
    const bool last = p + 1 == panes_.size();
    QCPAxis *bottom = rect->axis(QCPAxis::atBottom), *left = rect->axis(QCPAxis::atLeft);
    for (QCPAxis* axis : {bottom, left}) {
      axis->setBasePen(QPen(theme.rule));
      axis->setTickPen(QPen(theme.rule));
      axis->setSubTickPen(Qt::NoPen);
      axis->setTickLabelColor(theme.faint);
      axis->setLabelColor(theme.ink);
      axis->setTickLabelFont(figure_font(0.85));
      axis->setLabelFont(text_font(0.9));
      axis->grid()->setPen(QPen(theme.rule, 1, Qt::DotLine));
      axis->grid()->setZeroLinePen(QPen(theme.faint));
    }
    bottom->setTickLabels(last);
    if (last)
      bottom->setLabel(QString("distance [%1]")
                           .arg(QString::fromUtf8(length.name.data(), static_cast<int>(length.name.size()))));
    left->ticker()->setTickCount(3);
    left->ticker()->setTickStepStrategy(QCPAxisTicker::tssMeetTickCount);
    double low = 1e300, high = -1e300;
    const auto& traces = panes_[p].traces;
    for (size_t t = 0; t < traces.size(); ++t) {
      const Trace& trace = traces[t];
      const Unit unit = shown_unit(trace.quantity, units);
      QVector<double> y;
      for (double v : trace.values) y.push_back(unit.from_si(v));
      if (y.isEmpty()) continue;
      const auto [a, b] = std::minmax_element(y.begin(), y.end());
      low = std::min(low, *a), high = std::max(high, *b);
      auto* graph = addGraph(bottom, left);
      graph->setData(x.mid(0, y.size()), y, true);
      graph->setPen(QPen(inks[static_cast<int>(t) % inks.size()], trace.style == Qt::SolidLine ? 1.4 : 1.0,
                         trace.style));
      if (t == 0 && !unit.name.empty())
        left->setLabel(
            QString("[%1]").arg(QString::fromUtf8(unit.name.data(), static_cast<int>(unit.name.size()))));
      // The title and the value at the cursor stand above the pane, each behind a piece of its line.
      auto* reading = new QCPItemText(this);
      reading->setClipToAxisRect(false);
      reading->setLayer(at_cursor);
      reading->position->setType(QCPItemPosition::ptAxisRectRatio);
      reading->position->setAxisRect(rect);
      reading->setPositionAlignment(Qt::AlignBottom | Qt::AlignLeft);
      reading->position->setCoords(0.36 * static_cast<double>(t), -0.01);
      reading->setFont(text_font(0.9));
      reading->setColor(inks[static_cast<int>(t) % inks.size()]);
      readings_.emplace_back(reading, p * 16 + t);
    }
    if (!x.isEmpty()) bottom->setRange(x.front(), x.back());
    if (low <= high) {
      if (panes_[p].from_zero) low = std::min(low, 0.0);
      const double room = std::max(0.06 * (high - low), 1e-6);
      left->setRange(low - (panes_[p].from_zero ? 0 : room), high + room);
    }
    rect->setRangeZoom(Qt::Horizontal);
    connect(
        bottom, qOverload<const QCPRange&>(&QCPAxis::rangeChanged), this,
        [this, bottom](const QCPRange& range) {
          for (auto* other : axisRects())
            if (other->axis(QCPAxis::atBottom) != bottom && other->axis(QCPAxis::atBottom)->range() != range)
              other->axis(QCPAxis::atBottom)->setRange(range);
        });
    auto* line = new QCPItemLine(this);
    line->setClipAxisRect(rect);
    line->setLayer(at_cursor);
    line->start->setAxes(bottom, left), line->end->setAxes(bottom, left);
    line->start->setTypeY(QCPItemPosition::ptAxisRectRatio),
        line->end->setTypeY(QCPItemPosition::ptAxisRectRatio);
    line->start->setAxisRect(rect), line->end->setAxisRect(rect);
    line->setPen(QPen(theme.ink, 1));
    cursors_.push_back(line);
  }
  move_cursor();
  if (isVisible()) replot(QCustomPlot::rpQueuedReplot);
}

void LapPlot::move_cursor() {
  if (distance_.empty()) return;
  const size_t i = std::min(workspace_.selection.cursor(), distance_.size() - 1);
  const double x = shown_unit(Quantity::distance, workspace_.units()).from_si(distance_[i]);
  for (auto* line : cursors_) {
    line->start->setCoords(x, 0);
    line->end->setCoords(x, 1);
  }
  for (const auto& [item, index] : readings_) {
    const Trace& trace = panes_[index / 16].traces[index % 16];
    const char* line = trace.style == Qt::SolidLine ? "── " : trace.style == Qt::DashLine ? "╌╌ " : "··· ";
    if (i < trace.values.size())
      item->setText(
          line + trace.title + "  " +
          QString::fromStdString(format_working(trace.values[i], trace.quantity, workspace_.units())));
  }
}

void LapPlot::seek(double pixel) {
  if (axisRectCount() == 0) return;
  workspace_.set_cursor_distance(shown_unit(Quantity::distance, workspace_.units())
                                     .to_si(axisRect(0)->axis(QCPAxis::atBottom)->pixelToCoord(pixel)));
}

void LapPlot::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton) seek(event->position().x());
  QCustomPlot::mousePressEvent(event);
}

void LapPlot::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) seek(event->position().x());
  QCustomPlot::mouseMoveEvent(event);
}

void LapPlot::keyPressEvent(QKeyEvent* event) {
  if (!move_cursor_by_key(workspace_, event->key(), event->modifiers())) QCustomPlot::keyPressEvent(event);
}

void LapPlot::contextMenuEvent(QContextMenuEvent* event) {
  QMenu menu(this);
  menu.addAction("Whole lap", this, &LapPlot::build);
  menu.addAction("Save picture…", this, [this] {
    const QString file =
        QFileDialog::getSaveFileName(this, "Save picture", "traces.pdf", "PDF (*.pdf);;PNG (*.png)");
    if (file.endsWith(".png"))
      savePng(file, 0, 0, 2);
    else if (!file.isEmpty())
      savePdf(file);
  });
  menu.exec(event->globalPos());
}

}  // namespace uadze::gui
