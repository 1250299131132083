#pragma once
// Reads JSON values with their place, unit and range, and collects every fault instead of stopping at the
// first.
//
// Example:
//   Messages messages;
//   const project::Json json = project::parse_json(R"({"mass_kg": -3, "colour": "red"})", "p4.json");
//   project::JsonReader root(json, "p4.json", messages);
//   root.number("mass_kg", {.low = 1, .high = 5000});
//   root.warn_unknown();                      // keys that nobody asked for
//   ASSERT_EQ(messages.size(), 2u);
//   EXPECT_EQ(messages[0].place, "/mass_kg");
#include <nlohmann/json.hpp>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/base/vector.h"

namespace uadze::project {

using Json = nlohmann::ordered_json;

/// SI = value in the file * factor + offset; low and high are in the file's unit.
struct NumberRule {
  double factor = 1.0;
  double offset = 0.0;
  double low = -1e300;
  double high = 1e300;
  std::optional<double> missing;  ///< SI value when the key is absent; none: the key is needed
  bool above_low = false;         ///< the low end itself is not allowed
};

class JsonReader {
 public:
  JsonReader(const Json& value, std::string file, Messages& messages, std::string place = "");

  bool has(const std::string& key) const { return value_->is_object() && value_->contains(key); }
  const std::string& place() const { return place_; }
  void fail(const std::string& key, std::string expected, std::string found);

  double number(const std::string& key, const NumberRule& rule);
  std::optional<double> number_if(const std::string& key, const NumberRule& rule);
  int whole(const std::string& key, int low, int high, std::optional<int> missing);
  std::string text(const std::string& key, std::optional<std::string> missing = std::nullopt);
  /// The index of the text in `choices`.
  int choice(const std::string& key, const std::vector<std::string>& choices, std::optional<int> missing);
  /// Nothing where the text is none of them; the fault is noted.
  std::optional<int> choice_if(const std::string& key, const std::vector<std::string>& choices,
                               std::optional<int> missing);
  Vec3 vector(const std::string& key, const NumberRule& rule);
  std::vector<Vec2> points(const std::string& key, const NumberRule& rule);
  /// Elements of an array of texts; an absent array is empty.
  std::vector<std::string> texts(const std::string& key);
  std::vector<double> numbers(const std::string& key, const NumberRule& rule);
  /// Elements of an array of objects; an absent array is empty unless needed.
  std::vector<JsonReader> list(const std::string& key, bool needed = false);
  /// The object under the key; nothing if absent or null.
  std::optional<JsonReader> object(const std::string& key, bool needed = false);
  void warn_unknown();

 private:
  double checked(const Json& value, const std::string& place, const NumberRule& rule);
  const Json* take(const std::string& key, bool needed, const char* expected);
  void fail_at(const std::string& place, std::string expected, std::string found);

  const Json* value_;
  std::string file_;
  Messages* messages_;
  std::string place_;
  std::set<std::string> asked_;
};

/// "the number 3", "the text \"abc\"", "a list": for messages.
std::string described(const Json& value);

/// Parses the text; a syntax error becomes an InputError with line and column. Keys that stand twice are
/// errors.
Json parse_json(const std::string& text, const std::string& file);

}  // namespace uadze::project
