#include "core/circuit/routes.h"

#include <cmath>

namespace uadze::circuit {
namespace {

constexpr double let_pass = 0.05;  // m, of fittings and the tape

/// Sum of a leg's runs, along one of its ways; nothing if it has lines and none says where it runs.
std::optional<Vec3> run_of(const Leg& leg) {
  Vec3 sum = Vec3::Zero();
  bool lines = false, known = false;
  for (size_t i = 0; i < leg.size(); ++i) {
    const Part& p = leg[i];
    if (p.kind != PartKind::line || p.way > 1) continue;
    lines = true;
    known = known || p.run.norm() > 0;
    sum += p.run;
  }
  if (lines && !known) return std::nullopt;
  return sum;
}

class Routes {
 public:
  explicit Routes(const Case& c) : c_(c), k_(c.circuit), around_(c.surroundings) {}

  std::vector<RouteGap> find() {
    rail_ = k_.rail.length * (k_.rail.rails == Rails::one ? 1 : 2) + k_.rail.crossover_length;
    surge_size_ = around_.surge ? 2 * std::cbrt(around_.surge_volume) : 0.0;
    ways();
    lifts();
    mains();
    loop();
    return std::move(out_);
  }

 private:
  void check(const LegPlace& leg, const Vec3& gap, double allowed, std::string ends, std::string meets) {
    if (gap.norm() > allowed + let_pass)
      out_.push_back({leg, gap, allowed + let_pass, std::move(ends), std::move(meets)});
  }

  /// Ways side by side begin and end together.
  void ways() {
    for (const LegPlace& place : legs_of(k_, around_)) {
      const Leg* leg = leg_at(k_, place);
      if (!leg) continue;
      for (size_t i = 0; i < leg->size(); ++i) {
        if ((*leg)[i].way == 0) continue;
        std::vector<std::pair<Vec3, bool>> sums(most_ways, {Vec3::Zero(), false});
        for (; i < leg->size() && (*leg)[i].way > 0; ++i) {
          auto& [sum, known] = sums[static_cast<size_t>((*leg)[i].way - 1)];
          sum += (*leg)[i].run;
          known = known || (*leg)[i].run.norm() > 0;
        }
        for (size_t way = 1; way < sums.size(); ++way)
          if (sums[0].second && sums[way].second)
            check(place, sums[0].first - sums[way].first, 0.0,
                  "way " + std::to_string(way + 1) + " of the " + place.title(k_), "way 1");
      }
    }
  }

  void lifts() {
    if (!around_.surge) return;
    for (size_t i = 0; i < k_.lifts.size(); ++i) {
      const auto run = run_of(k_.lifts[i].parts);
      const Surroundings::Pickup* pickup = nullptr;
      for (const auto& p : around_.pickups)
        if (p.feeds == k_.lifts[i].pump) pickup = &p;
      if (!run || !pickup || !pickup->place) continue;
      const Vec3 end = *pickup->place + *run;
      if (!surge_)
        surge_ = end;
      else
        check({LegKind::lift, static_cast<int>(i)}, *surge_ - end, surge_size_,
              "the leg of " + k_.lifts[i].pump, "the surge tank, as the first lift leg has it");
    }
  }

  void mains() {
    for (size_t i = 0; i < k_.mains.size(); ++i) {
      const auto run = run_of(k_.mains[i].parts);
      if (!run) continue;
      if (!main_)
        main_ = run;
      else
        check({LegKind::main, static_cast<int>(i)}, *main_ - *run, surge_size_,
              "the leg of " + LegPlace{LegKind::main, static_cast<int>(i)}.title(k_),
              "where the main pumps meet, as the first has it");
    }
  }

  void loop() {
    const bool returns =
        k_.engine_supply == EngineSupply::returned && k_.regulator.kind == RegulatorKind::bypass;
    const auto feed = run_of(k_.feed), back = run_of(k_.back);
    if (!returns || !main_ || !feed || !back || k_.back.empty()) return;
    Vec3 path = *main_ + *feed + *back;
    const LegPlace end{LegKind::back, 0};
    if (around_.surge && around_.return_to == ReturnTo::surge_tank)
      return check(end, -path, rail_ + surge_size_, "the return line", "the surge tank");
    if (around_.surge && around_.return_to == ReturnTo::overflow_tee) {
      const auto tee = run_of(k_.tee);
      if (!tee) return;
      path += *tee;
    }
    bool known = surge_.has_value();
    Vec3 arrives = path;
    if (known) arrives += *surge_;
    if (!around_.surge && !k_.suctions.empty()) {
      const auto suction = run_of(k_.suctions.front().parts);
      for (const auto& p : around_.pickups)
        if (p.name == k_.suctions.front().pickup && p.place && suction) {
          arrives = path + *p.place + *suction;
          known = true;
        }
    }
    if (!known || around_.returns.empty()) return;
    Vec3 gap = around_.returns.front() - arrives;
    for (const Vec3& outlet : around_.returns)
      if ((outlet - arrives).norm() < gap.norm()) gap = outlet - arrives;
    check(end, gap, rail_ + surge_size_, "the return line", "the tank's return outlet");
  }

  const Case& c_;
  const Circuit& k_;
  const Surroundings& around_;
  std::optional<Vec3> surge_, main_;
  double rail_ = 0.0, surge_size_ = 0.0;
  std::vector<RouteGap> out_;
};

}  // namespace

std::vector<RouteGap> route_gaps(const Case& c) { return Routes(c).find(); }

}  // namespace uadze::circuit
