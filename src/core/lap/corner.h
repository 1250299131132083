#pragma once
// Corners by distance along the lap, and plain names for places on it.
//
// Example:
//   const std::vector<lap::Corner> corners{{"Heron Sweep", 820, 1010, lap::Hand::left}};
//   EXPECT_EQ(place_at(corners, 900), "Heron Sweep");
//   lap::Lap lap;
//   lap.time = {0, 30}, lap.distance = {0, 1200};
//   EXPECT_EQ(lap::at_place(corners, lap, 22.5), "in Heron Sweep");
//   EXPECT_EQ(lap::at_place({}, lap, 22.5), "at 22.5 s");
//   EXPECT_EQ(place_at(corners, 20, 1200), "after Heron Sweep") << "210 m on, over the line";
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/lap/lap.h"

namespace uadze::lap {

enum class Hand { left, right, none };
constexpr const char* name_of(Hand value) {
  switch (value) {
    case Hand::left:
      return "left";
    case Hand::right:
      return "right";
    case Hand::none:
      return "none";
  }
  return nullptr;
}

struct Corner {
  std::string name;
  double from = 0.0;  ///< m along the lap
  double to = 0.0;    ///< m
  Hand hand = Hand::none;

  bool operator==(const Corner&) const = default;
};

/// The corner that holds the distance, or nullptr on a straight.
const Corner* corner_at(const std::vector<Corner>& corners, double distance);

/// m after which a lap comes to its own begin again: its length, where it ends as fast as it began (within a
/// tenth, and faster than 5 m/s), so that the next follows on it. 0: it does not go round, as a standing
/// start and a manoeuvre, or its speed is not known.
double around(const Lap& lap);
double around(double length, double speed_at_begin, double speed_at_end);

/// "Heron Sweep", "before Kiln Corner", "after Last Oak": the nearest, over the line too where the lap goes
/// `round` (m; 0: it does not). Empty where no corner is named.
std::string place_at(const std::vector<Corner>& corners, double distance, double round = 0.0);

/// That of a moment (s) on the lap; "at 34.2 s" where no corner is named: the same in all units, and a
/// manoeuvre on a test pad goes nowhere.
std::string place_at(const std::vector<Corner>& corners, const Lap& lap, double time);

/// Corners as the lap's own curves show them, named "Corner 1", "Corner 2" …, for the engineer to name: where
/// the lateral acceleration, its mean over 0.4 s, keeps to one side and over a quarter of what the lap's
/// hardest cornering shows (its 95th percentile; 0.2 g at least), and turns the car by 12 degrees or more
/// (the sum of lateral acceleration over speed); bounds where it has fallen to half of that. A lift of less
/// than 0.4 s does not part a corner. Empty for a lap that goes straight.
std::vector<Corner> propose_corners(const Lap& lap);

/// What place_at gives, as a sentence says where something happens: "in Heron Sweep", "before Kiln Corner".
std::string in_words(const std::string& place);
std::string at_place(const std::vector<Corner>& corners, const Lap& lap, double time);

/// "left-hand", "right-hand", "": the way the car turns at a lateral acceleration (m/s2).
std::string turning(double lateral);

/// "braking", "launch", "speeding up", "steady": by longitudinal acceleration (m/s2) and whether the car
/// stood a moment ago.
std::string phase(double longitudinal, bool stood);

/// "braking", "turn-in", "mid-corner", "exit", "launch", "straight": where in the driving sample i lies. A
/// corner's first third is its turn-in and its last third its exit, unless the brakes are on; so is what the
/// car turns the same way before and after the part that has its name. A launch begins at rest: leaving a
/// slow corner is none.
std::string driving_phase(const std::vector<Corner>& corners, const Lap& lap, size_t i);

/// Warns of corners whose named hand and mean lateral acceleration disagree: the lateral sign is turned
/// round.
Messages check_hands(const Lap& lap, const std::vector<Corner>& corners, const std::string& file);

}  // namespace uadze::lap
