#pragma once
// Background runs: the chosen setup and session first, coarse, then with its starvation map, then with the
// model's band; then all the others. Every edit ends the run that is going on and starts a new one; results
// are kept by content, so going back is instant.
#include <QObject>
#include <QThreadPool>
#include <map>
#include <memory>
#include <mutex>

#include "core/project/solve.h"

namespace uadze::gui {

struct Evaluation {
  std::map<std::pair<std::string, std::string>, project::SessionResult> sessions;  ///< by setup and session
  std::map<std::pair<std::string, std::string>, std::string> faults;               ///< by setup and session
  project::LapResultPtr lap;                            ///< of the chosen setup and session, with its map
  std::shared_ptr<const starvation::LevelRun> at_back;  ///< of those: the lap at what is brought back
  bool rough = false;  ///< the chosen session's figures are a first answer; the fine one is on its way
};

struct Request {
  project::Project project;
  std::filesystem::path folder;
  std::string setup, session;
  std::shared_ptr<project::TankStore> tanks;
  starvation::MapOptions detail;
  project::DrawOptions draws;
  bool band = true;      ///< with the model's band of the clean level
  bool others = true;    ///< the other setups and sessions too
  size_t points = 2400;  ///< of the circuit along a lap
};

class Evaluator : public QObject {
  Q_OBJECT
 public:
  explicit Evaluator(QObject* parent = nullptr);
  ~Evaluator() override;

  void start(Request request);
  /// Stops the run; what is known stays, and is marked stale.
  void cancel();
  bool running() const { return running_; }
  bool stale() const { return stale_; }
  /// Whether something of the run that is asked for is in the result, be it not all.
  bool fresh() const { return fresh_; }
  double progress() const { return progress_ ? progress_->fraction() : 1.0; }
  const Evaluation& result() const { return result_; }
  /// The lap's file, read; nothing if it can not be.
  project::LapStore::Entry lap(const project::LapReference& reference, double grip = 1.0);
  const std::shared_ptr<project::LapStore>& laps() const { return laps_; }

 signals:
  void updated();   ///< some results are there
  void finished();  ///< all are there, or the run was cancelled

 private:
  void run(const Request& request, int generation, const std::shared_ptr<Progress>& progress,
           const std::shared_ptr<project::LapStore>& laps);
  void post(int generation, std::function<void()> then);

  QThreadPool pool_;
  int generation_ = 0;
  bool running_ = false, stale_ = false, fresh_ = false;
  std::shared_ptr<Progress> progress_;
  std::shared_ptr<project::LapStore> laps_;
  Evaluation result_;
  std::mutex cache_mutex_;
  std::map<std::string, project::LapResultPtr> lap_cache_;
};

}  // namespace uadze::gui
