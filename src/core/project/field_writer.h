#pragma once
// Described values as JSON, every key written out, defaults too.
//
// Example:
//   using namespace uadze;
//   EXPECT_EQ(project::written(starvation::LiftPump{"lift 1", 120e-3 / 3600}).dump(),
//             R"({"name":"lift 1","flow_l_h":120})");
#include <variant>

#include "core/project/describe_session.h"
#include "core/project/json_reader.h"

namespace uadze::project {

/// What a number of the file is in SI: 12 digits, so that the rounding of the conversion does not show.
Json file_number(double si, const FileUnit& unit = in_file::plain);

template <class T>
Json written(const T& value);

class FieldWriter {
 public:
  Json json = Json::object();

  void number(const Field& f, double& member, const FileUnit& unit, const Range& = {}) {
    json[f.key] = file_number(member, unit);
  }
  void optional_number(const Field& f, std::optional<double>& member, const FileUnit& unit,
                       const Range& = {}) {
    if (member) json[f.key] = file_number(*member, unit);
  }
  template <class Int>
  void whole(const Field& f, Int& member, int, int) {
    json[f.key] = member;
  }
  void numbers(const Field& f, std::vector<double>& member, const FileUnit& unit, const Range& = {}) {
    json[f.key] = Json::array();
    for (double value : member) json[f.key].push_back(file_number(value, unit));
  }
  void text(const Field& f, std::string& member) { json[f.key] = member; }
  void texts(const Field& f, std::vector<std::string>& member) { json[f.key] = member; }
  template <class E>
  void choice(const Field& f, E& member, NameTable<E> table = nullptr) {
    json[f.key] = table ? table(member) : name_of(member);
  }
  void flag(const Field& f, bool& member, const char* no, const char* yes) {
    json[f.key] = member ? yes : no;
  }
  void vector(const Field& f, Vec3& v, const FileUnit& unit, const Range& = {}) {
    json[f.key] = Json::array({file_number(v.x(), unit), file_number(v.y(), unit), file_number(v.z(), unit)});
  }
  void points(const Field& f, std::vector<Vec2>& member, const FileUnit& unit, const Range&, int) {
    json[f.key] = Json::array();
    for (const Vec2& p : member)
      json[f.key].push_back(Json::array({file_number(p.x(), unit), file_number(p.y(), unit)}));
  }
  void places(const Field& f, std::vector<Vec3>& member, const char* key, const FileUnit& unit,
              const Range&) {
    json[f.key] = Json::array();
    for (Vec3& p : member) {
      FieldWriter item;
      item.vector({key, "", ""}, p, unit);
      json[f.key].push_back(std::move(item.json));
    }
  }
  void pair(const Field& f, double& first, double& second, const FileUnit& unit, const Range&) {
    json[f.key] = Json::array({file_number(first, unit), file_number(second, unit)});
  }
  void coded(const Field& f, double& member, const Coding& coding) { json[f.key] = coding.write(member); }
  void one_of(const Field& f, double& member, std::span<const NamedValue> values) {
    json[f.key] = values.front().name;
    for (const NamedValue& v : values)
      if (v.value == member) json[f.key] = v.name;
  }
  void listed(const Field& f, std::vector<std::string>& member) {
    for (const std::string& word : member)
      if (word == f.key) json[f.key] = "yes";
  }
  template <class T>
  void object(const Field& f, T& member) {
    json[f.key] = written(member);
  }
  template <class T>
  void optional_object(const Field& f, std::optional<T>& member) {
    json[f.key] = member ? written(*member) : Json();
  }
  template <class T>
  void list(const Field& f, std::vector<T>& member, int = 0) {
    json[f.key] = Json::array();
    for (T& item : member) json[f.key].push_back(written(item));
  }
  template <class T, class Describe>
  void list_by(const Field& f, std::vector<T>& member, Describe&& describe_item) {
    json[f.key] = Json::array();
    for (T& item : member) {
      FieldWriter writer;
      describe_item(writer, item);
      json[f.key].push_back(std::move(writer.json));
    }
  }
  template <class... T>
  void variant(const Field& f, std::variant<T...>& member, const std::vector<std::string>& names) {
    json[f.key] = names[member.index()];
    std::visit([this](auto& alternative) { describe(*this, alternative); }, member);
  }
  template <class E, class Describe>
  void cases(const E& member, Describe&& describe_case) {
    describe_case(*this, member);
  }
  void inline_or_list(const Field& f, std::vector<tank::Shape>& member, bool& in_line) {
    auto* prism = in_line && member.size() == 1 ? std::get_if<tank::Prism>(&member[0]) : nullptr;
    if (prism)
      describe(*this, *prism);
    else
      list(f, member);
  }
  void either(const Field& a, const Field& b, std::optional<int>& first, int, int,
              std::optional<double>& second, const FileUnit& unit, const Range&) {
    if (first) json[a.key] = *first;
    if (second) json[b.key] = file_number(*second, unit);
  }
};

template <class T>
Json written(const T& value) {
  FieldWriter writer;
  // A description is written for members that may be set; this visitor only looks at them.
  describe(writer, const_cast<T&>(value));
  return std::move(writer.json);
}

}  // namespace uadze::project
