#pragma once
// What the descriptions of fields say of the files: JSON Schemas, and the tables of docs/file-formats.md.
//
// Example:
//   using namespace uadze;
//   const project::Json schema = project::json_schema(project::FileKind::project);
//   const project::Json& fuel = schema["properties"]["setups"]["items"]["properties"]["fuel"];
//   EXPECT_EQ(fuel["properties"]["ethanol_percent"]["maximum"], 100);
//   EXPECT_NE(project::field_tables(project::FileKind::car).find("| `mass_kg` |"), std::string::npos);
#include "core/project/json_reader.h"

namespace uadze::project {

enum class FileKind { project, catalogue, track, car, log_mapping, can_signals };
constexpr const char* name_of(FileKind kind) {
  switch (kind) {
    case FileKind::project:
      return "project";
    case FileKind::catalogue:
      return "catalogue";
    case FileKind::track:
      return "track";
    case FileKind::car:
      return "car";
    case FileKind::log_mapping:
      return "log_mapping";
    case FileKind::can_signals:
      return "can_signals";
  }
  return nullptr;
}

/// Draft 7.
Json json_schema(FileKind kind);

/// Markdown: a table for each object, in the order of the file.
std::string field_tables(FileKind kind);

}  // namespace uadze::project
