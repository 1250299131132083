#pragma once
// A small file of one described value, its kind and version in its first key.
//
// Example:
//   test::TempFolder folder;
//   const auto file = folder.write("m.json", R"({"undertow_adze_log_mapping": 1, "columns": [{"column": "FP", "channel": "rail_pressure"}]})");
//   const auto mapping = project::read_described<log::Mapping>(file, project::log_mapping_key, [](auto&&...) {});
//   EXPECT_EQ(mapping.value.columns[0].role, log::Role::rail_pressure);
#include "core/base/files.h"
#include "core/project/describe_log.h"
#include "core/project/field_reader.h"
#include "core/project/field_writer.h"

namespace uadze::project {

inline constexpr const char *track_key = "undertow_adze_track", *car_key = "undertow_adze_car",
                            *log_mapping_key = "undertow_adze_log_mapping",
                            *can_signals_key = "undertow_adze_can_signals";

/// `check(value, file, messages)` after all fields were read without a fault. Throws InputError naming file
/// and place.
template <class T, class Check>
Read<T> parse_described(std::string_view text, const std::string& file, const char* version_key,
                        Check&& check) {
  const Json json = parse_json(std::string(text), file);
  Messages messages;
  FieldReader reader(JsonReader(json, file, messages));
  reader.in().whole(version_key, 1, 1, std::nullopt);
  T out;
  describe(reader, out);
  reader.done();
  if (!has_errors(messages)) check(out, file, messages);
  if (has_errors(messages)) throw InputError(std::move(messages));
  return {std::move(out), std::move(messages)};
}

template <class T, class Check>
Read<T> read_described(const std::filesystem::path& path, const char* version_key, Check&& check) {
  return parse_described<T>(read_file(path), path.string(), version_key, std::forward<Check>(check));
}

template <class T>
std::string described_text(const T& value, const char* version_key) {
  Json json;
  json[version_key] = 1;
  json.update(written(value));
  return json.dump(2) + "\n";
}

}  // namespace uadze::project
