#include "core/project/places.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <variant>

#include "core/project/describe_catalogue.h"
#include "core/project/describe_session.h"

namespace uadze::project {

class PlaceVisitor {
 public:
  /// The values under one step; -1: the root.
  PlaceVisitor(Places& out, int under) : out_(out), under_(under) {}
  template <class T>
  static void start(Places& out, const std::string& root, const T& value) {
    out.root_ = root;
    PlaceVisitor visitor(out, -1);
    // This visitor only looks at the members.
    describe(visitor, const_cast<T&>(value));
    std::ranges::stable_sort(out.stands_, by_member, &Places::Stand::member);
  }

  void number(const Field& f, double& member, const FileUnit& unit, const Range& range = {}) {
    stands(f, member);
    check(member, member, unit, range);
  }
  void optional_number(const Field& f, std::optional<double>& member, const FileUnit& unit,
                       const Range& range = {}) {
    stands(f, member);
    if (!member) return;
    stands(f, *member);
    check(*member, member, unit, range);
  }
  void whole(const Field& f, int& member, int low, int high) {
    stands(f, member);
    check_whole(member, member, low, high);
  }
  void sizes(const Field& f, std::map<int, double>& member, const FileUnit&, const Range&, int) {
    stands(f, member);
  }
  template <class Yes, class No>
  void flag_cases(bool which, Yes&& yes, No&& no) {
    which ? yes(*this) : no(*this);
  }
  void text(const Field& f, std::string& member) {
    stands(f, member);
    if (f.needed && member.empty()) fail(member, "a text that is not empty", "an empty one");
  }
  void texts(const Field& f, std::vector<std::string>& member) {
    stands(f, member);
    for (size_t i = 0; i < member.size(); ++i) stands_at(step(f, i), member[i]);
  }
  template <class E>
  void choice(const Field& f, E& member, NameTable<E> = nullptr) {
    stands(f, member);
  }
  void flag(const Field& f, bool& member, const char*, const char*) { stands(f, member); }
  void vector(const Field& f, Vec3& member, const FileUnit& unit, const Range& range = {}) {
    stands(f, member);
    for (int k = 0; k < 3; ++k) check(member[k], member, unit, range);
  }
  void points(const Field& f, std::vector<Vec2>& member, const FileUnit& unit, const Range& range, int) {
    stands(f, member);
    for (size_t i = 0; i < member.size(); ++i) {
      stands_at(step(f, i), member[i]);
      for (int k = 0; k < 2; ++k) check(member[i][k], member[i], unit, range);
    }
  }
  void places(const Field& f, std::vector<Vec3>& member, const char* key, const FileUnit& unit,
              const Range& range) {
    stands(f, member);
    for (size_t i = 0; i < member.size(); ++i) {
      stands_at(step(f, i, key), member[i]);
      for (int k = 0; k < 3; ++k) check(member[i][k], member[i], unit, range);
    }
  }
  void pair(const Field& f, double& first, double& second, const FileUnit& unit, const Range& range) {
    stands(f, first);
    stands(f, second);
    check(first, first, unit, range);
    check(second, second, unit, range);
  }
  void coded(const Field& f, double& member, const Coding&) { stands(f, member); }
  void one_of(const Field& f, double& member, std::span<const NamedValue>) { stands(f, member); }
  void listed(const Field&, std::vector<std::string>&) {}
  template <class T>
  void object(const Field& f, T& member) {
    stands(f, member);
    PlaceVisitor inner = below(step(f));
    describe(inner, member);
  }
  template <class T>
  void optional_object(const Field& f, std::optional<T>& member) {
    stands(f, member);
    if (member) object(f, *member);
  }
  template <class T>
  void list(const Field& f, std::vector<T>& member, int = 0) {
    list_by(f, member, [](auto& v, T& item) { describe(v, item); });
  }
  template <class T, class Describe>
  void list_by(const Field& f, std::vector<T>& member, Describe&& describe_item) {
    stands(f, member);
    for (size_t i = 0; i < member.size(); ++i) {
      stands_at(step(f, i), member[i]);
      PlaceVisitor inner = below(step(f, i));
      describe_item(inner, member[i]);
    }
  }
  template <class... T>
  void variant(const Field&, std::variant<T...>& member, const std::vector<std::string>&) {
    std::visit([this](auto& alternative) { describe(*this, alternative); }, member);
  }
  template <class E, class Describe>
  void cases(const E& member, Describe&& describe_case) {
    describe_case(*this, member);
  }
  void inline_or_list(const Field& f, std::vector<tank::Shape>& member, bool& in_line) {
    auto* prism = in_line && member.size() == 1 ? std::get_if<tank::Prism>(&member[0]) : nullptr;
    if (!prism) return list(f, member);
    // It is its own value: it stands where its members' owner does.
    const Places::Step here = under_ < 0 ? Places::Step{} : out_.steps_[static_cast<size_t>(under_)];
    stands_at(here, member);
    stands_at(here, member[0]);
    describe(*this, *prism);
  }
  void either(const Field& a, const Field& b, std::optional<int>& first, int low, int high,
              std::optional<double>& second, const FileUnit& unit, const Range& range) {
    stands(a, first);
    if (first) check_whole(*first, first, low, high);
    optional_number(b, second, unit, range);
  }

 private:
  static bool by_member(const ValuePlace& a, const ValuePlace& b) {
    return a.address != b.address ? std::less<>()(a.address, b.address) : a.type < b.type;
  }
  Places::Step step(const Field& f, size_t index, const char* then = nullptr) const {
    return {under_, f.key, static_cast<int>(index), then};
  }
  Places::Step step(const Field& f) const { return {under_, f.key}; }
  PlaceVisitor below(const Places::Step& at) {
    out_.steps_.push_back(at);
    return {out_, static_cast<int>(out_.steps_.size()) - 1};
  }
  template <class T>
  void stands(const Field& f, const T& member) {
    stands_at(step(f), member);
  }
  template <class T>
  void stands_at(const Places::Step& at, const T& member) {
    out_.stands_.push_back({place_of(member), at});
  }
  template <class T>
  void fail(const T& member, std::string expected, std::string found) {
    add_fault(out_.out_of_range_, Severity::error, place_of(member), std::move(expected), std::move(found));
  }
  template <class T>
  void check(double value, const T& member, const FileUnit& unit, const Range& range) {
    const double shown = unit.from_si(value);
    // What was read in the file's unit may come back a rounding beside the range's end.
    const double slack = 1e-9 * std::max(std::abs(shown), 1.0);
    if (std::isfinite(value) && shown >= range.low - slack && shown <= range.high + slack &&
        (!range.above_low || shown > range.low))
      return;
    fail(member,
         range.low <= -1e299 && range.high >= 1e299
             ? std::string("a number")
             : fmt::format("a number {} {:.6g} {} {:.6g}{}{}", range.above_low ? "above" : "from", range.low,
                           range.above_low ? "and at most" : "to", range.high, *unit.name ? " " : "",
                           unit.name),
         fmt::format("{:.6g}", shown));
  }
  template <class T>
  void check_whole(int value, const T& member, int low, int high) {
    if (value < low || value > high)
      fail(member, fmt::format("a whole number from {} to {}", low, high), fmt::format("{}", value));
  }

  Places& out_;
  int under_;
  friend class Places;
};

std::string Places::text_of(const Step& step) const {
  if (!*step.key) return root_;
  std::string out = step.from < 0 ? root_ : text_of(steps_[static_cast<size_t>(step.from)]);
  out += std::string("/") + step.key;
  if (step.index >= 0) out += "/" + std::to_string(step.index);
  if (step.then) out += std::string("/") + step.then;
  return out;
}

std::string Places::pointer(const ValuePlace& member) const {
  const auto found = std::ranges::lower_bound(stands_, member, &PlaceVisitor::by_member, &Stand::member);
  return found == stands_.end() || PlaceVisitor::by_member(member, found->member) ? root_
                                                                                  : text_of(found->step);
}

Messages Places::messages(const Faults& faults, const std::string& file) const {
  Messages out;
  for (const Fault& f : faults) {
    const std::string at = pointer(f.at);
    out.push_back({f.severity, file, at.empty() ? "/" : at, f.expected, f.found});
  }
  return out;
}

template <class T>
static Places make_places(const T& value, const std::string& root) {
  Places out;
  PlaceVisitor::start(out, root, value);
  return out;
}

Places places_in(const Project& project) { return make_places(project, ""); }
Places places_in(const Setup& setup, const std::string& root) { return make_places(setup, root); }
Places places_in(const tank::TankParts& tank, const std::string& root) { return make_places(tank, root); }
Places places_in(const circuit::Circuit& circuit, const std::string& root) {
  return make_places(circuit, root);
}
Places places_in(const CatalogueFile& catalogue) { return make_places(catalogue, ""); }
Places places_in(const lap::Track& track) { return make_places(track, ""); }

}  // namespace uadze::project
