#include "core/diagnosis/events.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uadze::diagnosis {
namespace {

using log::Role;

/// The middle one of some values; nothing of none.
std::optional<double> middle(std::vector<double> values) {
  if (values.empty()) return std::nullopt;
  const auto at = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), at, values.end());
  return *at;
}

class Finder {
 public:
  Finder(const log::Log& log, const log::Laps& laps, const FindOptions& options, const std::string& file)
      : log_(log),
        laps_(laps),
        options_(options),
        file_(file),
        rpm_(log.values(Role::rpm)),
        throttle_(log.values(Role::throttle)) {}

  Found run() {
    way_ = log::driven(log_);
    pressure();
    lambda();
    pump();
    level_switch();
    std::stable_sort(out_.events.begin(), out_.events.end(),
                     [](const LoggedEvent& a, const LoggedEvent& b) { return a.begin < b.begin; });
    return std::move(out_);
  }

 private:
  void note(std::string what) { out_.notes.push_back({Severity::note, file_, "", "", std::move(what)}); }

  bool running(size_t i) const { return rpm_.empty() || rpm_[i] >= options_.running; }

  /// Stretches where `bad` holds for longer than the limit's time, short breaks (a third of it) bridged; none
  /// goes over the end of a part.
  template <class Bad, class Tell>
  void stretches(double least, Bad&& bad, Tell&& tell) {
    const double bridged = least / 3 + log_.step();
    for (size_t p = 0; p < log_.parts.size(); ++p) {
      const size_t first = log_.parts[p], past = p + 1 < log_.parts.size() ? log_.parts[p + 1] : log_.size();
      std::optional<size_t> begin;
      size_t last = first;
      const auto end = [&] {
        if (!begin) return;
        const double until = log_.time[std::min(last + 1, past - 1)];
        if (until - log_.time[*begin] > least) tell(*begin, last);
        begin.reset();
      };
      for (size_t i = first; i < past; ++i) {
        if (bad(i)) {
          if (begin && log_.time[i] - log_.time[last] > bridged) end();
          if (!begin) begin = i;
          last = i;
        }
      }
      end();
    }
  }

  LoggedEvent event(Sign sign, size_t first, size_t last) const {
    LoggedEvent e{
        .sign = sign, .begin = log_.time[first], .end = log_.time[std::min(last + 1, log_.size() - 1)]};
    double round = 0.0;  // m of the lap, where the next follows on it
    for (const log::LoggedLap& lap : laps_.all)
      if (e.begin >= lap.begin && e.begin < lap.end) {
        e.lap = lap.number;
        const size_t begin = log_.index_at(lap.begin), end = log_.index_at(lap.end);
        if (way_.empty()) continue;
        e.distance = way_[first] - way_[begin];
        const auto speed = log_.values(Role::speed);
        if (!speed.empty()) round = lap::around(way_[end] - way_[begin], speed[begin], speed[end]);
      }
    const auto mean = [&](Role role) {
      const auto v = log_.values(role);
      if (v.empty()) return 0.0;
      double sum = 0, n = 0;
      for (size_t i = first + 1; i-- > 0 && log_.time[first] - log_.time[i] <= 1.0;) sum += v[i], n += 1;
      return sum / n;
    };
    e.lateral = mean(Role::lat_acc), e.longitudinal = mean(Role::long_acc);
    if (!options_.corners.empty() && e.lap > 0) e.place = lap::place_at(options_.corners, e.distance, round);
    const auto speed = log_.values(Role::speed);
    // Leaving a slow corner is no launch: the car must have stood.
    bool stood = false;
    if (!speed.empty() && speed[first] < 20)
      for (size_t i = first + 1; i-- > 0 && log_.time[first] - log_.time[i] <= 8.0;) stood |= speed[i] <= 2;
    e.phase = lap::phase(e.longitudinal, stood);
    // Turning left throws the fuel to the right.
    if (std::abs(e.lateral) > 0.2 * standard_gravity) e.side = e.lateral > 0 ? "right" : "left";
    if (const auto level = log_.values(Role::fuel_level); !level.empty()) e.level = level[first];
    return e;
  }

  void pressure() {
    const log::Channel* rail = log_.channel(Role::rail_pressure);
    if (!rail) {
      note("no fuel pressure in the log: pressure lost can not be found");
      return;
    }
    const log::Channel *manifold = log_.channel(Role::manifold_pressure),
                       *air = log_.channel(Role::air_pressure);
    const auto absolute = [&](const log::Channel& c, size_t i) {
      const double outside = air ? static_cast<double>(air->values[i]) : standard_air;
      return c.values[i] + (c.against == log::Against::air ? outside : 0.0);
    };
    if (!manifold) note("no manifold pressure: the fuel pressure is held against the air's");
    out_.difference.reserve(log_.size());
    for (size_t i = 0; i < log_.size(); ++i) {
      const double against = manifold ? absolute(*manifold, i)
                             : air    ? static_cast<double>(air->values[i])
                                      : standard_air;
      out_.difference.push_back(absolute(*rail, i) - against);
    }
    std::vector<double> while_running;
    for (size_t i = 0; i < log_.size(); ++i)
      if (running(i)) while_running.push_back(out_.difference[i]);
    const auto mostly = middle(std::move(while_running));
    if (!mostly) {
      note("the engine never runs in the log: no pressure was looked at");
      return;
    }
    out_.usual = options_.set.value_or(*mostly);
    if (options_.set && std::abs(*mostly - *options_.set) > 0.1 * *options_.set)
      out_.notes.push_back({Severity::warning, file_, "channel " + rail->name,
                            fmt::format("about {} over the injectors, as the setup sets",
                                        format(*options_.set, Quantity::pressure)),
                            fmt::format("{} mostly: another setting, a gauge that is absolute, or a unit?",
                                        format(*mostly, Quantity::pressure))});
    if (out_.usual <= 0) {
      out_.notes.push_back(
          {Severity::warning, file_, "channel " + rail->name, "a pressure over the injectors",
           fmt::format("{} mostly: is it absolute?", format(out_.usual, Quantity::pressure))});
      return;
    }
    const double limit = out_.usual * options_.limit.share();
    stretches(
        options_.limit.time, [&](size_t i) { return running(i) && out_.difference[i] < limit; },
        [&](size_t first, size_t last) {
          LoggedEvent e = event(Sign::pressure, first, last);
          e.usual = out_.usual;
          e.worst = *std::min_element(out_.difference.begin() + static_cast<std::ptrdiff_t>(first),
                                      out_.difference.begin() + static_cast<std::ptrdiff_t>(last) + 1);
          e.lost = e.usual - e.worst;
          out_.events.push_back(std::move(e));
        });
  }

  void lambda() {
    const auto v = log_.values(Role::lambda);
    if (v.empty()) return;
    if (throttle_.empty()) {
      note("no throttle: lambda is not looked at, as lifting off leans it too");
      return;
    }
    // Under load only, and half a second after the foot came down: lifting off leans the mixture by itself.
    std::vector<double> loaded;
    std::vector<char> load(log_.size(), 0);
    double since = -1e9;
    for (size_t i = 0; i < log_.size(); ++i) {
      if (throttle_[i] < 0.6f || !running(i)) since = log_.time[i];
      load[i] = log_.time[i] - since > 0.5;
      if (load[i]) loaded.push_back(v[i]);
    }
    const auto usual = middle(std::move(loaded));
    if (!usual) return;
    const double limit = *usual * (1 + options_.limit.lean);
    stretches(
        options_.limit.time, [&](size_t i) { return load[i] && v[i] > limit; },
        [&](size_t first, size_t last) {
          LoggedEvent e = event(Sign::lean, first, last);
          e.usual = *usual;
          e.worst = *std::max_element(v.begin() + static_cast<std::ptrdiff_t>(first),
                                      v.begin() + static_cast<std::ptrdiff_t>(last) + 1);
          e.lost = e.worst - e.usual;
          out_.events.push_back(std::move(e));
        });
  }

  void pump() {
    const auto v = log_.values(Role::pump_current);
    if (v.empty()) return;
    std::vector<double> on;
    for (size_t i = 0; i < log_.size(); ++i)
      if (running(i) && v[i] > 0.5f) on.push_back(v[i]);
    const auto usual = middle(std::move(on));
    if (!usual) return;
    // A pump that draws gas turns easily.
    stretches(
        std::max(options_.limit.time, 0.1),
        [&](size_t i) { return running(i) && v[i] > 0.2f && v[i] < 0.8 * *usual; },
        [&](size_t first, size_t last) {
          LoggedEvent e = event(Sign::pump, first, last);
          e.usual = *usual;
          e.worst = *std::min_element(v.begin() + static_cast<std::ptrdiff_t>(first),
                                      v.begin() + static_cast<std::ptrdiff_t>(last) + 1);
          e.lost = e.usual - e.worst;
          out_.events.push_back(std::move(e));
        });
  }

  void level_switch() {
    const auto v = log_.values(Role::level_switch);
    if (v.empty()) return;
    // Which way it speaks: it is silent for most of a log.
    double mean = 0;
    for (float x : v) mean += x / static_cast<double>(v.size());
    const bool speaks_high = mean < 0.5;
    stretches(
        0.1, [&](size_t i) { return (v[i] > 0.5f) == speaks_high; },
        [&](size_t first, size_t last) { out_.events.push_back(event(Sign::level, first, last)); });
  }

  const log::Log& log_;
  const log::Laps& laps_;
  const FindOptions& options_;
  const std::string& file_;
  std::span<const float> rpm_, throttle_;
  std::vector<double> way_;
  Found out_;
};

}  // namespace

Found find_events(const log::Log& log, const log::Laps& laps, const FindOptions& options,
                  const std::string& file) {
  if (log.size() < 2) return {};
  return Finder(log, laps, options, file).run();
}

}  // namespace uadze::diagnosis
