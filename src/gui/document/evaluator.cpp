#include "gui/document/evaluator.h"

#include <algorithm>
#include <functional>

namespace uadze::gui {
namespace {

/// All that a lap's result depends on, as text.
std::string key_of(const project::Setup& setup, const project::LapReference& reference,
                   const project::Conditions& conditions, const void* lap, const void* catalogue) {
  project::Project only;
  only.setups = {setup};
  only.laps = {reference};
  return project::project_text(only, "") + std::to_string(reinterpret_cast<std::uintptr_t>(lap)) + "/" +
         std::to_string(reinterpret_cast<std::uintptr_t>(catalogue)) + "/" + std::to_string(conditions.grip) +
         "/" + std::to_string(conditions.temperature.value_or(0.0));
}

// Enough for going back and forth between alternatives; the oldest kept go when it is full.
template <class Map>
void trim(Map& map) {
  if (map.size() > 24) map.clear();
}

}  // namespace

Evaluator::Evaluator(QObject* parent) : QObject(parent), laps_(std::make_shared<project::LapStore>()) {
  pool_.setMaxThreadCount(1);
}

Evaluator::~Evaluator() {
  if (progress_) progress_->cancel();
  ++generation_;
  pool_.waitForDone();
}

project::LapStore::Entry Evaluator::lap(const project::LapReference& reference, double grip) {
  try {
    return laps_->get(reference, grip);
  } catch (const InputError&) {
    return nullptr;
  }
}

void Evaluator::start(Request request) {
  if (progress_) progress_->cancel();
  if (laps_->folder() != request.folder) {
    laps_ = std::make_shared<project::LapStore>(request.folder);
    result_ = {};
  }
  progress_ = std::make_shared<Progress>();
  running_ = true;
  stale_ = true;
  fresh_ = false;
  const int generation = ++generation_;
  pool_.start([this, request = std::move(request), generation, progress = progress_, laps = laps_] {
    run(request, generation, progress, laps);
  });
}

void Evaluator::cancel() {
  if (!running_) return;
  progress_->cancel();
  ++generation_;
  running_ = false;
  emit finished();
}

void Evaluator::post(int generation, std::function<void()> then) {
  QMetaObject::invokeMethod(
      this,
      [this, generation, then = std::move(then)] {
        if (generation == generation_) then();
      },
      Qt::QueuedConnection);
}

void Evaluator::run(const Request& request, int generation, const std::shared_ptr<Progress>& progress,
                    const std::shared_ptr<project::LapStore>& laps) {
  auto evaluation = std::make_shared<Evaluation>();
  const auto publish = [&](bool done) {
    post(generation, [this, copy = *evaluation, done]() mutable {
      // While there is only a first answer the map of before stays.
      if (!copy.lap) copy.lap = result_.lap;
      // Sessions that are still to be computed keep what they had.
      if (!done)
        for (const auto& known : result_.sessions) copy.sessions.insert(known);
      result_ = std::move(copy);
      fresh_ = true;
      if (done) running_ = stale_ = false;
      emit updated();
      if (done) emit finished();
    });
  };
  try {
    const project::Project& project = request.project;
    using project::Detail;
    // The result in at least this detail: kept, or computed and kept.
    const auto solved = [&](const project::Setup& setup, const project::LapReference& reference,
                            const project::Conditions& conditions, Detail detail) {
      progress->check();
      const auto entry = laps->get(reference, conditions.grip);
      const std::string key =
          key_of(setup, reference, conditions, entry.get(), request.project.catalogue.get());
      project::LapResultPtr lap;
      {
        const std::lock_guard lock(cache_mutex_);
        if (const auto kept = lap_cache_.find(key); kept != lap_cache_.end()) lap = kept->second;
      }
      if (lap && lap->detail >= detail) return lap;
      if (detail == Detail::band && lap && lap->detail == Detail::fine)
        lap = project::with_band(lap, progress.get());
      else
        lap = project::solve_lap(project, setup, reference, *laps, *request.tanks,
                                 {conditions, detail, request.detail, request.points}, progress.get());
      const std::lock_guard lock(cache_mutex_);
      trim(lap_cache_);
      lap_cache_[key] = lap;
      return lap;
    };
    const auto solve = [&](const project::Setup& setup, const session::Session& session, Detail detail) {
      const project::LapReference* reference = project::reference_of(project, session);
      if (!reference) return;
      try {
        const project::LapResultPtr lap = solved(setup, *reference, project::conditions_of(session), detail);
        const std::pair place{setup.name, session.name};
        if (const auto known = evaluation->sessions.find(place);
            known != evaluation->sessions.end() && known->second.lap == lap)
          return;
        project::DrawOptions draws = request.draws;
        if (lap->detail == Detail::coarse) draws.draws = std::min(draws.draws, 2000);
        const auto [at, fresh] =
            evaluation->sessions.insert_or_assign(place, project::plan_session(lap, session, draws));
        if (setup.name != request.setup || session.name != request.session) return;
        evaluation->rough = lap->detail == Detail::coarse;
        if (evaluation->rough) return;
        evaluation->lap = lap;
        evaluation->at_back = std::make_shared<const starvation::LevelRun>(project::run_at_back(at->second));
      } catch (const InputError& error) {
        evaluation->faults[{setup.name, session.name}] = error.what();
      }
    };
    const Detail most = request.band ? Detail::band : Detail::fine;
    for (const Detail detail : {Detail::coarse, Detail::fine, Detail::band}) {
      if (detail > most) continue;
      for (const auto& setup : project.setups)
        for (const auto& session : project.sessions)
          if (setup.name == request.setup && session.name == request.session) solve(setup, session, detail);
      if (!evaluation->sessions.empty() || !evaluation->faults.empty()) publish(false);
    }
    for (const Detail detail : {Detail::fine, Detail::band}) {
      if (detail > most) continue;
      for (const auto& setup : project.setups)
        for (const auto& session : project.sessions)
          if (request.others) solve(setup, session, detail);
      publish(detail == most);
    }
  } catch (const Cancelled&) {
    // Whoever cancelled has already said so.
  } catch (const std::exception& error) {
    // Out of memory and the like: said at the verdict, and the window lives on.
    for (const auto& session : request.project.sessions)
      evaluation->faults[{request.setup, session.name}] =
          std::string("the computation failed: ") + error.what();
    publish(true);
  }
}

}  // namespace uadze::gui
