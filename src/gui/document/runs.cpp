#include "gui/document/runs.h"

#include <QFile>
#include <QTimer>
#include <algorithm>

#include "core/project/keys.h"
#include "core/project/places.h"

namespace uadze::gui {

FuelMoment moment_of(const slosh::Instant& now, const Vec3& pull) {
  return {now.surface, now.volume, now.flow, now.locked, now.wet, pull};
}

Runs::Runs(const Document& document, const Selection& selection, QObject* parent)
    : QObject(parent), document_(document), selection_(selection) {
  connect(&evaluator, &Evaluator::updated, this, [this] {
    emit arrived();
    // With fine results the inertia and the circuit along the lap are known finely.
    look_at_level();
  });
  connect(&evaluator, &Evaluator::finished, this, &Runs::arrived);
  // Before whoever shows it: this object was there first.
  const auto forget_car = [this] { car_known_ = false; };
  connect(&document_, &Document::replaced, this, forget_car);
  connect(&document_, &Document::changed, this, forget_car);
  connect(&document_, &Document::file_changed, this, forget_car);
  connect(&selection_, &Selection::changed, this, forget_car);
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] {
    // Editors write in several steps, and put another file in its place.
    QTimer::singleShot(200, this, [this] {
      car_known_ = false;
      watch_files();
      emit files_changed();
    });
  });
}

std::optional<solve::Resolved> Runs::resolved() const {
  const auto* setup = selection_.setup();
  const auto* lap = selection_.lap_reference();
  if (!setup || !lap) return std::nullopt;
  const auto* session = selection_.session();
  return solve::Resolved{setup, lap, session,
                         session ? solve::conditions_of(*setup, *session) : solve::Conditions{}};
}

const solve::SessionResult* Runs::result_of(const std::string& setup, const std::string& session) const {
  const auto& all = evaluator.result().sessions;
  const auto found = all.find({setup, session});
  return found == all.end() ? nullptr : &found->second;
}

const solve::SessionResult* Runs::verdict() const {
  const auto* setup = selection_.setup();
  const auto* session = selection_.session();
  return setup && session ? result_of(setup->name, session->name) : nullptr;
}

const starvation::StarvationMap* Runs::map() const {
  const auto& mapped = evaluator.result().mapped;
  return mapped ? mapped->map->known() : nullptr;
}

const solve::FirstAnswer* Runs::first() const {
  const auto& first = evaluator.result().first;
  const auto* setup = selection_.setup();
  const auto* session = selection_.session();
  return first && setup && session && first->setup == setup->name && first->session == session->name
             ? &*first
             : nullptr;
}

QString Runs::fault() const {
  const auto* setup = selection_.setup();
  const auto* session = selection_.session();
  if (!setup) return "There is no setup yet: add one at the Car & fuel station.";
  if (!session)
    return document_.project().laps.empty() ? "There is no lap yet: add one at the Laps station."
                                            : "There is no session yet: add one at the Sessions station.";
  if (!selection_.lap_reference()) return "The session names no lap: add one at the Laps station.";
  const auto& faults = evaluator.result().faults;
  const auto found = faults.find({setup->name, session->name});
  return found == faults.end() ? QString() : QString::fromStdString(found->second);
}

solve::LapPtr Runs::lap() const {
  const auto r = resolved();
  if (!r) return nullptr;
  try {
    return document_.sources()->laps.get(*r->lap, r->conditions.grip);
  } catch (const InputError&) {
    return nullptr;  // the evaluator says why
  }
}

std::vector<lap::Corner> Runs::corners() const {
  const auto* reference = selection_.lap_reference();
  return reference ? document_.sources()->laps.corners(*reference) : std::vector<lap::Corner>{};
}

std::shared_ptr<const circuit::Catalogue> Runs::catalogue() const {
  try {
    return document_.sources()->catalogue(document_.project());
  } catch (const InputError&) {
    return nullptr;
  }
}

double Runs::cursor_time() const {
  const auto entry = lap();
  return entry ? entry->value.time[std::min(selection_.cursor(), entry->value.size() - 1)] : 0.0;
}

std::shared_ptr<const starvation::FuelSystem> Runs::car() const {
  const auto* setup = selection_.setup();
  if (!setup) return nullptr;
  if (car_known_) return car_;
  try {
    const ContentKey key =
        KeyMaker().add(project::key_of(*setup)).add(document_.sources()->tanks.key_of(setup->tank)).key();
    if (!car_ || key != car_of_) {
      car_ = std::make_shared<const starvation::FuelSystem>(
          solve::compile(*setup, *document_.sources(), nullptr, false));
      car_of_ = key;
    }
    car_known_ = true;
    return car_;
  } catch (const InputError&) {
    car_ = nullptr;
    return nullptr;  // the document refuses such a setup, or its mesh went away: the evaluator says so
  }
}

double Runs::level() const {
  const auto system = car();
  const double whole = system ? system->tank->volume() : 0.0;
  if (const auto picked = selection_.picked_level()) return std::min(*picked, whole);
  if (const auto* answer = first()) return std::min(answer->clean.level, whole);
  if (const auto* v = verdict()) return std::min(v->lap->clean.level, whole);
  return whole / 4;
}

std::optional<Runs::Wanted> Runs::wanted() const {
  const auto r = resolved();
  if (!r) return std::nullopt;
  try {
    KeyMaker maker;
    maker.add(solve::key_of_case(document_.project(), *r, *document_.sources(), {.points = effort_.points}));
    // A finer case of the same state is another state.
    const auto* v = verdict();
    maker.add(v && evaluator.fresh() && !first());
    return Wanted{maker.key(), level()};
  } catch (const InputError&) {
    return std::nullopt;
  }
}

void Runs::look_at_level() {
  const auto r = resolved();
  const auto now = wanted();
  if (!r || !now || (view_job_.running() && coming_ == *now) || (!view_job_.running() && view_of_ == *now))
    return;
  coming_ = *now;
  solve::LapCasePtr fine;
  if (const auto* v = verdict(); v && evaluator.fresh() && !first())
    fine = std::make_shared<const solve::LapCase>(solve::LapCase{v->lap->lap, v->lap->car, v->lap->course});
  view_job_.start(
      this,
      [fine, level = now->level, project = document_.project(), sources = document_.sources(),
       names = solve::Case{.setup = r->setup->name,
                           .lap = r->session ? "" : r->lap->name,
                           .session = r->session ? r->session->name : ""}](Progress& progress) {
        LevelView out{fine, nullptr};
        if (!out.ready)
          out.ready = solve::lap_case(project, solve::resolve(project, names), *sources,
                                      {.wait = false, .points = 150}, &progress);
        out.run = std::make_shared<const starvation::LevelRun>(starvation::run_level(
            *out.ready->car, out.ready->course, level, {.with_motion = true, .progress = &progress}));
        return out;
      },
      [this](LevelView view) {
        view_ = std::move(view);
        view_of_ = coming_;
        emit level_arrived();
      },
      [this](const QString&) {
        // The evaluator reports why.
        view_ = {};
        view_of_ = coming_;
        emit level_arrived();
      });
}

namespace {

/// Whether what is indexed by space, pickup or lift pump of the one can be read by the other's.
bool same_chain(const starvation::FuelSystem& a, const starvation::FuelSystem& b) {
  const auto alike = [](const auto& x, const auto& y) { return x.name == y.name; };
  const auto same_pickup = [](const auto& x, const auto& y) {
    return x.name == y.name && x.feeds == y.feeds;
  };
  return a.tank == b.tank && a.surge.has_value() == b.surge.has_value() &&
         std::ranges::equal(a.pickups, b.pickups, same_pickup) &&
         std::ranges::equal(a.lift_pumps, b.lift_pumps, alike);
}

}  // namespace

solve::LapCasePtr Runs::lap_case() const {
  const auto now = lap();
  const auto system = car();
  // Of another lap, tank or chain it would be read with wrong samples, spaces, pickups and pumps.
  if (!view_.ready || view_.ready->lap != now || !system || !same_chain(*view_.ready->car, *system))
    return nullptr;
  return view_.ready;
}

std::shared_ptr<const starvation::LevelRun> Runs::level_run() const {
  return lap_case() ? view_.run : nullptr;
}

bool Runs::level_run_is_current() const {
  const auto now = wanted();
  return now && view_of_ == *now && level_run();
}

std::optional<FuelMoment> Runs::fuel_at_cursor() const {
  const auto system = car();
  if (!system) return std::nullopt;
  const auto entry = lap();
  const size_t at = entry ? std::min(selection_.cursor(), entry->value.size() - 1) : 0;
  const Vec3 pull = entry ? entry->value.effective_gravity(at) : slosh::effective_gravity(Vec3::Zero());
  if (const auto run = level_run(); run && run->level == level() && at < run->motion.size())
    return moment_of(run->motion[at], pull);
  // Until the lap at this level is there, the fuel as it would lie.
  slosh::FuelMotion settled(*system->tank, system->pickups, level(), {.model = slosh::Model::settled});
  settled.move(pull, 0.0);
  return moment_of(slosh::instant_of(settled, 0.0, system->pickups.size()), pull);
}

Messages Runs::tank_messages() const {
  const auto* setup = selection_.setup();
  if (!setup) return {};
  try {
    const auto assembly = document_.sources()->tanks.assembled(setup->tank);
    return project::places_in(*assembly->parts).messages(assembly->faults, "");
  } catch (const InputError& error) {
    return error.messages();
  }
}

void Runs::watch_files() {
  QStringList files;
  for (const auto& path : solve::files_of(document_.project(), document_.sources()->folder()))
    if (const QString file = QString::fromStdString(path.string()); QFile::exists(file)) files << file;
  if (!watcher_.files().isEmpty()) watcher_.removePaths(watcher_.files());
  if (!files.isEmpty()) watcher_.addPaths(files);
}

solve::PlanOptions Runs::plan_options() const {
  solve::PlanOptions plan;
  plan.lap.ladder = effort_.ladder;
  plan.lap.detail = effort_.band ? solve::Detail::band : solve::Detail::fine;
  plan.lap.points = effort_.points;
  plan.draws = draws_;
  return plan;
}

void Runs::evaluate() {
  watch_files();
  const auto* setup = selection_.setup();
  const auto* session = selection_.session();
  evaluator.start({document_.project(), document_.sources(), setup ? setup->name : "",
                   session ? session->name : "", plan_options(), effort_.others});
  look_at_level();
}

}  // namespace uadze::gui
