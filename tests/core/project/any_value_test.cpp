// Every value of every demo file, each put wrong in turn: an error that names its place, or a project that
// can be written and read again; never a crash, never silence.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/base/json.h"
#include "core/project/catalogue_file.h"
#include "core/project/json_reader.h"
#include "core/project/project_file.h"
#include "core/project/track_file.h"
#include "core/solve/study.h"
#include "support/demo.h"
#include "support/json_leaves.h"
#include "support/random_shapes.h"

namespace uadze::project {
namespace {

std::string parent_of(const std::string& pointer) { return pointer.substr(0, pointer.rfind('/')); }

/// "" where the text is taken; else what is said.
std::string said_of(const std::string& text) {
  try {
    parse_project(text, "p.json");
    return "";
  } catch (const InputError& error) {
    return error.what();
  }
}

class AnyValue : public testing::TestWithParam<const char*> {
 protected:
  void SetUp() override {
    json = json_of<Json>(test::slurp(test::source(GetParam())));
    all = test::leaves(json);
    ASSERT_GT(all.size(), 100u);
  }
  /// As many as a test has time for, spread over the file.
  std::vector<std::string> some(size_t most) {
    std::vector<std::string> out;
    const size_t step = std::max<size_t>(1, all.size() / most);
    for (size_t k = 0; k < all.size(); k += step) out.push_back(all[k]);
    return out;
  }
  Json json;
  std::vector<std::string> all;
};

TEST_P(AnyValue, OfAnotherKindIsNamedAtItsPlace) {
  for (const std::string& pointer : some(30)) {
    const Json right = json[Json::json_pointer(pointer)];
    for (const Json& wrong :
         {Json("word"), Json(7.5), Json(true), Json(Json::array({1})), Json(Json{{"key", 1}})}) {
      if (wrong.type() == right.type() || (wrong.is_number() && right.is_number())) continue;
      Json changed = json;
      changed[Json::json_pointer(pointer)] = wrong;
      const std::string said = said_of(changed.dump());
      EXPECT_NE(said, "") << pointer << " = " << wrong.dump() << " passes for " << right.dump();
      EXPECT_NE(said.find(parent_of(pointer)), std::string::npos) << pointer << ": " << said;
      EXPECT_NE(said.find("expected"), std::string::npos) << pointer << ": " << said;
    }
  }
}

TEST_P(AnyValue, BeyondAllMeasureIsRefusedOrSurvivesTheFile) {
  for (const std::string& pointer : some(20)) {
    if (!json[Json::json_pointer(pointer)].is_number()) continue;
    for (const double wrong : {-1e300, -1.0, 0.0, 1e-300, 1e12, 1e300}) {
      Json changed = json;
      changed[Json::json_pointer(pointer)] = wrong;
      const std::string text = changed.dump(), said = said_of(text);
      if (said.empty()) {
        // What is taken is kept as it was given: written afresh it reads the same.
        const Project taken = parse_project(text, "p.json").value;
        EXPECT_EQ(said_of(project_text(taken, "")), "") << pointer << " = " << wrong;
        continue;
      }
      // A place of an outline may cross another's side: the fault is then said there, of the same thing.
      EXPECT_NE(said.find(parent_of(parent_of(pointer))), std::string::npos)
          << pointer << " = " << wrong << ": " << said;
      EXPECT_EQ(said.find("nan"), std::string::npos) << said;
    }
  }
}

TEST_P(AnyValue, ThatIsMissingIsNamedOrHasAUsual) {
  for (const std::string& pointer : some(30)) {
    const std::string parent = parent_of(pointer);
    if (!json[Json::json_pointer(parent)].is_object()) continue;
    Json changed = json;
    changed[Json::json_pointer(parent)].erase(pointer.substr(pointer.rfind('/') + 1));
    const std::string said = said_of(changed.dump());
    if (said.empty()) continue;
    EXPECT_TRUE(said.find(pointer.substr(pointer.rfind('/') + 1)) != std::string::npos ||
                said.find(parent + "/") != std::string::npos)
        << pointer << ": " << said;
  }
}

TEST_P(AnyValue, UnderAnotherNameIsToldAndKept) {
  test::Random r(6);
  for (int k = 0; k < 40; ++k) {
    const std::string pointer = all[static_cast<size_t>(r.whole(0, static_cast<int>(all.size()) - 1))],
                      parent = parent_of(pointer);
    if (!json[Json::json_pointer(parent)].is_object()) continue;
    Json changed = json;
    changed[Json::json_pointer(parent)]["of_nobody"] = 5;
    const std::string text = changed.dump(2);
    const auto read = parse_project(text, "p.json");
    EXPECT_NE(text_of(read.notes).find(parent + "/of_nobody"), std::string::npos)
        << parent << ": " << text_of(read.notes);
    EXPECT_EQ(project_text(read.value, text), text) << "saved as it came";
  }
}

// --- The other files ---

struct Described {
  const char* file;
  std::function<void(const std::filesystem::path&)> read;
};

/// Each with one value of another kind: refused, with the file's name and the place in it.
TEST(AnyFile, WithAValueOfAnotherKindIsRefusedAtItsPlace) {
  const std::vector<Described> files{
      {"data/catalogue.json",
       [](const auto& path) {
         Messages notes;
         with_entries({}, test::slurp(path), path.filename().string(), path.parent_path(), notes);
       }},
      {"demo/tracks/brackenholt-ring.json", [](const auto& path) { read_track(path); }},
      {"demo/cars/ostrel-p4.json", [](const auto& path) { read_car(path); }},
      {"demo/studies/p4-pickups.json", [](const auto& path) { check_study(solve::read_study(path)); }}};
  const test::TempFolder folder;
  test::copy_demo(folder);
  for (const Described& described : files) {
    SCOPED_TRACE(described.file);
    const Json json = json_of<Json>(test::slurp(test::source(described.file)));
    std::vector<std::string> all;
    all = test::leaves(json);
    ASSERT_GT(all.size(), 8u);
    // Beside what it names, under a name that nothing else has.
    const std::string kept = std::string(described.file).find("studies") != std::string::npos
                                 ? "studies/changed.json"
                                 : "changed.json";
    const auto said = [&](const Json& changed) {
      try {
        described.read(folder.write(kept, changed.dump()));
        return std::string();
      } catch (const InputError& error) {
        return std::string(error.what());
      }
    };
    EXPECT_EQ(said(json), "");
    const size_t step = std::max<size_t>(1, all.size() / 40);
    for (size_t k = 0; k < all.size(); k += step) {
      const Json right = json[Json::json_pointer(all[k])];
      for (const Json& wrong : {Json("word"), Json(7.5), Json(true), Json(Json::array({1}))}) {
        if (wrong.type() == right.type() || (wrong.is_number() && right.is_number())) continue;
        Json changed = json;
        changed[Json::json_pointer(all[k])] = wrong;
        const std::string told = said(changed);
        EXPECT_NE(told.find("changed.json"), std::string::npos)
            << all[k] << " = " << wrong.dump() << ": \"" << told << "\"";
        // What a study puts into the project is said at all that it puts there.
        const std::string at = parent_of(all[k]), set = at.substr(0, at.find("/set/") + 4);
        EXPECT_NE(told.find(at.find("/set/") == std::string::npos ? at : set), std::string::npos)
            << all[k] << " = " << wrong.dump() << ": " << told;
      }
    }
    // And none of it at all.
    for (const char* empty : {"", "{}", "[]", "null", "{\"x\": 1}"})
      EXPECT_THROW(described.read(folder.write(kept, empty)), InputError) << empty;
  }
}

INSTANTIATE_TEST_SUITE_P(Demos, AnyValue,
                         testing::Values("demo/ostrel-p4.uadze.json", "demo/ostrel-tarn.uadze.json",
                                         "demo/ostrel-wisp.uadze.json"),
                         [](const auto& each) { return std::string(each.param).substr(12, 2); });

}  // namespace
}  // namespace uadze::project
