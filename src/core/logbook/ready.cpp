#include "core/logbook/ready.h"

#include <fmt/format.h>

#include <algorithm>

namespace uadze::logbook {
namespace {

/// Letters alone, small: "R. Fell" and "r fell" are one person.
std::string person(const std::string& name) {
  std::string out;
  for (const char c : name) {
    const auto u = static_cast<unsigned char>(c);
    if (u >= 0x80 || std::isalnum(u)) out += static_cast<char>(std::tolower(u));
  }
  return out;
}

/// What an event opens again: a crash all, a line opened what proves the lines tight.
bool opens(const Record& event, const build::Gate& gate) {
  if (event.kind != Kind::event) return false;
  if (event.subject == crash_event) return true;
  if (event.subject == opened_event) return gate.id == "leak" || gate.id == "hold" || gate.id == "prime";
  if (event.subject == kerb_event) return gate.id == "hot check";
  return false;
}

}  // namespace

std::vector<GateStatus> gate_states(const std::vector<build::Gate>& gates, const std::string& setup,
                                    const std::vector<Record>& records, Moment at) {
  std::vector<GateStatus> out;
  const std::vector<Record> all = standing(records);
  for (const build::Gate& gate : gates) {
    GateStatus s{.gate = gate};
    for (const Record& r : all) {
      if (r.setup != setup) continue;
      if (opens(r, gate) && s.state == GateState::passed)
        s.state = GateState::again, s.why = r.subject + (r.links.empty() ? "" : ": " + r.links.front());
      if (r.subject != gate.id) continue;
      if (r.kind == Kind::begun) {
        s.begun = r;
      } else if (r.kind == Kind::test) {
        s.last = r;
        s.begun.reset();
        s.why.clear();
        s.state = r.verdict == Verdict::passed ? GateState::passed : GateState::failed;
      }
    }
    if (s.state == GateState::passed && s.last->content != gate.content)
      s.state = GateState::again, s.why = "the circuit has changed since";
    if (s.state == GateState::passed && gate.days > 0) {
      s.due = day_after(day_of(s.last->at), gate.days);
      if (day_of(at) > s.due) s.state = GateState::overdue;
    }
    if (s.begun) {
      s.over_at = s.begun->at + static_cast<Moment>(gate.lasts);
      s.state = at >= s.over_at ? GateState::waiting : GateState::running;
    }
    out.push_back(std::move(s));
  }
  for (GateStatus& s : out)
    for (const std::string& id : s.gate.after) {
      const auto before =
          std::find_if(out.begin(), out.end(), [&](const GateStatus& o) { return o.gate.id == id; });
      if (before != out.end() && before->state != GateState::passed) s.waits_for.push_back(id);
    }
  return out;
}

std::vector<std::string> record_faults(const Record& r, const build::Gate& gate, Moment at) {
  std::vector<std::string> out;
  if (person(r.by).empty()) out.emplace_back("who did it");
  if (r.kind == Kind::begun) return out;
  if (gate.two_people) {
    if (person(r.second).empty())
      out.emplace_back("a second person who looked");
    else if (person(r.second) == person(r.by))
      out.emplace_back("a second person: not the same one twice");
  }
  if (gate.instrument) {
    if (r.instrument.empty()) out.emplace_back("which instrument was read");
    if (!is_day(r.checked_until))
      out.emplace_back("the day up to which its check is good, such as 2027-03-31");
    else if (r.checked_until < day_of(at))
      out.push_back("an instrument whose check is not past (" + r.checked_until + ")");
  }
  return out;
}

build::Judgement judged(const Record& r, const GateStatus& status, Moment at) {
  build::GateTest test{.seen = r.seen, .way = r.way};
  for (const Reading& one : r.readings) test.measured.push_back({one.what, one.value});
  if (status.begun) test.lasted = static_cast<double>(at - status.begun->at);
  return build::judge(status.gate, test);
}

std::string Readiness::words() const {
  return ready ? "ready" : fmt::format("not ready: {} open", open.size());
}

Readiness readiness(const std::vector<GateStatus>& gates, const std::vector<Due>& due) {
  Readiness out;
  for (const GateStatus& s : gates)
    if (s.state != GateState::passed)
      out.open.push_back(s.gate.title + ": " + name_of(s.state) + (s.why.empty() ? "" : " (" + s.why + ")"));
  for (const Due& d : due)
    if (d.state == DueState::overdue) out.open.push_back(d.what + ": " + d.task + ", overdue");
  out.ready = out.open.empty() && !gates.empty();
  return out;
}

}  // namespace uadze::logbook
