// Phases of driving, places in words, laps thinned and made of manoeuvres.
#include <gtest/gtest.h>

#include <algorithm>
#include <numbers>
#include <random>

#include "core/lap/corner.h"
#include "core/lap/manoeuvre.h"
#include "support/demo.h"
#include "support/figures.h"

namespace uadze::lap {
namespace {

using test::g;

Lap at(double distance, double speed, double lateral, double longitudinal) {
  return {.time = {0},
          .distance = {distance},
          .lateral = {lateral},
          .longitudinal = {longitudinal},
          .vertical = {g},
          .speed = {speed}};
}

TEST(DrivingPhase, IsToldByBrakesCornerAndSpeed) {
  const std::vector<Corner> corners{{"Heron Sweep", 100, 400, Hand::left}};
  EXPECT_EQ(driving_phase(corners, at(50, 50, 0, -g), 0), "braking");
  EXPECT_EQ(driving_phase(corners, at(150, 50, g, -g), 0), "braking") << "the brakes come first";
  EXPECT_EQ(driving_phase(corners, at(150, 50, g, 0), 0), "turn-in");
  EXPECT_EQ(driving_phase(corners, at(250, 50, g, 0), 0), "mid-corner");
  EXPECT_EQ(driving_phase(corners, at(350, 50, g, 0.3 * g), 0), "exit");
  EXPECT_EQ(driving_phase(corners, at(5, 1, 0, g), 0), "launch");
  EXPECT_EQ(driving_phase(corners, at(600, 50, 0, 0.3 * g), 0), "straight");
  EXPECT_EQ(driving_phase({}, at(600, 50, g, 0), 0), "mid-corner") << "a corner without a name";
  Lap slow = at(5, 6, 0, g);
  slow.speed.clear();
  EXPECT_EQ(driving_phase(corners, slow, 0), "straight") << "speed may be absent";
}

TEST(DrivingPhase, BesideACornersNamedPartIsItsWayInOrOutWhereTheCarTurnsAsItDoes) {
  const std::vector<Corner> corners{{"Heron Sweep", 100, 200, Hand::left}, {"Kiln Corner", 400, 500}};
  const auto lateral_at = [](double s) {
    return s < 60 || (s > 240 && s < 290) || s > 560 ? 0.0 : s < 350 ? g : -g;
  };
  for (const double side : {1.0, -1.0}) {
    Lap lap;
    for (int i = 0; i <= 60; ++i) {
      lap.time.push_back(0.2 * i), lap.distance.push_back(10.0 * i), lap.speed.push_back(50);
      lap.lateral.push_back(side * lateral_at(10.0 * i)), lap.longitudinal.push_back(0),
          lap.vertical.push_back(g);
    }
    const auto told = [&](size_t i) {
      return place_at(corners, lap.distance[i]) + ", " + driving_phase(corners, lap, i);
    };
    EXPECT_EQ(told(5), "before Heron Sweep, straight");
    EXPECT_EQ(told(8), "before Heron Sweep, turn-in");
    EXPECT_EQ(told(22), "after Heron Sweep, exit");
    EXPECT_EQ(told(32), "before Kiln Corner, mid-corner") << "it turns the other way before it gets there";
    EXPECT_EQ(told(38), "before Kiln Corner, turn-in");
    EXPECT_EQ(told(54), "after Kiln Corner, exit");
  }
}

// The last corner's exit goes on over the line; from a standing start there is nothing behind it.
TEST(DrivingPhase, ALapThatGoesRoundIsLookedAtOverItsLine) {
  const std::vector<Corner> corners{{"Alder", 300, 350, Hand::left}, {"Birch", 520, 560, Hand::left}};
  for (const bool flying : {true, false}) {
    Lap lap;
    for (int i = 0; i <= 60; ++i) {
      const double s = 10.0 * i;
      lap.time.push_back(0.2 * i), lap.distance.push_back(s);
      lap.speed.push_back(flying ? 50 - 3 * std::sin(s / 100) : 0.1 * s);
      lap.lateral.push_back((s < 25 && flying) || (s > 290 && s < 360) || s > 480 ? g : 0.0);
      lap.longitudinal.push_back(0), lap.vertical.push_back(g);
    }
    EXPECT_EQ(around(lap), flying ? 600 : 0);
    const auto told = [&](size_t i) {
      return place_at(corners, lap.distance[i], around(lap)) + ", " + driving_phase(corners, lap, i);
    };
    EXPECT_EQ(told(2), flying ? "after Birch, exit" : "before Alder, straight");
    EXPECT_EQ(told(12), flying ? "after Birch, straight" : "before Alder, straight") << "160 m on, 180 m off";
    EXPECT_EQ(told(14), "before Alder, straight");
    EXPECT_EQ(told(50), "before Birch, turn-in");
    EXPECT_EQ(told(58), "after Birch, exit");
  }
  EXPECT_EQ(place_at({{"Alder", 300, 350}, {"Birch", 520, 600}}, 0, 600), "after Birch") << "up to the line";
  // A way in that begins before the line.
  const std::vector<Corner> first{{"Alder", 20, 60, Hand::left}};
  Lap lap;
  for (int i = 0; i <= 60; ++i) {
    lap.time.push_back(0.2 * i), lap.distance.push_back(10.0 * i), lap.speed.push_back(50);
    lap.lateral.push_back(i < 7 || i > 56 ? g : 0), lap.longitudinal.push_back(0), lap.vertical.push_back(g);
  }
  EXPECT_EQ(place_at(first, 590, around(lap)), "before Alder");
  EXPECT_EQ(driving_phase(first, lap, 59), "turn-in");
  lap.lateral[60] = lap.lateral[0] = -g;
  EXPECT_EQ(driving_phase(first, lap, 59), "mid-corner") << "not the same way all the way there";
}

TEST(AtPlace, ReadsInASentence) {
  const std::vector<Corner> corners{{"Heron Sweep", 100, 400, Hand::left}};
  Lap lap;
  lap.time = {0, 10, 20}, lap.distance = {0, 300, 900};
  EXPECT_EQ(at_place(corners, lap, 7), "in Heron Sweep");
  EXPECT_EQ(at_place(corners, lap, 2), "before Heron Sweep");
  EXPECT_EQ(at_place(corners, lap, 19), "after Heron Sweep");
  EXPECT_EQ(at_place({}, lap, 12.34), "at 12.3 s") << "no distance, which would need a unit";
  EXPECT_EQ(in_words(place_at({}, lap, 0)), "at 0.0 s");
}

TEST(Thinned, KeepsEndsAndMeans) {
  Lap lap;
  for (int i = 0; i < 101; ++i) {
    lap.time.push_back(0.02 * i);
    lap.distance.push_back(i);
    lap.lateral.push_back(std::sin(0.1 * i));
    lap.longitudinal.push_back(1);
    lap.vertical.push_back(g);
  }
  const Lap thin = thinned(lap, 4);
  EXPECT_EQ(thin.time.front(), lap.time.front());
  EXPECT_EQ(thin.time.back(), lap.time.back());
  EXPECT_EQ(thin.size(), 2 + (99 + 3) / 4u);
  EXPECT_EQ(thin.lateral.size(), thin.size());
  EXPECT_TRUE(thin.speed.empty());
  for (double a : thin.longitudinal) EXPECT_NEAR(a, 1, 1e-15);
  for (size_t i = 1; i < thin.size(); ++i) EXPECT_GT(thin.time[i], thin.time[i - 1]);
  EXPECT_NEAR(thin.lateral[1], (lap.lateral[1] + lap.lateral[2] + lap.lateral[3] + lap.lateral[4]) / 4,
              1e-15);
}

TEST(AsLap, IntegratesSpeedAndDistanceFromRest) {
  const Lap lap = as_lap(manoeuvre(Manoeuvre::launch, {.strength = 1.0, .duration = 4.0}));
  EXPECT_EQ(lap.speed.front(), 0);
  // A push of 1 g that eases off as the car gets faster, for four seconds.
  EXPECT_GT(lap.speed.back(), 2 * g);
  EXPECT_LT(lap.speed.back(), 4.3 * g);
  for (size_t i = 1; i < lap.size(); ++i) EXPECT_GE(lap.distance[i], lap.distance[i - 1]);
  EXPECT_NEAR(lap.vertical.front(), g, 1e-12);
  const Lap stop = as_lap(manoeuvre(Manoeuvre::braking));
  for (double v : stop.speed) EXPECT_GE(v, 0) << "it stops; it does not go back";
}

TEST(Phase, LeavingAHairpinIsNoLaunch) {
  // From rest to 30 m/s, braking to 9 m/s, and off again.
  Lap lap;
  double v = 0;
  for (int i = 0; i < 900; ++i) {
    const double a = i < 400 ? 8.0 : i < 660 ? -8.1 : 6.0;
    lap.time.push_back(0.01 * i);
    lap.longitudinal.push_back(a);
    lap.lateral.push_back(0);
    lap.speed.push_back(v);
    lap.distance.push_back(i);
    v = std::max(v + 0.01 * a, 0.0);
  }
  EXPECT_EQ(driving_phase({}, lap, 150), "launch");
  EXPECT_LT(lap.speed[680], 13);
  EXPECT_EQ(driving_phase({}, lap, 680), "straight");
}

/// A lap at 40 m/s of arcs: each so many degrees to the left (negative: right) at so many g, a straight of
/// 200 m before each.
struct Arcs {
  Lap lap;
  std::vector<Corner> corners;
};
Arcs arcs_of(const std::vector<std::pair<double, double>>& degrees_at_g, bool with_speed = true) {
  constexpr double speed = 40, step = 0.02;
  Arcs out;
  double distance = 0;
  const auto drive = [&](double seconds, double lateral) {
    for (double t = 0; t < seconds; t += step, distance += speed * step) {
      out.lap.time.push_back(static_cast<double>(out.lap.size()) * step);
      out.lap.distance.push_back(distance);
      out.lap.lateral.push_back(lateral);
      out.lap.longitudinal.push_back(0);
      out.lap.vertical.push_back(g);
      if (with_speed) out.lap.speed.push_back(speed);
    }
  };
  for (const auto& [degrees, in_g] : degrees_at_g) {
    drive(5, 0);
    const double from = distance;
    // An arc turned at a lateral acceleration a lasts angle times speed over a.
    drive(std::abs(degrees) * std::numbers::pi / 180 * speed / (in_g * g),
          degrees > 0 ? in_g * g : -in_g * g);
    out.corners.push_back({"", from, distance, degrees > 0 ? Hand::left : Hand::right});
  }
  drive(5, 0);
  return out;
}

TEST(ProposedCorners, AreTheArcsThatALapIsMadeOf) {
  std::mt19937 draw(7);
  const auto between = [&](double a, double b) { return std::uniform_real_distribution<>(a, b)(draw); };
  for (int k = 0; k < 60; ++k) {
    std::vector<std::pair<double, double>> wanted;
    for (int c = 0; c < 1 + k % 9; ++c)
      wanted.push_back({between(20, 180) * (between(0, 1) < 0.5 ? 1 : -1), between(0.9, 2.0)});
    const Arcs arcs = arcs_of(wanted, k % 2 == 0);
    const auto found = propose_corners(arcs.lap);
    ASSERT_EQ(found.size(), arcs.corners.size()) << k;
    const auto turned = propose_corners(mirrored(arcs.lap));
    for (size_t c = 0; c < found.size(); ++c) {
      EXPECT_EQ(found[c].name, "Corner " + std::to_string(c + 1));
      EXPECT_EQ(found[c].hand, arcs.corners[c].hand);
      // The mean over 0.4 s blurs an edge by half of that: 8 m at this speed.
      EXPECT_NEAR(found[c].from, arcs.corners[c].from, 9);
      EXPECT_NEAR(found[c].to, arcs.corners[c].to, 9);
      EXPECT_NE(turned[c].hand, found[c].hand) << "in a mirror";
      EXPECT_EQ(turned[c].from, found[c].from);
    }
  }
}

TEST(ProposedCorners, AreNoWigglesAndNoStraights) {
  EXPECT_TRUE(propose_corners({}).empty());
  EXPECT_TRUE(propose_corners(arcs_of({}).lap).empty()) << "straight on";
  EXPECT_TRUE(propose_corners(arcs_of({{8, 1.0}}).lap).empty()) << "a lane changed, not a corner";
  Lap lifted = arcs_of({{90, 1.0}}).lap;
  // A slide of 0.2 s in the middle does not make two corners of one.
  for (size_t i = 0; i < 10; ++i) lifted.lateral[lifted.size() / 2 + i] = 0;
  EXPECT_EQ(propose_corners(lifted).size(), 1u);
}

/// What the engineer named by eye, the proposal finds: each demo's corners, one for one.
TEST(ProposedCorners, AreThoseThatWereNamedInTheDemos) {
  for (const char* name : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
    const auto demo = test::demo(name);
    const auto& reference = demo.project.laps[0];
    const auto found = propose_corners(demo.sources->laps.get(reference)->value);
    for (const Corner& named : reference.corners) {
      const auto meets = [&](const Corner& c) { return c.from < named.to && c.to > named.from; };
      const auto at = std::ranges::find_if(found, meets);
      ASSERT_NE(at, found.end()) << name << ": " << named.name;
      EXPECT_EQ(at->hand, named.hand) << name << ": " << named.name;
    }
    EXPECT_LE(found.size(), reference.corners.size() + 1) << name;
  }
}

}  // namespace
}  // namespace uadze::lap
