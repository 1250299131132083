#include "core/project/json_patch.h"
#include "core/base/json.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <functional>
#include <random>

namespace uadze::project {
namespace {

std::string patched(const std::string& text, const std::string& before, const std::string& after) {
  return patched_text(text, json_of<Json>(before), json_of<Json>(after));
}

TEST(JsonPatch, NothingChangedChangesNoByte) {
  const std::string text = "{\n\t\"a\" : 1.500 ,\"odd\":[ 1,2 ],\n \"b\":{ }  }\n\n";
  EXPECT_EQ(patched(text, R"({"a":1.5,"b":{}})", R"({"a":1.5,"b":{}})"), text);
}

TEST(JsonPatch, OnlyTheChangedValueIsWrittenAnew) {
  EXPECT_EQ(patched(R"({ "a": 1.50,  "x": 2e0 })", R"({"a":1.5,"x":2})", R"({"a":3,"x":2})"),
            R"({ "a": 3,  "x": 2e0 })");
  EXPECT_EQ(patched(R"({"a":[1.0,[2.0, 3.0]]})", R"({"a":[1,[2,3]]})", R"({"a":[1,[2,4]]})"),
            R"({"a":[1.0,[2.0, 4]]})");
}

TEST(JsonPatch, UnknownKeysStay) {
  EXPECT_EQ(patched(R"({"mine":"keep","a":1,"also":[{}]})", R"({"a":1})", R"({"a":2})"),
            R"({"mine":"keep","a":2,"also":[{}]})");
}

TEST(JsonPatch, AbsentDefaultsStayAbsentUntilTheyChange) {
  EXPECT_EQ(patched(R"({"a":1})", R"({"a":1,"d":0})", R"({"a":2,"d":0})"), R"({"a":2})");
  EXPECT_EQ(patched(R"({"a":1})", R"({"a":1,"d":0})", R"({"a":1,"d":5})"), R"({"a":1, "d": 5})");
  EXPECT_EQ(patched("{\n  \"a\": 1\n}\n", R"({"a":1,"d":0})", R"({"a":1,"d":5})"),
            "{\n  \"a\": 1,\n  \"d\": 5\n}\n");
  EXPECT_EQ(patched("{}", R"({"d":0})", R"({"d":5})"), "{\n  \"d\": 5\n}");
}

TEST(JsonPatch, KeysGo) {
  EXPECT_EQ(patched(R"({"a":1,"b":2,"c":3})", R"({"a":1,"b":2,"c":3})", R"({"a":1,"c":3})"),
            R"({"a":1,"c":3})");
  EXPECT_EQ(patched(R"({"a":1,"b":2})", R"({"a":1,"b":2})", R"({"b":2})"), R"({"b":2})");
  EXPECT_EQ(json_of<Json>(patched(R"({"a":1,"b":2,"x":0})", R"({"a":1,"b":2})", R"({"c":4})")),
            json_of<Json>(R"({"x":0,"c":4})"));
}

TEST(JsonPatch, ListsOfNamedThingsKeepTheirText) {
  const std::string text =
      "{\"l\": [\n  { \"name\": \"a\", \"v\": 1.0, \"mine\": 7 },\n  { \"name\": \"b\", \"v\": 2.0 }\n]}";
  const std::string before = R"({"l":[{"name":"a","v":1},{"name":"b","v":2}]})";
  EXPECT_EQ(patched(text, before, R"({"l":[{"name":"b","v":2}]})"),
            "{\"l\": [\n  { \"name\": \"b\", \"v\": 2.0 }\n]}");
  const std::string more =
      patched(text, before, R"({"l":[{"name":"a","v":1},{"name":"n","v":9},{"name":"b","v":3}]})");
  EXPECT_NE(more.find("{ \"name\": \"a\", \"v\": 1.0, \"mine\": 7 }"), std::string::npos) << more;
  EXPECT_EQ(json_of<Json>(more)["l"].size(), 3u);
  EXPECT_EQ(json_of<Json>(more)["l"][2]["v"], 3);
}

TEST(JsonPatch, NoElementGetsWhatBelongsToAnother) {
  // Each has a key of its own that nobody knows, and its own layout.
  const std::string text =
      R"({"l": [
  { "name": "a", "v": 1, "w": [1,  2], "of_a": 7 },
  {"name":"b","v":2,"w":[3],"of_b":8}
]})";
  const std::string before = R"({"l":[{"name":"a","v":1,"w":[1,2]},{"name":"b","v":2,"w":[3]}]})";
  const auto owner = [&](const std::string& after, size_t k) {
    const Json now = json_of<Json>(patched(text, before, after))["l"][k];
    return now.contains("of_a") ? "a" : now.contains("of_b") ? "b" : "none";
  };
  // The first taken out, another put in behind: as many as before, and none at its old place.
  const std::string shifted = R"({"l":[{"name":"b","v":2,"w":[3]},{"name":"c","v":5,"w":[9]}]})";
  EXPECT_STREQ(owner(shifted, 0), "b");
  EXPECT_STREQ(owner(shifted, 1), "none");
  EXPECT_NE(patched(text, before, shifted).find(R"({"name":"b","v":2,"w":[3],"of_b":8})"), std::string::npos);
  // Changed places.
  const std::string turned = R"({"l":[{"name":"b","v":2,"w":[3]},{"name":"a","v":1,"w":[1,2]}]})";
  EXPECT_STREQ(owner(turned, 0), "b");
  EXPECT_STREQ(owner(turned, 1), "a");
  // Renamed, with a copy beside it: the first keeps what was its own.
  const std::string copied =
      R"({"l":[{"name":"x","v":1,"w":[1,2]},{"name":"b","v":2,"w":[3]},{"name":"y","v":1,"w":[1,2]}]})";
  EXPECT_STREQ(owner(copied, 0), "a");
  EXPECT_STREQ(owner(copied, 1), "b");
  EXPECT_STREQ(owner(copied, 2), "none");
  EXPECT_NE(patched(text, before, copied).find("[1,  2]"), std::string::npos) << "its layout too";
  // Renamed after the one before it was taken out.
  EXPECT_STREQ(owner(R"({"l":[{"name":"x","v":2,"w":[3]}]})", 0), "b");
  // Of very long lists one that was changed keeps its own too.
  std::string many = R"({"l": [)", plain = many;
  for (int k = 0; k < 2100; ++k) {
    many += fmt::format(R"({}{{"v": {}, "mine": {}}})", k ? ", " : "", k, k);
    plain += fmt::format(R"({}{{"v": {}}})", k ? ", " : "", k);
  }
  many += "]}", plain += "]}";
  Json after = json_of<Json>(plain);
  after["l"][1000]["v"] = -1;
  const Json now = json_of<Json>(patched_text(many, json_of<Json>(plain), after));
  EXPECT_EQ(now["l"][1000]["v"], -1);
  EXPECT_EQ(now["l"][1000]["mine"], 1000);
  // Lists of numbers have no owners.
  EXPECT_EQ(patched(R"({"n": [1,  2, 3]})", R"({"n":[1,2,3]})", R"({"n":[1,2,4]})"), R"({"n": [1,  2, 4]})");
}

TEST(JsonPatch, TextsWithBracketsAndQuotesAreNoTrap) {
  const std::string text = R"({"a":"x\"}]{[,", "b": 1})";
  EXPECT_EQ(patched(text, R"({"a":"x\"}]{[,","b":1})", R"({"a":"x\"}]{[,","b":2})"),
            R"({"a":"x\"}]{[,", "b": 2})");
}

// Whatever is done to a document, the patched text must say exactly the new content.
TEST(JsonPatch, RandomChangesSayWhatTheyShould) {
  std::mt19937 engine(99);
  const auto pick = [&](int n) { return static_cast<int>(engine() % static_cast<unsigned>(n)); };
  std::function<Json(int)> make = [&](int depth) -> Json {
    switch (depth <= 0 ? pick(3) : pick(5)) {
      case 0:
        return pick(5);
      case 1:
        return "t" + std::to_string(pick(4));
      case 2:
        return nullptr;
      case 3: {
        Json list = Json::array();
        for (int i = pick(4); i > 0; --i) list.push_back(make(depth - 1));
        return list;
      }
      default: {
        Json object = Json::object();
        for (int i = pick(4); i > 0; --i) object["k" + std::to_string(pick(5))] = make(depth - 1);
        return object;
      }
    }
  };
  for (int n = 0; n < 3000; ++n) {
    Json before = Json::object(), after = Json::object();
    for (int i = 0; i < 4; ++i) before["k" + std::to_string(i)] = make(3);
    after = before;
    for (int i = pick(3); i >= 0; --i) after["k" + std::to_string(pick(6))] = make(3);
    if (pick(4) == 0) after.erase("k" + std::to_string(pick(4)));
    const std::string text = before.dump(pick(2) ? 2 : -1);
    const std::string out = patched_text(text, before, after);
    // Without regard to the order of keys.
    EXPECT_EQ(json_of<nlohmann::json>(out), json_of<nlohmann::json>(after.dump())) << text << "\n"
                                                                                   << after.dump() << "\n"
                                                                                   << out;
  }
}

}  // namespace
}  // namespace uadze::project
