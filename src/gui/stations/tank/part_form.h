#pragma once
// The form of one part of the tank: every value an edit that can be undone.
#include "gui/stations/tank/tank_part.h"
#include "gui/widgets/edit_form.h"

namespace uadze::gui {

/// A form for the part, or for the whole tank if there is none.
EditForm* make_part_form(Workspace& workspace, const std::optional<PartRef>& part);

}  // namespace uadze::gui
