#include "gui/document/evaluator.h"

#include <algorithm>
#include <functional>

namespace uadze::gui {
namespace {

/// All that a lap's result depends on, as text.
std::string key_of(const project::Setup& setup, const project::LapReference& reference, const void* lap) {
  project::Project only;
  only.setups = {setup};
  only.laps = {reference};
  return project::project_text(only, "") + std::to_string(reinterpret_cast<std::uintptr_t>(lap));
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

project::LapStore::Entry Evaluator::lap(const project::LapReference& reference) {
  try {
    return laps_->get(reference);
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
      result_ = std::move(copy);
      if (done) running_ = stale_ = false;
      emit updated();
      if (done) emit finished();
    });
  };
  try {
    const project::Project& project = request.project;
    const auto solve = [&](const project::Setup& setup, const session::Session& session) {
      const project::LapReference* reference = project.find_lap(session.lap);
      if (!reference) return;
      progress->check();
      try {
        const auto entry = laps->get(*reference);
        const std::string key = key_of(setup, *reference, entry.get());
        project::LapResultPtr lap;
        {
          const std::lock_guard lock(cache_mutex_);
          if (const auto kept = lap_cache_.find(key); kept != lap_cache_.end()) lap = kept->second;
        }
        if (!lap) {
          lap = project::solve_lap(setup, *reference, *laps, *request.tanks, request.detail, progress.get());
          const std::lock_guard lock(cache_mutex_);
          trim(lap_cache_);
          lap_cache_[key] = lap;
        }
        evaluation->sessions.insert_or_assign({setup.name, session.name},
                                              project::plan_session(lap, session));
        if (setup.name == request.setup && session.name == request.session) evaluation->lap = lap;
      } catch (const InputError& error) {
        evaluation->faults[{setup.name, session.lap}] = error.what();
      }
    };
    for (const auto& setup : project.setups)
      for (const auto& session : project.sessions)
        if (setup.name == request.setup && session.name == request.session) solve(setup, session);
    if (evaluation->lap) publish(false);
    for (const auto& setup : project.setups)
      for (const auto& session : project.sessions) solve(setup, session);
    publish(true);
  } catch (const Cancelled&) {
    // Whoever cancelled has already said so.
  } catch (const std::exception& error) {
    // Out of memory and the like: said at the verdict, and the window lives on.
    for (const auto& session : request.project.sessions)
      evaluation->faults[{request.setup, session.lap}] =
          std::string("the computation failed: ") + error.what();
    publish(true);
  }
}

}  // namespace uadze::gui
