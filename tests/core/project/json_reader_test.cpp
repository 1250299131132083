#include "core/project/json_reader.h"
#include "core/base/json.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace uadze::project {
namespace {

using ::testing::HasSubstr;

/// Reads `text` with `use` and returns all that was said.
template <class Use>
std::string said(const std::string& text, Use use) {
  const Json json = json_of<Json>(text);
  Messages messages;
  JsonReader reader(json, "f.json", messages, "/here");
  use(reader);
  return text_of(messages);
}

TEST(JsonReader, NumbersAreConvertedAndHeldToTheirRange) {
  double value = 0;
  EXPECT_EQ(said(R"({"v": 25})",
                 [&](JsonReader& r) { value = r.number("v", {.factor = 1e-3, .low = 0, .high = 100}); }),
            "");
  EXPECT_DOUBLE_EQ(value, 0.025);
  EXPECT_EQ(said(R"({"t": 20})", [&](JsonReader& r) { value = r.number("t", {.offset = 273.15}); }), "");
  EXPECT_DOUBLE_EQ(value, 293.15);
  EXPECT_EQ(said(R"({"v": -1})",
                 [&](JsonReader& r) { value = r.number("v", {.low = 0, .high = 100, .missing = 7.0}); }),
            "error: f.json: /here/v: expected a number from 0 to 100, found the number -1");
  EXPECT_EQ(value, 7.0) << "the default stands in for what was refused";
  EXPECT_THAT(said(R"({"v": 0})",
                   [&](JsonReader& r) { r.number("v", {.low = 0, .missing = {}, .above_low = true}); }),
              HasSubstr("a number above 0, found the number 0"));
  EXPECT_THAT(said(R"({"v": "5"})", [&](JsonReader& r) { r.number("v", {}); }),
              HasSubstr("expected a number, found the text \"5\""));
  EXPECT_THAT(said(R"({"v": true})", [&](JsonReader& r) { r.number("v", {.low = 2}); }),
              HasSubstr("expected a number not below 2, found true"));
}

TEST(JsonReader, AMissingKeyIsAFaultOnlyWhereItIsNeeded) {
  EXPECT_EQ(said("{}", [](JsonReader& r) { EXPECT_EQ(r.number("v", {.missing = 3.0}), 3.0); }), "");
  EXPECT_THAT(said("{}", [](JsonReader& r) { r.number("v", {}); }),
              HasSubstr("/here/v: expected a number, found nothing"));
  EXPECT_EQ(said("{}", [](JsonReader& r) { EXPECT_EQ(r.number_if("v", {}), std::nullopt); }), "");
  EXPECT_EQ(said(R"({"v": null})", [](JsonReader& r) { EXPECT_EQ(r.number_if("v", {}), std::nullopt); }), "");
  EXPECT_THAT(said("{}", [](JsonReader& r) { r.text("v"); }), HasSubstr("expected a text, found nothing"));
  EXPECT_EQ(said("{}", [](JsonReader& r) { EXPECT_EQ(r.text("v", "usual"), "usual"); }), "");
  EXPECT_EQ(said("{}", [](JsonReader& r) { EXPECT_FALSE(r.object("v")); }), "");
  EXPECT_EQ(said(R"({"v": null})", [](JsonReader& r) { EXPECT_FALSE(r.object("v")); }), "");
  EXPECT_THAT(said(R"({"v": null})", [](JsonReader& r) { r.object("v", true); }),
              HasSubstr("expected an object, found null"));
}

TEST(JsonReader, WholeNumbersChoicesAndLists) {
  EXPECT_EQ(said(R"({"n": 3})", [](JsonReader& r) { EXPECT_EQ(r.whole("n", 0, 5, {}), 3); }), "");
  for (const char* bad : {"3.5", "-1", "6", "\"3\"", "1e300", "null"})
    EXPECT_THAT(said(std::string("{\"n\": ") + bad + "}", [](JsonReader& r) { r.whole("n", 0, 5, {}); }),
                HasSubstr("a whole number from 0 to 5"))
        << bad;
  EXPECT_EQ(said(R"({"c": "b"})", [](JsonReader& r) { EXPECT_EQ(r.choice("c", {"a", "b"}, {}), 1); }), "");
  EXPECT_THAT(said(R"({"c": "z"})",
                   [](JsonReader& r) {
                     r.choice("c", {"a", "b"}, 0);
                   }),
              HasSubstr("one of \"a\", \"b\", found the text \"z\""));
  EXPECT_THAT(said(R"({"l": {}})", [](JsonReader& r) { r.list("l"); }),
              HasSubstr("expected a list, found an object"));
  EXPECT_THAT(said(R"({"l": [{}, 3]})", [](JsonReader& r) { EXPECT_EQ(r.list("l").size(), 2u); }),
              HasSubstr("/here/l/1: expected an object, found the number 3"));
}

TEST(JsonReader, VectorsAndPointsNameTheirElement) {
  EXPECT_EQ(said(R"({"p": [1, 2, 3]})",
                 [](JsonReader& r) { EXPECT_EQ(r.vector("p", {.factor = 2}), Vec3(2, 4, 6)); }),
            "");
  EXPECT_THAT(said(R"({"p": [1, "b", 3]})", [](JsonReader& r) { r.vector("p", {}); }),
              HasSubstr("/here/p/1: expected a number"));
  EXPECT_THAT(said(R"({"p": [1]})", [](JsonReader& r) { r.vector("p", {}); }),
              HasSubstr("three numbers: x, y, z"));
  EXPECT_THAT(said(R"({"p": 4})", [](JsonReader& r) { r.vector("p", {}); }), HasSubstr("a list of numbers"));
  EXPECT_THAT(said(R"({"p": [[1, 2], [3]]})", [](JsonReader& r) { r.points("p", {}); }),
              HasSubstr("/here/p/1: expected a point [a, b], found a list of 1"));
  EXPECT_THAT(said(R"({"p": "x"})", [](JsonReader& r) { r.points("p", {}); }), HasSubstr("a list of points"));
}

TEST(JsonReader, OnlyKeysNobodyAskedForAreUnknown) {
  const std::string text = said(R"({"a": 1, "b": 2})", [](JsonReader& r) {
    r.number("a", {});
    r.number_if("c", {});
    r.warn_unknown();
  });
  EXPECT_EQ(text, "warning: f.json: /here/b: unknown key, kept in the file and not used");
}

TEST(ParseJson, FaultsHaveLineAndColumn) {
  const auto fault = [](const std::string& text) {
    try {
      parse_json(text, "f.json");
    } catch (const InputError& error) {
      return std::string(error.what());
    }
    return std::string("none");
  };
  EXPECT_THAT(fault("{\n  \"a\": 1,\n  \"b\" 2\n}"), HasSubstr("line 3, column 7"));
  EXPECT_THAT(fault("{\n  \"a\": [1, 2"), HasSubstr("the end of the file: it is cut short"));
  EXPECT_THAT(fault("{\"a\": 1} x"), HasSubstr("expected well-formed JSON"));
  EXPECT_THAT(fault("\xff\xfe{}"), HasSubstr("line 1, column 1"));
  EXPECT_THAT(fault("3"), HasSubstr("expected an object, found the number 3"));
  EXPECT_EQ(fault("{\"a\": {\"k\": 1}, \"b\": {\"k\": 1}}"), "none")
      << "the same key in two objects is no repetition";
}

}  // namespace
}  // namespace uadze::project
