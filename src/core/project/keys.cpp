#include "core/project/keys.h"

#include <string_view>
#include <variant>

#include "core/project/describe_session.h"

namespace uadze::project {

class KeyVisitor {
 public:
  KeyMaker maker;

  void number(const Field& f, double& member, const FileUnit&, const Range& = {}) {
    maker.add(f.key).add(member);
  }
  void optional_number(const Field& f, std::optional<double>& member, const FileUnit&, const Range& = {}) {
    if (member) maker.add(f.key).add(*member);
  }
  void whole(const Field& f, int& member, int, int) { maker.add(f.key).add(member); }
  void text(const Field& f, std::string& member) {
    if (std::string_view(f.key) != "notes") maker.add(f.key).add(member);
  }
  void texts(const Field& f, std::vector<std::string>& member) {
    maker.add(f.key).add(static_cast<std::int64_t>(member.size()));
    for (const std::string& text : member) maker.add(text);
  }
  template <class E>
  void choice(const Field& f, E& member, NameTable<E> = nullptr) {
    maker.add(f.key).add(static_cast<int>(member));
  }
  void flag(const Field& f, bool& member, const char*, const char*) { maker.add(f.key).add(member); }
  void vector(const Field& f, Vec3& member, const FileUnit&, const Range& = {}) {
    maker.add(f.key).add(std::span<const double>(member.data(), 3));
  }
  void points(const Field& f, std::vector<Vec2>& member, const FileUnit&, const Range&, int) {
    maker.add(f.key).add(static_cast<std::int64_t>(member.size()));
    for (Vec2& p : member) maker.add(std::span<const double>(p.data(), 2));
  }
  void places(const Field& f, std::vector<Vec3>& member, const char*, const FileUnit&, const Range&) {
    maker.add(f.key).add(static_cast<std::int64_t>(member.size()));
    for (Vec3& p : member) maker.add(std::span<const double>(p.data(), 3));
  }
  void pair(const Field& f, double& first, double& second, const FileUnit&, const Range&) {
    maker.add(f.key).add(first).add(second);
  }
  void coded(const Field& f, double& member, const Coding&) { maker.add(f.key).add(member); }
  void one_of(const Field& f, double& member, std::span<const NamedValue>) { maker.add(f.key).add(member); }
  void listed(const Field& f, std::vector<std::string>& member) {
    for (const std::string& word : member)
      if (word == f.key) maker.add(f.key);
  }
  template <class T>
  void object(const Field& f, T& member) {
    maker.add(f.key);
    describe(*this, member);
  }
  template <class T>
  void optional_object(const Field& f, std::optional<T>& member) {
    maker.add(f.key).add(member.has_value());
    if (member) describe(*this, *member);
  }
  template <class T>
  void list(const Field& f, std::vector<T>& member, int = 0) {
    list_by(f, member, [](auto& v, T& item) { describe(v, item); });
  }
  template <class T, class Describe>
  void list_by(const Field& f, std::vector<T>& member, Describe&& describe_item) {
    maker.add(f.key).add(static_cast<std::int64_t>(member.size()));
    for (T& item : member) describe_item(*this, item);
  }
  template <class... T>
  void variant(const Field& f, std::variant<T...>& member, const std::vector<std::string>&) {
    maker.add(f.key).add(static_cast<std::int64_t>(member.index()));
    std::visit([this](auto& alternative) { describe(*this, alternative); }, member);
  }
  template <class E, class Describe>
  void cases(const E& member, Describe&& describe_case) {
    describe_case(*this, member);
  }
  // A prism without a list of shapes is the same tank as one in a list, but its faults have other places.
  void inline_or_list(const Field& f, std::vector<tank::Shape>& member, bool& in_line) {
    maker.add(in_line);
    list(f, member);
  }
  void either(const Field& a, const Field& b, std::optional<int>& first, int, int,
              std::optional<double>& second, const FileUnit& unit, const Range&) {
    if (first) maker.add(a.key).add(*first);
    optional_number(b, second, unit);
  }
};

template <class T>
static ContentKey make_key(const T& value) {
  KeyVisitor visitor;
  // This visitor only looks at the members.
  describe(visitor, const_cast<T&>(value));
  return visitor.maker.key();
}

ContentKey key_of(const Setup& setup) { return make_key(setup); }
ContentKey key_of(const tank::TankParts& tank) { return make_key(tank); }
ContentKey key_of(const LapReference& lap) { return make_key(lap); }
ContentKey key_of(const session::Session& session) { return make_key(session); }

}  // namespace uadze::project
