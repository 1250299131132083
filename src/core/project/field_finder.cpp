#include "core/project/field_finder.h"

#include "core/project/describe_session.h"

namespace uadze::project {

class FinderVisitor {
 public:
  explicit FinderVisitor(std::string_view key) : key_(key) {}
  FoundField out;

  void number(const Field& f, double& member, const FileUnit& unit, const Range& range = {}) {
    offer(f, &member, unit, range);
  }
  void optional_number(const Field& f, std::optional<double>& member, const FileUnit& unit,
                       const Range& range = {}) {
    offer(f, &member, unit, range);
  }
  void whole(const Field& f, int& member, int low, int high) {
    offer(f, &member, in_file::plain, {static_cast<double>(low), static_cast<double>(high)});
  }
  void text(const Field& f, std::string& member) { offer(f, &member); }
  void texts(const Field&, std::vector<std::string>&) {}
  template <class E>
  void choice(const Field& f, E& member, NameTable<E> table = nullptr) {
    if (key_ != f.key) return;
    offer(f, WordChoice{table ? names_of<E>(table) : names_of<E>(),
                        [at = &member] { return static_cast<int>(*at); },
                        [at = &member](int k) { *at = static_cast<E>(k); }});
  }
  void flag(const Field& f, bool& member, const char* no, const char* yes) {
    if (key_ != f.key) return;
    offer(f, WordChoice{
                 {no, yes}, [at = &member] { return *at ? 1 : 0; }, [at = &member](int k) { *at = k == 1; }});
  }
  void vector(const Field& f, Vec3& member, const FileUnit& unit, const Range& range = {}) {
    offer(f, &member, unit, range);
  }
  void points(const Field& f, std::vector<Vec2>& member, const FileUnit& unit, const Range& range, int) {
    offer(f, &member, unit, range);
  }
  void places(const Field&, std::vector<Vec3>&, const char*, const FileUnit&, const Range&) {}
  void pair(const Field& f, double& first, double&, const FileUnit& unit, const Range& range) {
    offer(f, &first, unit, range);
  }
  void coded(const Field& f, double& member, const Coding&) { offer(f, &member); }
  void one_of(const Field& f, double& member, std::span<const NamedValue> values) {
    if (key_ != f.key) return;
    WordChoice choice;
    for (const NamedValue& v : values) choice.words.emplace_back(v.name);
    choice.get = [at = &member, values] {
      for (size_t k = 0; k < values.size(); ++k)
        if (values[k].value == *at) return static_cast<int>(k);
      return -1;
    };
    choice.set = [at = &member, values](int k) { *at = values[static_cast<size_t>(k)].value; };
    offer(f, std::move(choice));
  }
  void listed(const Field&, std::vector<std::string>&) {}
  template <class T>
  void object(const Field&, T&) {}
  template <class T>
  void optional_object(const Field&, std::optional<T>&) {}
  template <class T>
  void list(const Field&, std::vector<T>&, int = 0) {}
  template <class T, class Describe>
  void list_by(const Field&, std::vector<T>&, Describe&&) {}
  template <class... T>
  void variant(const Field&, std::variant<T...>& member, const std::vector<std::string>&) {
    std::visit([this](auto& alternative) { describe(*this, alternative); }, member);
  }
  template <class E, class Describe>
  void cases(const E& member, Describe&& describe_case) {
    describe_case(*this, member);
  }
  void inline_or_list(const Field&, std::vector<tank::Shape>&, bool&) {}
  void either(const Field& a, const Field& b, std::optional<int>& first, int low, int high,
              std::optional<double>& second, const FileUnit& unit, const Range& range) {
    offer(a, &first, in_file::plain, {static_cast<double>(low), static_cast<double>(high)});
    offer(b, &second, unit, range);
  }

 private:
  template <class At>
  void offer(const Field& f, At at, const FileUnit& unit = in_file::plain, const Range& range = {}) {
    if (key_ == f.key) out.field = f, out.unit = unit, out.range = range, out.at = std::move(at);
  }
  std::string_view key_;
};

template <class T>
FoundField find_field(T& value, std::string_view key) {
  FinderVisitor visitor(key);
  describe(visitor, value);
  return std::move(visitor.out);
}

// A baffle's and a collector's openings differ in what they call their ways only.
template <class V>
void describe(V& v, tank::OpeningPart& o) {
  describe_opening(v, o, [](tank::Passes p) { return name_of(p); });
}

#define UADZE_FINDS(Type) template FoundField find_field(Type&, std::string_view)
UADZE_FINDS(Setup);
UADZE_FINDS(LapReference);
UADZE_FINDS(lap::Corner);
UADZE_FINDS(session::Session);
UADZE_FINDS(session::Scatter);
UADZE_FINDS(session::Record);
UADZE_FINDS(LogNote);
UADZE_FINDS(fluid::Blend);
UADZE_FINDS(fluid::WaterShift);
UADZE_FINDS(starvation::Engine);
UADZE_FINDS(starvation::FigureFuel);
UADZE_FINDS(starvation::LiftPump);
UADZE_FINDS(starvation::SurgeTank);
UADZE_FINDS(starvation::Limits);
UADZE_FINDS(tank::TankParts);
UADZE_FINDS(tank::Shape);
UADZE_FINDS(tank::Baffle);
UADZE_FINDS(tank::OpeningPart);
UADZE_FINDS(tank::Collector);
UADZE_FINDS(tank::Foam);
UADZE_FINDS(tank::Body);
UADZE_FINDS(tank::Pickup);
UADZE_FINDS(tank::ReturnOutlet);
UADZE_FINDS(tank::Vent);
UADZE_FINDS(tank::Sender);
UADZE_FINDS(circuit::Circuit);
UADZE_FINDS(circuit::Part);
UADZE_FINDS(circuit::Wiring);
UADZE_FINDS(circuit::PumpSpeed);
UADZE_FINDS(circuit::PumpSpeed::Point);
UADZE_FINDS(circuit::LiftLeg);
UADZE_FINDS(circuit::SuctionLeg);
UADZE_FINDS(circuit::MainLeg);
UADZE_FINDS(circuit::Stage);
UADZE_FINDS(circuit::Rail);
UADZE_FINDS(circuit::Regulator);
UADZE_FINDS(circuit::HighPressurePump);
UADZE_FINDS(circuit::Carburettor);
UADZE_FINDS(circuit::Transfer);
UADZE_FINDS(circuit::Charging);
UADZE_FINDS(circuit::HeatPlace);
#undef UADZE_FINDS

}  // namespace uadze::project
