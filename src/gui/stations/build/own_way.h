#pragma once
// The team's own way of building: steps of its own among those that follow from the circuit, what lines must
// clear, colours and terminals of its wires.
#include <QWidget>

#include "gui/document/workspace.h"

namespace uadze::gui {

QWidget* make_own_way(Workspace& workspace);

}  // namespace uadze::gui
