#include "core/project/project_file.h"

#include <fmt/format.h>

#include "core/base/files.h"
#include "core/project/field_reader.h"
#include "core/project/field_writer.h"
#include "core/project/json_patch.h"

namespace uadze::project {
namespace {

namespace fs = std::filesystem;

constexpr int format_version = 1;
constexpr const char* project_version_key = "undertow_adze_project";

/// All of the project, every key written out, defaults too: two of these compared show what changed.
Json whole_json(const Project& project) {
  Json json{{project_version_key, format_version}};
  json.update(written(project));
  return json;
}

/// What reading the text gives; faults go to the messages.
Project read_values(const std::string& text, const std::string& file, Messages& messages) {
  const Json json = parse_json(text, file);
  FieldReader reader(JsonReader(json, file, messages));
  const int version = reader.in().whole(project_version_key, 1, 1000000, std::nullopt);
  if (version > format_version)
    reader.in().fail(project_version_key, fmt::format("version {} or older", format_version),
                     fmt::format("version {}: written by a newer Undertow Adze", version));
  Project project;
  describe(reader, project);
  reader.done();
  return project;
}

}  // namespace

Read<Project> parse_project(const std::string& text, const std::string& file) {
  Messages messages;
  Project project = read_values(text, file, messages);
  if (has_errors(messages)) throw InputError(std::move(messages));
  for (Message& m : check_values(project, file)) messages.push_back(std::move(m));
  if (has_errors(messages)) throw InputError(std::move(messages));
  return {std::move(project), std::move(messages)};
}

std::string project_text(const Project& project, const std::string& before) {
  if (before.empty()) return patched_text("", {}, whole_json(project));
  Messages ignored;
  return patched_text(before, whole_json(read_values(before, "", ignored)), whole_json(project));
}

ProjectFile save_project(const fs::path& path, const Project& project, const std::string& before) {
  std::string text = project_text(project, before);
  write_file_atomically(path, text);
  return {path, std::move(text)};
}

Project moved(Project project, const fs::path& from_folder, const fs::path& to_folder) {
  if (from_folder.empty()) return project;
  const fs::path from = fs::absolute(from_folder).lexically_normal(),
                 to = fs::absolute(to_folder).lexically_normal();
  if (from == to) return project;
  const auto move = [&](std::string& file) {
    if (!fs::path(file).is_absolute())
      file = (from / file).lexically_normal().lexically_relative(to).generic_string();
  };
  for (auto& l : project.laps) move(l.file);
  for (auto& file : project.catalogue_files) move(file);
  for (auto& s : project.setups) {
    for (auto& shape : s.tank.shapes)
      if (auto* mesh = std::get_if<tank::MeshShape>(&shape)) move(mesh->file);
    for (auto& body : s.tank.bodies)
      if (auto* mesh = std::get_if<tank::MeshShape>(&body.shape)) move(mesh->file);
  }
  return project;
}

}  // namespace uadze::project
