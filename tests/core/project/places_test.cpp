// Every message about a project points at something that stands in the file's text.
#include "core/project/places.h"
#include "core/base/json.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/project/json_reader.h"
#include "support/demo.h"
#include "support/json_leaves.h"

namespace uadze::project {
namespace {

using test::slurp;
using test::source;

/// What opening the text says, faults and notes.
Messages said_of(const std::string& text, solve::Sources& sources) {
  Messages said;
  try {
    const Read<Project> read = parse_project(text, "x.json");
    said = read.notes;
    for (Message& m : solve::check(read.value, "x.json", sources)) said.push_back(std::move(m));
  } catch (const InputError& error) {
    said = error.messages();
  }
  return said;
}

/// Whether the pointer stands in the file; of a key that is asked for and absent, what should hold it.
bool stands(const Json& json, const std::string& place) {
  if (place.empty() || place == "/") return true;
  const Json::json_pointer at(place);
  return json.contains(at) || (at.parent_pointer().empty() ? json.is_object()
                                                           : json.contains(at.parent_pointer()) &&
                                                                 json[at.parent_pointer()].is_object());
}

TEST(Places, EveryPointerOfEveryMessageStandsInTheFile) {
  int messages = 0;
  size_t tried = 0;
  for (const char* name : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
    const Json good = json_of<Json>(slurp(source("demo/" + std::string(name) + ".uadze.json")));
    solve::Sources sources(source("demo"));
    for (const std::string& place : test::leaves(good)) {
      const Json::json_pointer at(place);
      std::vector<Json> others{nullptr, Json::array()};
      if (good[at].is_number()) others = {-1e9, 1e9, "a text"};
      if (good[at].is_string()) others = {"no such thing", "", 7};
      // One of them at each place, by turns: what is beside it is of its kind.
      const Json& other = others[tried++ % others.size()];
      Json bad = good;
      bad[at] = other;
      for (const Message& m : said_of(bad.dump(), sources)) {
        ++messages;
        EXPECT_TRUE(stands(bad, m.place))
            << name << ": " << place << " = " << other.dump() << " gives " << m.text();
      }
    }
  }
  EXPECT_GT(messages, 400);
}

TEST(Places, AHoseIsNamedByItsOwnKey) {
  Json bad = json_of<Json>(slurp(source("demo/ostrel-p4.uadze.json")));
  auto& feed = bad["setups"][0]["circuit"]["feed"];
  size_t k = 0;
  while (feed[k]["kind"] != "line") ++k;
  feed[k]["hose"] = "garden hose";
  solve::Sources sources(source("demo"));
  const Messages said = said_of(bad.dump(), sources);
  ASSERT_FALSE(said.empty());
  EXPECT_EQ(said[0].place, "/setups/0/circuit/feed/" + std::to_string(k) + "/hose");
}

}  // namespace
}  // namespace uadze::project
