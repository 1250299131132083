#pragma once
// The form of what is chosen in the circuit: a part, a leg, the rail, or the circuit as a whole.
#include "gui/stations/circuit/circuit_view.h"
#include "gui/widgets/edit_form.h"

namespace uadze::gui {

EditForm* make_circuit_form(Workspace& workspace, const std::optional<CircuitChoice>& choice);

/// The setup's circuit in whatever project; nothing if there is none.
circuit::Circuit* circuit_in(project::Project& project, int setup);

/// A plain circuit of shipped parts for a setup that has none.
circuit::Circuit plain_circuit(const project::Setup& setup);

/// Adds the legs that a surge tank or a teed return now asks for, where there are none.
void complete_circuit(project::Setup& setup);

}  // namespace uadze::gui
