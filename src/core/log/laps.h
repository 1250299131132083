#pragma once
// A log cut into laps: by a lap counter, a beacon, a distance that begins again, or a line across the track.
//
//      out       lap 1      lap 2      lap 3       in
//   |--------|----------|----------|----------|---------|      of one part of the log
//
// Example:
//   const log::Log log = log::parse_log("Time [s],Lap,Speed [km/h]\n0,1,50\n1,1,50\n2,2,50\n3,2,50\n4,3,50\n5,3,50\n", "a.csv").value;
//   const log::Laps laps = log::split_laps(log);
//   EXPECT_EQ(laps.by, log::LapBy::counter);
//   EXPECT_EQ(laps.all.size(), 3u);
#include <optional>
#include <vector>

#include "core/base/vector.h"
#include "core/log/log.h"

namespace uadze::log {

enum class LapBy { counter, beacon, distance, line, whole };
constexpr const char* name_of(LapBy by) {
  switch (by) {
    case LapBy::counter:
      return "lap counter";
    case LapBy::beacon:
      return "beacon";
    case LapBy::distance:
      return "distance that begins again";
    case LapBy::line:
      return "line across the track";
    case LapBy::whole:
      return "nothing to part it by";
  }
  return nullptr;
}

enum class LapKind { flying, slow, out, in, part };
constexpr const char* name_of(LapKind kind) {
  switch (kind) {
    case LapKind::flying:
      return "flying";
    case LapKind::slow:
      return "slow";
    case LapKind::out:
      return "out";
    case LapKind::in:
      return "in";
    case LapKind::part:
      return "part of one";
  }
  return nullptr;
}

struct LoggedLap {
  int number = 0;             ///< from 1, over the whole log
  double begin = 0, end = 0;  ///< s of the log, between samples where the line was crossed
  double length = 0;          ///< m driven
  LapKind kind = LapKind::flying;
  double duration() const { return end - begin; }
};

struct Laps {
  LapBy by = LapBy::whole;
  std::vector<LoggedLap> all;
  /// The quickest flying one, if there is one.
  std::optional<size_t> best() const;
};

/// A place on the track where laps begin, in the position channels' own measure (rad or m), and how far to
/// either side the line reaches.
struct StartLine {
  Vec2 place{0, 0};
  double reach = 25.0;  ///< m
};

struct LapOptions {
  std::optional<LapBy> by;        ///< the first that the log has, in the order of the names
  std::optional<StartLine> line;  ///< by a line: where the car is fastest, if none is given
  double slow = 1.1;              ///< a flying lap takes no longer than so many of the quickest
};

/// Laps that the log's channels show; one "part" for each part of the log where nothing parts it.
Laps split_laps(const Log& log, const LapOptions& options = {});

/// m driven since the log's begin at each moment: the distance channel with what begins again added up, or
/// the speed summed up; empty where there is neither.
std::vector<double> driven(const Log& log);

/// m, east and north of the first place, by the position channels; empty without them.
std::vector<Vec2> positions(const Log& log);

}  // namespace uadze::log
