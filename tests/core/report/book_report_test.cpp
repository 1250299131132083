// The book on paper and in files: whatever was written into it comes back, is readable, and a reading typed
// in any unit is the reading that was meant.
#include "core/report/book_report.h"

#include <gtest/gtest.h>

#include "core/base/csv.h"
#include "core/base/names.h"
#include "core/report/sound.h"
#include "support/circuits.h"
#include "support/demo.h"
#include "support/refusal.h"

namespace uadze::report {
namespace {

using logbook::Kind;
using logbook::Record;

/// Words as hands and machines leave them.
std::string any_words(test::Random& r) {
  static const char* const words[] = {
      "",     "R. Fell",     "a \"quoted\", note", "line\nbreak",     "ünïcode ✓",  "tab\there",
      "=1+1", "back\\slash", "  blanks  ",         "{\"json\": [1]}", "semi;colon", "'"};
  return words[r.whole(0, static_cast<int>(std::size(words)) - 1)];
}

Record any_record(test::Random& r, int number) {
  Record out;
  out.number = number;
  out.at = 1700000000 + 1000 * number;
  out.kind = static_cast<Kind>(r.whole(0, count_of<Kind>() - 1));
  out.setup = "P4, surge fitted";
  out.by = "R. Fell";
  out.subject = any_words(r), out.second = any_words(r), out.note = any_words(r), out.cause = any_words(r),
  out.done = any_words(r);
  out.session = any_words(r), out.torque = any_words(r), out.instrument = any_words(r);
  out.verdict = static_cast<logbook::Verdict>(r.whole(0, 2));
  if (out.kind == Kind::run) out.seconds = r.uniform(1, 1e5);
  for (int k = r.whole(0, 2); k > 0; --k)
    out.readings.push_back({"flow", Quantity::flow, r.uniform(1e-6, 1e-4),
                            r.whole(0, 1) ? std::optional<double>(4e-5) : std::nullopt});
  return out;
}

TEST(BookReport, AnythingThatWasWrittenComesBack) {
  test::Random r(12);
  std::vector<Record> all;
  for (int k = 1; k <= 200; ++k) all.push_back(any_record(r, k));
  EXPECT_EQ(parse_records_json(records_json(all), "book.json").value, all);
  const auto back = parse_records_csv(records_csv(all), "book.csv").value;
  ASSERT_EQ(back.size(), all.size());
  for (size_t k = 0; k < all.size(); ++k) {
    EXPECT_EQ(back[k].kind, all[k].kind);
    EXPECT_EQ(back[k].verdict, all[k].verdict);
    EXPECT_NEAR(back[k].seconds, all[k].seconds, 1e-3 * all[k].seconds + 0.5) << "hours with their decimals";
    // A line end within a text is a blank.
    std::string note = all[k].note;
    std::replace(note.begin(), note.end(), '\n', ' ');
    // Blanks round a cell are a spreadsheet's.
    note.erase(0, std::min(note.find_first_not_of(' '), note.size()));
    note.erase(note.find_last_not_of(' ') + 1);
    EXPECT_EQ(back[k].note, note);
  }
}

TEST(BookReport, EveryRecordIsSaidInALineInAnyUnits) {
  test::Random r(3);
  std::vector<Record> all;
  for (int k = 1; k <= 120; ++k) all.push_back(any_record(r, k));
  for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us()}) {
    const Table table = records_table(all, units);
    ASSERT_EQ(table.rows.size(), all.size());
    for (const auto& row : table.rows) ASSERT_EQ(row.size(), table.columns.size());
    for (const Record& record : all) {
      EXPECT_FALSE(record_text(record, units).empty());
      for (const logbook::Reading& reading : record.readings) {
        const std::string words = reading_words(reading, units);
        EXPECT_EQ(test::unsound_words(words), "") << words;
        EXPECT_EQ(words.find("US gal") != std::string::npos, !(units == UnitSystem{})) << words;
        EXPECT_EQ(words.find("expected") != std::string::npos, reading.expected.has_value()) << words;
      }
    }
  }
}

TEST(BookReport, GatesOfAnyCircuitPassAtWhatTheyExpectAndNotBeyond) {
  test::Random r(31);
  int judged = 0;
  for (int k = 0; k < 12; ++k) {
    const circuit::Case c = test::random_case(r);
    for (const build::Gate& gate : build::commissioning(c, {.idle = 1e-6, .full = 2e-5})) {
      SCOPED_TRACE(fmt::format("circuit {}, {}", k, gate.id));
      for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us()}) {
        const Table table = readings_table(gate, units);
        EXPECT_EQ(table.rows.size(), gate.readings.size());
        EXPECT_EQ(test::unsound_words(text_of(table)), "") << text_of(table);
      }
      build::GateTest test{.measured = {},
                           .seen = gate.look,
                           .way = gate.ways.empty() ? "" : gate.ways.front(),
                           .lasted = gate.lasts};
      bool told = !gate.readings.empty();
      for (const build::Expected& e : gate.readings) {
        if (e.low && e.high) {
          EXPECT_LE(*e.low, *e.high) << e.what;
        }
        if (e.value && e.low) {
          EXPECT_GE(*e.value, *e.low) << e.what;
        }
        if (e.value && e.high) {
          EXPECT_LE(*e.value, *e.high) << e.what;
        }
        told &= e.value.has_value();
        if (e.value) test.measured.push_back({e.what, *e.value});
      }
      if (!told) continue;
      const build::Judgement as_expected = build::judge(gate, test);
      EXPECT_TRUE(as_expected.complete && as_expected.passed) << as_expected.reason.in();
      // One of them beyond its limit, and the gate stays shut.
      for (size_t i = 0; i < gate.readings.size(); ++i)
        for (const double side : {-1.0, 1.0}) {
          const auto& limit = side < 0 ? gate.readings[i].low : gate.readings[i].high;
          if (!limit) continue;
          build::GateTest off = test;
          off.measured[i].value = *limit + side * (0.02 * std::abs(*limit) + 1e-9);
          EXPECT_FALSE(build::judge(gate, off).passed)
              << gate.readings[i].what << " at " << off.measured[i].value;
          ++judged;
        }
    }
  }
  EXPECT_GT(judged, 10);
}

TEST(BookReport, AReadingIsTheSameInWhateverUnitItIsTyped) {
  const circuit::Case c = test::plain_case();
  const auto gates = build::commissioning(c, {.idle = 1e-6, .full = 33e-6});
  int typed = 0;
  for (const build::Gate& gate : gates)
    for (const build::Expected& e : gate.readings) {
      if (!e.value) continue;
      for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us()}) {
        const logbook::Reading reading =
            typed_reading(gate, e.what, format(*e.value, e.quantity, units, 6), units);
        EXPECT_EQ(reading.what, e.what);
        EXPECT_EQ(reading.quantity, e.quantity);
        EXPECT_NEAR(reading.value, *e.value,
                    1e-5 * std::abs(*e.value) + 1e-6 * shown_unit(e.quantity, units).factor)
            << gate.id << ": " << e.what;
        ++typed;
      }
      // What is no figure is refused with what was found.
      for (const char* bad : {"much", "", "nan", "1e999"}) {
        const std::string said = test::refusal([&] { typed_reading(gate, e.what, bad); });
        EXPECT_NE(said.find("expected"), std::string::npos) << gate.id << ", \"" << bad << "\": " << said;
      }
    }
  EXPECT_GT(typed, 8);
  // By can and watch: 1.5 L in half a minute are 180 L/h.
  EXPECT_NEAR(typed_reading(*build::find_gate(gates, "flow of main"), "flow", "1.5 L / 30 s").value, 5e-5,
              1e-12);
}

TEST(BookReport, ACarWithAnEmptyBookIsHandedOverAsNotReady) {
  for (const char* name : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
    const test::Demo opened = test::demo(name);
    for (const project::Setup& setup : opened.project.setups) {
      if (!setup.circuit) continue;
      const auto in =
          solve::in_garage(opened.project, setup, opened.sources->catalogue(opened.project), {}, 0);
      for (const UnitSystem& units : {UnitSystem{}, UnitSystem::us()}) {
        const std::string page = handover_text(setup.name, in, {}, units);
        EXPECT_EQ(test::unsound_words(page), "") << page;
        EXPECT_NE(page.find("not ready"), std::string::npos) << page;
        EXPECT_NE(page.find("Ran 0.0 h by the book, 0 records."), std::string::npos) << page;
        const Table gates = gates_table(in.gates, 0, units);
        EXPECT_EQ(gates.rows.size(), in.gates.size());
        for (const auto& row : gates.rows) EXPECT_EQ(row.size(), gates.columns.size());
      }
    }
  }
}

TEST(BookReport, HoursAndTimeLeftAreAPersons) {
  EXPECT_EQ(running_hours(0), "0.0 h");
  EXPECT_EQ(running_hours(5400), "1.5 h");
  EXPECT_EQ(running_hours(3600 * 1234.56), "1234.6 h");
}

}  // namespace
}  // namespace uadze::report
