#pragma once
// The fields of laps and sessions, and of the project as a whole.
//
// Example:
//   const session::Session session{.name = "Race"};
//   EXPECT_EQ(project::written(session)["kind"], "practice");
#include "core/project/describe_setup.h"

namespace uadze::project {

template <class V>
void describe(V& v, lap::Corner& c) {
  v.text({"name", "Corner", "Places are named by it", must}, c.name);
  v.number({"from_m", "From", "Along the lap", must}, c.from, in_file::metre, {0, 1e6});
  v.number({"to_m", "To", "Along the lap", must}, c.to, in_file::metre, {0, 1e6});
  v.choice({"hand", "Hand", "Which way it turns: checks the sign of the lateral channel"}, c.hand);
}

template <class V>
void describe(V& v, LapReference& l) {
  v.text({"name", "Lap", "Sessions name it", must}, l.name);
  v.text({"file", "File", "CSV, relative to the project's folder", must}, l.file);
  v.flag({"start", "Start", "Flying: a circuit, driven again and again; standing: one run from rest"},
         l.repeated, "standing", "flying");
  v.choice({"vertical_zero", "Vertical channel",
            "What it reads at rest: 1 g as accelerometers do, or 0 where gravity was taken out"},
           l.vertical_zero);
  v.list({"corners", "Corners",
          "By distance along the lap; none: places are told by the corners that the lap itself shows"},
         l.corners);
}

template <class V>
void describe(V& v, session::Scatter& s) {
  constexpr Range small{0, 50};
  v.number({"consumption_percent", "Consumption", "Of a whole session: driver, wind, engine map"},
           s.consumption, in_file::percent, small);
  v.number({"lap_consumption_percent", "Lap to lap", "Of one lap's consumption against the next"},
           s.lap_consumption, in_file::percent, small);
  v.number({"lap_time_percent", "Lap time", "Of a timed session's mean lap time: decides its laps"},
           s.lap_time, in_file::percent, small);
  v.number({"grip_percent", "Grip, g level", "Of the accelerations"}, s.grip, in_file::percent, small);
}

template <class V>
void describe(V& v, session::Session& s) {
  constexpr Range share{0, 200};
  v.text({"name", "Session", "Its name in tables and on the card", must}, s.name);
  v.choice(
      {"kind", "Kind", "A test bench session needs no lap: a lap is then a minute at full load, standing"},
      s.kind);
  v.text({"lap", "on lap", "The lap it is driven on"}, s.lap);
  v.either({"laps", "laps", "Flying laps in all"}, {"duration_min", "or time", "Of a timed session"}, s.laps,
           1, 2000, s.duration, in_file::minute, {0, 2880, true});
  v.whole({"refuel_stops", "stops", "The laps are shared out over stops + 1 stints"}, s.refuel_stops, 0, 200);
  v.number({"stop_time_s", "Each stop takes", "Pit lane included: a timed session has fewer laps for them"},
           s.stop_time, in_file::second, {0, 7200});
  v.whole({"formation_laps", "formation", "Before the first stint"}, s.formation_laps, 0, 20);
  v.whole({"out_laps", "out", "After each stop; before the first stint where it has no formation laps"},
          s.out_laps, 0, 20);
  v.whole({"in_laps", "in", "Before each stop; at the end where there are no cool-down laps"}, s.in_laps, 0,
          20);
  v.whole({"cool_laps", "cool", "After the flag"}, s.cool_laps, 0, 20);
  v.whole({"neutral_laps", "neutral", "Of the laps, driven slowly behind a safety car or under flags"},
          s.neutral_laps, 0, 500);
  v.number({"slow_lap_percent", "they burn", "All slow laps, of a flying lap's consumption"},
           s.slow_lap_share, in_file::percent, share);
  v.optional_number(
      {"formation_percent", "Formation laps", "Of a flying lap's consumption", false, "as all slow laps"},
      s.formation_share, in_file::percent, share);
  v.optional_number({"out_percent", "Out laps", "Of a flying lap's consumption", false, "as all slow laps"},
                    s.out_share, in_file::percent, share);
  v.optional_number({"in_percent", "In laps", "Of a flying lap's consumption", false, "as all slow laps"},
                    s.in_share, in_file::percent, share);
  v.optional_number(
      {"cool_percent", "Cool-down laps", "Of a flying lap's consumption", false, "as all slow laps"},
      s.cool_share, in_file::percent, share);
  v.optional_number(
      {"neutral_percent", "Neutralised laps",
       "Of a flying lap's consumption; counted on only without refuelling stops", false, "as all slow laps"},
      s.neutral_share, in_file::percent, share);
  v.number({"neutral_time_percent", "Slow laps take",
            "Of a flying lap's time: neutralised laps and all other slow ones"},
           s.neutral_time, in_file::percent, {100, 1000});
  v.number({"sample_l", "sample", "To be left for the scrutineers"}, s.sample, in_file::litre, {0, 50});
  v.number({"gauge_error_l", "gauge error", "By which the gauge may read too much"}, s.gauge_error,
           in_file::litre, {0, 50});
  v.optional_number({"consumption_l_per_lap", "Consumption, measured",
                     "Of a flying lap; absent: from the lap", false, "from the lap"},
                    s.consumption_per_lap, in_file::litre, {0, 500, true});
  v.number(
      {"grip_percent", "Grip", "Of the lap's lateral and longitudinal acceleration: about 70 % in the wet"},
      s.grip, in_file::percent, {10, 200});
  v.optional_number(
      {"fuel_c", "Fuel temperature", "In this session; absent: the setup's", false, "the setup's"},
      s.temperature, in_file::celsius, {-40, 90});
  v.optional_number({"fill_c", "Filled at",
                     "Temperature of the fuel as it is put in: it expands until it runs; absent: as it runs",
                     false, "as it runs"},
                    s.fill_temperature, in_file::celsius, {-40, 90});
  v.number({"risk_percent", "Accepted risk",
            "Share of such sessions in which the fuel may turn out to be too little"},
           s.risk, in_file::percent, {0, 50, true});
  v.object({"scatter", "What scatters", "Standard deviations"}, s.scatter);
  v.optional_number({"rule_of_thumb_percent", "Rule of thumb",
                     "The team's old floor, as a share of the tank: shown beside the plan"},
                    s.rule, in_file::percent, {0, 100, true});
}

template <class V>
void describe(V& v, session::Record& r) {
  v.text({"session", "Session driven", "Its name", must}, r.session);
  v.whole({"laps", "laps", "Flying laps of the stint; 0: as planned"}, r.laps, 0, 2000);
  v.number({"put_in_l", "put in", "In the tank at its start, by the rig", must}, r.put_in, in_file::litre,
           {0, 500, true});
  v.number({"drained_l", "drained", "Out of the tank at its end", must}, r.drained, in_file::litre, {0, 500});
  v.optional_number({"counted_l", "car counted", "Burnt, as the car's own count says", false, "not counted"},
                    r.counted, in_file::litre, {0, 500});
}

template <class V>
void describe(V& v, LogNote& l) {
  v.text({"file", "Log", "Name of its file, without folder", must}, l.file);
  v.optional_number({"put_in_l", "put in", "In the tank as the log begins", false, "not known"}, l.put_in,
                    in_file::litre, {0, 500});
  v.optional_number({"drained_l", "drained", "In the tank as it ends", false, "not known"}, l.drained,
                    in_file::litre, {0, 500});
  v.number({"flow_scale", "flow times", "On the logged flow"}, l.flow_scale, in_file::plain, {0.1, 10});
}

template <class V>
void describe(V& v, build::Stock& s) {
  v.text({"what", "Part", "As the order list calls it", must}, s.what);
  v.text({"size", "Size", "Of it, where it has one"}, s.size);
  v.number({"have", "In stock", "Pieces, or metres of what is cut from a length"}, s.have, in_file::plain,
           {0, 1e5});
  v.number({"ordered", "Ordered", "On its way"}, s.ordered, in_file::plain, {0, 1e5});
}

template <class V>
void describe(V& v, build::Done& d) {
  v.text({"setup", "Setup", "That it was done on", must}, d.setup);
  v.text({"step", "Step", "Its title", must}, d.step);
  v.text({"by", "By", "Who did it"}, d.by);
  v.text({"on", "On", "The day"}, d.on);
  v.text({"content", "Content", "Of the step as it was done: where it differs, it is to be done again"},
         d.content);
  v.text({"torque", "Torque", "That was reached, as it was read"}, d.torque);
}

template <class V>
void describe(V& v, build::OwnStep& s) {
  v.text({"setup", "Setup", "That it belongs to", must}, s.setup);
  v.text({"title", "Step", "What is done", must}, s.title);
  v.texts({"how", "How", "One thing to do each"}, s.how);
  v.text({"after", "After", "Title of the step behind which it comes; empty: at the end"}, s.after);
  v.number({"minutes", "Takes", "Of work"}, s.minutes, in_file::plain, {0, 10000});
  v.flag({"opens_fuel", "Opens fuel", "A line or tank stands open: the first step's cautions hold"},
         s.opens_fuel, "no", "yes");
}

template <class V>
void describe(V& v, build::StepChange& s) {
  v.text({"setup", "Setup", "That it belongs to", must}, s.setup);
  v.text({"step", "Step", "Title of a step that follows from the circuit", must}, s.step);
  v.texts({"also", "Also", "To be done there besides"}, s.also);
  v.optional_number({"minutes", "Takes", "Of work", false, "as estimated"}, s.minutes, in_file::plain,
                    {0, 10000});
  v.text({"after", "After", "Title of a step that is to come before it, though it need not"}, s.after);
}

template <class V>
void describe(V& v, build::Scheme& s) {
  v.text({"feed", "Feed", "Colour"}, s.feed);
  v.text({"ground", "Ground", "Colour"}, s.ground);
  v.text({"coil", "Relay's coil", "Colour"}, s.coil);
  v.choice({"joint", "Terminals", "How a wire is joined to its terminal"}, s.joint);
}

template <class V>
void describe(V& v, Project& p) {
  v.text({"name", "Project", "Its name"}, p.name);
  v.text({"notes", "Notes", "Free text"}, p.notes);
  v.texts({"catalogues", "Catalogues", "Files with parts of your own, relative to the project's folder"},
          p.catalogue_files);
  v.list({"setups", "Setups", "The car's setups", must}, p.setups);
  v.list({"laps", "Laps", "Logged or simulated"}, p.laps);
  v.list({"sessions", "Sessions", "What is planned"}, p.sessions);
  v.list(
      {"records", "After the session", "What was put in, drained and counted: teaches consumption and gauge"},
      p.records);
  v.list({"logs", "Logs", "What is known of logs beside their channels; the logs stay where they are"},
         p.logs);
  v.list({"stock", "Stock", "Parts on the shelf or ordered"}, p.stock);
  v.list({"done", "Done", "Steps of the build"}, p.done);
  v.list({"own_steps", "Own steps", "Among those that follow from the circuit"}, p.own_steps);
  v.list({"step_changes", "Changed steps", "What is done otherwise"}, p.step_changes);
  v.object({"scheme", "Wiring scheme", "The team's colours and terminals"}, p.scheme);
}

}  // namespace uadze::project
