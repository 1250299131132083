#include "gui/stations/session_form.h"

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
                         [](const Project& p, int r) { return QString(session::kind_name(at(p, r).kind)); },
                         [](Project& p, int r, const QString& text) {
                           QStringList names;
                           for (int i = 0; i <= static_cast<int>(session::Kind::test_bench); ++i) {
                             const auto k = static_cast<session::Kind>(i);
                             names << session::kind_name(k);
                             if (text.trimmed() != names.back()) continue;
                             at(p, r).kind = k;
                             return;
                           }
                           throw std::runtime_error("expected one of " + names.join(", ").toStdString());
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

EditForm* make_session_form(Workspace& w) {
  auto* form = new EditForm(w);
  const auto chosen = [&w](Project& p) -> Session* {
    const int i = w.session_index();
    return i < 0 || i >= static_cast<int>(p.sessions.size()) ? nullptr : &p.sessions[static_cast<size_t>(i)];
  };
  const auto number = [&](const QString& label, Quantity quantity, double Session::*member,
                          const QString& tip) {
    form->add_quantity(
        label, quantity,
        [chosen, member](Project& p) -> double* {
          Session* s = chosen(p);
          return s ? &(s->*member) : nullptr;
        },
        tip);
  };
  const auto maybe = [&](const QString& label, Quantity quantity, std::optional<double> Session::*member,
                         const QString& otherwise, const QString& tip) {
    form->add_optional(
        label, quantity,
        [chosen, member](Project& p) -> std::optional<double>* {
          Session* s = chosen(p);
          return s ? &(s->*member) : nullptr;
        },
        otherwise, tip);
  };
  const auto scatter = [&](const QString& label, double session::Scatter::*member, const QString& tip) {
    form->add_quantity(
        label, Quantity::fraction,
        [chosen, member](Project& p) -> double* {
          Session* s = chosen(p);
          return s ? &(s->scatter.*member) : nullptr;
        },
        tip);
  };
  form->add_heading("The chosen session");
  number("Accepted risk", Quantity::fraction, &Session::risk,
         "Share of such sessions in which the fuel may turn out to be too little");
  maybe("Rule of thumb", Quantity::fraction, &Session::rule, "none",
        "The team's old floor, as a share of the tank: shown beside the plan");
  maybe("Consumption, measured", Quantity::volume, &Session::consumption_per_lap, "from the lap",
        "Of a flying lap");
  number("Grip", Quantity::fraction, &Session::grip,
         "Of the lap's lateral and longitudinal acceleration: about 70 % in the wet");
  maybe("Fuel temperature", Quantity::temperature, &Session::temperature, "the setup's", "In this session");
  form->add_heading("What scatters (standard deviation)");
  scatter("Consumption", &session::Scatter::consumption, "Of a whole session: driver, wind, engine map");
  scatter("Lap to lap", &session::Scatter::lap_consumption, "Of one lap's consumption against the next");
  scatter("Lap time", &session::Scatter::lap_time, "Of a timed session's mean lap time: decides its laps");
  scatter("Grip, g level", &session::Scatter::grip, "Of the accelerations");
  form->add_heading("Slow laps burn");
  maybe("Formation laps", Quantity::fraction, &Session::formation_share, "as all slow laps",
        "Of a flying lap's consumption");
  maybe("Out laps", Quantity::fraction, &Session::out_share, "as all slow laps",
        "Of a flying lap's consumption");
  maybe("In laps", Quantity::fraction, &Session::in_share, "as all slow laps",
        "Of a flying lap's consumption");
  maybe("Cool-down laps", Quantity::fraction, &Session::cool_share, "as all slow laps",
        "Of a flying lap's consumption");
  maybe("Neutralised laps", Quantity::fraction, &Session::neutral_share, "as all slow laps",
        "Of a flying lap's consumption; counted on only without refuelling stops");
  number("Neutralised lap takes", Quantity::fraction, &Session::neutral_time, "Of a flying lap's time");
  return form;
}

}  // namespace uadze::gui
