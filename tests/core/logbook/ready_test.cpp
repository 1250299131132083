// What a book says of a car: gates, their second pair of eyes, what is due, and the calendar.
#include <gtest/gtest.h>

#include <cstdlib>
#include <ctime>

#include "core/logbook/photos.h"
#include "core/logbook/ready.h"
#include "core/report/book_report.h"
#include "support/circuits.h"
#include "support/demo.h"
#include "support/refusal.h"
#include "support/temp_folder.h"

namespace uadze::logbook {
namespace {

constexpr Moment day = 86400, hour = 3600;

/// Days as UTC has them, wherever the test runs.
class Ready : public ::testing::Test {
 protected:
  static void SetUpTestSuite() {
    ::setenv("TZ", "UTC", 1);
    ::tzset();
  }
  const circuit::Case c = test::plain_case();
  const std::vector<build::Gate> gates = build::commissioning(c, {.idle = 1e-6, .full = 33e-6});

  const build::Gate& gate(const std::string& id) const { return *build::find_gate(gates, id); }
  Record record(Kind kind, const std::string& subject, Moment at) const {
    Record r{.at = at, .kind = kind, .setup = "P4", .subject = subject, .by = "R. Fell"};
    if (const auto* g = build::find_gate(gates, subject)) r.content = g->content;
    if (kind == Kind::test) r.verdict = Verdict::passed;
    return r;
  }
  std::vector<Record> numbered(std::vector<Record> all) const {
    for (size_t i = 0; i < all.size(); ++i) all[i].number = static_cast<std::int64_t>(i + 1);
    return all;
  }
  GateState state(const std::vector<Record>& all, const std::string& id, Moment at) const {
    for (const GateStatus& s : gate_states(gates, "P4", numbered(all), at))
      if (s.gate.id == id) return s.state;
    return GateState::open;
  }
  std::vector<Record> all_passed(Moment at) const {
    std::vector<Record> out;
    for (const build::Gate& g : gates) out.push_back(record(Kind::test, g.id, at));
    return out;
  }
};

TEST_F(Ready, AGateRunsWaitsPassesAgesAndOpensAgain) {
  EXPECT_EQ(state({}, "leak", 0), GateState::open);
  std::vector<Record> all{record(Kind::begun, "leak", 0)};
  EXPECT_EQ(state(all, "leak", 11 * hour), GateState::running);
  EXPECT_EQ(state(all, "leak", 12 * hour), GateState::waiting);
  EXPECT_EQ(report::time_left(gate_states(gates, "P4", numbered(all), 11 * hour)[0], 11 * hour),
            "1 h 0 min left");
  EXPECT_EQ(report::time_left(gate_states(gates, "P4", numbered(all), -5)[0], -5),
            "the clock was set back behind its begin");
  all.push_back(record(Kind::test, "leak", 13 * hour));
  EXPECT_EQ(state(all, "leak", 14 * hour), GateState::passed);
  EXPECT_EQ(state(all, "leak", 365 * day), GateState::passed);
  EXPECT_EQ(state(all, "leak", 366 * day + 14 * hour), GateState::overdue);
  all.push_back(record(Kind::event, opened_event, day));
  EXPECT_EQ(state(all, "leak", 2 * day), GateState::again);
  all.push_back(record(Kind::test, "leak", 3 * day));
  EXPECT_EQ(state(all, "leak", 4 * day), GateState::passed);
  // Another car's book does not count, nor does a proof of another circuit.
  for (Record& r : all) r.setup = "Tarn";
  EXPECT_EQ(state(all, "leak", 4 * day), GateState::open);
  Record former = record(Kind::test, "leak", 0);
  former.content = "another circuit";
  EXPECT_EQ(state({former}, "leak", day), GateState::again);
  Record failed = record(Kind::test, "leak", 0);
  failed.verdict = Verdict::failed;
  EXPECT_EQ(state({record(Kind::test, "leak", 0), failed}, "leak", day), GateState::failed);
}

TEST_F(Ready, ReadyMeansAllPassedAndNothingOverdue) {
  std::vector<Record> all = all_passed(0);
  const auto ready = [&](Moment at) {
    const auto book = numbered(all);
    return readiness(gate_states(gates, "P4", book, at), due_list(c, "P4", book, at));
  };
  EXPECT_TRUE(ready(day).ready);
  EXPECT_EQ(ready(day).words(), "ready");
  // A crash opens all.
  all.push_back(record(Kind::event, crash_event, 2 * day));
  EXPECT_EQ(ready(3 * day).open.size(), gates.size() + 1) << "and the whole system is to be looked at";
  for (const build::Gate& g : gates) all.push_back(record(Kind::test, g.id, 4 * day));
  all.push_back(record(Kind::service, "whole fuel system", 4 * day));
  EXPECT_TRUE(ready(5 * day).ready);
  // One withdrawn: it is not a proof any more.
  Record gone = all[gates.size() + 1];
  auto book = numbered(all);
  gone.amends = book[gates.size() + 1].number, gone.withdrawn = true,
  gone.number = static_cast<std::int64_t>(book.size()) + 1;
  book.push_back(gone);
  EXPECT_FALSE(readiness(gate_states(gates, "P4", book, 5 * day), {}).ready);
  // A filter over its hours.
  all.push_back(record(Kind::fitted, "fine filter, 10 micron", 4 * day));
  Record run = record(Kind::run, "", 5 * day);
  run.seconds = 1000 * hour;
  all.push_back(run);
  ASSERT_EQ(ready(6 * day).open.size(), 1u);
  EXPECT_NE(ready(6 * day).open[0].find("fine filter"), std::string::npos);
  EXPECT_FALSE(readiness({}, {}).ready) << "without gates nothing is proved";
}

TEST_F(Ready, TwoPeopleAreTwoAndAnInstrumentIsChecked) {
  Record r = record(Kind::test, "hold", 0);
  r.instrument = "gauge 2", r.checked_until = "2027-01-31";
  const Moment at = *utc_of("2026-11-28T12:00:00Z");
  const auto faults = [&] { return record_faults(r, gate("hold"), at); };
  EXPECT_EQ(faults().size(), 1u);
  for (const char* same : {"R. Fell", "r fell", " R.FELL "}) {
    r.second = same;
    ASSERT_EQ(faults().size(), 1u) << same;
    EXPECT_NE(faults()[0].find("not the same one twice"), std::string::npos);
  }
  r.second = "M. Dunn";
  EXPECT_TRUE(faults().empty());
  r.checked_until = "2026-11-27";
  EXPECT_NE(faults().at(0).find("whose check is not past"), std::string::npos);
  for (const char* bad : {"", "next year", "2026-13-01", "2026-02-29", "28.11.2026"}) {
    r.checked_until = bad;
    EXPECT_EQ(faults().size(), 1u) << bad;
  }
  r.checked_until = "2026-11-28", r.by = "";
  EXPECT_EQ(faults(), std::vector<std::string>{"who did it"});
}

TEST_F(Ready, APartIsDueByHoursByDateAndByEvent) {
  const auto of = [&](const std::vector<Record>& all, const std::string& what, Moment at) {
    for (const Due& d : due_list(c, "P4", numbered(all), at))
      if (d.what == what) return d;
    ADD_FAILURE() << what;
    return Due{};
  };
  EXPECT_EQ(of({}, "fine filter, 10 micron", 0).state, DueState::not_known);
  std::vector<Record> all{record(Kind::fitted, "fine filter, 10 micron", 0)};
  const double life = of(all, "fine filter, 10 micron", 0).hours;
  ASSERT_GT(life, 0);
  for (const auto& [share, expected] :
       {std::pair{0.5, DueState::good}, {0.95, DueState::soon}, {1.01, DueState::overdue}}) {
    Record run = record(Kind::run, "", hour);
    run.seconds = share * life;
    EXPECT_EQ(of({all[0], run}, "fine filter, 10 micron", 2 * hour).state, expected) << share;
    // What ran before it went in does not count.
    run.at = -hour;
    EXPECT_EQ(of({run, all[0]}, "fine filter, 10 micron", 2 * hour).state, DueState::good);
    // What a session will add is told before it.
    const auto later = after_running(due_list(c, "P4", numbered(all), hour), share * life, "1970-01-02");
    const auto at = std::find_if(later.begin(), later.end(),
                                 [](const Due& d) { return d.what == "fine filter, 10 micron"; });
    EXPECT_EQ(at->state, expected);
  }
  // A pump by its flow tests: a tenth less than at its first is its end, whatever the volts were.
  const auto flow = [&](double value, double expected, Moment at) {
    Record r = record(Kind::test, "flow of main", at);
    r.readings = {{"flow", Quantity::flow, value, expected}};
    return r;
  };
  const Record went_in = record(Kind::fitted, "pump of main", 0);
  EXPECT_EQ(
      of({went_in, flow(5.0e-5, 5e-5, day), flow(4.1e-5, 4.5e-5, 2 * day)}, "pump of main", 3 * day).state,
      DueState::good);
  EXPECT_EQ(
      of({went_in, flow(5.0e-5, 5e-5, day), flow(4.4e-5, 5e-5, 2 * day)}, "pump of main", 3 * day).state,
      DueState::overdue);
  EXPECT_EQ(of({flow(5.0e-5, 5e-5, 1), went_in, flow(4.4e-5, 5e-5, 2 * day)}, "pump of main", 3 * day).state,
            DueState::overdue)
      << "both since it went in";
  EXPECT_EQ(
      of({flow(5.0e-5, 5e-5, -day), went_in, flow(4.4e-5, 5e-5, 2 * day)}, "pump of main", 3 * day).state,
      DueState::good)
      << "the first was another pump's";
  const std::vector<Record> fuel{record(Kind::fitted, "fuel in the tank", 0)};
  EXPECT_EQ(of(fuel, "fuel in the tank", 10 * day).state, DueState::good);
  EXPECT_EQ(of(fuel, "fuel in the tank", 20 * day).state, DueState::soon);
  EXPECT_EQ(of(fuel, "fuel in the tank", 29 * day).state, DueState::overdue);
  EXPECT_EQ(of(fuel, "fuel in the tank", 0).day, "1970-01-29");
  const std::vector<Record> kerb{record(Kind::event, kerb_event, day)};
  EXPECT_EQ(of(kerb, "mounts, lines and seams", 2 * day).state, DueState::overdue);
  EXPECT_EQ(of({kerb[0], record(Kind::service, "mounts, lines and seams", 2 * day)},
               "mounts, lines and seams", 3 * day)
                .state,
            DueState::good);
}

TEST_F(Ready, TheCalendarIsOneThatOtherProgramsTake) {
  std::vector<Record> all{record(Kind::fitted, "fuel in the tank", 0)};
  const auto due = due_list(c, "P4", numbered(all), day);
  const std::string text = calendar("P4, ü; \"surge\", fitted " + std::string(60, 'x'), due, 0);
  // Line ends, lengths in octets, no character cut, escapes; the same id at each export.
  size_t from = 0;
  int events = 0;
  while (from < text.size()) {
    const auto end = text.find("\r\n", from);
    ASSERT_NE(end, std::string::npos);
    EXPECT_LE(end - from, 75u);
    const std::string line = text.substr(from, end - from);
    EXPECT_NE(static_cast<unsigned char>(line[line[0] == ' ' ? 1 : 0]) & 0xC0, 0x80)
        << "cut within a character";
    events += line == "BEGIN:VEVENT";
    from = end + 2;
  }
  EXPECT_EQ(events, std::count_if(due.begin(), due.end(), [](const Due& d) { return !d.day.empty(); }));
  EXPECT_NE(text.find("SUMMARY:P4\\, ü\\; \"surge\"\\, fitted"), std::string::npos);
  EXPECT_NE(text.find("DTSTART;VALUE=DATE:19700129"), std::string::npos);
  const auto uid = [](const std::string& t) { return t.substr(t.find("UID:"), 40); };
  EXPECT_EQ(uid(text), uid(calendar("P4, ü; \"surge\", fitted " + std::string(60, 'x'), due, 99)));
}

TEST_F(Ready, ExportsComeBackAndFaultsNameTheirLine) {
  std::vector<Record> all = numbered(all_passed(1000));
  all[3].readings = {{"Idle", Quantity::pressure, 2.4e5, 2.37e5}};
  all[4].note = "a \"quoted\", note\nwith a line";
  all[5].kind = Kind::run, all[5].seconds = 5400;
  EXPECT_EQ(report::parse_records_json(report::records_json(all), "x.json").value, all);
  const auto back = report::parse_records_csv(report::records_csv(all), "x.csv").value;
  ASSERT_EQ(back.size(), all.size());
  EXPECT_EQ(back[4].note, "a \"quoted\", note with a line");
  EXPECT_EQ(back[5].seconds, 5400);
  EXPECT_EQ(back[2].subject, all[2].subject);
  for (const auto& [text, told] : std::vector<std::pair<std::string, std::string>>{
           {"kind,note\nnote,x\n", "columns kind and by"},
           {"kind,by\nnote,R\ndance,R\n", "line 3, column kind"},
           {"kind,by\nnote,\n", "column by: expected a name"},
           {"kind,by,hours [h]\nrun,R,many\n", "column hours [h]"},
           {"kind,by,hours [h]\nrun,R,-1\n", "column hours [h]"},
           {"kind,by,verdict\ntest,R,maybe\n", "column verdict"}}) {
    const std::string said = test::refusal([&, t = text] { report::parse_records_csv(t, "x.csv"); });
    EXPECT_NE(said.find(told), std::string::npos) << said;
  }
  const auto bench = report::parse_bench("reading,value\nflow,1.5 L / 30 s\nvolts at the battery,13.2 V\n",
                                         "b.csv", gate("flow of main"));
  ASSERT_EQ(bench.size(), 2u);
  EXPECT_NEAR(bench[0].value, 5e-5, 1e-12);
  for (const char* bad : {"a,b\n1,2\n", "reading,value\nflow,many\n", "reading,value\ndance,1\n",
                          "reading,value\nflow,1\nflow,2\n", "reading,value\nflow,nan\n"})
    EXPECT_NE(
        test::refusal([&] { report::parse_bench(bad, "b.csv", gate("flow of main")); }).find("b.csv: line"),
        std::string::npos)
        << bad;
}

TEST_F(Ready, PhotosAreKeptByContentAndAMissingOneIsSaid) {
  test::TempFolder folder;
  const auto book = folder / "p4.book";
  const auto file = folder.write("joint.jpg", "\xFF\xD8\xFF one");
  const Photo kept = keep_photo(book, file);
  const Photo again = keep_photo(book, folder.write("copy.jpg", "\xFF\xD8\xFF one"));
  EXPECT_EQ(kept.content, again.content);
  Record r = record(Kind::note, "", 0);
  r.photos = {kept, again};
  EXPECT_TRUE(missing_photos(book, {r}).empty());
  // Changed, or not there: said once.
  const auto lies = *photo_file(book, kept);
  folder.write("p4.book.photos/" + lies.filename().string(), "\xFF\xD8\xFF another");
  EXPECT_EQ(missing_photos(book, {r}).size(), 1u);
  std::filesystem::remove(lies);
  EXPECT_EQ(missing_photos(book, {r}).size(), 1u);
  EXPECT_FALSE(photo_file(book, {"../../etc/passwd", "x"})) << "only a hash names a file";
  EXPECT_NE(test::refusal([&] { keep_photo(book, folder.write("a.jpg", "text")); }).find("a picture"),
            std::string::npos);
}

}  // namespace
}  // namespace uadze::logbook
