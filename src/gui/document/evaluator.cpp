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
      if (detail <= most && plan(request_.setup, request_.session, detail)) publish_(out_);
    for (const solve::Detail detail : {solve::Detail::fine, solve::Detail::band}) {
      if (detail > most) continue;
      for (const auto& setup : request_.project.setups)
        for (const auto& session : request_.project.sessions)
          if (request_.others) plan(setup.name, session.name, detail);
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

  /// Whether there is something new to show.
  bool plan(const std::string& setup, const std::string& session, solve::Detail detail) {
    if (setup.empty() || session.empty()) return false;
    progress_.check();
    const std::pair place{setup, session};
    try {
      solve::LapOptions how = request_.plan.lap;
      how.detail = detail;
      const solve::Resolved r = resolved(setup, session);
      const solve::LapResultPtr lap =
          solve::lap_result(request_.project, r, *request_.sources, how, &progress_);
      if (const auto known = out_.sessions.find(place);
          known != out_.sessions.end() && known->second.lap == lap)
        return false;
      const auto [at, fresh] = out_.sessions.insert_or_assign(
          place, solve::plan_session(lap, *r.session, request_.plan.draws, &progress_,
                                     solve::learnt_of(request_.project, *lap, *r.session)));
      if (setup != request_.setup || session != request_.session) return true;
      out_.first.reset();
      out_.lap = lap;
      out_.at_back = std::make_shared<const starvation::LevelRun>(solve::run_at_back(at->second, &progress_));
    } catch (const InputError& error) {
      out_.faults[place] = error.what();
    }
    return true;
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
  // While there is only a first answer the map of before stays; sessions that are still to be computed keep
  // what they had.
  if (!evaluation.lap) evaluation.lap = result_.lap;
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
