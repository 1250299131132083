#include "core/project/json_reader.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/json.h"

namespace uadze::project {

std::string described(const Json& value) {
  if (value.is_null()) return "null";
  if (value.is_boolean()) return value.get<bool>() ? "true" : "false";
  if (value.is_number()) return "the number " + value.dump();
  if (value.is_string()) return "the text " + value.dump();
  if (value.is_array()) return fmt::format("a list of {}", value.size());
  return "an object";
}

Json parse_json(const std::string& text, const std::string& file) {
  if (text.find_first_not_of(" \t\r\n") == std::string::npos)
    throw InputError(
        Message{.file = file, .place = "line 1", .expected = "a JSON object", .found = "an empty file"});
  std::vector<std::set<std::string>> keys;
  std::string twice;
  const auto watch = [&](int, nlohmann::json::parse_event_t event, Json& parsed) {
    using Event = nlohmann::json::parse_event_t;
    if (event == Event::object_start) keys.emplace_back();
    if (event == Event::object_end && !keys.empty()) keys.pop_back();
    if (event == Event::key && !keys.empty() && !keys.back().insert(parsed.get<std::string>()).second &&
        twice.empty())
      twice = parsed.get<std::string>();
    return true;
  };
  Json json;
  try {
    json = json_of<Json>(text, watch);
  } catch (const nlohmann::json::parse_error& e) {
    const size_t at = std::min(e.byte > 0 ? e.byte - 1 : 0, text.size());
    const auto begin = text.begin(), end = begin + static_cast<std::ptrdiff_t>(at);
    const auto line = std::count(begin, end, '\n') + 1;
    const size_t start = text.rfind('\n', at > 0 ? at - 1 : 0);
    const size_t column = start == std::string::npos || start >= at ? at + 1 : at - start;
    const bool truncated = at >= text.find_last_not_of(" \t\r\n") + 1;
    std::string found = e.what();
    if (const auto colon = found.rfind("; expected "); colon != std::string::npos) found.erase(colon);
    if (const auto colon = found.find(": "); colon != std::string::npos) found.erase(0, colon + 2);
    throw InputError(Message{.file = file,
                             .place = fmt::format("line {}, column {}", line, column),
                             .expected = "well-formed JSON",
                             .found = truncated ? "the end of the file: it is cut short" : found});
  } catch (const nlohmann::json::out_of_range& e) {
    // The library says which number, not where: it is looked for in the text.
    const std::string what = e.what();
    const size_t quote = what.find('\''), end = what.rfind('\'');
    const std::string number = quote < end ? what.substr(quote + 1, end - quote - 1) : "";
    const auto at = static_cast<std::ptrdiff_t>(std::min(text.find(number), text.size()));
    throw InputError(
        Message{.file = file,
                .place = fmt::format("line {}", std::count(text.begin(), text.begin() + at, '\n') + 1),
                .expected = "a number below 1.8e308",
                .found = number});
  }
  if (!twice.empty())
    throw InputError(Message{.file = file,
                             .place = {},
                             .expected = "every key once",
                             .found = fmt::format("\"{}\" twice in one object", twice)});
  if (!json.is_object())
    throw InputError(Message{.file = file, .place = "/", .expected = "an object", .found = described(json)});
  return json;
}

JsonReader::JsonReader(const Json& value, std::string file, Messages& messages, std::string place)
    : value_(&value), file_(std::move(file)), messages_(&messages), place_(std::move(place)) {
  if (!value.is_object()) fail("", "an object", described(value));
}

void JsonReader::fail_at(const std::string& place, std::string expected, std::string found) {
  messages_->push_back(
      {Severity::error, file_, place.empty() ? "/" : place, std::move(expected), std::move(found)});
}

void JsonReader::fail(const std::string& key, std::string expected, std::string found) {
  fail_at(place_ + (key.empty() ? "" : "/" + key), std::move(expected), std::move(found));
}

const Json* JsonReader::take(const std::string& key, bool needed, const char* expected) {
  asked_.insert(key);
  if (has(key)) return &(*value_)[key];
  if (needed && value_->is_object()) fail(key, expected, "nothing");
  return nullptr;
}

double JsonReader::checked(const Json& value, const std::string& place, const NumberRule& rule) {
  const auto range = [&] {
    if (rule.low <= -1e299 && rule.high >= 1e299) return std::string("a number");
    if (rule.high >= 1e299)
      return fmt::format("a number {} {:.6g}", rule.above_low ? "above" : "not below", rule.low);
    return fmt::format("a number {} {:.6g} {} {:.6g}", rule.above_low ? "above" : "from", rule.low,
                       rule.above_low ? "and at most" : "to", rule.high);
  };
  if (!value.is_number()) {
    fail_at(place, range(), described(value));
    return rule.missing.value_or(0);
  }
  const double number = value.get<double>();
  if (!std::isfinite(number) || number < rule.low || number > rule.high ||
      (rule.above_low && number <= rule.low)) {
    fail_at(place, range(), described(value));
    return rule.missing.value_or(0);
  }
  return number * rule.factor + rule.offset;
}

double JsonReader::number(const std::string& key, const NumberRule& rule) {
  const Json* found = take(key, !rule.missing, "a number");
  return found ? checked(*found, place_ + "/" + key, rule) : rule.missing.value_or(0);
}

std::optional<double> JsonReader::number_if(const std::string& key, const NumberRule& rule) {
  const Json* found = take(key, false, "");
  if (!found || found->is_null()) return std::nullopt;
  return checked(*found, place_ + "/" + key, rule);
}

int JsonReader::whole(const std::string& key, int low, int high, std::optional<int> missing) {
  const Json* found = take(key, !missing, "a whole number");
  if (!found) return missing.value_or(low);
  const bool good = found->is_number() && std::floor(found->get<double>()) == found->get<double>() &&
                    found->get<double>() >= low && found->get<double>() <= high;
  if (good) return static_cast<int>(found->get<double>());
  fail(key, fmt::format("a whole number from {} to {}", low, high), described(*found));
  return missing.value_or(low);
}

std::string JsonReader::text(const std::string& key, std::optional<std::string> missing) {
  const Json* found = take(key, !missing, "a text");
  if (!found) return missing.value_or("");
  if (found->is_string()) {
    if (missing || !found->get<std::string>().empty()) return found->get<std::string>();
    fail(key, "a text that is not empty", "an empty one");
    return "";
  }
  fail(key, "a text", described(*found));
  return missing.value_or("");
}

std::optional<int> JsonReader::choice_if(const std::string& key, const std::vector<std::string>& choices,
                                         std::optional<int> missing) {
  std::string all;
  for (const auto& c : choices) all += (all.empty() ? "\"" : ", \"") + c + "\"";
  const Json* found = take(key, !missing, "a choice");
  if (!found) return missing;
  if (found->is_string()) {
    const auto at = std::find(choices.begin(), choices.end(), found->get<std::string>());
    if (at != choices.end()) return static_cast<int>(at - choices.begin());
  }
  fail(key, "one of " + all, described(*found));
  return std::nullopt;
}

int JsonReader::choice(const std::string& key, const std::vector<std::string>& choices,
                       std::optional<int> missing) {
  return choice_if(key, choices, missing).value_or(missing.value_or(0));
}

std::vector<double> JsonReader::numbers(const std::string& key, const NumberRule& rule) {
  const Json* found = take(key, !rule.missing, "a list of numbers");
  std::vector<double> out;
  if (!found) return out;
  if (!found->is_array()) {
    fail(key, "a list of numbers", described(*found));
    return out;
  }
  for (size_t i = 0; i < found->size(); ++i)
    out.push_back(checked((*found)[i], fmt::format("{}/{}/{}", place_, key, i), rule));
  return out;
}

std::vector<std::string> JsonReader::texts(const std::string& key) {
  const Json* found = take(key, false, "a list of texts");
  std::vector<std::string> out;
  if (!found) return out;
  if (!found->is_array()) fail(key, "a list of texts", described(*found));
  for (size_t i = 0; found->is_array() && i < found->size(); ++i) {
    if ((*found)[i].is_string())
      out.push_back((*found)[i].get<std::string>());
    else
      fail_at(fmt::format("{}/{}/{}", place_, key, i), "a text", described((*found)[i]));
  }
  return out;
}

Vec3 JsonReader::vector(const std::string& key, const NumberRule& rule) {
  const std::vector<double> out = numbers(key, rule);
  if (out.size() == 3) return {out[0], out[1], out[2]};
  if (has(key) && (*value_)[key].is_array()) fail(key, "three numbers: x, y, z", described((*value_)[key]));
  return Vec3::Zero();
}

std::vector<Vec2> JsonReader::points(const std::string& key, const NumberRule& rule) {
  const Json* found = take(key, true, "a list of points [a, b]");
  std::vector<Vec2> out;
  if (!found) return out;
  if (!found->is_array()) {
    fail(key, "a list of points [a, b]", described(*found));
    return out;
  }
  for (size_t i = 0; i < found->size(); ++i) {
    const Json& point = (*found)[i];
    const std::string at = fmt::format("{}/{}/{}", place_, key, i);
    if (!point.is_array() || point.size() != 2) {
      fail_at(at, "a point [a, b]", described(point));
      continue;
    }
    out.emplace_back(checked(point[0], at + "/0", rule), checked(point[1], at + "/1", rule));
  }
  return out;
}

std::vector<JsonReader> JsonReader::list(const std::string& key, bool needed) {
  std::vector<JsonReader> out;
  const Json* found = take(key, needed, "a list");
  if (!found) return out;
  if (!found->is_array()) {
    fail(key, "a list", described(*found));
    return out;
  }
  for (size_t i = 0; i < found->size(); ++i)
    out.emplace_back((*found)[i], file_, *messages_, fmt::format("{}/{}/{}", place_, key, i));
  return out;
}

std::optional<JsonReader> JsonReader::object(const std::string& key, bool needed) {
  const Json* found = take(key, needed, "an object");
  if (!found || found->is_null()) {
    if (found && needed) fail(key, "an object", "null");
    return std::nullopt;
  }
  return JsonReader(*found, file_, *messages_, place_ + "/" + key);
}

void JsonReader::warn_unknown() {
  if (!value_->is_object()) return;
  for (const auto& [key, value] : value_->items())
    if (!asked_.contains(key))
      messages_->push_back(
          {Severity::warning, file_, place_ + "/" + key, "", "unknown key, kept in the file and not used"});
}

}  // namespace uadze::project
