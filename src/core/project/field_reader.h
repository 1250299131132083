#pragma once
// Described values from JSON: every fault is collected with its place, unknown keys are warned of.
//
// Example:
//   using namespace uadze;
//   const project::Json json = project::parse_json(R"({"name": "lift 1", "flow_l_h": 120, "colour": "red"})", "p.json");
//   Messages messages;
//   const auto pump = project::read_fields<starvation::LiftPump>(project::JsonReader(json, "p.json", messages));
//   EXPECT_DOUBLE_EQ(pump.flow, 120e-3 / 3600);
//   EXPECT_EQ(messages.size(), 1u);          // "colour" is not known
#include <map>
#include <variant>

#include "core/project/describe_session.h"
#include "core/project/json_reader.h"

namespace uadze::project {

template <class T>
T read_fields(JsonReader in);

class FieldReader {
 public:
  explicit FieldReader(JsonReader in) : in_(std::move(in)) {}
  /// Once all is described.
  void done() {
    if (!unknown_kind_) in_.warn_unknown();
  }
  JsonReader& in() { return in_; }

  void number(const Field& f, double& member, const FileUnit& unit, const Range& range = {}) {
    member = in_.number(f.key, rule(unit, range, f.needed ? std::nullopt : std::optional(member)));
  }
  void optional_number(const Field& f, std::optional<double>& member, const FileUnit& unit,
                       const Range& range = {}) {
    member = in_.number_if(f.key, rule(unit, range, {}));
  }
  template <class Whole>
  void whole(const Field& f, Whole& member, int low, int high) {
    member = static_cast<Whole>(
        in_.whole(f.key, low, high, f.needed ? std::nullopt : std::optional(static_cast<int>(member))));
  }
  void numbers(const Field& f, std::vector<double>& member, const FileUnit& unit, const Range& range) {
    if (f.needed || in_.has(f.key)) member = in_.numbers(f.key, rule(unit, range, {}));
  }
  /// Numbers by a size from 1 to `most`, each under the size as its key.
  void sizes(const Field& f, std::map<int, double>& member, const FileUnit& unit, const Range& range,
             int most) {
    auto in = in_.object(f.key, f.needed);
    for (int size = 1; in && size <= most; ++size)
      if (const auto value = in->number_if(std::to_string(size), rule(unit, range, {})))
        member[size] = *value;
  }
  /// Members that depend on a flag described before.
  template <class Yes, class No>
  void flag_cases(bool which, Yes&& yes, No&& no) {
    which ? yes(*this) : no(*this);
  }
  void text(const Field& f, std::string& member) {
    member = f.needed ? in_.text(f.key) : in_.text(f.key, member);
  }
  void texts(const Field& f, std::vector<std::string>& member) { member = in_.texts(f.key); }
  template <class E>
  void choice(const Field& f, E& member, NameTable<E> table = nullptr) {
    const auto names = table ? names_of<E>(table) : names_of<E>();
    const auto read =
        in_.choice_if(f.key, names, f.needed ? std::nullopt : std::optional(static_cast<int>(member)));
    if (read)
      member = static_cast<E>(*read);
    else
      unknown_ = &member;
  }
  void flag(const Field& f, bool& member, const char* no, const char* yes) {
    member = in_.choice(f.key, {no, yes}, member ? 1 : 0) == 1;
  }
  void vector(const Field& f, Vec3& member, const FileUnit& unit, const Range& range = {}) {
    if (f.needed || in_.has(f.key)) member = in_.vector(f.key, rule(unit, range, {}));
  }
  void points(const Field& f, std::vector<Vec2>& member, const FileUnit& unit, const Range& range, int) {
    member = in_.points(f.key, rule(unit, range, {}));
  }
  void places(const Field& f, std::vector<Vec3>& member, const char* key, const FileUnit& unit,
              const Range& range) {
    for (JsonReader& item : in_.list(f.key, f.needed)) {
      member.push_back(item.vector(key, rule(unit, range, {})));
      item.warn_unknown();
    }
  }
  void pair(const Field& f, double& first, double& second, const FileUnit& unit, const Range& range) {
    const std::vector<double> both = in_.numbers(f.key, rule(unit, range, {}));
    if (both.size() == 2)
      first = both[0], second = both[1];
    else if (in_.has(f.key))
      in_.fail(f.key, "two numbers", std::to_string(both.size()));
  }
  void coded(const Field& f, double& member, const Coding& coding) {
    const std::string text = in_.text(f.key, "");
    const auto value = coding.read(text);
    if (!value) in_.fail(f.key, coding.expected, "\"" + text + "\"");
    member = value.value_or(member);
  }
  void one_of(const Field& f, double& member, std::span<const NamedValue> values) {
    std::vector<std::string> names;
    for (const NamedValue& v : values) names.emplace_back(v.name);
    if (in_.has(f.key)) member = values[static_cast<size_t>(in_.choice(f.key, names, 0))].value;
  }
  void listed(const Field& f, std::vector<std::string>& member) {
    if (in_.choice(f.key, {"no", "yes"}, 0) == 1) member.emplace_back(f.key);
  }
  template <class T>
  void object(const Field& f, T& member) {
    if (auto in = in_.object(f.key, f.needed)) member = read_fields<T>(*in);
  }
  template <class T>
  void optional_object(const Field& f, std::optional<T>& member) {
    if (auto in = in_.object(f.key, f.needed)) member = read_fields<T>(*in);
  }
  template <class T>
  void list(const Field& f, std::vector<T>& member, int = 0) {
    for (JsonReader& in : in_.list(f.key, f.needed)) member.push_back(read_fields<T>(in));
  }
  template <class T, class Describe>
  void list_by(const Field& f, std::vector<T>& member, Describe&& describe_item) {
    for (JsonReader& in : in_.list(f.key, f.needed)) {
      FieldReader reader(in);
      T item{};
      describe_item(reader, item);
      reader.done();
      member.push_back(std::move(item));
    }
  }
  template <class... T>
  void variant(const Field& f, std::variant<T...>& member, const std::vector<std::string>& names) {
    const auto index = in_.choice_if(f.key, names, std::nullopt);
    if (!index) {
      unknown_kind_ = true;
      return;
    }
    static const std::variant<T...> made[] = {T{}...};
    member = made[*index];
    std::visit([this](auto& alternative) { describe(*this, alternative); }, member);
  }
  template <class E, class Describe>
  void cases(const E& member, Describe&& describe_case) {
    // Of a kind that is not known nothing else can be asked.
    if (unknown_ == &member)
      unknown_kind_ = true;
    else
      describe_case(*this, member);
  }
  void inline_or_list(const Field& f, std::vector<tank::Shape>& member, bool& in_line) {
    in_line = !in_.has(f.key);
    if (!in_line) return list(Field{f.key, f.label, f.sentence, true}, member);
    tank::Prism prism;
    describe(*this, prism);
    member.emplace_back(std::move(prism));
  }
  void either(const Field& a, const Field& b, std::optional<int>& first, int low, int high,
              std::optional<double>& second, const FileUnit& unit, const Range& range) {
    if (in_.has(a.key)) first = in_.whole(a.key, low, high, low);
    second = in_.number_if(b.key, rule(unit, range, {}));
  }

 private:
  static NumberRule rule(const FileUnit& unit, const Range& range, std::optional<double> missing) {
    return {unit.factor, unit.offset, range.low, range.high, missing, range.above_low};
  }

  JsonReader in_;
  const void* unknown_ = nullptr;  // a choice that could not be read
  bool unknown_kind_ = false;
};

template <class T>
T read_fields(JsonReader in) {
  FieldReader reader(std::move(in));
  T out{};
  describe(reader, out);
  reader.done();
  return out;
}

}  // namespace uadze::project
