#include "rigs/season.h"

#include <algorithm>

#include "rigs/bench.h"

namespace uadze::rigs {
namespace {

using logbook::Kind;
using logbook::Record;

constexpr Moment hour = 3600, day = 24 * hour;

class Season {
 public:
  Season(const project::Project& p, const project::Setup& s,
         std::shared_ptr<const circuit::Catalogue> catalogue, const std::filesystem::path& file)
      : project_(p), setup_(s), catalogue_(std::move(catalogue)), book_(logbook::Book::open(file)) {}

  void run(const std::string& left_open) {
    const Moment end = *utc_of(season_end);
    fit(end - 250 * day);
    // Eleven race days, twelve days apart.
    for (int k = 0; k < 11; ++k) {
      const Moment at = end - 230 * day + k * 18 * day - 10 * hour;
      race_day(at, k);
      if (k == 4) kerb(at + 10 * hour);
      if (k == 6) incident(at + 10 * hour);
    }
    winter(end - 12 * day);
    commission(end - 4 * day, left_open);
    book_.keep_copy();
  }

 private:
  Record by(Kind kind, const std::string& subject, const char* who = "R. Fell") const {
    return {.kind = kind, .setup = setup_.name, .subject = subject, .by = who};
  }
  solve::InGarage in(Moment at) const {
    return solve::in_garage(project_, setup_, catalogue_, book_.all(), at);
  }

  void fit(Moment at) {
    for (const logbook::Due& d : in(at).due)
      if (d.event.empty() || d.days > 0) {
        Record r = by(Kind::fitted, d.what);
        r.note = "new for the season";
        book_.append(r, at);
      }
  }

  void race_day(Moment at, int number) {
    for (size_t k = 0; k < project_.sessions.size(); ++k) {
      const session::Session& s = project_.sessions[k];
      const double planned = solve::planned_running(s, 95.0);
      // Long races are run three times a season, the rest each time.
      if (planned > 2 * hour && number % 4 != 3) continue;
      Record r = by(Kind::run, "", "T. Arkle");
      r.session = s.name;
      r.seconds = std::max(planned, 120.0) + 240;  // warming up besides
      book_.append(r, at + static_cast<Moment>(k) * hour);
    }
    Record fuel = by(Kind::service, "fuel in the tank");
    fuel.done = "drained and filled fresh";
    book_.append(fuel, at + 9 * hour);
    if (setup_.fuel.methanol > 0) book_.append(by(Kind::event, logbook::methanol_event), at + 9 * hour);
  }

  void kerb(Moment at) {
    Record r = by(Kind::event, logbook::kerb_event, "T. Arkle");
    r.note = "Hard over the inside kerb, twice.";
    book_.append(r, at);
    Record looked = by(Kind::service, "mounts, lines and seams", "M. Dunn");
    looked.done = "looked at: nothing cracked, one P-clip turned and set back";
    book_.append(looked, at + 2 * hour);
  }

  void incident(Moment at) {
    const std::string lap = project_.laps.empty() ? std::string("the lap") : project_.laps.front().name;
    Record r = by(Kind::incident, "");
    if (!setup_.surge) {
      r.subject = "coughed off the line";
      r.cause =
          "The vent's hose was pinched under the seat: the tank stood under the air after the first run.";
      r.done = "Hose led anew and clipped, flow of the vent tested; no cough in the next three starts.";
      r.links = {"vent", lap + ", start"};
    } else if (setup_.circuit && setup_.circuit->surge_inside) {
      const std::string part = book_part();
      r.subject = "lean for a moment out of a slow corner";
      r.cause = "The clip of the \"" + part + "\" was loose: gas came in with the fuel as the level fell.";
      r.done = "Clip replaced, the other one looked at; the log of the next session shows none.";
      r.links = {part, lap + ", lap 7"};
    } else {
      r.subject = "smell of fuel in the cabin";
      r.cause = "A crush washer of the surge tank's return was used a second time and wept when hot.";
      r.done = "Both washers new, hot check done again; washers are in the order list twice now.";
      r.links = {"return line", "surge tank"};
    }
    const Record written = book_.append(r, at);
    Record better = r;
    better.note = "Looked at again: it began two laps before the driver said so.";
    book_.amend(written.number, better, at + day);
  }

  /// The sock, or what else stands first in a leg.
  std::string book_part() const {
    const circuit::Case c = in(*utc_of(season_end)).at;
    for (const auto& place : circuit::legs_of(c.circuit, c.surroundings))
      if (const auto* leg = circuit::leg_at(c.circuit, place); leg && !leg->empty())
        return leg->front().type.empty() ? place.title(c.circuit) : leg->front().type;
    return "line";
  }

  void winter(Moment at) {
    for (const logbook::Due& d : in(at).due) {
      if (d.state != logbook::DueState::overdue && d.state != logbook::DueState::soon) continue;
      Record r = by(Kind::service, d.what, "M. Dunn");
      r.done = d.task;
      book_.append(r, at);
    }
    book_.append(by(Kind::event, logbook::opened_event), at + day);
    Record seals = by(Kind::service, "O-rings and seals");
    seals.done = "all new";
    book_.append(seals, at + 2 * day);
  }

  void commission(Moment at, const std::string& left_open) {
    std::uint64_t seed = 1;
    const std::vector<logbook::GateStatus> gates = in(at).gates;
    for (const logbook::GateStatus& first : gates) {
      const build::Gate& gate = first.gate;
      if (gate.id == left_open) continue;
      if (gate.lasts > 0) {
        Record begun = by(Kind::begun, gate.id);
        begun.content = gate.content;
        book_.append(begun, at);
        at += static_cast<Moment>(gate.lasts) + 900;
      }
      const solve::InGarage here = in(at);
      const auto status = std::find_if(here.gates.begin(), here.gates.end(),
                                       [&](const auto& s) { return s.gate.id == gate.id; });
      Record r = by(Kind::test, gate.id);
      if (gate.two_people) r.second = "M. Dunn";
      if (gate.instrument)
        r.instrument = gate.id == "base pressure" || gate.id == "hold" ? "gauge 2" : "can 5 L, meter 1";
      if (gate.instrument) r.checked_until = "2027-03-31";
      if (!gate.ways.empty()) r.way = gate.ways.front();
      r.seen = gate.look;
      r.readings = bench_readings(here.at, here.garage, gate.id, {.seed = seed++});
      // On stands there is no load to read it at.
      std::erase_if(r.readings, [&](const logbook::Reading& x) {
        return std::any_of(gate.readings.begin(), gate.readings.end(),
                           [&](const build::Expected& e) { return e.what == x.what && e.may_lack; });
      });
      book_.append(solve::with_verdict(here, *status, r, at), at);
      at += hour;
    }
  }

  const project::Project& project_;
  const project::Setup& setup_;
  std::shared_ptr<const circuit::Catalogue> catalogue_;
  logbook::Book book_;
};

}  // namespace

void write_season(const project::Project& project, const project::Setup& setup,
                  std::shared_ptr<const circuit::Catalogue> catalogue, const std::filesystem::path& book,
                  const std::string& left_open) {
  Season(project, setup, std::move(catalogue), book).run(left_open);
}

}  // namespace uadze::rigs
