#pragma once
// What no report may hold, whatever it reports: figures that are none, words that betray one.
//
//   EXPECT_EQ(test::unsound(json), "");
//   EXPECT_EQ(test::unsound_words(text), "");
#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>
#include <set>
#include <string>

namespace uadze::test {

/// The first place of a number that is none, or of an empty name; "" where all is sound. Nulls are allowed at
/// `nulls` (the last words of their places).
inline std::string unsound(const nlohmann::ordered_json& json, const std::set<std::string>& nulls = {},
                           const std::string& at = "") {
  if (json.is_number_float() && !std::isfinite(json.get<double>())) return at + " is no number";
  if (json.is_null() && !nulls.contains(at.substr(at.rfind('/') + 1))) return at + " is null";
  if (json.is_object())
    for (const auto& [key, value] : json.items()) {
      if (key.empty()) return at + " has a key without a name";
      if (const std::string bad = unsound(value, nulls, at + "/" + key); !bad.empty()) return bad;
    }
  if (json.is_array())
    for (size_t i = 0; i < json.size(); ++i)
      if (const std::string bad = unsound(json[i], nulls, fmt::format("{}/{}", at, i)); !bad.empty())
        return bad;
  return "";
}

/// The first line with what a person can not read: "nan", "inf", "-0.0 L", "%!", two blanks of a missing
/// name between commas, "1 laps".
inline std::string unsound_words(const std::string& text) {
  static const char* const bad[] = {"nan", "inf ", "inf,", "-inf",    "e+",        "e-0",      "{}",  "{:",
                                    ", ,", "()",   "\"\"", " 1 laps", " 1 places", " 1 falls", "  ,", " ."};
  size_t begin = 0;
  while (begin < text.size()) {
    const size_t end = std::min(text.find('\n', begin), text.size());
    const std::string line = text.substr(begin, end - begin);
    for (const char* word : bad)
      if (line.find(word) != std::string::npos) return fmt::format("\"{}\" in \"{}\"", word, line);
    // "-0", "-0.00": nothing, with a sign.
    for (size_t k = line.find("-0"); k != std::string::npos; k = line.find("-0", k + 1)) {
      if (k > 0 && line[k - 1] != ' ' && line[k - 1] != '(') continue;
      size_t to = k + 1;
      bool zero = true;
      while (to < line.size() && (std::isdigit(static_cast<unsigned char>(line[to])) || line[to] == '.'))
        zero &= line[to] == '0' || line[to] == '.', ++to;
      if (zero) return fmt::format("nothing with a sign in \"{}\"", line);
    }
    begin = end + 1;
  }
  return "";
}

}  // namespace uadze::test
