#include "core/logbook/service.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/content_key.h"
#include "core/build/cutting.h"
#include "core/build/worst.h"

namespace uadze::logbook {
namespace {

using circuit::Leg;
using circuit::LegKind;
using circuit::LegPlace;
using circuit::Part;
using circuit::PartKind;
using circuit::Ratings;

constexpr double hour = 3600.0;
constexpr int year = 365;
constexpr int soon_days = 14;
constexpr double soon_share = 0.9;

class Rules {
 public:
  explicit Rules(const circuit::Case& c) : c_(c) {}

  std::vector<Due> run() {
    for (const LegPlace& place : circuit::legs_of(c_.circuit, c_.surroundings))
      if (const Leg* leg = circuit::leg_at(c_.circuit, place)) of_leg(place, *leg);
    const bool injected = c_.circuit.engine_supply != circuit::EngineSupply::carburettor;
    if (injected) add("injectors", "clean, flow and spray tested", "usual", 60 * hour, 0);
    add("bladder or tank", "its maker's date; looked at inside", "usual, five years at the most", 0,
        5 * year);
    if (c_.surroundings.foam)
      add("tank foam", "replaced; crumbs in the socks mean sooner", "usual", 0, 2 * year);
    add("O-rings and seals", "replaced at each opening", "usual", 0, 2 * year, opened_event);
    add("fuel in the tank", "drained, not raced on", "usual: it loses its light ends", 0, 28);
    add("mounts, lines and seams", "looked at for cracks and chafing", "after each kerb strike", 0, 0,
        kerb_event);
    add("whole fuel system", "taken out, looked at, all gates again", "after each crash", 0, 0, crash_event);
    if (c_.fuel.methanol > 0)
      add("whole fuel system", "flushed with petrol, upper-cylinder oil in it", "after each day on methanol",
          0, 0, methanol_event);
    return std::move(out_);
  }

 private:
  void add(std::string what, std::string task, std::string why, double hours, int days,
           std::string event = {}) {
    // Two of a kind in one place have one task.
    for (const Due& d : out_)
      if (d.what == what && d.task == task && d.event == event) return;
    out_.push_back({.what = std::move(what),
                    .task = std::move(task),
                    .why = std::move(why),
                    .hours = hours,
                    .days = days,
                    .event = std::move(event)});
  }

  void of_leg(const LegPlace& place, const Leg& leg) {
    for (const Part& p : leg) {
      const Ratings* r = build::ratings_of(p, *c_.catalogue);
      const double own_hours = r ? r->hours : 0.0;
      const int own_days = r ? static_cast<int>(std::lround(r->seasons * year)) : 0;
      const bool own = own_hours > 0 || own_days > 0;
      const char* why = own ? "its maker's life" : "usual";
      switch (p.kind) {
        case PartKind::line: {
          const double ethanol =
              std::min(c_.fuel.ethanol + (c_.fuel.ethanol > 0 ? build::ethanol_scatter : 0.0), 1.0);
          const bool alcohol =
              r && ((r->ethanol && *r->ethanol < ethanol) || (c_.fuel.methanol > 0 && !r->methanol));
          add(place.title(c_.circuit) + ": hoses", "replaced",
              alcohol ? "alcohol in a hose that is not made for it: a year" : why, own_hours,
              alcohol ? year
              : own   ? own_days
                      : 2 * year);
          break;
        }
        case PartKind::filter: {
          const auto* type = circuit::find(c_.catalogue->filters, p.type);
          const bool fine = type && type->mesh > 0 && type->mesh < 40e-6;
          add(build::called(p), fine ? "replaced or cleaned; loss measured" : "cleaned, looked at", why,
              own    ? own_hours
              : fine ? 20 * hour
                     : 40 * hour,
              own ? own_days : year);
          break;
        }
        case PartKind::pump:
          add("pump of " + place.title(c_.circuit), "flow test; replaced under 90 % of its first flow", why,
              own ? own_hours : 100 * hour, own_days);
          break;
        case PartKind::check_valve:
        case PartKind::sensor:
          if (own) add(build::called(p), "replaced", why, own_hours, own_days);
          break;
        default:
          break;
      }
    }
  }

  const circuit::Case& c_;
  std::vector<Due> out_;
};

void settle(Due& d, const std::string& today) {
  d.day.clear();
  d.state = DueState::good;
  if (!d.since) {
    d.state = d.event.empty() || d.days > 0 ? DueState::not_known : DueState::good;
    return;
  }
  if (d.days > 0) {
    d.day = day_after(day_of(*d.since), d.days);
    if (today > d.day)
      d.state = DueState::overdue;
    else if (days_between(today, d.day) <= soon_days)
      d.state = DueState::soon;
  }
  if (d.hours > 0) {
    if (d.used > d.hours)
      d.state = DueState::overdue;
    else if (d.used > soon_share * d.hours && d.state == DueState::good)
      d.state = DueState::soon;
  }
}

constexpr const char* pump_begin = "pump of ";
/// Of its first flow test since it went in, under which a pump is done for.
constexpr double least_flow = 0.9;

/// A pump's last flow test over its first since it went in, each against what was expected at its own volts;
/// 1 with fewer than two.
double flow_left(const std::vector<Record>& all, const std::string& setup, const Due& pump) {
  const std::string gate = "flow of " + pump.what.substr(std::char_traits<char>::length(pump_begin));
  double first = 0, last = 0;
  for (const Record& r : all) {
    if (r.kind != Kind::test || r.setup != setup || r.subject != gate || (pump.since && r.at < *pump.since))
      continue;
    for (const Reading& one : r.readings)
      if (one.what == "flow" && one.expected && *one.expected > 0) {
        last = one.value / *one.expected;
        if (first <= 0) first = last;
      }
  }
  return first > 0 ? last / first : 1.0;
}

int urgency(DueState s) {
  switch (s) {
    case DueState::overdue:
      return 0;
    case DueState::soon:
      return 1;
    case DueState::not_known:
      return 2;
    case DueState::good:
      break;
  }
  return 3;
}

/// RFC 5545, 3.3.11.
std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text) {
    if (c == '\\' || c == ';' || c == ',') out += '\\';
    out += c == '\n' ? std::string("\\n") : std::string(1, c);
  }
  return out;
}

/// RFC 5545, 3.1: lines of 75 octets at the most, no character cut in two.
std::string folded(const std::string& line) {
  std::string out;
  size_t used = 0;
  for (size_t i = 0; i < line.size();) {
    size_t end = i + 1;
    while (end < line.size() && (static_cast<unsigned char>(line[end]) & 0xC0) == 0x80) ++end;
    if (used + (end - i) > 75) out += "\r\n ", used = 1;
    out.append(line, i, end - i);
    used += end - i;
    i = end;
  }
  return out + "\r\n";
}

std::string basic(const std::string& day) { return day.substr(0, 4) + day.substr(5, 2) + day.substr(8, 2); }

}  // namespace

std::vector<std::string> event_subjects() { return {kerb_event, crash_event, opened_event, methanol_event}; }

double hours_run(const std::string& setup, const std::vector<Record>& records, Moment from) {
  double out = 0;
  for (const Record& r : standing(records))
    if (r.kind == Kind::run && r.setup == setup && r.at >= from) out += r.seconds;
  return out;
}

std::vector<Due> due_list(const circuit::Case& c, const std::string& setup,
                          const std::vector<Record>& records, Moment at) {
  std::vector<Due> out = Rules(c).run();
  const std::vector<Record> all = standing(records);
  const std::string today = day_of(at);
  for (Due& d : out) {
    Moment event = -1;  // none
    for (const Record& r : all) {
      if (r.setup != setup) continue;
      if ((r.kind == Kind::fitted || r.kind == Kind::service) && r.subject == d.what)
        d.since = r.at, event = -1;
      if (!d.event.empty() && r.kind == Kind::event && r.subject == d.event) event = r.at;
    }
    if (d.since)
      for (const Record& r : all)
        if (r.kind == Kind::run && r.setup == setup && r.at >= *d.since) d.used += r.seconds;
    settle(d, today);
    if (d.what.starts_with(pump_begin) && flow_left(all, setup, d) < least_flow) d.state = DueState::overdue;
    if (event >= 0) d.state = DueState::overdue, d.day = day_of(event);
  }
  std::stable_sort(out.begin(), out.end(), [](const Due& a, const Due& b) {
    if (urgency(a.state) != urgency(b.state)) return urgency(a.state) < urgency(b.state);
    // Those with a day by it, the others behind.
    return (a.day.empty() ? "9" : a.day) < (b.day.empty() ? "9" : b.day);
  });
  return out;
}

std::vector<Due> after_running(std::vector<Due> due, double seconds, const std::string& day) {
  for (Due& d : due) {
    if (!d.since || d.state == DueState::overdue) continue;
    d.used += seconds;
    settle(d, day);
  }
  return due;
}

std::string calendar(const std::string& car, const std::vector<Due>& due, Moment stamp) {
  std::string written = utc_text(stamp);
  std::erase_if(written, [](char c) { return c == '-' || c == ':'; });
  std::string out =
      "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Undertow Adze//Service//EN\r\nCALSCALE:GREGORIAN\r\n";
  for (const Due& d : due) {
    if (d.day.empty()) continue;
    // The same task keeps its id from export to export, so that a calendar moves it instead of doubling it.
    const ContentKey key = KeyMaker().add(car).add(d.what).add(d.task).add(d.event).key();
    out += "BEGIN:VEVENT\r\n";
    out += folded(fmt::format("UID:{:016x}{:016x}@undertow-adze", key.high, key.low));
    out += folded("DTSTAMP:" + written);
    out += folded("DTSTART;VALUE=DATE:" + basic(d.day));
    out += folded("SUMMARY:" + escaped(car + ": " + d.what));
    out += folded("DESCRIPTION:" +
                  escaped(d.task + "; " + d.why + ". Makers and the series' rules stand above."));
    out += "TRANSP:TRANSPARENT\r\nEND:VEVENT\r\n";
  }
  return out + "END:VCALENDAR\r\n";
}

}  // namespace uadze::logbook
