#pragma once
// Plots of quantities against quantities in the user's units and the theme's colours; curves told apart by
// their stroke. The right button saves them.
#include <qcustomplot.h>

#include <optional>

#include "gui/document/workspace.h"

namespace uadze::gui {

QCustomPlot* make_plot(const QString& name);
/// Empties the plot; the legend stands beside the curves, so that it never covers them.
void style_plot(QCustomPlot* plot, const Theme& theme, const QString& x, const QString& y);

struct Curve {
  QString title;
  std::vector<double> x, y;  ///< SI; points that are not finite are left out
  Qt::PenStyle style = Qt::SolidLine;
  bool second = false;  ///< in the second colour too
};

struct CurvePlace {
  double x = 0.0, y = 0.0;  ///< SI
  QString title;
};

/// `place`: one place marked with a word.
void show_curves(QCustomPlot* plot, const Workspace& workspace, const QString& x_title, Quantity x,
                 const QString& y_title, Quantity y, const std::vector<Curve>& curves,
                 const std::optional<CurvePlace>& place = {});

}  // namespace uadze::gui
