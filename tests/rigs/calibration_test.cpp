// A kart with other figures driven by the simulated logger, and what is learnt of it from its log.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "core/project/project_file.h"
#include "core/report/logged_report.h"
#include "core/starvation/band.h"
#include "rigs/logger.h"
#include "support/demo.h"
#include "support/refusal.h"

namespace uadze::rigs {
namespace {

using starvation::Figure;

/// Driven once for all tests here, down to half of the clean level.
struct Day {
  test::Demo demo = test::demo("ostrel-wisp");
  project::Project known = demo.project;
  log::Log log;
  log::Laps laps;
  diagnosis::Found found;
  solve::Resolved chosen;
  double put_in = 0;

  Day() {
    project::Project truth = demo.project;
    truth.setups[0].calibration = starvation::Calibration{
        .date = "put in", .figures = {{Figure::damping, 1.25, 0}, {Figure::hold, 1.15, 0}}};
    const auto driven =
        solve::lap_case(truth, solve::resolve(truth, {.alone = true}), *demo.sources, {.points = 300});
    const DriveOptions how{.laps = 4, .end_level = 4e-3, .seed = 3};
    log = drive(*driven, truth.setups[0], 8e-3, how);
    put_in = rigs::put_in(*driven, 8e-3, how);
    known.logs = {{.file = "day.csv", .put_in = put_in}};
    chosen = solve::resolve(known, {.alone = true});
    laps = log::split_laps(log);
    found = diagnosis::find_events(log, laps,
                                   {.limit = chosen.setup->limits.mixture,
                                    .set = chosen.setup->circuit->regulator.base,
                                    .corners = chosen.lap->corners},
                                   "day.csv");
  }
  solve::LoggedFuel fuel(const char* file = "day.csv") const {
    return solve::logged_fuel(known, *chosen.setup, file, log, found, *demo.sources);
  }
  solve::LoggedCase made(const solve::LoggedFuel& fuel) const {
    return solve::logged_case(known, chosen, log, laps, found, fuel, *demo.sources, {.calibrated = false});
  }
};
const Day& day() {
  static const Day& one = *new Day;
  return one;
}

TEST(LoggedCase, TheCarThatDroveItIsFoundAgainInItsTraces) {
  const solve::LoggedCase made = day().made(day().fuel());
  ASSERT_GE(made.laps.size(), 4u);
  solve::ComputeOptions truth;
  truth.factors = starvation::Calibration{.figures = {{Figure::damping, 1.25, 0}, {Figure::hold, 1.15, 0}}};
  const auto logged = solve::lacking_logged(made),
             nominal = solve::lacking_computed(made, solve::computed(made)),
             same = solve::lacking_computed(made, solve::computed(made, truth));
  double off = 0, off_nominal = 0, all = 0;
  for (size_t l = 0; l < logged.size(); ++l)
    for (size_t p = 0; p < logged[l].size(); ++p) {
      off += std::abs(logged[l][p] - same[l][p]);
      off_nominal += std::abs(logged[l][p] - nominal[l][p]);
      all += logged[l][p];
    }
  EXPECT_GT(all, 3.0) << "s: it must starve for this to say something";
  EXPECT_LT(off, 0.06 * all);
  EXPECT_LT(off, off_nominal);
}

TEST(LoggedCase, HitsAreCountedByPlaceAndBracketTheLevel) {
  const solve::LoggedCase made = day().made(day().fuel());
  const auto scores = solve::scored(made, solve::computed(made));
  EXPECT_GT(scores.hits, 3);
  EXPECT_GT(scores.hits, 4 * (scores.misses + scores.false_alarms));
  int counted = 0, bracketed = 0;
  for (const auto& p : scores.places) {
    counted += p.hits + p.misses + p.false_alarms;
    if (p.highest_starved && p.lowest_clean) {
      ++bracketed;
      EXPECT_GT(*p.lowest_clean, *p.highest_starved - 1e-3) << p.name;
    }
  }
  EXPECT_EQ(counted, scores.hits + scores.misses + scores.false_alarms);
  EXPECT_GT(bracketed, 0);
  // By hand: one lap logged and computed, one only logged, one only computed.
  solve::LoggedCase hand;
  hand.places = {{"A", 0}};
  std::vector<solve::ComputedLap> run(3);
  for (int k = 0; k < 3; ++k) {
    hand.laps.push_back({.number = k, .level = 1e-3 * (k + 1), .event = {static_cast<char>(k < 2)}});
    run[static_cast<size_t>(k)].event = {static_cast<char>(k != 1)};
    run[static_cast<size_t>(k)].shows = run[static_cast<size_t>(k)].event;
  }
  // And one that the circuit does by itself: logged, it is a hit; not logged, no false alarm.
  for (const bool logged : {true, false}) {
    hand.laps.push_back({.number = 4, .flying = false, .level = 0.5e-3, .event = {static_cast<char>(logged)}});
    run.push_back({.event = {0}, .shows = {1}});
  }
  const auto s = solve::scored(hand, run);
  EXPECT_EQ(std::tuple(s.hits, s.misses, s.false_alarms, s.quiet), std::tuple(2, 1, 1, 1));
  EXPECT_EQ(s.places[0].highest_starved, 2e-3);
  EXPECT_EQ(s.places[0].lowest_clean, 3e-3);
}

TEST(LoggedCase, WhatIsMissingIsSaid) {
  EXPECT_NE(test::refusal([] { day().made({}); }).find("what was in the tank"), std::string::npos);
  log::Laps none;
  const auto fuel = day().fuel();
  EXPECT_NE(test::refusal([&] {
              solve::logged_case(day().known, day().chosen, day().log, none, day().found, fuel,
                                 *day().demo.sources);
            }).find("flying lap"),
            std::string::npos);
  EXPECT_EQ(day().fuel("another.csv").level.from, "the gauge") << "nothing was put in by the project's notes";
  EXPECT_THROW(solve::calibrate({}, nullptr, "2026-03-01"), InputError);
}

TEST(Calibrate, WhatWasPutInIsLearntAndNarrowsTheBandAndIsKept) {
  const auto reference = day().demo.sources->laps.get(*day().chosen.lap);
  const auto result = solve::calibrate({{"day.csv", day().made(day().fuel())}}, reference, "2026-03-01");
  EXPECT_LT(result.after, 0.5 * result.before);
  EXPECT_EQ(result.value.laps, 5);
  std::map<Figure, solve::CalibrationFigure> by;
  for (const auto& f : result.figures) by[f.figure] = f;
  ASSERT_TRUE(by[Figure::hold].told);
  EXPECT_GT(1.15, by[Figure::hold].low());
  EXPECT_LT(1.15, by[Figure::hold].high());
  ASSERT_TRUE(by[Figure::damping].told);
  EXPECT_GT(1.25, by[Figure::damping].low());
  EXPECT_LT(1.25, by[Figure::damping].high());
  EXPECT_FALSE(by[Figure::lift].told) << "the kart has no lift pump";
  EXPECT_FALSE(by[Figure::discharge].told) << "one space, no opening";
  EXPECT_EQ(starvation::deviation_of(result.value, Figure::discharge),
            starvation::prior_deviation(Figure::discharge));

  // The setup that carries it has a narrower band, and the project's file keeps it.
  project::Project with = day().demo.project;
  const auto band_of = [&](const project::Project& p) {
    const auto ready =
        solve::lap_case(p, solve::resolve(p, {.alone = true}), *day().demo.sources, {.points = 200});
    const double clean = starvation::clean_level(*ready->car, ready->course, {.levels = 10}).level;
    return starvation::model_band(*ready->car, ready->course, clean);
  };
  const auto wide = band_of(with);
  with.setups[0].calibration = result.value;
  const auto narrow = band_of(with);
  EXPECT_LT(narrow.terms[1].high_factor - narrow.terms[1].low_factor,
            0.9 * (wide.terms[1].high_factor - wide.terms[1].low_factor));
  EXPECT_EQ(narrow.terms[0].high_factor, wide.terms[0].high_factor) << "another day's grip is as unsure";
  EXPECT_EQ(narrow.calibrated, "calibrated on 5 laps");
  const auto again = project::parse_project(project::project_text(with, ""), "x").value;
  ASSERT_TRUE(again.setups[0].calibration);
  EXPECT_NEAR(starvation::factor_of(again.setups[0].calibration, Figure::hold), by[Figure::hold].factor,
              1e-9);
  EXPECT_EQ(again.setups[0].calibration->logs, std::vector<std::string>{"day.csv"});

  const std::string text = report::calibration_text(result);
  EXPECT_NE(text.find("lift: the logs do not tell"), std::string::npos) << text;
  EXPECT_EQ(report::calibration_json(result)["laps"], 5);
}

TEST(Calibrate, GripIsTheAccelerationsAlongTheWay) {
  const auto reference = day().demo.sources->laps.get(*day().chosen.lap);
  lap::Lap harder = reference->value;
  for (auto* channel : {&harder.lateral, &harder.longitudinal})
    for (double& a : *channel) a *= 1.07;
  for (double& t : harder.time) t /= 1.03;
  EXPECT_NEAR(*solve::grip_of(harder, reference->value), 1.07, 1e-9);
  for (double& s : harder.distance) s *= 1.2;
  EXPECT_FALSE(solve::grip_of(harder, reference->value)) << "another lap";
}

TEST(ModelBand, FiguresThatCancelLeaveLittle) {
  starvation::ModelBand band{.nominal = 5e-3};
  band.terms = {{"damping", 0.8, 1.2, 4e-3, 6e-3}, {"submergence", 0.8, 1.2, 4e-3, 6e-3}};
  const double apart = band.level({1, 1});
  EXPECT_NEAR(apart, 7e-3, 1e-15);
  band.mix = {1, 0, -1, 0};  // the second always against the first
  EXPECT_NEAR(band.level({1, 1}), 5e-3, 1e-15);
  EXPECT_NEAR(band.level({1, -3}), 5e-3, 1e-15);
}

}  // namespace
}  // namespace uadze::rigs
