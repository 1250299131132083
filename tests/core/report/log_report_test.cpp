// What is said of a log: the same in text and JSON, readable, in the units that were chosen.
#include "core/report/log_report.h"

#include <gtest/gtest.h>

#include "core/base/csv.h"
#include "core/diagnosis/hand.h"
#include "core/report/diagnosis_report.h"
#include "core/report/sound.h"

namespace uadze::report {
namespace {

TEST(LogReport, LapTimesCarryOver) {
  EXPECT_EQ(lap_time(0), "0:00.000");
  EXPECT_EQ(lap_time(59.9994), "0:59.999");
  EXPECT_EQ(lap_time(59.9996), "1:00.000") << "never 0:60.000";
  EXPECT_EQ(lap_time(3599.9999), "60:00.000");
}

TEST(LogReport, EveryColumnAndLapIsToldTwiceAlike) {
  const std::string text = "# session;5\nTime (s);Speed (km/h);Lap;Fuel Press (bar);odd one (x)\n" + [] {
    std::string rows;
    for (int i = 0; i < 400; ++i)
      rows += fmt::format("{},{:02};{};{};{};{}\n", i / 10, i % 10 * 10, 100 + i % 30, 1 + i / 100,
                          i % 7 ? "3,0" : "2,9", i);
    return rows;
  }();
  const auto read = log::read_text(text, "a.csv").value;
  const auto laps = log::split_laps(read.log);
  const project::Json json = log_json("a.csv", read, laps);
  EXPECT_EQ(test::unsound(json), "");
  EXPECT_EQ(json["separator"], "semicolon");
  EXPECT_EQ(json["decimal"], ",");
  EXPECT_EQ(json["header_line"], 2);
  EXPECT_EQ(json["moments"], 400);
  EXPECT_EQ(json["columns"].size(), 5u);
  const std::string said = log_text("a.csv", read, laps);
  EXPECT_EQ(test::unsound_words(said), "") << said;
  for (const auto& column : json["columns"])
    EXPECT_NE(said.find(column["column"].get<std::string>()), std::string::npos);
  EXPECT_NE(said.find("parted by semicolon, decimal comma, header in line 2"), std::string::npos) << said;
  const CsvTable table = parse_csv(laps_csv(laps), "laps.csv");
  ASSERT_EQ(table.rows.size(), laps.all.size());
  EXPECT_EQ(json["laps"].size(), laps.all.size());
  double whole = 0;
  for (const auto& lap : json["laps"]) whole += lap["time_s"].get<double>();
  EXPECT_NEAR(whole, json["duration_s"].get<double>(), 0.2) << "laps fill the log";
}

TEST(LogReport, ADiagnosisSaysTheSameInBoth) {
  // A pressure that is lost late at one place, twice; a mixture that leans with it.
  diagnosis::Hand hand = diagnosis::drive(6);
  hand.lay_over([&](size_t i) {
    const double t = hand.log.time[i], in = std::fmod(t, 90);
    return t > 450 && t < 630 && in > 27 && in < 27.4 ? -0.3 : 0.0;
  });
  const auto laps = log::split_laps(hand.log);
  const auto found = diagnosis::find_events(hand.log, laps, {}, "x");
  const auto said = diagnosis::diagnose(hand.log, laps, found);
  const project::Json json = diagnosis_json(found, said);
  EXPECT_EQ(test::unsound(json), "");
  double sum = 0, last = 1;
  for (const auto& cause : json["causes"]) {
    sum += cause["probability"].get<double>();
    EXPECT_LE(cause["probability"].get<double>(), last + 1e-12) << "likeliest first";
    last = cause["probability"];
  }
  EXPECT_NEAR(sum, 1, 1e-9);
  size_t pressures = 0;
  for (const auto& event : json["events"]) {
    EXPECT_GT(event["end_s"].get<double>(), event["begin_s"].get<double>());
    pressures += event.contains("lost_bar");
    if (event.contains("lost_bar")) {
      EXPECT_NEAR(event["lost_bar"].get<double>(), 0.9, 0.1);
    }
  }
  EXPECT_EQ(pressures, 2u);
  for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us()}) {
    const std::string text = diagnosis_text(found, said, units);
    EXPECT_EQ(test::unsound_words(text), "") << text;
    EXPECT_NE(text.find(said.answer), std::string::npos);
    EXPECT_EQ(text.find(" bar ") != std::string::npos, units == UnitSystem{}) << text;
    EXPECT_EQ(text.find(" psi ") != std::string::npos, !(units == UnitSystem{})) << text;
  }
  // Nothing at all: a sentence, no empty list.
  const std::string none = diagnosis_text({}, diagnosis::diagnose({}, {}, {}));
  EXPECT_NE(none.find("no events"), std::string::npos);
  EXPECT_NE(none.find("There is not enough in the log to say."), std::string::npos);
}

TEST(LogReport, ATrendNeedsThreeLogs) {
  std::vector<diagnosis::Wear> logs;
  for (int k = 0; k < 5; ++k) {
    logs.push_back({.log = fmt::format("day {}", k + 1),
                    .begin = 86400.0 * k,
                    .loss = 0.02 + 0.02 * k,
                    .current = {},
                    .loaded = 13.2 - 0.2 * k,
                    .standing = {}});
    const std::string text = trend_text(logs);
    EXPECT_EQ(test::unsound_words(text), "") << text;
    const project::Json json = trend_json(logs);
    EXPECT_EQ(
        test::unsound(json, {"loss_at_full_flow", "pump_current_a", "supply_loaded_v", "supply_standing_v"}),
        "");
    EXPECT_EQ(json["logs"].size(), logs.size());
    EXPECT_EQ(json["trends"].empty(), logs.size() < 3) << text;
    EXPECT_EQ(text.find("Three logs or more") != std::string::npos, logs.size() < 3);
    for (const auto& trend : json["trends"])
      if (trend["what"].get<std::string>().starts_with("loss")) {
        EXPECT_NEAR(trend["per_log"].get<double>(), 0.02, 1e-9);
      }
  }
}

}  // namespace
}  // namespace uadze::report
