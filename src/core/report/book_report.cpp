#include "core/report/book_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/counted.h"
#include "core/base/csv.h"
#include "core/base/json.h"
#include "core/base/names.h"

namespace uadze::report {
namespace {

using logbook::Kind;
using logbook::Record;
using logbook::Verdict;

std::string joined(const std::vector<std::string>& parts, const char* between) {
  std::string out;
  for (const std::string& p : parts)
    if (!p.empty()) out += (out.empty() ? "" : between) + p;
  return out;
}

}  // namespace

std::string running_hours(double seconds) { return fmt::format("{:.1f} h", seconds / 3600); }

std::string reading_words(const logbook::Reading& r, const UnitSystem& units) {
  std::string out = r.what + " " + format(r.value, r.quantity, units);
  if (r.expected) out += " (expected " + format(*r.expected, r.quantity, units) + ")";
  return out;
}

std::string summary(const Record& r, const UnitSystem& units) {
  std::vector<std::string> parts;
  switch (r.kind) {
    case Kind::begun:
      parts = {"begun"};
      break;
    case Kind::test:
      parts = {name_of(r.verdict)};
      for (const auto& one : r.readings) parts.push_back(reading_words(one, units));
      break;
    case Kind::fitted:
      parts = {"went in new"};
      break;
    case Kind::run:
      parts = {"ran " + running_hours(r.seconds), r.session};
      break;
    case Kind::service:
      parts = {r.done.empty() ? "done" : r.done};
      break;
    case Kind::part:
      parts = {"done", r.torque};
      break;
    case Kind::incident:
      parts = {r.cause.empty() ? std::string() : "cause: " + r.cause,
               r.done.empty() ? std::string() : "done: " + r.done};
      break;
    case Kind::event:
    case Kind::note:
      break;
  }
  parts.push_back(r.note);
  std::string out = joined(parts, "; ");
  std::replace(out.begin(), out.end(), '\n', ' ');
  return out;
}

std::string record_text(const Record& r, const UnitSystem& units) {
  std::string out = fmt::format("Record {}, {}: {}\n", r.number, shown_time(r.at), name_of(r.kind));
  const auto line = [&](const char* what, const std::string& text) {
    if (!text.empty()) out += fmt::format("  {}: {}\n", what, text);
  };
  line("setup", r.setup);
  line("subject", r.subject);
  line("by", r.by);
  line("looked at too by", r.second);
  line("instrument",
       r.instrument.empty()
           ? ""
           : r.instrument + (r.checked_until.empty() ? "" : ", its check good until " + r.checked_until));
  line("way", r.way);
  for (const std::string& s : r.seen) line("seen", s);
  for (const auto& one : r.readings) line("read", reading_words(one, units));
  line("limit", r.limit);
  if (r.verdict != Verdict::none) line("verdict", std::string(name_of(r.verdict)) + ". " + r.reason);
  if (r.seconds > 0) line("ran", running_hours(r.seconds));
  line("session", r.session);
  line("cause", r.cause);
  line("done", r.done);
  line("torque", r.torque);
  for (const std::string& l : r.links) line("linked", l);
  line("note", r.note);
  for (const auto& p : r.photos) line("photo", p.name + ", " + p.content.substr(0, 12));
  if (r.clock_back) line("clock", "stood before that of the record before it");
  if (r.amends) line(r.withdrawn ? "withdrawn by record" : "as amended by record", std::to_string(r.amends));
  return out;
}

Table records_table(const std::vector<Record>& records, const UnitSystem& units) {
  Table out{{"record", "when", "kind", "setup", "subject", "by", "says"}, {}};
  for (const Record& r : records)
    out.rows.push_back({std::to_string(r.number), shown_time(r.at), name_of(r.kind), r.setup, r.subject,
                        r.second.empty() ? r.by : r.by + " + " + r.second, summary(r, units)});
  return out;
}

std::string time_left(const logbook::GateStatus& s, Moment at) {
  if (!s.begun) return {};
  const auto words = [](Moment seconds) {
    const Moment minutes = (seconds + 59) / 60;
    return minutes >= 60 ? fmt::format("{} h {} min", minutes / 60, minutes % 60)
                         : fmt::format("{} min", minutes);
  };
  if (at < s.begun->at) return "the clock was set back behind its begin";
  return at < s.over_at ? words(s.over_at - at) + " left" : "over since " + shown_time(s.over_at);
}

Table gates_table(const std::vector<logbook::GateStatus>& gates, Moment at, const UnitSystem& units) {
  Table out{{"gate", "test", "state", "last", "by", "due again", "says"}, {}};
  for (const auto& s : gates) {
    std::string says = s.begun ? time_left(s, at) : s.why;
    if (says.empty() && s.last && s.state == logbook::GateState::failed) says = s.last->reason;
    if (says.empty() && s.last && s.state == logbook::GateState::passed)
      for (const auto& r : s.last->readings)
        if (r.expected) says += (says.empty() ? "" : "; ") + reading_words(r, units);
    if (says.empty() && !s.waits_for.empty() && s.state != logbook::GateState::passed)
      says = "after: " + joined(s.waits_for, ", ");
    out.rows.push_back(
        {s.gate.id, s.gate.title, name_of(s.state), s.last ? shown_time(s.last->at) : "",
         s.last ? (s.last->second.empty() ? s.last->by : s.last->by + " + " + s.last->second) : "", s.due,
         says});
  }
  return out;
}

Table readings_table(const build::Gate& gate, const UnitSystem& units) {
  Table out{{"reading", "expected", "least", "most"}, {}};
  for (const build::Expected& e : gate.readings) {
    const auto show = [&](const std::optional<double>& v) {
      return v ? format(*v, e.quantity, units, e.quantity == Quantity::pressure ? 2 : -1) : std::string();
    };
    out.rows.push_back(
        {e.what + (e.may_lack ? " (if it can be read)" : ""), show(e.value), show(e.low), show(e.high)});
  }
  return out;
}

Table due_table(const std::vector<logbook::Due>& due) {
  Table out{{"part", "task", "state", "by day", "ran", "of", "why"}, {}};
  for (const auto& d : due)
    out.rows.push_back({d.what, d.task, name_of(d.state), d.day,
                        d.since && d.hours > 0 ? running_hours(d.used) : "",
                        d.hours > 0 ? running_hours(d.hours) : "", d.why});
  return out;
}

std::string handover_text(const std::string& car, const solve::InGarage& in,
                          const std::vector<Record>& records, const UnitSystem& units) {
  const std::vector<Record> all = standing(records);
  std::string out = car + ": " + in.readiness.words() + "\n";
  for (const std::string& open : in.readiness.open) out += "  " + open + "\n";
  out += "\nGates\n";
  for (const auto& s : in.gates) {
    out += "\n" + s.gate.title + ": " + name_of(s.state) + (s.why.empty() ? "" : " (" + s.why + ")") + "\n";
    if (s.last) out += record_text(*s.last, units);
  }
  out += "\nDue\n";
  for (const auto& d : in.due) {
    out += fmt::format("  {}: {}; {}", d.what, d.task, name_of(d.state));
    if (!d.day.empty()) out += ", by " + d.day;
    if (d.since && d.hours > 0) out += ", ran " + running_hours(d.used) + " of " + running_hours(d.hours);
    out += "\n";
  }
  out += "\nIncidents and events\n";
  bool any = false;
  for (const Record& r : all)
    if (r.setup == car && (r.kind == Kind::incident || r.kind == Kind::event))
      out += record_text(r, units), any = true;
  if (!any) out += "none\n";
  out += fmt::format("\nRan {} by the book, {}.\n", running_hours(logbook::hours_run(car, records)),
                     counted(records.size(), "record"));
  out +=
      "Defers to the series' regulations, local codes and licensed practice; a passed gate does not make a "
      "car safe.\n";
  return out;
}

std::string records_json(const std::vector<Record>& records) {
  std::string out = "[";
  for (const Record& r : records) out += (out.size() > 1 ? ",\n " : "\n ") + logbook::text_of(r);
  return out + "\n]\n";
}

Read<std::vector<Record>> parse_records_json(const std::string& text, const std::string& file) {
  const auto json = json_or_none<nlohmann::json>(text);
  if (!json.is_array())
    throw InputError(Message{.file = file,
                             .expected = "a list of records",
                             .found = json.is_discarded() ? "no JSON" : json.type_name()});
  Read<std::vector<Record>> out;
  for (size_t i = 0; i < json.size(); ++i)
    out.value.push_back(
        logbook::parse_record(json[i].dump(), fmt::format("{}: record {} of the list", file, i + 1)));
  return out;
}

namespace {

struct Column {
  const char* name;
  std::string Record::*member;
};
constexpr Column columns[]{
    {"setup", &Record::setup},   {"subject", &Record::subject}, {"by", &Record::by},
    {"second", &Record::second}, {"session", &Record::session}, {"cause", &Record::cause},
    {"done", &Record::done},     {"torque", &Record::torque},   {"note", &Record::note}};

}  // namespace

std::string records_csv(const std::vector<Record>& records) {
  std::vector<std::string> header{"record", "at", "kind"};
  for (const Column& c : columns) header.emplace_back(c.name);
  header.insert(header.end(), {"verdict", "hours [h]", "says"});
  std::string out = csv_row(header);
  for (const Record& r : records) {
    std::vector<std::string> row{std::to_string(r.number), utc_text(r.at), name_of(r.kind)};
    for (const Column& c : columns) row.push_back(r.*c.member);
    row.push_back(name_of(r.verdict));
    row.push_back(r.seconds > 0 ? fmt::format("{:.6g}", r.seconds / 3600) : "");
    row.push_back(summary(r));
    for (std::string& cell : row) std::replace(cell.begin(), cell.end(), '\n', ' ');
    out += csv_row(row);
  }
  return out;
}

Read<std::vector<Record>> parse_records_csv(const std::string& text, const std::string& file) {
  const CsvTable table = parse_csv(text, file);
  Read<std::vector<Record>> out;
  const auto column = [&](const char* name) {
    const auto at = std::find(table.header.begin(), table.header.end(), name);
    return at == table.header.end() ? -1 : static_cast<int>(at - table.header.begin());
  };
  if (column("kind") < 0 || column("by") < 0)
    throw InputError(Message{.file = file,
                             .place = "line 1",
                             .expected = "columns kind and by",
                             .found = fmt::format("{}", fmt::join(table.header, ", "))});
  for (size_t i = 0; i < table.rows.size(); ++i) {
    const auto cell = [&](const char* name) {
      const int k = column(name);
      return k < 0 ? std::string() : table.rows[i][static_cast<size_t>(k)];
    };
    const auto fail = [&](const char* what, const std::string& expected) {
      throw InputError(Message{.file = file,
                               .place = fmt::format("line {}, column {}", table.lines[i], what),
                               .expected = expected,
                               .found = "\"" + cell(what) + "\""});
    };
    Record r;
    const auto kind = value_named<Kind>(cell("kind"));
    if (!kind) fail("kind", fmt::format("one of {}", fmt::join(names_of<Kind>(), ", ")));
    r.kind = *kind;
    for (const Column& c : columns) r.*c.member = cell(c.name);
    if (r.by.empty()) fail("by", "a name");
    if (const std::string v = cell("verdict"); !v.empty()) {
      const auto verdict = value_named<Verdict>(v);
      if (!verdict) fail("verdict", fmt::format("one of {}", fmt::join(names_of<Verdict>(), ", ")));
      r.verdict = *verdict;
    }
    if (const std::string h = cell("hours [h]"); !h.empty()) {
      const auto hours = parse_number(h);
      if (!hours || !std::isfinite(*hours) || *hours < 0 || *hours > 1e5)
        fail("hours [h]", "hours, 0 or more");
      r.seconds = 3600 * *hours;
    }
    out.value.push_back(std::move(r));
  }
  return out;
}

logbook::Reading typed_reading(const build::Gate& gate, const std::string& what, const std::string& text,
                               const UnitSystem& units) {
  for (const build::Expected& e : gate.readings) {
    if (e.what != what) continue;
    const auto value = e.quantity == Quantity::flow ? build::can_and_watch(text, units)
                                                    : parse_quantity(text, e.quantity, units);
    if (!value || !std::isfinite(*value))
      throw InputError(Message{.place = what,
                               .expected = e.quantity == Quantity::flow
                                               ? "a flow, or litres / seconds such as \"1.35 L / 30 s\""
                                               : "a number, with its unit or in " +
                                                     std::string(shown_unit(e.quantity, units).name),
                               .found = "\"" + text + "\""});
    return {e.what, e.quantity, *value, e.value};
  }
  std::vector<std::string> known;
  for (const build::Expected& e : gate.readings) known.push_back(e.what);
  throw InputError(
      Message{.place = gate.id, .expected = "one of: " + joined(known, ", "), .found = "\"" + what + "\""});
}

std::vector<logbook::Reading> parse_bench(const std::string& text, const std::string& file,
                                          const build::Gate& gate) {
  const CsvTable table = parse_csv(text, file);
  if (table.header.size() < 2 || table.header[0] != "reading" || table.header[1] != "value")
    throw InputError(Message{.file = file,
                             .place = "line 1",
                             .expected = "columns reading and value",
                             .found = fmt::format("{}", fmt::join(table.header, ", "))});
  std::vector<logbook::Reading> out;
  for (size_t i = 0; i < table.rows.size(); ++i) {
    try {
      out.push_back(typed_reading(gate, table.rows[i][0], table.rows[i][1]));
    } catch (const InputError& error) {
      Message m = error.messages().front();
      m.file = file;
      m.place = fmt::format("line {}, {}", table.lines[i], m.place);
      throw InputError(m);
    }
    if (std::count_if(out.begin(), out.end(), [&](const auto& r) { return r.what == out.back().what; }) > 1)
      throw InputError(Message{.file = file,
                               .place = fmt::format("line {}", table.lines[i]),
                               .expected = "each reading once",
                               .found = "\"" + out.back().what + "\" a second time"});
  }
  return out;
}

}  // namespace uadze::report
