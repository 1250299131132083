#pragma once
// What is computed for the window, all of it in the background: the evaluator's results, and the lap at the
// level looked at. Whoever asks gets what is there; `arrived` says that there is more.
#include <QFileSystemWatcher>
#include <QObject>
#include <memory>
#include <optional>

#include "core/solve/resolved_corners.h"
#include "gui/document/evaluator.h"
#include "gui/document/selection.h"

namespace uadze::gui {

/// The fuel in the tank at one moment, for showing.
struct FuelMoment {
  std::vector<tank::Plane> surface;           ///< of each space
  std::vector<double> volume;                 ///< m3
  std::vector<double> flow;                   ///< m3/s through each opening
  std::vector<char> locked;                   ///< gas held in, of each space
  std::vector<double> wet;                    ///< of each pickup
  Vec3 pull = Vec3(0, 0, -standard_gravity);  ///< m/s2
  /// As it was resolved, in place of the surfaces; nothing: by the fast model.
  std::shared_ptr<const solve::ResolvedFrame> splash = {};
};

FuelMoment moment_of(const slosh::Instant& instant, const Vec3& pull);

/// One lap at one level, and the case that it was run on: samples of the run are samples of that case's lap.
struct LevelView {
  solve::LapCasePtr ready;
  std::shared_ptr<const starvation::LevelRun> run;
};

class Runs : public QObject {
  Q_OBJECT
 public:
  Runs(const Document& document, const Selection& selection, QObject* parent = nullptr);

  Evaluator evaluator;

  /// The chosen session's result, if it is known; after an edit that of before, until the new one is there
  /// (evaluator.stale()).
  const solve::SessionResult* verdict() const;
  /// A first answer to the present state, while the fine one is being computed.
  const solve::FirstAnswer* first() const;
  /// The starvation map of the evaluator's lap, or until that is there of the one before; nothing before the
  /// first.
  const starvation::StarvationMap* map() const;
  const solve::SessionResult* result_of(const std::string& setup, const std::string& session) const;
  /// Why there is none; empty if there is, or it is still being computed.
  QString fault() const;

  /// The chosen lap, read; nothing if there is none or it can not be.
  solve::LapPtr lap() const;
  /// Of the session's lap.
  std::vector<lap::Corner> corners() const;
  double cursor_time() const;
  /// The project's catalogue; nothing while a file of it can not be read.
  std::shared_ptr<const circuit::Catalogue> catalogue() const;
  /// m3 that the views show: the clean level unless another was picked, at most what the tank holds.
  double level() const;
  /// The chosen setup's tank and pumps; nothing without a setup.
  std::shared_ptr<const starvation::FuelSystem> car() const;
  /// Setup and lap ready to be run; nothing while there is no lap, it can not be, or it is being computed.
  solve::LapCasePtr lap_case() const;
  /// The lap at the level looked at; while that is being computed the one of before, if it is of the same
  /// setup and lap.
  std::shared_ptr<const starvation::LevelRun> level_run() const;
  /// Whether level_run() is of the level looked at and of the present state.
  bool level_run_is_current() const;
  /// The fuel at the cursor; nothing without a tank.
  std::optional<FuelMoment> fuel_at_cursor() const;
  /// What is said of the chosen setup's tank: places below the tank, such as "/baffles/0".
  Messages tank_messages() const;

  /// How much is computed in the background.
  struct Effort {
    starvation::MapOptions ladder;  ///< of the starvation map
    bool band = true;               ///< the clean level's band by the model too
    bool others = true;             ///< the other setups and sessions too
    size_t points = 2400;           ///< of the circuit along a lap
  };
  void set_effort(const Effort& effort) { effort_ = effort; }
  const solve::DrawOptions& draws() const { return draws_; }
  void set_draws(const solve::DrawOptions& draws) { draws_ = draws; }

  /// How the evaluator plans.
  solve::PlanOptions plan_options() const;
  /// Computes anew what the present state has changed.
  void evaluate();
  /// The level looked at has changed: its lap is computed.
  void look_at_level();

 signals:
  void arrived();        ///< results of the evaluator
  void level_arrived();  ///< the lap at the level looked at
  void files_changed();  ///< a file that the project names was changed by something else
  void failed(const QString& why);

 private:
  /// The project's state that the level view is of.
  struct Wanted {
    ContentKey state;
    double level = -1.0;
    bool operator==(const Wanted&) const = default;
  };
  std::optional<solve::Resolved> resolved() const;
  std::optional<Wanted> wanted() const;
  void watch_files();

  const Document& document_;
  const Selection& selection_;
  Effort effort_;
  solve::DrawOptions draws_;
  LevelView view_;
  Wanted view_of_, coming_;
  Background<LevelView> view_job_;
  QFileSystemWatcher watcher_;
  mutable std::shared_ptr<const starvation::FuelSystem> car_;
  mutable ContentKey car_of_;
  mutable bool car_known_ = false;  ///< nothing that decides it has changed since it was looked for
};

}  // namespace uadze::gui
