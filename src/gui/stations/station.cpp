#include "gui/stations/station.h"

#include <QScrollArea>
#include <QSplitter>
#include <QVBoxLayout>

namespace uadze::gui {

SidePanel::SidePanel(QWidget* editors, QWidget* working, int upper, QWidget* parent) : QWidget(parent) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(8, 8, 8, 4);
  if (!editors) {
    layout->addWidget(working);
    return;
  }
  auto* area = new QScrollArea;
  area->setWidgetResizable(true);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  area->setWidget(editors);
  editors->setMinimumWidth(100);
  auto* split = new QSplitter(Qt::Vertical);
  split->addWidget(area);
  split->addWidget(working);
  split->setStretchFactor(0, upper);
  split->setStretchFactor(1, 100 - upper);
  split->setChildrenCollapsible(false);
  split->setSizes({6 * upper, 600 - 6 * upper});
  layout->addWidget(split);
}

}  // namespace uadze::gui
