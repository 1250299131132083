// What a log taught, as it is told: the same counts in text and JSON, levels in the user's units, and nothing
// said of what is not known.
#include "core/report/logged_report.h"

#include <gtest/gtest.h>

#include "core/diagnosis/hand.h"
#include "core/report/sound.h"
#include "core/report/study_report.h"

namespace uadze::report {
namespace {

solve::Scores any_scores(test::Random& r, int places) {
  solve::Scores out;
  for (int k = 0; k < places; ++k) {
    solve::PlaceScore p;
    p.name = fmt::format("Corner {}", k + 1);
    p.laps = r.whole(1, 9);
    p.hits = r.whole(0, p.laps), p.misses = r.whole(0, p.laps - p.hits);
    p.false_alarms = p.laps - p.hits - p.misses;
    if (p.hits + p.misses > 0) p.highest_starved = r.uniform(0.2e-3, 30e-3);
    if (r.whole(0, 1)) p.lowest_clean = p.highest_starved.value_or(1e-3) + r.uniform(0, 5e-3);
    out.hits += p.hits, out.misses += p.misses, out.false_alarms += p.false_alarms;
    out.places.push_back(p);
  }
  return out;
}

TEST(LoggedReport, ScoresAddUpOverTheirPlaces) {
  test::Random r(6);
  for (int k = 0; k < 20; ++k) {
    const solve::Scores scores = any_scores(r, r.whole(0, 12));
    const project::Json json = scores_json(scores);
    EXPECT_EQ(test::unsound(json, {"highest_starved_l", "lowest_clean_l"}), "");
    int hits = 0, misses = 0, alarms = 0;
    for (const auto& place : json["places"]) {
      hits += place["hits"].get<int>(), misses += place["misses"].get<int>();
      alarms += place["false_alarms"].get<int>();
      EXPECT_EQ(place["highest_starved_l"].is_null(),
                place["hits"].get<int>() + place["misses"].get<int>() == 0);
    }
    EXPECT_EQ(hits, json["hits"]);
    EXPECT_EQ(misses, json["misses"]);
    EXPECT_EQ(alarms, json["false_alarms"]);
    for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us()}) {
      const std::string text = scores_text(scores, units);
      EXPECT_EQ(test::unsound_words(text), "") << text;
      EXPECT_NE(text.find(fmt::format("hits {}, misses {}, false alarms {}", hits, misses, alarms)),
                std::string::npos)
          << text;
      for (const solve::PlaceScore& p : scores.places) EXPECT_NE(text.find(p.name), std::string::npos);
    }
  }
}

TEST(LoggedReport, ABracketSaysWhatIsKnownOfIt) {
  solve::PlaceScore p;
  EXPECT_EQ(bracket_words(p), "");
  p.lowest_clean = 5.6e-3;
  EXPECT_EQ(bracket_words(p), "held at 5.6 L");
  p.highest_starved = 5.2e-3;
  EXPECT_EQ(bracket_words(p), "fell at 5.2 L, held at 5.6 L");
  EXPECT_EQ(bracket_words(p, UnitSystem::us()), "fell at 1.37 US gal, held at 1.48 US gal");
  p.lowest_clean.reset();
  EXPECT_EQ(bracket_words(p), "fell at 5.2 L");
}

TEST(LoggedReport, ACalibrationTellsHowFarTheNotedLevelsWereOff) {
  solve::CalibrationResult r;
  r.laps = 1, r.held_out = 0, r.runs = 12, r.residuals = 5;
  r.level_shifts = {-0.4e-3, 1.25e-3, -1e-7};
  r.figures = {{starvation::Figure::damping, 0.3, 0.8, 0.1, true},
               {starvation::Figure::grip, 0.05, 1.0, 0.05, false}};
  r.sentences = {"damping: 0.80, with 90 % between 0.65 and 0.98."};
  const std::string text = calibration_text(r);
  EXPECT_EQ(test::unsound_words(text), "") << text;
  EXPECT_TRUE(text.starts_with("Calibrated on 1 lap, 0 of them held out.")) << text;
  EXPECT_NE(text.find("log 1: in the tank was 0.40 L less than is noted"), std::string::npos) << text;
  EXPECT_NE(text.find("log 2: in the tank was 1.25 L more than is noted"), std::string::npos) << text;
  EXPECT_NE(text.find("log 3: in the tank was what is noted"), std::string::npos) << text;
  const project::Json json = calibration_json(r);
  EXPECT_EQ(test::unsound(json), "");
  for (const auto& figure : json["figures"]) {
    EXPECT_LE(figure["low_90"].get<double>(), figure["factor"].get<double>());
    EXPECT_GE(figure["high_90"].get<double>(), figure["factor"].get<double>());
  }
}

TEST(LoggedReport, FuelThatIsNotKnownIsNull) {
  // A log without flow, level or anything to take them from; and one with a meter.
  diagnosis::Hand hand = diagnosis::drive(2);
  const auto laps = log::split_laps(hand.log);
  solve::LoggedFuel unknown;
  unknown.level.from = "nothing is noted";
  const project::Json none = fuel_json(hand.log, laps, unknown);
  EXPECT_TRUE(none["per_lap_l"].is_null());
  for (const auto& lap : none["laps"]) EXPECT_TRUE(lap["burnt_l"].is_null() && lap["level_l"].is_null());
  EXPECT_NE(fuel_text(hand.log, laps, unknown).find("It has no scale: what was burnt is not known."),
            std::string::npos);
  solve::LoggedFuel metered;
  metered.flow = log::flow_along(hand.log);
  const project::Json known = fuel_json(hand.log, laps, metered);
  ASSERT_FALSE(known["per_lap_l"].is_null());
  // By hand: 90 s of some 2e-5 m3/s are near two litres.
  EXPECT_GT(known["per_lap_l"].get<double>(), 0.5);
  EXPECT_LT(known["per_lap_l"].get<double>(), 4.0);
  double all = 0;
  for (const auto& lap : known["laps"]) all += lap["burnt_l"].get<double>();
  double poured = 0;
  for (size_t i = 1; i < hand.log.size(); ++i)
    poured += metered.flow.values[i] * (hand.log.time[i] - hand.log.time[i - 1]);
  EXPECT_NEAR(all, poured * 1e3, 0.02 * all) << "the laps are the log";
}

TEST(StudyReport, IsJudgedOnlyWhenAllItsTasksAreDone) {
  solve::Gathered gathered;
  gathered.choices = {
      {.name = "as it is", .level = 8e-3, .longest = 0.4, .worst_case = "braking", .done = 3, .best = true},
      {.name = "forward", .level = 8e-3, .longest = 0.9, .worst_case = "launch", .done = 3, .best = false},
      {.name = "back", .level = 9e-3, .done = 0},
      {.name = "half", .level = 9e-3, .longest = 0.1, .worst_case = "braking", .done = 2, .best = true}};
  const Table table = choices_table(gathered, 3);
  ASSERT_EQ(table.rows.size(), 4u);
  for (const auto& row : table.rows) ASSERT_EQ(row.size(), table.columns.size());
  EXPECT_EQ(table.rows[0][3], "● best");
  EXPECT_EQ(table.rows[1][3], "○");
  EXPECT_EQ(table.rows[2][3], "not yet");
  EXPECT_EQ(table.rows[2][2], "") << "nothing is said of what did not run";
  EXPECT_EQ(table.rows[3][3], "not yet") << "best of what is there is not best";
  EXPECT_EQ(choices_table(gathered, 3, UnitSystem::us()).rows[0][1], "2.11 US gal");
}

}  // namespace
}  // namespace uadze::report
