#include "gui/widgets/quantity_plot.h"

#include <QFileDialog>
#include <QMenu>
#include <cmath>

namespace uadze::gui {

QCustomPlot* make_plot(const QString& name) {
  auto* plot = new QCustomPlot;
  plot->setAccessibleName(name);
  plot->setObjectName(name);
  plot->setMinimumHeight(80);
  // Nothing but the paper behind it until there is something to show.
  plot->setBackground(QBrush(Qt::NoBrush));
  for (QCPAxis* axis : {plot->xAxis, plot->yAxis}) axis->setVisible(false);
  plot->setContextMenuPolicy(Qt::CustomContextMenu);
  QObject::connect(plot, &QWidget::customContextMenuRequested, plot, [plot, name](const QPoint& at) {
    QMenu menu;
    menu.addAction("Save as PNG…", plot, [plot, name] {
      const QString file =
          QFileDialog::getSaveFileName(plot, "Save the picture", name + ".png", "PNG (*.png)");
      if (!file.isEmpty()) plot->savePng(file, 0, 0, 2.0);
    });
    menu.exec(plot->mapToGlobal(at));
  });
  return plot;
}

void style_plot(QCustomPlot* plot, const Theme& t, const QString& x, const QString& y) {
  plot->clearPlottables();
  plot->clearItems();
  plot->setBackground(t.paper);
  plot->xAxis->setLabel(x);
  plot->yAxis->setLabel(y);
  for (QCPAxis* axis : {plot->xAxis, plot->yAxis}) {
    axis->setVisible(true);
    axis->setBasePen(QPen(t.faint));
    axis->setTickPen(QPen(t.faint));
    axis->setSubTickPen(Qt::NoPen);
    axis->setTickLabelColor(t.ink);
    axis->setLabelColor(t.ink);
    axis->setTickLabelFont(figure_font(0.82));
    axis->setLabelFont(text_font(0.85));
    axis->grid()->setPen(QPen(t.rule, 1, Qt::DotLine));
    axis->grid()->setZeroLinePen(Qt::NoPen);
  }
  plot->legend->setVisible(true);
  plot->legend->setFont(text_font(0.82));
  plot->legend->setTextColor(t.ink);
  plot->legend->setBrush(t.paper);
  plot->legend->setBorderPen(QPen(t.rule));
  plot->legend->setRowSpacing(-3);
  // Beside the curves, so that it never covers them.
  if (plot->plotLayout()->columnCount() < 2) {
    auto* column = new QCPLayoutGrid;
    plot->plotLayout()->addElement(0, 1, column);
    column->addElement(0, 0, plot->legend);
    column->addElement(1, 0, new QCPLayoutElement(plot));
    column->setRowStretchFactor(0, 0.001);
    column->setMargins(QMargins(0, 8, 8, 8));
    plot->plotLayout()->setColumnStretchFactor(1, 0.001);
  }
}

void show_curves(QCustomPlot* plot, const Workspace& workspace, const QString& x_title, Quantity x,
                 const QString& y_title, Quantity y, const std::vector<Curve>& curves,
                 const std::optional<CurvePlace>& place) {
  const Theme& t = workspace.theme();
  const Unit across = shown_unit(x, workspace.units()), up = shown_unit(y, workspace.units());
  const auto titled = [](const QString& text, const Unit& unit) {
    const QString name = QString::fromUtf8(unit.name.data(), static_cast<int>(unit.name.size()));
    return name.isEmpty() ? text : QString("%1 [%2]").arg(text, name);
  };
  style_plot(plot, t, titled(x_title, across), titled(y_title, up));
  for (const Curve& c : curves) {
    QVector<double> xs, ys;
    for (size_t i = 0; i < c.x.size(); ++i)
      if (std::isfinite(c.x[i]) && std::isfinite(c.y[i]))
        xs << across.from_si(c.x[i]), ys << up.from_si(c.y[i]);
    QCPGraph* graph = plot->addGraph();
    graph->setData(xs, ys);
    graph->setName(c.title);
    graph->setPen(QPen(c.second ? t.dry : t.covered, 2, c.style));
    graph->setScatterStyle(
        QCPScatterStyle(c.second ? QCPScatterStyle::ssSquare : QCPScatterStyle::ssDisc, 6));
  }
  plot->rescaleAxes();
  plot->yAxis->setRangeLower(0);
  if (place && std::isfinite(place->x) && std::isfinite(place->y)) {
    QCPGraph* graph = plot->addGraph();
    graph->setData(QVector<double>{across.from_si(place->x)}, QVector<double>{up.from_si(place->y)});
    graph->setName(place->title);
    graph->setPen(QPen(t.trouble, 2));
    graph->setLineStyle(QCPGraph::lsNone);
    graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDiamond, 11));
    plot->xAxis->setRangeUpper(std::max(plot->xAxis->range().upper, across.from_si(place->x)));
    plot->yAxis->setRangeUpper(std::max(plot->yAxis->range().upper, up.from_si(place->y)));
  }
  plot->xAxis->scaleRange(1.06);
  plot->yAxis->setRangeUpper(plot->yAxis->range().upper * 1.08);
  plot->legend->setVisible(plot->plottableCount() > 0);
  plot->replot();
}

}  // namespace uadze::gui
