// What follows from the one description of the fields: keys, forms, defaults, schema.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <set>

#include "core/base/json.h"
#include "core/project/field_finder.h"
#include "core/project/field_writer.h"
#include "core/project/json_reader.h"
#include "core/project/keys.h"
#include "core/project/schema.h"
#include "support/demo.h"

namespace uadze::project {
namespace {

using test::slurp;
using test::source;

const char* const demos[] = {"demo/ostrel-p4.uadze.json", "demo/ostrel-tarn.uadze.json",
                             "demo/ostrel-wisp.uadze.json"};

/// Each number and text below, changed a little.
void changes(const Json& json, const std::string& at, std::vector<std::pair<std::string, Json>>& out) {
  if (json.is_object())
    for (const auto& [key, value] : json.items()) changes(value, at + "/" + key, out);
  else if (json.is_array())
    for (size_t i = 0; i < json.size(); ++i) changes(json[i], at + "/" + std::to_string(i), out);
  else if (json.is_number_integer())
    out.emplace_back(at, json.get<int>() + 1);
  else if (json.is_number())
    out.emplace_back(at, json.get<double>() * (1 + 1e-9) + 1e-9);
}

TEST(Keys, EveryNumberOfASetupDecidesAndNotesDoNot) {
  int tried = 0;
  for (const char* name : demos) {
    const Json good = json_of<Json>(slurp(source(name)));
    const Project before = parse_project(good.dump(), name).value;
    std::vector<std::pair<std::string, Json>> all;
    changes(good["setups"][0], "/setups/0", all);
    for (const auto& [place, value] : all) {
      Json changed = good;
      changed[Json::json_pointer(place)] = value;
      Project after;
      try {
        after = parse_project(changed.dump(), name).value;
      } catch (const InputError&) {
        continue;  // at the end of its range
      }
      ++tried;
      EXPECT_NE(key_of(after.setups[0]), key_of(before.setups[0])) << name << place;
      EXPECT_EQ(after.setups.size() > 1 ? key_of(after.setups[1]) : ContentKey{},
                before.setups.size() > 1 ? key_of(before.setups[1]) : ContentKey{});
    }
    Project noted = before;
    noted.setups[0].notes = "wet tyres";
    EXPECT_EQ(key_of(noted.setups[0]), key_of(before.setups[0]));
  }
  EXPECT_GT(tried, 200);
}

TEST(Fields, EveryDefaultIsWhatAnAbsentKeyReads) {
  // A demo written with all its defaults, and each key that may be absent taken out in turn: the value then
  // read is the schema's default.
  const Json schema = json_schema(FileKind::project);
  const Json& setup_fields = schema["properties"]["setups"]["items"]["properties"];
  Json good = json_of<Json>(slurp(source(demos[2])));
  int tried = 0;
  for (const char* object : {"fuel", "engine", "starvation_limits"}) {
    for (const auto& [key, field] : setup_fields[object]["properties"].items()) {
      if (!field.contains("default")) continue;
      Json without = good;
      Json& holder = without["setups"][0][object];
      if (!holder.is_object()) holder = Json::object();
      holder.erase(key);
      const Json read = written(parse_project(without.dump(), "x").value.setups[0]);
      ++tried;
      EXPECT_EQ(read[object][key], field["default"]) << object << "/" << key;
    }
  }
  EXPECT_GT(tried, 10);
}

TEST(Fields, ASchemaSaysASentenceOfEveryField) {
  const std::function<void(const Json&, const std::string&, int&)> look =
      [&](const Json& j, const std::string& at, int& count) {
        if (!j.is_object()) return;
        if (j.contains("properties"))
          for (const auto& [key, field] : j["properties"].items()) {
            ++count;
            EXPECT_TRUE(field.contains("$ref") || field.contains("const") || field.contains("type") ||
                        field.contains("enum") || field.contains("oneOf"))
                << at << "/" << key;
            look(field, at + "/" + key, count);
          }
        for (const char* below : {"items", "then"})
          if (j.contains(below)) look(j[below], at, count);
        for (const char* some : {"allOf", "anyOf", "oneOf"})
          if (j.contains(some))
            for (const Json& one : j[some]) look(one, at, count);
      };
  for (FileKind kind : {FileKind::project, FileKind::catalogue, FileKind::track, FileKind::car}) {
    int count = 0;
    look(json_schema(kind), "", count);
    EXPECT_GT(count, 5);
  }
}

TEST(FieldFinder, FindsWhatIsThereAndOnlyThat) {
  starvation::Engine engine;
  const FoundField power = find_field(engine, "power_kw");
  ASSERT_TRUE(power.found());
  *std::get<double*>(power.at) = 200e3;
  EXPECT_EQ(engine.power, 200e3);
  EXPECT_FALSE(find_field(engine, "colour").found());
  // A field that depends on another is there only while it counts.
  tank::OpeningPart opening{.form = tank::OpeningForm::round};
  circuit::Part part{.kind = circuit::PartKind::pump};
  EXPECT_FALSE(find_field(part, "length_mm").found());
  part.kind = circuit::PartKind::line;
  EXPECT_TRUE(find_field(part, "length_mm").found());
  session::Session session;
  const FoundField kind = find_field(session, "kind");
  const auto& words = std::get<WordChoice>(kind.at);
  EXPECT_EQ(words.words.size(), 8u);
  words.set(7);
  EXPECT_EQ(session.kind, session::Kind::test_bench);
  EXPECT_EQ(words.get(), 7);
}

TEST(Fields, ASessionKindThatIsLastIsReadToo) {
  Json json = json_of<Json>(slurp(source(demos[0])));
  for (const std::string& name : names_of<session::Kind>()) {
    json["sessions"][0]["kind"] = name;
    EXPECT_EQ(name_of(parse_project(json.dump(), "x").value.sessions[0].kind), name);
  }
}

}  // namespace
}  // namespace uadze::project
