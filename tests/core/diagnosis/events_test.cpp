#include "core/diagnosis/events.h"

#include <gtest/gtest.h>

#include "core/diagnosis/hand.h"

namespace uadze::diagnosis {
namespace {

TEST(Events, OfALogByHand) {
  Hand hand = drive(2);
  // A quarter of the pressure for 0.6 s in the left-hand corner of the third lap, the level known.
  hand.log.channels.push_back({.name = "level",
                               .unit = "",
                               .role = Role::fuel_level,
                               .values = std::vector<float>(hand.log.size(), 0.012f)});
  const size_t from = hand.log.index_at(2 * 90 + 22.0);
  hand.lay_over([&](size_t i) { return i >= from && i < from + 30 ? -0.25 : 0.0; });
  const auto laps = log::split_laps(hand.log);
  const Found found =
      find_events(hand.log, laps,
                  {.limit = {}, .set = 3e5, .corners = {{"Heron Sweep", 900, 1200, lap::Hand::left}}}, "x");
  ASSERT_EQ(found.events.size(), 1u);
  const LoggedEvent& e = found.events[0];
  EXPECT_EQ(e.sign, Sign::pressure);
  EXPECT_EQ(e.lap, 3);
  EXPECT_NEAR(e.duration(), 0.6, 0.03);
  EXPECT_NEAR(e.lost, 0.25 * 3e5, 4e3);
  EXPECT_EQ(e.side, "right") << "turning left throws the fuel to the right";
  EXPECT_NEAR(e.lateral, 12, 0.5);
  EXPECT_EQ(e.place, "Heron Sweep");
  EXPECT_FLOAT_EQ(static_cast<float>(*e.level), 0.012f);
}

TEST(Events, APlaceIsSoughtOverTheLineOfALapThatGoesRound) {
  for (const bool flying : {true, false}) {
    Hand hand = drive(2);
    auto& speed = hand.of(Role::speed);
    std::fill(speed.begin(), speed.end(), 40.0f);
    // Half a second behind the line: 20 m, and 70 m from the end of the lap's last corner.
    const size_t line = hand.log.index_at(2 * 90.0), from = line + 25;
    if (!flying)
      for (size_t i = line - 2; i < line + 3; ++i) speed[i] = 2;
    hand.lay_over([&](size_t i) { return i >= from && i < from + 30 ? -0.25 : 0.0; }, false);
    const Found found = find_events(
        hand.log, log::split_laps(hand.log),
        {.limit = {},
         .set = 3e5,
         .corners = {{"Heron Sweep", 900, 1200, lap::Hand::left}, {"Lantern", 3450, 3550, lap::Hand::right}}},
        "x");
    ASSERT_EQ(found.events.size(), 1u);
    EXPECT_EQ(found.events[0].lap, 3);
    EXPECT_EQ(found.events[0].place, flying ? "after Lantern" : "before Heron Sweep");
  }
}

TEST(Events, OnlyACarThatStoodIsLaunched) {
  // Speeding up at 10 m/s, out of a hairpin or after a stop.
  for (const bool stop : {false, true}) {
    Hand hand = drive(2);
    const size_t from = hand.log.index_at(2 * 90 + 60.0);
    for (size_t i = from - 250; i < from + 50; ++i) {
      hand.of(Role::speed)[i] = static_cast<float>(
          stop ? std::max(0.0, 2.5 * (hand.log.time[i] - hand.log.time[from] + 3.5)) : 10.0);
      hand.of(Role::long_acc)[i] = 4;
    }
    hand.lay_over([&](size_t i) { return i >= from && i < from + 30 ? -0.25 : 0.0; }, false);
    const auto laps = log::split_laps(hand.log);
    const Found found = find_events(hand.log, laps, {.limit = {}, .set = 3e5}, "x");
    ASSERT_EQ(found.events.size(), 1u);
    EXPECT_EQ(found.events[0].phase, stop ? "launch" : "speeding up");
  }
}

TEST(Events, AGaugeThatIsAbsoluteIsDoubted) {
  Hand hand = drive(2);
  for (float& p : hand.of(Role::rail_pressure)) p += 101325;
  const auto laps = log::split_laps(hand.log);
  const Found found = find_events(hand.log, laps, {.limit = {}, .set = 3e5}, "x");
  EXPECT_NE(text_of(found.notes).find("a gauge that is absolute"), std::string::npos) << text_of(found.notes);
  hand.log.channels[7].against = log::Against::vacuum;
  EXPECT_TRUE(find_events(hand.log, laps, {.limit = {}, .set = 3e5}, "x").events.empty());
}

TEST(Events, ShortOnesAndStoppedEnginesAreNone) {
  Hand hand = drive(2);
  hand.lay_over([&](size_t i) { return i % 1000 < 5 ? -0.3 : 0.0; });
  const auto laps = log::split_laps(hand.log);
  EXPECT_TRUE(find_events(hand.log, laps, {}, "x").events.empty());
}

}  // namespace
}  // namespace uadze::diagnosis
