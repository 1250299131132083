#pragma once
// Names and marks of the tank's parts over its picture: pickups by how far they are covered, openings with
// their flow, doors open or shut, vent, returns, sender, dimensions of what is chosen.
#include <QPainter>
#include <functional>

#include "gui/document/workspace.h"
#include "gui/stations/tank/tank_part.h"

namespace uadze::gui {

struct MarksLook {
  std::function<QPointF(const Vec3&)> on_screen;
  Vec3 eye = Vec3::UnitX();
  QSize size;
  std::optional<PartRef> chosen;
  const FuelMoment* fuel = nullptr;
};

void paint_marks(QPainter& p, Workspace& workspace, const MarksLook& look);

/// Worst message of a part or what is below it; nothing if there is none.
std::optional<Message> message_of(const Messages& messages, const QString& place);

}  // namespace uadze::gui
