// Sessions' reports, plans' tables and cards for sessions that nobody plans: what they say must agree with
// itself, and with each other.
#include "core/report/session_report.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <set>
#include <sstream>

#include "core/base/csv.h"
#include "core/report/card_text.h"
#include "core/report/plan_table.h"
#include "core/report/sound.h"
#include "support/demo.h"
#include "support/random_shapes.h"

namespace uadze::report {
namespace {

using session::Session;

/// Coarse, but with all that a report can hold.
solve::LapResultPtr coarse(const test::Demo& opened, const std::string& setup,
                           const solve::Conditions& conditions = {}) {
  solve::Resolved wanted = solve::resolve(opened.project, {.setup = setup, .alone = true});
  wanted.conditions = conditions;
  return solve::lap_result(opened.project, wanted, *opened.sources,
                           {.ladder = {.levels = 8, .resolution = 0.2e-3}, .points = 300});
}

Session random_session(test::Random& r) {
  Session s;
  s.name = "any";
  s.kind = static_cast<session::Kind>(r.whole(0, 3));
  static constexpr int laps[] = {1, 2, 7, 25};
  s.laps = laps[r.whole(0, 3)];
  s.refuel_stops = std::min(r.whole(0, 2), *s.laps - 1);
  s.formation_laps = r.whole(0, 1), s.out_laps = r.whole(0, 1), s.in_laps = r.whole(0, 1);
  s.cool_laps = r.whole(0, 1);
  if (r.whole(0, 1)) s.sample = 1e-3;
  if (r.whole(0, 1)) s.gauge_error = r.uniform(0, 2e-3);
  if (r.whole(0, 2) == 0) s.consumption_per_lap = r.uniform(0.05e-3, 4e-3);
  if (r.whole(0, 2) == 0) s.fill_temperature = r.uniform(263, 313);
  if (r.whole(0, 2) == 0) s.rule = r.uniform(0.05, 0.9);
  s.risk = r.whole(0, 1) ? 0.001 : 0.05;
  return s;
}

/// The lines of a card, one text.
std::string text_of(const CardText& card) {
  std::string out = card.title + "\n" + card.subtitle + "\n";
  for (const auto* lines : {&card.also, &card.refuelling, &card.fill})
    for (const CardLine& line : *lines) out += line.label + ": " + line.value + "\n";
  for (const CardCorner& corner : card.corners) out += corner.place + ": " + corner.text + "\n";
  for (const auto* words : {&card.assumptions, &card.cautions})
    for (const std::string& word : *words) out += word + "\n";
  return out + card.start.label + ": " + card.start.value + "\n" + card.back.label + ": " + card.back.value +
         "\n";
}

void expect_page(const solve::SessionResult& s) {
  for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us()}) {
    const CardText card = card_text(s, units);
    const std::string page = text_of(card);
    EXPECT_EQ(test::unsound_words(page), "") << page;
    if (s.possible()) continue;
    // A page that says that no fuel is enough must not say how much to put in.
    EXPECT_EQ(card.start.value, "none");
    EXPECT_EQ(card.back.value, "none");
    EXPECT_TRUE(card.fill.empty() && card.refuelling.empty()) << page;
  }
}

/// Where no fuel is enough, nothing says how much.
void expect_no_amount(const solve::SessionResult& s, const Json& json, const std::string& text) {
  for (const char* key : {"least_end_l", "start_l", "start_kg", "bring_back_l", "at_risk", "filled"})
    EXPECT_TRUE(json[key].is_null()) << key;
  EXPECT_FALSE(json["fits_in_tank"].get<bool>());
  for (const char* word : {"least start", "bring back", "MORE THAN", "of margin"})
    EXPECT_EQ(text.find(word), std::string::npos) << text;
  const CsvTable table = parse_csv(plan_csv({s}, {}), "plan");
  for (size_t c = 0; c < table.header.size(); ++c)
    if (table.header[c].starts_with("start") || table.header[c].starts_with("bring back")) {
      EXPECT_EQ(table.rows[0][c], "") << table.header[c];
    }
}

/// The first figure that stands behind these words and blanks; empty if there is none.
std::string figure_after(const std::string& text, const std::string& words) {
  for (size_t at = text.find(words); at != std::string::npos; at = text.find(words, at + 1)) {
    const size_t begin = std::min(text.find_first_not_of(' ', at + words.size()), text.size());
    const size_t end = text.find_first_not_of("0123456789.", begin);
    if (end != begin) return text.substr(begin, end - begin);
  }
  return "";
}

void expect_agreement(const solve::SessionResult& s) {
  const Json json = session_json(s);
  std::set<std::string> nulls{
      "least_reserve_s", "least_rail_margin_kpa", "leaner_percent", "learnt", "filled", "value"};
  if (!s.possible())
    nulls.insert({"least_end_l", "start_l", "start_kg", "start_percent_of_tank", "bring_back_l",
                  "bring_back_kg", "bring_back_percent_of_tank", "at_risk", "clean_level_l"});
  EXPECT_EQ(test::unsound(json, nulls), "");
  const std::string text = session_text(s, true) + risk_text(s);
  EXPECT_EQ(test::unsound_words(text), "") << text;
  if (s.possible()) {
    EXPECT_EQ(text.find("too few for this risk") == std::string::npos, s.risk.risk * s.risk.draws >= 10)
        << text;
  }
  EXPECT_EQ(text.find("NO FUEL IS ENOUGH") == std::string::npos, json["possible"].get<bool>());
  // A level that stands on what never comes out is told with the same figure.
  if (const std::string never = figure_after(text, "never comes out "); !never.empty()) {
    EXPECT_EQ(figure_after(text, "clean, held steady "), never) << text;
  }
  expect_page(s);
  if (!s.possible()) return expect_no_amount(s, json, text);
  const double start = json["start_l"], back = json["bring_back_l"], tank = json["tank_l"];
  EXPECT_GE(start, back - 1e-9);
  EXPECT_GE(back, json["least_end_l"].get<double>() - 1e-9);
  EXPECT_NEAR(json["start_percent_of_tank"].get<double>(), start / tank * 100, 1e-9 * start);
  EXPECT_EQ(json["fits_in_tank"].get<bool>(), start <= json["usable_l"].get<double>() + 1e-9);
  EXPECT_EQ(text.find("MORE THAN MAY BE FILLED") == std::string::npos, json["fits_in_tank"].get<bool>());
  const Json& risk = json["at_risk"];
  EXPECT_GE(risk["start"]["l"].get<double>(), risk["bring_back"]["l"].get<double>() - 1e-9);
  EXPECT_NEAR(risk["start"]["l"].get<double>(), risk["mean_l"].get<double>() + risk["margin_l"].get<double>(),
              1e-6);
  double share = 0;
  for (const Json& c : risk["causes"]) share += c["share_percent"].get<double>();
  if (!risk["causes"].empty()) {
    EXPECT_NEAR(share, 100, 0.1);
  }
  int laps = 0;
  for (const Json& stint : risk["stints"]) {
    laps += stint["laps"].get<int>();
    EXPECT_GE(stint["latest_lap_when_full"].get<int>(), 0);
    EXPECT_LE(stint["add_l"].get<double>(), stint["start_l"].get<double>() + 1e-9);
  }
  EXPECT_EQ(laps, json["laps"].get<int>()) << "the stints are the session";
}

class SessionReport : public testing::TestWithParam<std::pair<std::string, std::string>> {};

TEST_P(SessionReport, AgreesWithItselfForAnySession) {
  const test::Demo opened = test::demo(GetParam().first);
  const auto lap = coarse(opened, GetParam().second);
  test::Random r(3);
  for (int k = 0; k < 6; ++k) {
    const Session s = random_session(r);
    SCOPED_TRACE(fmt::format(
        "{} laps, {} stops, {} a lap, risk {}, round {}", *s.laps, s.refuel_stops,
        s.consumption_per_lap ? format(*s.consumption_per_lap, Quantity::volume, {}, 2) : "as it is", s.risk,
        k));
    expect_agreement(solve::plan_session(lap, s, {.risk = {}, .draws = 400, .seed = 7}));
  }
}

TEST(SessionReportOf, ACarThatNoFuelCanFeed) {
  test::Demo opened = test::demo("ostrel-wisp");
  opened.project.setups[0].tank.pickups[0].feeds = "lift";  // which leads nowhere
  const auto lap = coarse(opened, opened.project.setups[0].name);
  ASSERT_FALSE(lap->clean.exists);
  Session s;
  s.name = "any", s.laps = 3, s.fill_temperature = 283;
  const auto result = solve::plan_session(lap, s, {.risk = {}, .draws = 400, .seed = 7});
  ASSERT_FALSE(result.possible());
  expect_agreement(result);
}

INSTANTIATE_TEST_SUITE_P(
    Demos, SessionReport,
    testing::Values(std::pair<std::string, std::string>{"ostrel-wisp", "Wisp, pickup in front"},
                    std::pair<std::string, std::string>{"ostrel-p4", "P4, surge fitted"},
                    std::pair<std::string, std::string>{"ostrel-tarn", "Tarn, surge tank outside"}),
    [](const auto& each) { return each.param.first.substr(7); });

}  // namespace
}  // namespace uadze::report
