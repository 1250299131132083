// The build's lists of any circuit: every row as long as its header, every word readable, and the same list
// back from its file.
#include "core/report/build_report.h"

#include <gtest/gtest.h>

#include "core/base/csv.h"
#include "core/report/sound.h"
#include "support/circuits.h"

namespace uadze::report {
namespace {

std::vector<std::pair<std::string, Table>> tables_of(const circuit::Case& c, const UnitSystem& units) {
  const auto steps = build::assembly(c);
  return {{"cutting", cutting_table(c, units)},
          {"joints", joints_table(c)},
          {"wires", wires_table(c, {}, units)},
          {"fuses", fuses_table(c)},
          {"ports", ports_table(c)},
          {"labels", labels_table(c)},
          {"order", order_table(build::order_list(c, steps, {}), steps, units)}};
}

TEST(BuildReport, EveryListOfAnyCircuitIsWholeAndReadable) {
  test::Random r(21);
  for (int k = 0; k < 40; ++k) {
    const circuit::Case c = test::random_case(r);
    SCOPED_TRACE(fmt::format("circuit {}", k));
    for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us()})
      for (const auto& [name, table] : tables_of(c, units)) {
        SCOPED_TRACE(name);
        for (const auto& row : table.rows) {
          ASSERT_EQ(row.size(), table.columns.size());
          EXPECT_FALSE(row.front().empty()) << "a row of nothing";
        }
        const std::string text = text_of(table);
        EXPECT_EQ(test::unsound_words(text), "") << text;
        // What is measured; sizes of parts are names ("vacuum hose, 4 mm").
        if (!(units == UnitSystem{}) && (name == "cutting" || name == "wires")) {
          EXPECT_EQ(text.find(" mm "), std::string::npos) << text;
        }
        if (table.rows.empty()) continue;
        const CsvTable again = parse_csv(csv_of(table), name);
        EXPECT_EQ(again.header, table.columns);
        EXPECT_EQ(again.rows, table.rows);
      }
  }
}

TEST(BuildReport, UnitsChangeFiguresAndNothingElse) {
  test::Random r(4);
  for (int k = 0; k < 20; ++k) {
    const circuit::Case c = test::random_case(r);
    const auto metric = tables_of(c, {}), us = tables_of(c, UnitSystem::us());
    for (size_t t = 0; t < metric.size(); ++t) {
      ASSERT_EQ(metric[t].second.rows.size(), us[t].second.rows.size()) << metric[t].first;
      for (size_t row = 0; row < us[t].second.rows.size(); ++row)
        EXPECT_EQ(metric[t].second.rows[row].front(), us[t].second.rows[row].front());
    }
  }
}

TEST(BuildReport, HosesOfTheOrderAreThoseThatAreCut) {
  // By size: what is to be bought of each hose, in metres, is what is cut of it and its spare.
  test::Random r(9);
  for (int k = 0; k < 40; ++k) {
    const circuit::Case c = test::random_case(r);
    std::map<int, double> cut, bought;
    for (const build::HoseCut& h : build::cutting_list(c))
      if (!h.rigid) cut[h.dash] += h.cut;
    for (const build::OrderItem& i : build::order_list(c, build::assembly(c), {}))
      if (i.metres && i.size.starts_with("-") && i.what.find("sleeve") == std::string::npos)
        bought[std::stoi(i.size.substr(1))] += i.needed;
    for (const auto& [dash, length] : cut)
      EXPECT_NEAR(bought[dash], length, 1e-6) << "-" << dash << " of circuit " << k;
  }
}

TEST(BuildReport, WorkOrdersNumberEachStepOnce) {
  test::Random r(2);
  for (int k = 0; k < 15; ++k) {
    const circuit::Case c = test::random_case(r);
    const auto steps = build::assembly(c);
    const std::string all = steps_text(steps);
    EXPECT_EQ(test::unsound_words(all), "") << all;
    for (const build::Step& s : steps) EXPECT_NE(all.find(s.title), std::string::npos) << s.title;
    // By days what is done is left out.
    std::vector<char> done(steps.size(), 1);
    done.back() = 0;
    const std::string last = steps_text(steps, done, 480);
    EXPECT_NE(last.find(steps.back().title), std::string::npos) << last;
    EXPECT_EQ(last.find(steps.front().title + "\n"), std::string::npos) << last;
  }
}

TEST(BuildReport, TimesAndAmountsAreSaidAsAPersonWould) {
  EXPECT_EQ(work_time(45), "45 min");
  EXPECT_EQ(work_time(390), "6.5 h");
  EXPECT_EQ(amount(3, false, {}), "3");
  EXPECT_EQ(amount(0.42, true, {}), "420 mm");
  EXPECT_EQ(
      end_words({.kind = build::EndKind::flare, .form = circuit::FittingForm::bend_90, .meets = "rail"}),
      "90° hose end to rail");
  EXPECT_EQ(
      end_words({.kind = build::EndKind::flare, .form = circuit::FittingForm::straight, .meets = "rail"})
          .substr(0, 9),
      "straight ");
}

}  // namespace
}  // namespace uadze::report
