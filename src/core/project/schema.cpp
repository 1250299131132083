#include "core/project/schema.h"

#include <fmt/format.h>

#include <map>
#include <set>
#include <type_traits>
#include <variant>

#include "core/project/describe_catalogue.h"
#include "core/project/describe_session.h"
#include "core/project/described_file.h"
#include "core/project/field_writer.h"

namespace uadze::project {

/// Described objects that stand in many places are written once: their schema and table by name.
struct SchemaParts {
  Json definitions = Json::object();
  std::string tables;
  std::set<std::string> told;
};

template <class T>
constexpr const char* shared_name() {
  if constexpr (std::is_same_v<T, tank::Shape>) return "shape";
  if constexpr (std::is_same_v<T, circuit::Part>) return "part";
  return nullptr;
}

class SchemaVisitor {
 public:
  SchemaVisitor(SchemaParts& parts, std::string title) : parts_(parts), title_(std::move(title)) {}

  void number(const Field& f, double& member, const FileUnit& unit, const Range& range = {}) {
    Json j = numeric(unit, range, f.sentence);
    const Json usual = file_number(member, unit);
    if (!f.needed) j["default"] = usual;
    add(f, std::move(j), range_text(unit, range), f.needed ? "" : usual.dump());
  }
  void optional_number(const Field& f, std::optional<double>&, const FileUnit& unit,
                       const Range& range = {}) {
    add(f, numeric(unit, range, f.sentence), range_text(unit, range), "");
  }
  template <class Whole>
  void whole(const Field& f, Whole& member, int low, int high) {
    Json j{{"type", "integer"}, {"minimum", low}, {"maximum", high}, {"description", f.sentence}};
    if (!f.needed) j["default"] = member;
    add(f, std::move(j), fmt::format("{} to {}", low, high), f.needed ? "" : fmt::format("{}", member));
  }
  void numbers(const Field& f, std::vector<double>&, const FileUnit& unit, const Range& range) {
    add(f, {{"type", "array"}, {"items", numeric(unit, range, "")}, {"description", f.sentence}},
        "list, " + range_text(unit, range), "");
  }
  void sizes(const Field& f, std::map<int, double>&, const FileUnit& unit, const Range& range, int most) {
    add(f,
        {{"type", "object"}, {"additionalProperties", numeric(unit, range, "")}, {"description", f.sentence}},
        fmt::format("sizes 1 to {}: {}", most, range_text(unit, range)), "");
  }
  void text(const Field& f, std::string& member) {
    Json j{{"type", "string"}, {"description", f.sentence}};
    if (f.needed)
      j["minLength"] = 1;
    else
      j["default"] = member;
    add(f, std::move(j), "text", f.needed || member.empty() ? "" : "\"" + member + "\"");
  }
  void texts(const Field& f, std::vector<std::string>&) {
    add(f, {{"type", "array"}, {"items", {{"type", "string"}}}, {"description", f.sentence}}, "texts", "");
  }
  template <class E>
  void choice(const Field& f, E& member, NameTable<E> table = nullptr) {
    const auto names = table ? names_of<E>(table) : names_of<E>();
    words(f, names, f.needed ? "" : names[static_cast<size_t>(member)]);
    chosen_[&member] = f.key;
  }
  void flag(const Field& f, bool& member, const char* no, const char* yes) {
    words(f, {no, yes}, member ? yes : no);
  }
  template <class Yes, class No>
  void flag_cases(bool, Yes&& yes, No&& no) {
    SchemaVisitor a(parts_, title_), b(parts_, title_);
    yes(a), no(b);
    all_of_.push_back({{"anyOf", Json::array({a.bare(), b.bare()})}});
    take_rows(a, "engine-driven"), take_rows(b, "electric");
  }
  void vector(const Field& f, Vec3&, const FileUnit& unit, const Range& range = {}) {
    add(f, row_of(3, unit, range, f.sentence), "[x, y, z], " + range_text(unit, range), "");
  }
  void points(const Field& f, std::vector<Vec2>&, const FileUnit& unit, const Range& range, int least) {
    add(f,
        {{"type", "array"},
         {"minItems", least},
         {"items", row_of(2, unit, range, "")},
         {"description", f.sentence}},
        fmt::format("list of [a, b], {}", range_text(unit, range)), "");
  }
  void places(const Field& f, std::vector<Vec3>&, const char* key, const FileUnit& unit, const Range& range) {
    add(f,
        {{"type", "array"},
         {"items",
          {{"type", "object"}, {"properties", {{key, row_of(3, unit, range, "")}}}, {"required", {key}}}},
         {"description", f.sentence}},
        fmt::format("list of {{\"{}\": [x, y, z]}}", key), "");
  }
  void pair(const Field& f, double&, double&, const FileUnit& unit, const Range& range) {
    add(f, row_of(2, unit, range, f.sentence), "[from, to], " + range_text(unit, range), "");
  }
  void coded(const Field& f, double&, const Coding& coding) {
    add(f, {{"type", "string"}, {"description", f.sentence}}, coding.expected, "");
  }
  void one_of(const Field& f, double& member, std::span<const NamedValue> values) {
    std::vector<std::string> names;
    std::string usual;
    for (const NamedValue& v : values) {
      names.emplace_back(v.name);
      if (v.value == member) usual = v.name;
    }
    words(f, names, usual);
  }
  void listed(const Field& f, std::vector<std::string>&) { words(f, {"no", "yes"}, "no"); }
  template <class T>
  void object(const Field& f, T&) {
    Json j = whole<T>(std::string(f.key));
    add(f, std::move(j), link<T>("object", f.key), "");
  }
  template <class T>
  void optional_object(const Field& f, std::optional<T>&) {
    Json j = whole<T>(std::string(f.key));
    add(f, {{"oneOf", Json::array({{{"type", "null"}}, std::move(j)})}, {"description", f.sentence}},
        link<T>("object or null", f.key), "");
  }
  template <class T>
  void list(const Field& f, std::vector<T>&, int most = 0) {
    Json j{{"type", "array"}, {"items", whole<T>(std::string(f.key) + "[]")}, {"description", f.sentence}};
    if (most > 0) j["maxItems"] = most;
    add(f, std::move(j), link<T>("list", std::string(f.key) + "[]"), "");
  }
  template <class T, class Describe>
  void list_by(const Field& f, std::vector<T>&, Describe&& describe_item) {
    SchemaVisitor inner(parts_, below(std::string(f.key) + "[]"));
    T item{};
    describe_item(inner, item);
    add(f, {{"type", "array"}, {"items", inner.finished()}, {"description", f.sentence}},
        "list of `" + inner.title_ + "`", "");
  }
  template <class... T>
  void variant(const Field& f, std::variant<T...>&, const std::vector<std::string>& names) {
    size_t k = 0;
    const auto one = [&](auto alternative) {
      SchemaVisitor inner(parts_, title_);
      inner.add(f, {{"const", names[k]}, {"description", f.sentence}}, "", "");
      inner.rows_.clear();
      describe(inner, alternative);
      one_of_.push_back(inner.bare());
      take_rows(inner, names[k]);
      ++k;
    };
    (one(T{}), ...);
    rows_.insert(0, fmt::format("| `{}` | {} | | {} |\n", f.key, joined(names), f.sentence));
  }
  template <class E, class Describe>
  void cases(const E& member, Describe&& describe_case) {
    const std::string key = chosen_.at(&member);
    for (int k = 0; k < count_of<E>(); ++k) {
      const E value = static_cast<E>(k);
      SchemaVisitor inner(parts_, title_);
      describe_case(inner, value);
      if (inner.properties_.empty()) continue;
      Json is{{"properties", {{key, {{"const", name_of(value)}}}}}};
      // Absent it is the first.
      if (k > 0) is["required"] = {key};
      all_of_.push_back({{"if", is}, {"then", inner.bare()}});
      take_rows(inner, name_of(value));
    }
  }
  void inline_or_list(const Field& f, std::vector<tank::Shape>& member, bool&) {
    list(f, member);
    SchemaVisitor inner(parts_, title_);
    tank::Prism prism;
    describe(inner, prism);
    for (const auto& [key, value] : inner.properties_.items()) properties_[key] = value;
    any_of_ = Json::array({{{"required", {f.key}}}, {{"required", inner.required_}}});
    take_rows(inner, "without `shapes`");
  }
  void either(const Field& a, const Field& b, std::optional<int>&, int low, int high, std::optional<double>&,
              const FileUnit& unit, const Range& range) {
    add(a, {{"type", "integer"}, {"minimum", low}, {"maximum", high}, {"description", a.sentence}},
        fmt::format("{} to {}, or `{}`", low, high, b.key), "");
    add(b, numeric(unit, range, b.sentence), range_text(unit, range), "");
    one_of_ = Json::array({{{"required", {a.key}}}, {{"required", {b.key}}}});
  }

  /// The schema of all that was described; its table goes to the parts.
  Json finished() {
    const std::string title = title_.empty() ? "the file" : title_;
    if (!rows_.empty() && parts_.told.insert(title).second)
      parts_.tables +=
          fmt::format("\n**{}**\n\n| key | range | default | meaning |\n|---|---|---|---|\n{}", title, rows_);
    return bare();
  }
  void first_key(const char* key) {
    properties_[key] = {{"const", 1}};
    required_.push_back(key);
  }

 private:
  static Json numeric(const FileUnit&, const Range& range, const char* sentence) {
    Json j{{"type", "number"}};
    if (range.low > -1e299) j[range.above_low ? "exclusiveMinimum" : "minimum"] = file_number(range.low);
    if (range.high < 1e299) j["maximum"] = file_number(range.high);
    if (*sentence) j["description"] = sentence;
    return j;
  }
  static Json row_of(int count, const FileUnit& unit, const Range& range, const char* sentence) {
    Json j{{"type", "array"}, {"items", numeric(unit, range, "")}, {"minItems", count}, {"maxItems", count}};
    if (*sentence) j["description"] = sentence;
    return j;
  }
  static std::string range_text(const FileUnit& unit, const Range& range) {
    std::string out =
        range.low <= -1e299 && range.high >= 1e299
            ? "a number"
            : fmt::format("{}{:.6g} to {:.6g}", range.above_low ? "above " : "", range.low, range.high);
    return out + (*unit.name ? std::string(" ") + unit.name : "");
  }
  static std::string joined(const std::vector<std::string>& names) {
    std::string out;
    for (const std::string& n : names) out += (out.empty() ? "`\"" : ", `\"") + n + "\"`";
    return out;
  }
  std::string below(const std::string& key) const { return title_.empty() ? key : title_ + "." + key; }
  template <class T>
  std::string link(const std::string& what, const std::string& key) const {
    const char* shared = shared_name<T>();
    return what + " of `" + (shared ? std::string(shared) : below(key)) + "`";
  }

  void words(const Field& f, const std::vector<std::string>& names, const std::string& usual) {
    Json j{{"enum", names}, {"description", f.sentence}};
    if (!usual.empty()) j["default"] = usual;
    add(f, std::move(j), joined(names), usual.empty() ? "" : "`\"" + usual + "\"`");
  }
  void add(const Field& f, Json schema, const std::string& range, const std::string& usual) {
    properties_[f.key] = std::move(schema);
    if (f.needed) required_.push_back(f.key);
    rows_ += fmt::format("| `{}` | {} | {} | {} |\n", f.key, range, f.needed ? "needed" : usual, f.sentence);
  }
  void take_rows(const SchemaVisitor& inner, const std::string& when) {
    // Rows of a case say when they count, after the key.
    size_t from = 0;
    while (from < inner.rows_.size()) {
      const size_t end = inner.rows_.find('\n', from), key_end = inner.rows_.find("` |", from);
      rows_ += inner.rows_.substr(from, key_end + 1 - from) + " (" + when + ")" +
               inner.rows_.substr(key_end + 1, end - key_end);
      from = end + 1;
    }
  }

  template <class T>
  Json whole(const std::string& key) {
    const char* shared = shared_name<T>();
    const std::string title = shared ? std::string(shared) : below(key);
    if (shared && parts_.definitions.contains(shared))
      return {{"$ref", std::string("#/definitions/") + shared}};
    SchemaVisitor inner(parts_, title);
    T value{};
    describe(inner, value);
    Json out = inner.finished();
    if (!shared) return out;
    parts_.definitions[shared] = std::move(out);
    return {{"$ref", std::string("#/definitions/") + shared}};
  }

  Json bare() const {
    Json out{{"type", "object"}};
    if (!properties_.empty()) out["properties"] = properties_;
    if (!required_.empty()) out["required"] = required_;
    if (!all_of_.empty()) out["allOf"] = all_of_;
    if (!any_of_.empty()) out["anyOf"] = any_of_;
    if (!one_of_.empty()) out["oneOf"] = one_of_;
    return out;
  }

  SchemaParts& parts_;
  std::string title_;
  Json properties_ = Json::object(), required_ = Json::array(), all_of_ = Json::array(),
       any_of_ = Json::array(), one_of_ = Json::array();
  std::string rows_;
  std::map<const void*, std::string> chosen_;  // keys of choices, by their member
};

namespace {

template <class T>
void tell(const char* title, const char* version_key, SchemaParts& parts, Json& schema) {
  SchemaVisitor visitor(parts, "");
  visitor.first_key(version_key);
  T value{};
  describe(visitor, value);
  schema = {{"$schema", "http://json-schema.org/draft-07/schema#"},
            {"title", title},
            {"description", "Unknown keys are kept and warned of."}};
  schema.update(visitor.finished());
  if (!parts.definitions.empty()) schema["definitions"] = parts.definitions;
}

SchemaParts told(FileKind kind, Json& schema) {
  SchemaParts parts;
  switch (kind) {
    case FileKind::project:
      tell<Project>("Undertow Adze project", "undertow_adze_project", parts, schema);
      break;
    case FileKind::catalogue:
      tell<CatalogueFile>("Undertow Adze catalogue", "undertow_adze_catalogue", parts, schema);
      break;
    case FileKind::track:
      tell<lap::Track>("Undertow Adze track", track_key, parts, schema);
      break;
    case FileKind::car:
      tell<CarFile>("Undertow Adze car", car_key, parts, schema);
      break;
    case FileKind::log_mapping:
      tell<log::Mapping>("Undertow Adze mapping of a log", log_mapping_key, parts, schema);
      break;
    case FileKind::can_signals:
      tell<SignalTable>("Undertow Adze table of CAN signals", can_signals_key, parts, schema);
      break;
  }
  return parts;
}

}  // namespace

Json json_schema(FileKind kind) {
  Json schema;
  told(kind, schema);
  return schema;
}

std::string field_tables(FileKind kind) {
  Json schema;
  return told(kind, schema).tables;
}

}  // namespace uadze::project
