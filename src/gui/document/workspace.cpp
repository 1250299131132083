#include "gui/document/workspace.h"

#include <QApplication>
#include <QSettings>
#include <algorithm>

#include "core/slosh/motion.h"

namespace uadze::gui {

Workspace::Workspace(QObject* parent) : QObject(parent) {
  QSettings settings;
  units_.volume = static_cast<VolumeUnit>(settings.value("units/volume", 0).toInt());
  units_.flow = static_cast<FlowUnit>(settings.value("units/flow", 0).toInt());
  units_.pressure = static_cast<PressureUnit>(settings.value("units/pressure", 0).toInt());
  units_.temperature = static_cast<TemperatureUnit>(settings.value("units/temperature", 0).toInt());
  units_.length = static_cast<LengthUnit>(settings.value("units/length", 0).toInt());
  units_.speed = static_cast<SpeedUnit>(settings.value("units/speed", 0).toInt());
  units_.mass = static_cast<MassUnit>(settings.value("units/mass", 0).toInt());
  theme_ = Theme::make(settings.value("dark", false).toBool());
  connect(&document, &Document::changed, this, [this] {
    drop_runs();
    evaluate();
    emit changed();
  });
  connect(&evaluator, &Evaluator::updated, this, [this] {
    // With fine results the inertia and the circuit along the lap are known finely.
    if (const auto* v = verdict(); v && v->lap->detail != project::Detail::coarse && v->lap != case_of_) {
      case_ = nullptr;
      car_ = nullptr;
    }
    emit changed();
  });
  connect(&evaluator, &Evaluator::finished, this, &Workspace::changed);
}

int Workspace::setup_index() const { return std::min(setup_, static_cast<int>(project().setups.size()) - 1); }
int Workspace::session_index() const {
  return std::min(session_, static_cast<int>(project().sessions.size()) - 1);
}
const project::Setup* Workspace::setup() const {
  const int i = setup_index();
  return i < 0 ? nullptr : &project().setups[static_cast<size_t>(i)];
}
const session::Session* Workspace::session() const {
  const int i = session_index();
  return i < 0 ? nullptr : &project().sessions[static_cast<size_t>(i)];
}
const project::LapReference* Workspace::lap_reference() const {
  if (const auto* s = session()) return project::reference_of(project(), *s);
  return project().laps.empty() ? nullptr : &project().laps.front();
}

void Workspace::choose_setup(int index) {
  if (index == setup_ || index < 0) return;
  setup_ = index;
  drop_runs();
  evaluate();
  emit changed();
}

void Workspace::choose_session(int index) {
  if (index == session_ || index < 0) return;
  session_ = index;
  drop_runs();
  evaluate();
  emit changed();
}

void Workspace::reset_view() {
  setup_ = session_ = 0;
  cursor_ = 0;
  level_.reset();
  drop_runs();
  evaluate();
  emit changed();
  emit cursor_moved();
  emit level_changed();
}

const project::SessionResult* Workspace::result_of(const std::string& setup_name,
                                                   const std::string& session_name) const {
  const auto& all = evaluator.result().sessions;
  const auto found = all.find({setup_name, session_name});
  return found == all.end() ? nullptr : &found->second;
}

const project::SessionResult* Workspace::verdict() const {
  return setup() && session() ? result_of(setup()->name, session()->name) : nullptr;
}

QString Workspace::fault() const {
  if (!setup()) return "There is no setup yet: add one at the Car & fuel station.";
  if (!session()) return "There is no session yet: add one at the Sessions station.";
  if (!lap_reference()) return "The session names no lap: add one at the Laps station.";
  const auto& faults = evaluator.result().faults;
  const auto found = faults.find({setup()->name, session()->name});
  return found == faults.end() ? QString() : QString::fromStdString(found->second);
}

project::LapStore::Entry Workspace::lap() const {
  const auto* reference = lap_reference();
  return reference
             ? const_cast<Workspace*>(this)->evaluator.lap(*reference, session() ? session()->grip : 1.0)
             : nullptr;
}

double Workspace::cursor_time() const {
  const auto entry = lap();
  return entry ? entry->value.time[std::min(cursor_, entry->value.size() - 1)] : 0.0;
}

void Workspace::set_cursor(size_t sample) {
  const auto entry = lap();
  const size_t last = entry ? entry->value.size() - 1 : 0;
  sample = std::min(sample, last);
  if (sample == cursor_) return;
  cursor_ = sample;
  emit cursor_moved();
}

void Workspace::set_cursor_time(double seconds) {
  if (const auto entry = lap()) set_cursor(entry->value.index_at(seconds));
}

void Workspace::set_cursor_distance(double metres) {
  const auto entry = lap();
  if (!entry) return;
  const auto& d = entry->value.distance;
  set_cursor(static_cast<size_t>(std::lower_bound(d.begin(), d.end(), metres) - d.begin()));
}

std::shared_ptr<const project::LapCase> Workspace::lap_case() const {
  if (case_ || !setup()) return case_;
  const auto* reference = lap_reference();
  if (!reference) return nullptr;
  // What the evaluator has for just this is finer and at hand.
  if (const auto* v = verdict(); v && evaluator.fresh() && v->lap->detail != project::Detail::coarse) {
    case_ =
        std::make_shared<const project::LapCase>(project::LapCase{v->lap->lap, v->lap->car, v->lap->course});
    case_of_ = v->lap;
    return case_;
  }
  try {
    auto& self = const_cast<Workspace&>(*this);
    case_ = std::make_shared<const project::LapCase>(project::lap_case(
        project(), *setup(), *reference, *self.evaluator.laps(), *self.document.tanks(),
        {.conditions = session() ? project::conditions_of(*session()) : project::Conditions{},
         .wait = false,
         .points = 150}));
  } catch (const InputError&) {
    // The evaluator reports why.
  }
  return case_;
}

std::shared_ptr<const starvation::FuelSystem> Workspace::car() const {
  if (!car_ && setup())
    if (const auto now = lap_case()) car_ = now->car;
  if (!car_ && setup())
    car_ =
        std::make_shared<const starvation::FuelSystem>(project::compile(*setup(), *document.tanks(), false));
  return car_;
}

double Workspace::level() const {
  const auto system = car();
  const double whole = system ? system->tank->volume() : 0.0;
  if (level_) return std::min(*level_, whole);
  if (const auto* v = verdict()) return std::min(v->lap->clean.level, whole);
  return whole / 4;
}

void Workspace::set_level(std::optional<double> volume) {
  level_ = volume;
  if (level_) level_ = std::max(*level_, 0.0);
  run_ = nullptr;
  emit level_changed();
}

std::shared_ptr<const starvation::LevelRun> Workspace::level_run() const {
  const auto now = lap_case();
  if (!now) return nullptr;
  if (run_ && run_of_ == now && run_level_ == level()) return run_;
  run_ = std::make_shared<const starvation::LevelRun>(
      starvation::run_level(*now->car, now->course, level(), {.with_motion = true}));
  run_of_ = now;
  run_level_ = level();
  return run_;
}

FuelState state_of(const slosh::Instant& now, const Vec3& pull) {
  return {now.surface, now.volume, now.flow, now.locked, now.wet, pull};
}

std::optional<FuelState> Workspace::fuel_at_cursor() const {
  const auto system = car();
  if (!system) return std::nullopt;
  const auto entry = lap();
  const size_t at = entry ? std::min(cursor_, entry->value.size() - 1) : 0;
  const Vec3 pull = entry ? entry->value.effective_gravity(at) : slosh::effective_gravity(Vec3::Zero());
  if (const auto run = level_run(); run && at < run->motion.size()) return state_of(run->motion[at], pull);
  slosh::FuelMotion settled(*system->tank, system->pickups, level(), {.model = slosh::Model::settled});
  settled.move(pull, 0.0);
  return state_of(slosh::instant_of(settled, 0.0, system->pickups.size()), pull);
}

Messages Workspace::tank_messages() const {
  return setup() ? document.tanks()->assembled(setup()->tank)->messages : Messages{};
}

void Workspace::set_units(const UnitSystem& units) {
  units_ = units;
  QSettings settings;
  settings.setValue("units/volume", static_cast<int>(units.volume));
  settings.setValue("units/flow", static_cast<int>(units.flow));
  settings.setValue("units/pressure", static_cast<int>(units.pressure));
  settings.setValue("units/temperature", static_cast<int>(units.temperature));
  settings.setValue("units/length", static_cast<int>(units.length));
  settings.setValue("units/speed", static_cast<int>(units.speed));
  settings.setValue("units/mass", static_cast<int>(units.mass));
  emit appearance_changed();
  emit changed();
}

void Workspace::set_dark(bool dark, bool remember) {
  theme_ = Theme::make(dark);
  if (remember) QSettings().setValue("dark", dark);
  apply_theme(*qApp, theme_);
  emit appearance_changed();
  emit changed();
}

QString Workspace::show(double si, Quantity quantity, int decimals) const {
  return QString::fromStdString(format(si, quantity, units_, decimals));
}

void Workspace::drop_runs() {
  car_ = nullptr;
  case_ = nullptr;
  case_of_ = nullptr;
  run_ = nullptr;
  if (setup()) units_.fuel_density = fluid::density(setup()->fuel);
}

void Workspace::set_draws(const project::DrawOptions& draws) {
  draws_ = draws;
  evaluate();
  emit changed();
}

void Workspace::evaluate() {
  evaluator.start({project(), document.folder(), setup() ? setup()->name : "",
                   session() ? session()->name : "", document.tanks(), detail_, draws_, effort_.band,
                   effort_.others, effort_.points});
}

}  // namespace uadze::gui
