#pragma once
// Editing sessions: a table of what is driven, and a form of the chosen one's scatter, risk and conditions.
#include "gui/widgets/edit_form.h"
#include "gui/widgets/edit_table.h"

namespace uadze::gui {

EditTable* make_session_table(Workspace& workspace);
/// What was put in, drained and counted after sessions.
EditTable* make_record_table(Workspace& workspace);
EditForm* make_session_form(Workspace& workspace);

}  // namespace uadze::gui
