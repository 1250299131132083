#pragma once
// Background runs: the chosen setup and session first, about, then finely, then with the model's band, then
// its starvation map; then all the others. Every edit ends the run that is going on and starts a new one;
// results are kept by content (solve::Sources), so going back is instant.
#include <QObject>
#include <map>
#include <memory>

#include "core/solve/plan.h"
#include "gui/document/background.h"

namespace uadze::gui {

struct Evaluation {
  std::map<std::pair<std::string, std::string>, solve::SessionResult> sessions;  ///< by setup and session
  std::map<std::pair<std::string, std::string>, std::string> faults;             ///< by setup and session
  std::optional<solve::FirstAnswer> first;  ///< of the chosen ones; nothing once the fine answer is there
  solve::LapResultPtr lap;                  ///< of the chosen setup and session
  solve::LapResultPtr mapped;               ///< the last of them whose map is known
  std::shared_ptr<const starvation::LevelRun> at_back;  ///< of those: the lap at what is brought back
};

struct Request {
  project::Project project;
  std::shared_ptr<solve::Sources> sources;
  std::string setup, session;
  solve::PlanOptions plan;
  bool others = true;  ///< the other setups and sessions too
};

class Evaluator : public QObject {
  Q_OBJECT
 public:
  explicit Evaluator(QObject* parent = nullptr) : QObject(parent) {}

  void start(Request request);
  /// Stops the run; what is known stays, and is marked stale.
  void cancel();
  /// Forgets all results: of another project.
  void forget();
  bool running() const { return job_.running(); }
  bool stale() const { return stale_; }
  /// Whether something of the run that is asked for is in the result, be it not all.
  bool fresh() const { return fresh_; }
  double progress() const { return job_.fraction(); }
  const Evaluation& result() const { return result_; }

 signals:
  void updated();   ///< some results are there
  void finished();  ///< all are there, or the run was cancelled

 private:
  void adopt(Evaluation evaluation, bool last);

  bool stale_ = false, fresh_ = false;
  Evaluation result_;
  Background<Evaluation> job_;
};

}  // namespace uadze::gui
