#include "gui/stations/sessions/session_form.h"

#include <algorithm>

#include "core/base/names.h"

namespace uadze::gui {
namespace {

using project::Project;
using session::Session;

Session& at(Project& p, int r) { return p.sessions.at(static_cast<size_t>(r)); }
const Session& at(const Project& p, int r) { return p.sessions.at(static_cast<size_t>(r)); }

EditColumn whole_column(const QString& title, int& (*get)(Project&, int)) {
  return {title, Quantity::count, false,
          [get](const Project& p, int r) { return QString::number(get(const_cast<Project&>(p), r)); },
          [get](Project& p, int r, const QString& text) {
            bool good = false;
            const int value = text.trimmed().toInt(&good);
            if (!good || value < 0)
              throw std::runtime_error("expected a whole number, found \"" + text.toStdString() + "\"");
            get(p, r) = value;
          }};
}

}  // namespace

EditTable* make_session_table(Workspace& w) {
  EditColumn laps_column{
      "laps", Quantity::plain, true,
      [](const Project& p, int r) { return at(p, r).laps ? QString::number(*at(p, r).laps) : QString(); },
      [](Project& p, int r, const QString& text) {
        bool good = false;
        const int n = text.trimmed().toInt(&good);
        if (!good)
          throw std::runtime_error("expected a whole number of laps, found \"" + text.toStdString() + "\"");
        at(p, r).laps = n;
        at(p, r).duration.reset();
      }};
  EditColumn time_column{
      "or time", Quantity::plain, true,
      [](const Project& p, int r) {
        return at(p, r).duration ? QString::number(*at(p, r).duration / 60, 'g', 6) + " min" : QString();
      },
      [&w](Project& p, int r, const QString& text) {
        bool plain = false;
        const double minutes = text.trimmed().toDouble(&plain);
        at(p, r).duration = plain ? minutes * 60 : typed_quantity(text, Quantity::duration, w.units());
        at(p, r).laps.reset();
      }};
  EditColumn kind_column{"kind", Quantity::plain, true,
                         [](const Project& p, int r) { return QString(name_of(at(p, r).kind)); },
                         [](Project& p, int r, const QString& text) {
                           const auto kind = value_named<session::Kind>(text.trimmed().toStdString());
                           QStringList names;
                           for (const std::string& name : names_of<session::Kind>())
                             names << QString::fromStdString(name);
                           if (!kind)
                             throw std::runtime_error("expected one of " + names.join(", ").toStdString());
                           at(p, r).kind = *kind;
                         }};
  return new EditTable(
      w, "Sessions",
      {text_column("Session", [](Project& p, int r) -> std::string& { return at(p, r).name; }), kind_column,
       text_column("on lap", [](Project& p, int r) -> std::string& { return at(p, r).lap; }), laps_column,
       time_column, whole_column("stops", [](Project& p, int r) -> int& { return at(p, r).refuel_stops; }),
       whole_column("formation", [](Project& p, int r) -> int& { return at(p, r).formation_laps; }),
       whole_column("out", [](Project& p, int r) -> int& { return at(p, r).out_laps; }),
       whole_column("in", [](Project& p, int r) -> int& { return at(p, r).in_laps; }),
       whole_column("cool", [](Project& p, int r) -> int& { return at(p, r).cool_laps; }),
       whole_column("neutral", [](Project& p, int r) -> int& { return at(p, r).neutral_laps; }),
       quantity_column(w, "they burn", Quantity::fraction,
                       [](Project& p, int r) -> double& { return at(p, r).slow_lap_share; }),
       quantity_column(w, "sample", Quantity::volume,
                       [](Project& p, int r) -> double& { return at(p, r).sample; }),
       quantity_column(w, "gauge error", Quantity::volume,
                       [](Project& p, int r) -> double& { return at(p, r).gauge_error; })},
      {[](const Project& p) { return static_cast<int>(p.sessions.size()); },
       [](Project& p) {
         if (p.laps.empty()) throw std::runtime_error("add a lap first, at the Laps station");
         Session s;
         s.name = "Session " + std::to_string(p.sessions.size() + 1);
         s.lap = p.laps.front().name;
         s.laps = 5;
         s.out_laps = s.in_laps = 1;
         p.sessions.push_back(s);
       },
       [](Project& p, int r) { p.sessions.erase(p.sessions.begin() + r); }});
}

EditTable* make_record_table(Workspace& w) {
  const auto record = [](Project& p, int r) -> session::Record& {
    return p.records.at(static_cast<size_t>(r));
  };
  EditColumn counted{"car counted", Quantity::volume, false,
                     [&w](const Project& p, int r) {
                       const auto& c = p.records.at(static_cast<size_t>(r)).counted;
                       return c ? QString::fromStdString(format_figure(*c, Quantity::volume, w.units()))
                                : QString();
                     },
                     [&w, record](Project& p, int r, const QString& text) {
                       if (text.trimmed().isEmpty())
                         record(p, r).counted.reset();
                       else
                         record(p, r).counted = typed_quantity(text, Quantity::volume, w.units());
                     }};
  return new EditTable(
      w, "After the session",
      {text_column("Session driven",
                   [record](Project& p, int r) -> std::string& { return record(p, r).session; }),
       whole_column("laps",
                    [](Project& p, int r) -> int& { return p.records.at(static_cast<size_t>(r)).laps; }),
       quantity_column(w, "put in", Quantity::volume,
                       [record](Project& p, int r) -> double& { return record(p, r).put_in; }),
       quantity_column(w, "drained", Quantity::volume,
                       [record](Project& p, int r) -> double& { return record(p, r).drained; }),
       counted},
      {[](const Project& p) { return static_cast<int>(p.records.size()); },
       [&w](Project& p) {
         const session::Session* s = w.selection.session();
         if (!s) throw std::runtime_error("add a session first");
         session::Record r;
         r.session = s->name;
         // What was planned, until the rig's figures are typed over it.
         const auto* v = w.runs.verdict();
         r.put_in = v ? v->risk.start : 1e-3;
         r.drained = v ? std::min(v->risk.bring_back, 0.9 * r.put_in) : 0.0;
         p.records.push_back(r);
       },
       [](Project& p, int r) { p.records.erase(p.records.begin() + r); },
       "No session written down yet. \"Add\" takes the chosen one with what was planned, for the rig's "
       "figures "
       "to be typed over it."});
}

EditForm* make_session_form(Workspace& w) {
  auto* form = new EditForm(w);
  const auto chosen = [&w](Project& p) -> Session* {
    const int i = w.selection.session_index();
    return i < 0 || i >= static_cast<int>(p.sessions.size()) ? nullptr : &p.sessions[static_cast<size_t>(i)];
  };
  const auto scatter = [chosen](Project& p) -> session::Scatter* {
    Session* s = chosen(p);
    return s ? &s->scatter : nullptr;
  };
  const auto rows = [&](std::initializer_list<const char*> keys) {
    for (const char* key : keys) form->add<Session>(key, chosen);
  };
  form->add_heading("The chosen session");
  rows({"risk_percent", "rule_of_thumb_percent", "consumption_l_per_lap", "grip_percent", "fuel_c", "fill_c",
        "stop_time_s"});
  form->add_heading("What scatters (standard deviation)");
  for (const char* key :
       {"consumption_percent", "lap_consumption_percent", "lap_time_percent", "grip_percent"})
    form->add<session::Scatter>(key, scatter);
  form->add_heading("Slow laps burn");
  rows({"formation_percent", "out_percent", "in_percent", "cool_percent", "neutral_percent",
        "neutral_time_percent"});
  return form;
}

}  // namespace uadze::gui
