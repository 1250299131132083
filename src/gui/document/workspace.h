#pragma once
// What all views share: the document, its results, the chosen setup and session, the one lap cursor, the
// level looked at, units and theme.
#include <QElapsedTimer>
#include <QObject>
#include <optional>

#include "core/base/derivation.h"
#include "core/base/units.h"
#include "gui/app/theme.h"
#include "gui/document/document.h"
#include "gui/document/evaluator.h"

namespace uadze::gui {

enum class Station { car, tank, laps, slosh, circuit, sizing, sessions };
inline constexpr int station_count = 7;

/// The fuel in the tank at one moment, for showing.
struct FuelState {
  std::vector<tank::Plane> surface;           ///< of each space
  std::vector<double> volume;                 ///< m3
  std::vector<double> flow;                   ///< m3/s through each opening
  std::vector<char> locked;                   ///< gas held in, of each space
  std::vector<double> wet;                    ///< of each pickup
  Vec3 pull = Vec3(0, 0, -standard_gravity);  ///< m/s2
};

FuelState state_of(const slosh::Instant& instant, const Vec3& pull);

class Workspace : public QObject {
  Q_OBJECT
 public:
  explicit Workspace(QObject* parent = nullptr);

  Document document;
  Evaluator evaluator;

  const project::Project& project() const { return document.project(); }
  int setup_index() const;    ///< -1 if there is none
  int session_index() const;  ///< -1 if there is none
  const project::Setup* setup() const;
  const session::Session* session() const;
  const project::LapReference* lap_reference() const;
  void choose_setup(int index);
  void choose_session(int index);

  /// The chosen session's result, if it is known.
  const project::SessionResult* verdict() const;
  const project::SessionResult* result_of(const std::string& setup, const std::string& session) const;
  /// Why there is none; empty if there is, or it is still being computed.
  QString fault() const;

  /// The chosen lap, read; nothing if there is none.
  project::LapStore::Entry lap() const;
  size_t cursor() const { return cursor_; }  ///< sample of the lap
  double cursor_time() const;
  void set_cursor(size_t sample);
  void set_cursor_time(double seconds);
  void set_cursor_distance(double metres);

  /// Back to the first setup and session, the lap's start and the clean level: for another project.
  void reset_view();

  /// Level that the views show, m3: the clean level unless another was picked.
  double level() const;
  bool level_is_clean_level() const { return !level_; }
  void set_level(std::optional<double> volume);
  /// The lap at that level; nothing while there is no lap or tank.
  std::shared_ptr<const starvation::LevelRun> level_run() const;
  std::shared_ptr<const starvation::FuelSystem> car() const;
  /// Setup and lap ready to be run; nothing while there is no lap, or it can not be.
  std::shared_ptr<const project::LapCase> lap_case() const;
  /// The fuel at the cursor; nothing without a tank.
  std::optional<FuelState> fuel_at_cursor() const;
  /// What is said of the chosen setup's tank: places below the tank, such as "/baffles/0".
  Messages tank_messages() const;

  const UnitSystem& units() const { return units_; }
  void set_units(const UnitSystem& units);
  const Theme& theme() const { return theme_; }
  /// `remember`: also at the next start.
  void set_dark(bool dark, bool remember = true);
  QString show(double si, Quantity quantity, int decimals = -1) const;

  void evaluate();
  /// Ladder of the starvation map and how closely the clean level is found.
  void set_detail(const starvation::MapOptions& detail) { detail_ = detail; }
  /// How much is computed in the background.
  struct Effort {
    bool band = true;      ///< the clean level's band by the model too
    bool others = true;    ///< the other setups and sessions too
    size_t points = 2400;  ///< of the circuit along a lap
  };
  void set_effort(const Effort& effort) { effort_ = effort; }
  const project::DrawOptions& draws() const { return draws_; }
  /// Number of draws and their seed for the sessions' plans.
  void set_draws(const project::DrawOptions& draws);

 signals:
  void changed();  ///< project, choice or results: read all anew
  void cursor_moved();
  void level_changed();
  void appearance_changed();  ///< units or theme
  void station_wanted(uadze::gui::Station station);
  void working_wanted(const uadze::Derivation& derivation);

 private:
  void drop_runs();

  int setup_ = 0, session_ = 0;
  starvation::MapOptions detail_;
  project::DrawOptions draws_;
  Effort effort_;
  size_t cursor_ = 0;
  std::optional<double> level_;
  UnitSystem units_;
  Theme theme_ = Theme::make(false);
  mutable std::shared_ptr<const starvation::FuelSystem> car_;
  mutable std::shared_ptr<const starvation::LevelRun> run_;
  mutable std::shared_ptr<const project::LapCase> case_, run_of_;
  mutable project::LapResultPtr case_of_;  ///< that `case_` was taken from; nothing: made here, quickly
  mutable double run_level_ = -1;
};

}  // namespace uadze::gui
