#pragma once
// The circuit's part of the project file, and a setup's circuit as a case to run.
//
//   circuit::Circuit c = read_circuit(setup.object("circuit"));
//   json["circuit"] = circuit_json(c);
#include "core/circuit/circuit.h"
#include "core/project/json_reader.h"

namespace uadze::project {

circuit::Circuit read_circuit(JsonReader in);
Json circuit_json(const circuit::Circuit& circuit);

}  // namespace uadze::project
