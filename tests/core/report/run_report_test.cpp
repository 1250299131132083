// Runs, stints and maps as tables and text, at any level that a tank holds: all numbers, all in their bounds,
// and the sentence saying what the table shows.
#include "core/report/run_report.h"

#include <gtest/gtest.h>

#include <charconv>

#include "core/base/csv.h"
#include "core/report/sound.h"
#include "support/demo.h"

namespace uadze::report {
namespace {

/// The numbers of a column by name; a cell that is none fails the test.
std::vector<double> column(const CsvTable& table, const std::string& name) {
  const auto at = std::find(table.header.begin(), table.header.end(), name);
  EXPECT_NE(at, table.header.end()) << "no column " << name;
  std::vector<double> out;
  if (at == table.header.end()) return out;
  for (const auto& row : table.rows) {
    const std::string& cell = row[static_cast<size_t>(at - table.header.begin())];
    double value = 0;
    const auto [end, bad] = std::from_chars(cell.data(), cell.data() + cell.size(), value);
    EXPECT_TRUE(bad == std::errc() && end == cell.data() + cell.size() && std::isfinite(value))
        << name << ": \"" << cell << "\"";
    out.push_back(value);
  }
  return out;
}

void expect_within(const std::vector<double>& values, double low, double high, const std::string& what) {
  for (double v : values) {
    EXPECT_GE(v, low) << what;
    EXPECT_LE(v, high) << what;
    if (v < low || v > high) return;
  }
}

const std::set<std::string> endless{"least_reserve_s", "least_rail_margin_kpa", "leaner_percent"};

class RunReport : public testing::TestWithParam<const char*> {
 protected:
  const test::Demo opened = test::demo(GetParam());

  double capacity() {
    return solve::lap_case(opened.project, solve::resolve(opened.project, {.alone = true}), *opened.sources,
                           {.points = 200})
        ->car->tank->volume();
  }
};

TEST_P(RunReport, SaysWhatItsTableShowsAtAnyLevel) {
  const double whole = capacity();
  for (double share : {0.0, 0.002, 0.05, 1.0})
    for (const auto manoeuvre : {std::optional<lap::Manoeuvre>(), std::optional(lap::Manoeuvre::braking)}) {
      SCOPED_TRACE(fmt::format("{:.3f} of the tank, {}", share, manoeuvre ? "braking" : "lap"));
      const auto ran =
          solve::run(opened.project, {.alone = true},
                     {.level = share * whole, .manoeuvre = manoeuvre, .points = 300}, *opened.sources);
      const CsvTable table = parse_csv(run_csv(ran), "run.csv");
      EXPECT_EQ(table.rows.size(), ran.ready->course.lap->size());
      expect_within(column(table, "tank [l]"), 0, whole * 1e3 + 1e-4, "tank");
      expect_within(column(table, "reserve [l]"), 0, whole * 1e3 + 1, "reserve");
      expect_within(column(table, "draw [l/h]"), 0, 2000, "draw");
      expect_within(column(table, "gas at the main pump [1]"), 0, 1, "gas");
      for (const auto& pickup : ran.ready->car->pickups)
        expect_within(column(table, pickup.name + " [1]"), 0, 1, pickup.name);
      const auto time = column(table, "time [s]");
      EXPECT_TRUE(std::is_sorted(time.begin(), time.end()));

      const Json json = run_json(ran);
      EXPECT_EQ(test::unsound(json, endless), "");
      const bool under = ran.run.level < ran.ready->car->never_drawn.total() - 1e-9;
      EXPECT_EQ(json["clean"].get<bool>(), json["events"].empty() && !under);
      const Json& volume = json["volume"];
      EXPECT_NEAR(volume["start_l"].get<double>() - volume["burnt_l"].get<double>() +
                      volume["replaced_l"].get<double>() - volume["end_l"].get<double>(),
                  0, 1e-6)
          << "nothing is lost: " << volume.dump();
      const std::string text = run_text(ran);
      EXPECT_EQ(test::unsound_words(text), "") << text;
      EXPECT_EQ(text.find("L: clean\n") != std::string::npos, json["clean"].get<bool>()) << text;
      for (const auto& e : ran.run.events)
        EXPECT_NE(text.find(e.kind == starvation::Trouble::gas
                                ? fmt::format("gas at the main pump, up to {:.1f} %: ", e.lowest * 100)
                                : fmt::format("down to {:.2f} bar across the injectors: ", e.lowest / 1e5)),
                  std::string::npos)
            << "what was seen, so that gas and the pressure behind it are told apart: " << text;
      if (share == 0.0) {
        EXPECT_FALSE(json["clean"].get<bool>()) << "an empty tank feeds nothing: " << text;
      }
    }
}

TEST_P(RunReport, AStintsLapsAddUp) {
  const double whole = capacity();
  const double start = 0.4 * whole;
  const auto ran =
      solve::run_stint(opened.project, {.alone = true}, {.level = start, .points = 300}, 3, *opened.sources);
  const CsvTable table = parse_csv(stint_csv(ran), "stint.csv");
  const auto level = column(table, "tank [l]"), burnt = column(table, "burnt [l]"),
             events = column(table, "events");
  EXPECT_TRUE(std::is_sorted(level.rbegin(), level.rend())) << "fuel only leaves";
  // `burnt` is of each lap, or of the stint so far: it must come to what is gone, the surge tank's share
  // aside.
  double all = 0;
  for (double b : burnt) all += b;
  EXPECT_NEAR(all, 1e3 * start - level.back(), 1.5) << "litres, less what the surge tank gave";
  const Json json = stint_json(ran, start);
  EXPECT_EQ(test::unsound(json, endless), "");
  EXPECT_EQ(json["laps_driven"].get<size_t>(), table.rows.size());
  const auto first = std::find_if(events.begin(), events.end(), [](double n) { return n > 0; });
  EXPECT_EQ(json["first_event_lap"].get<int>(),
            first == events.end() ? 0 : static_cast<int>(first - events.begin()) + 1);
  EXPECT_EQ(test::unsound_words(stint_text(ran, start)), "");
}

TEST_P(RunReport, AMapHasARowALevelAndSample) {
  const auto lap =
      solve::lap_result(opened.project, solve::resolve(opened.project, {.alone = true}), *opened.sources,
                        {.ladder = {.levels = 5, .resolution = 1e-3}, .points = 200});
  const CsvTable table = parse_csv(map_csv(*lap), "map.csv");
  EXPECT_EQ(table.rows.size(), solve::map_of(*lap).rows.size() * lap->lap->value.size());
  for (const char* share : {"mean wet fraction [1]", "least wet fraction [1]", "reserve [1]", "starving [1]"})
    expect_within(column(table, share), 0, 1, share);
  const auto mean = column(table, "mean wet fraction [1]"), least = column(table, "least wet fraction [1]");
  for (size_t i = 0; i < mean.size(); ++i) ASSERT_GE(mean[i], least[i] - 2e-4) << "row " << i;
  const Json json = map_summary_json(*lap);
  EXPECT_EQ(test::unsound(json, endless), "");
  // Corners stand in the order in which they hurt, none above the level that is clean.
  double last = 1e9;
  for (const Json& corner : json["corners"]) {
    EXPECT_LE(corner["hurts_at_l"].get<double>(), last + 1e-9);
    last = corner["hurts_at_l"];
    if (json["clean_level_exists"]) {
      EXPECT_LT(last, json["clean_level_l"].get<double>() + 1e-9) << corner["place"];
    }
  }
}

INSTANTIATE_TEST_SUITE_P(Demos, RunReport, testing::Values("ostrel-p4", "ostrel-tarn", "ostrel-wisp"));

}  // namespace
}  // namespace uadze::report
