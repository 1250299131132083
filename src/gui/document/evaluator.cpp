#include "gui/document/evaluator.h"

namespace uadze::gui {
namespace {

/// One run, in the background.
class Run {
 public:
  Run(const Request& request, Progress& progress, const Background<Evaluation>::Publish& publish)
      : request_(request), progress_(progress), publish_(publish) {}

  Evaluation all() {
    first();
    const solve::Detail most = request_.plan.lap.detail;
    for (const solve::Detail detail : {solve::Detail::fine, solve::Detail::band})
      if (detail <= most && plan({{request_.setup, request_.session}}, detail)) publish_(out_);
    if (out_.lap) {
      solve::map_of(*out_.lap, &progress_);
      publish_(out_);
    }
    std::vector<Place> others;
    for (const auto& setup : request_.project.setups)
      for (const auto& session : request_.project.sessions)
        if (request_.others) others.emplace_back(setup.name, session.name);
    for (const solve::Detail detail : {solve::Detail::fine, solve::Detail::band}) {
      if (detail > most) continue;
      plan(others, detail);
      if (detail < most) publish_(out_);
    }
    return std::move(out_);
  }

 private:
  solve::Resolved resolved(const std::string& setup, const std::string& session) const {
    return solve::resolve(request_.project, {.setup = setup, .lap = {}, .session = session});
  }

  void first() {
    if (request_.session.empty() || request_.setup.empty()) return;
    try {
      out_.first =
          solve::first_answer(request_.project, resolved(request_.setup, request_.session), *request_.sources,
                              {.count = 2000, .seed = request_.plan.draws.seed}, &progress_);
    } catch (const InputError& error) {
      out_.faults[{request_.setup, request_.session}] = error.what();
    }
    publish_(out_);
  }

  using Place = std::pair<std::string, std::string>;  // setup and session

  /// Laps side by side, then their sessions. Whether there is something new to show.
  bool plan(const std::vector<Place>& places, solve::Detail detail) {
    solve::LapOptions how = request_.plan.lap;
    how.detail = detail;
    bool news = false;
    const auto guarded = [&](const Place& place, auto&& work) {
      try {
        work();
      } catch (const InputError& error) {
        out_.faults[place] = error.what();
        news = true;
      }
    };
    std::vector<Place> asked;
    std::vector<solve::Resolved> cases;
    for (const Place& place : places)
      if (!place.first.empty() && !place.second.empty())
        guarded(place, [&] {
          cases.push_back(resolved(place.first, place.second));
          asked.push_back(place);
        });
    auto laps = solve::lap_results(request_.project, cases, *request_.sources, how, &progress_);
    std::vector<solve::ToPlan> wanted;
    std::vector<Place> of;
    for (size_t i = 0; i < asked.size(); ++i)
      guarded(asked[i], [&] {
        if (laps[i].fault) throw *laps[i].fault;
        if (const auto known = out_.sessions.find(asked[i]);
            known != out_.sessions.end() && known->second.lap == laps[i].lap)
          return;
        wanted.push_back({std::move(laps[i].lap), cases[i].session});
        of.push_back(asked[i]);
      });
    auto planned = solve::plan_sessions(request_.project, wanted, request_.plan.draws, &progress_);
    for (size_t i = 0; i < of.size(); ++i)
      guarded(of[i], [&] {
        if (planned[i].fault) throw *planned[i].fault;
        news = true;
        const auto [at, fresh] = out_.sessions.insert_or_assign(of[i], std::move(*planned[i].result));
        if (of[i] != Place{request_.setup, request_.session}) return;
        out_.first.reset();
        out_.lap = wanted[i].lap;
        out_.at_back =
            std::make_shared<const starvation::LevelRun>(solve::run_at_back(at->second, &progress_));
      });
    return news;
  }

  const Request& request_;
  Progress& progress_;
  const Background<Evaluation>::Publish& publish_;
  Evaluation out_;
};

}  // namespace

void Evaluator::start(Request request) {
  stale_ = true;
  fresh_ = false;
  job_.start_in_steps(
      this,
      [request](Progress& progress, const Background<Evaluation>::Publish& publish) {
        return Run(request, progress, publish).all();
      },
      [this](Evaluation some) { adopt(std::move(some), false); },
      [this](Evaluation all) { adopt(std::move(all), true); },
      [this, request](const QString& why) {
        // Out of memory and the like: said at the verdict, and the window lives on.
        Evaluation out;
        for (const auto& session : request.project.sessions)
          out.faults[{request.setup, session.name}] = "the computation failed: " + why.toStdString();
        adopt(std::move(out), true);
      });
}

void Evaluator::adopt(Evaluation evaluation, bool last) {
  // Until there is another the map of before stays; sessions that are still to be computed keep
  // what they had.
  if (!evaluation.lap) evaluation.lap = result_.lap;
  const bool drawn = evaluation.lap && evaluation.lap->map->known();
  evaluation.mapped = drawn ? evaluation.lap : result_.mapped;
  if (!last)
    for (const auto& known : result_.sessions) evaluation.sessions.insert(known);
  result_ = std::move(evaluation);
  fresh_ = true;
  if (last) stale_ = false;
  emit updated();
  if (last) emit finished();
}

void Evaluator::cancel() {
  if (!running()) return;
  job_.cancel();
  emit finished();
}

void Evaluator::forget() {
  job_.cancel();
  result_ = {};
  fresh_ = false;
}

}  // namespace uadze::gui
