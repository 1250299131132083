// From a project to its plan: sessions in the file, first and fine answers, the search, tables and cards.
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include "core/project/project_file.h"
#include "core/report/card_text.h"
#include "core/report/plan_table.h"
#include "core/solve/search.h"
#include "support/demo.h"
#include "support/refusal.h"

namespace uadze::solve {
namespace {

using project::parse_project;
using project::Project;
using project::project_text;
using ::testing::HasSubstr;

class WispPlan : public ::testing::Test {
 protected:
  const test::Demo opened = test::demo("ostrel-wisp");
  const Project& project = opened.project;
  Sources& sources = *opened.sources;

  Resolved resolved(const Project& p, size_t setup, const Conditions& conditions = {}) {
    Resolved r = resolve(p, {.setup = p.setups[setup].name, .alone = true});
    r.conditions = conditions;
    return r;
  }
  LapResultPtr solve(const Project& p, size_t setup, Detail detail = Detail::fine,
                     const Conditions& conditions = {}) {
    return lap_result(p, resolved(p, setup, conditions), sources, {.detail = detail});
  }
};

TEST_F(WispPlan, EverySessionKeyComesBackFromTheFile) {
  Project p = project;
  session::Session& s = p.sessions[0];
  s.kind = session::Kind::endurance;
  s.cool_laps = 2, s.neutral_laps = 1, s.neutral_time = 1.9;
  s.formation_share = 0.4, s.out_share = 0.5, s.in_share = 0.55, s.cool_share = 0.3, s.neutral_share = 0.35;
  s.grip = 0.7, s.temperature = 300.15, s.risk = 0.002, s.rule = 0.3;
  s.scatter = {.consumption = 0.03, .lap_consumption = 0.015, .lap_time = 0.004, .grip = 0.04};
  s.stop_time = 75, s.fill_temperature = 284.15;
  p.setups[0].limits = {.mixture = {.lean = 0.04, .time = 0.2, .corrected = true, .least_rail = 1.5e5},
                        .gas = 0.4,
                        .gas_time = 0.7,
                        .compliance = 3e-12,
                        .bubble_rise = 0.08};
  const Project again = parse_project(project_text(p, ""), "").value;
  // To the last digit of what is written; units turn the rest.
  EXPECT_EQ(project_text(again, ""), project_text(p, ""));
  EXPECT_EQ(again.sessions[0].kind, s.kind);
  EXPECT_NEAR(*again.sessions[0].neutral_share, 0.35, 1e-12);
  EXPECT_NEAR(again.sessions[0].scatter.grip, 0.04, 1e-12);
  EXPECT_NEAR(*again.sessions[0].temperature, 300.15, 1e-9);
  EXPECT_NEAR(again.setups[0].limits.compliance, 3e-12, 1e-20);
  EXPECT_TRUE(again.setups[0].limits.mixture.corrected);
  EXPECT_NEAR(again.setups[0].limits.mixture.least_rail, 1.5e5, 1e-6);
}

TEST_F(WispPlan, ContradictionsAreSaidAtTheirPlace) {
  const auto faults = [&](const std::function<void(Project&)>& change) {
    Project p = project;
    change(p);
    try {
      parse_project(project_text(p, ""), "x.json");
    } catch (const InputError& error) {
      return std::string(error.what());
    }
    return std::string();
  };
  EXPECT_THAT(faults([](Project& p) { p.sessions[1].refuel_stops = 3; }),
              HasSubstr("/sessions/1/refuel_stops"));
  EXPECT_THAT(faults([](Project& p) { p.sessions[1].risk = 0.5; }), HasSubstr("/sessions/1/risk_percent"));
  EXPECT_THAT(faults([](Project& p) { p.setups[0].limits.mixture.lean = -1; }), HasSubstr("lean_percent"));
  EXPECT_THAT(faults([](Project& p) { p.setups[0].limits.mixture.least_rail = -5e3; }),
              HasSubstr("least_rail_kpa"));
  EXPECT_THAT(faults([](Project& p) { p.sessions[0].stop_time = -1; }), HasSubstr("/sessions/0/stop_time_s"));
  EXPECT_THAT(faults([](Project& p) { p.sessions[0].fill_temperature = 500; }), HasSubstr("fill_c"));
  EXPECT_THAT(faults([](Project& p) { p.sessions[0].grip = std::nan(""); }), HasSubstr("grip_percent"));
}

TEST_F(WispPlan, TheFirstAnswerIsNearTheFineOne) {
  for (size_t setup : {0u, 1u}) {
    const LapResultPtr fine = solve(project, setup);
    const Resolved r =
        resolve(project, {.setup = project.setups[setup].name, .session = project.sessions[1].name});
    const FirstAnswer first = first_answer(project, r, sources);
    EXPECT_NEAR(first.clean.level, fine->clean.level, 0.05 * fine->car->tank->volume());
    EXPECT_LE(first.clean.at.tightest_time, fine->lap->value.time.back());
    EXPECT_FALSE(first.clean.at.tightest_place.empty());
  }
}

TEST_F(WispPlan, TheBandHoldsTheCleanLevelAndGoesIntoTheRisk) {
  const LapResultPtr fine = solve(project, 1), wide = solve(project, 1, Detail::band);
  ASSERT_TRUE(wide->band);
  EXPECT_LE(wide->band->low, wide->clean.level);
  EXPECT_GE(wide->band->high, wide->clean.level);
  EXPECT_EQ(wide->band->level({0, 0, 0, 0}), wide->clean.level);
  for (const auto& t : wide->band->terms) {
    EXPECT_GT(t.at_low, 0);
    EXPECT_NEAR(t.at_low, wide->clean.level, 2e-3) << t.name;
  }
  const session::Session& s = project.sessions[1];
  EXPECT_GE(plan_session(wide, s).risk.start, plan_session(fine, s).risk.start - 1e-6);
  EXPECT_FALSE(plan_session(fine, s).risk.with_band);
}

TEST_F(WispPlan, ARuleUnderTheLeastEndIsToldWithThePlaceThatStarvesThere) {
  const LapResultPtr lap = solve(project, 0);
  session::Session s = project.sessions[0];
  s.rule = 0.5 * lap->clean.level / lap->car->tank->volume();
  const auto low = plan_session(lap, s, {.draws = 100}).rule;
  ASSERT_TRUE(low && low->starves);
  const auto there = starvation::run_level(*lap->car, lap->course, 0.5 * lap->clean.level);
  ASSERT_FALSE(there.clean());
  EXPECT_EQ(low->place, there.events.front().place);
  s.rule = 1.0;
  EXPECT_EQ(plan_session(lap, s, {.draws = 100}).rule->place, "");
}

TEST_F(WispPlan, TheMapIsMadeWhenItIsAskedForAndKeptForAllThatShareTheLap) {
  const LapResultPtr lap = solve(project, 0);
  ASSERT_FALSE(lap->map->known());
  Progress stopped;
  stopped.cancel();
  EXPECT_THROW(map_of(*lap, &stopped), Cancelled);
  EXPECT_FALSE(lap->map->known()) << "what was cancelled is not there by half";
  const starvation::StarvationMap& map = map_of(*lap);
  EXPECT_EQ(&map_of(*solve(project, 0, Detail::band)), &map) << "the band's result has the same";
  const auto again = starvation::starvation_map(*lap->car, lap->course);
  ASSERT_EQ(map.rows.size(), again.rows.size());
  for (size_t k = 0; k < map.rows.size(); ++k) {
    EXPECT_EQ(map.rows[k].wet, again.rows[k].wet);
    EXPECT_EQ(map.rows[k].events.empty(), bool(lap->ladder->rungs[k].clean));
  }
}

TEST_F(WispPlan, SessionsSideBySideAreAsOneByOne) {
  const auto lap_of = [&](const std::string& setup, const session::Session& s, Sources& from) {
    return lap_result(project, resolve(project, {.setup = setup, .session = s.name}), from);
  };
  std::vector<ToPlan> wanted;
  for (const auto& setup : project.setups)
    for (const auto& s : project.sessions) wanted.push_back({lap_of(setup.name, s, sources), &s});
  const auto together = plan_sessions(project, wanted, {.risk = {}, .draws = 500, .seed = 5});
  ASSERT_EQ(together.size(), wanted.size());
  for (size_t i = wanted.size(); i-- > 0;) {
    // On a lap of its own, where no other session's stints are known.
    Sources fresh(sources.folder());
    const auto alone = plan_session(lap_of(wanted[i].lap->setup, *wanted[i].session, fresh),
                                    *wanted[i].session, {.risk = {}, .draws = 500, .seed = 5});
    ASSERT_TRUE(together[i].result);
    EXPECT_EQ(together[i].result->session, wanted[i].session->name);
    EXPECT_EQ(together[i].result->setup, wanted[i].lap->setup);
    EXPECT_EQ(together[i].result->risk.start, alone.risk.start);
    EXPECT_EQ(together[i].result->end.end, alone.end.end);
    EXPECT_EQ(together[i].result->end.at.laps_marched, alone.end.at.laps_marched);
  }
}

TEST_F(WispPlan, LapsSideBySideAreThoseOneByOneAndEachIsDrivenOnce) {
  std::vector<Resolved> wanted;
  for (const auto& setup : project.setups)
    for (const auto& s : project.sessions)
      wanted.push_back(resolve(project, {.setup = setup.name, .session = s.name}));
  project::LapReference gone = project.laps.front();
  gone.file = "nowhere.csv";
  wanted.insert(wanted.begin() + 1, wanted.front());
  wanted[1].lap = &gone;
  wanted.push_back(wanted.front());
  LapOptions few;
  few.ladder = {.levels = 5, .resolution = 1e-3};
  few.points = 200;
  Progress progress;
  const auto laps = lap_results(project, wanted, sources, few, &progress);
  EXPECT_EQ(progress.fraction(), 1.0);
  ASSERT_EQ(laps.size(), wanted.size());
  ASSERT_TRUE(laps[1].fault) << "the lap that is not there, in its place";
  EXPECT_NE(std::string(laps[1].fault->what()).find("nowhere.csv"), std::string::npos);
  Sources fresh(sources.folder());
  for (size_t i = 0; i < wanted.size(); ++i) {
    if (i == 1) continue;
    ASSERT_TRUE(laps[i].lap);
    EXPECT_EQ(laps[i].lap->setup, wanted[i].setup->name);
    EXPECT_EQ(laps[i].lap->clean.level, lap_result(project, wanted[i], fresh, few)->clean.level);
    EXPECT_EQ(laps[i].lap, lap_result(project, wanted[i], sources, few)) << "kept";
  }
  EXPECT_EQ(laps.front().lap, laps.back().lap) << "asked twice, driven once";
  Progress cancelled;
  cancelled.cancel();
  Sources other(sources.folder());
  EXPECT_THROW(lap_results(project, wanted, other, few, &cancelled), Cancelled);
}

TEST_F(WispPlan, LessGripNeedsLessFuelAndHotFuelWeighsLess) {
  const LapResultPtr dry = solve(project, 0), wet = solve(project, 0, Detail::fine, {.grip = 0.6}),
                     hot = solve(project, 0, Detail::fine, {.grip = 1.0, .temperature = 318.15});
  EXPECT_LT(wet->clean.level, dry->clean.level);
  EXPECT_LT(hot->car->fuel_density, dry->car->fuel_density);
  EXPECT_NEAR(wet->lap->value.lateral[700], 0.6 * dry->lap->value.lateral[700], 1e-12);
}

TEST_F(WispPlan, ASearchRunsAllAndDoesNotHangOnThreads) {
  SearchOptions options;
  options.pickup_shifts = {-0.02, 0.0204, 5.0};
  const Case at{.session = project.sessions[1].name};
  const auto run = [&](size_t threads) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return search(project, at, options, sources);
  };
  const SearchResult one = run(1), two = run(3);
  ASSERT_EQ(one.all.size(), 4u);
  EXPECT_EQ(one.kept, two.kept);
  for (size_t i = 0; i < one.all.size(); ++i) EXPECT_EQ(one.all[i].cost, two.all[i].cost);
  EXPECT_TRUE(one.all[0].changes.empty());
  EXPECT_EQ(one.all[2].changes, "pickups 20.4 mm forward") << "no other shift has that name";
  EXPECT_THAT(one.all[3].fault, HasSubstr("outside the tank"));
  for (size_t k : one.kept) EXPECT_TRUE(one.all[k].fault.empty());
  options.units = UnitSystem::us();
  options.pickup_shifts = {-0.0254, -20.0};
  try {
    search(project, at, options, sources);
    ADD_FAILURE() << "no pickup is moved by 20 m";
  } catch (const InputError& refused) {
    EXPECT_THAT(refused.what(), HasSubstr("less than 393.7 in"));
    EXPECT_THAT(refused.what(), HasSubstr("-787.4 in"));
  }
  options.pickup_shifts = {-0.0254};
  EXPECT_EQ(search(project, at, options, sources).all[1].changes, "pickups 1 in back");
  EXPECT_THROW(search(project, at, {}, sources), InputError);
  Progress progress;
  progress.cancel();
  EXPECT_THROW(search(project, at, options, sources, &progress), Cancelled);
}

TEST_F(WispPlan, TableAndCardSayWhatThePlanSays) {
  const LapResultPtr fine = solve(project, 0);
  std::vector<SessionResult> all;
  for (const auto& s : project.sessions) all.push_back(plan_session(fine, s));
  const std::string csv = report::plan_csv(all, {});
  EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 4);
  EXPECT_THAT(csv, HasSubstr("start [L]"));
  UnitSystem gallons;
  gallons.volume = VolumeUnit::us_gallon;
  EXPECT_THAT(report::plan_csv(all, gallons), HasSubstr("start [US gal]"));
  const report::CardText card = report::card_text(all[1], {});
  EXPECT_EQ(card.title, "Timed run");
  EXPECT_EQ(card.start.value, format(session::rounded_up(all[1].risk.start, {}), Quantity::volume));
  EXPECT_FALSE(card.corners.empty());
  EXPECT_LE(card.corners.size(), 5u);
  EXPECT_FALSE(card.cautions.empty());
  EXPECT_THAT(card.assumptions[1], HasSubstr("seed 1"));
  for (const auto& line : card.fill) EXPECT_FALSE(line.value.empty());
}

TEST_F(WispPlan, AnEngineThatBurnsNothingIsSaid) {
  Project p = project;
  p.setups[0].engine.flow_scale = 0;
  p.setups[0].engine.idle_flow = 0;
  try {
    solve(p, 0);
    FAIL();
  } catch (const InputError& error) {
    EXPECT_THAT(error.what(), HasSubstr("no demand throughout"));
    EXPECT_THAT(error.what(), HasSubstr("Wisp"));
  }
}

TEST_F(WispPlan, AnEndlessRepetitionOfAMomentIsSaid) {
  auto moment = std::make_shared<KeptLap>(*sources.laps.get(project.laps[0]));
  lap::Lap& l = moment->value;
  for (auto* v : {&l.time, &l.distance, &l.lateral, &l.longitudinal, &l.vertical, &l.speed, &l.throttle,
                  &l.rotation, &l.fuel_flow})
    v->resize(100);
  Project flying = project;
  flying.laps[0].repeated = true;
  EXPECT_THROW(lap_case(flying, resolved(flying, 0), sources, {.given = moment}), InputError);
}

TEST(Transfer, AJetAcrossTheTankFeedsTheSideOfThePickup) {
  test::Demo opened = test::demo("ostrel-tarn");
  project::Setup& setup = opened.project.setups[1];
  setup.tank.pickups.resize(1);
  const auto fuel_there = [&] {
    const LapCasePtr c =
        lap_case(opened.project, resolve(opened.project, {.setup = setup.name, .alone = true}),
                 *opened.sources, {.points = 100});
    const auto run = run_level(*c->car, c->course, 8e-3, {.with_motion = true, .most_laps = 1});
    const auto side = static_cast<size_t>(c->car->tank->pickup_space[0]);
    double mean = 0;
    for (const auto& m : run.motion) mean += m.volume[side] / static_cast<double>(run.motion.size());
    EXPECT_NEAR(run.ledger.error(), 0, 1e-9 * run.ledger.start);
    return std::pair{c->car->transfer_flow, mean};
  };
  const auto [none, before] = fuel_there();
  EXPECT_EQ(none, 0);
  setup.circuit->transfer.kind = circuit::TransferKind::jet;
  const auto [flow, after] = fuel_there();
  EXPECT_GT(flow * 3.6e6, 20) << "L/h";
  EXPECT_GT(after, before);
}

}  // namespace
}  // namespace uadze::solve
