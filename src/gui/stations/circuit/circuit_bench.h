#pragma once
// What the Circuit station looks at: an operating point (at the lap's cursor, or set by hand), the what-ifs
// that are on, a second setup to compare with, and the states that follow from them.
//
//   CircuitBench bench(workspace);
//   bench.set_power(250e3);
//   if (const auto* s = bench.state()) ...
#include <QObject>
#include <set>

#include "core/circuit/analysis.h"
#include "core/circuit/charging.h"
#include "core/solve/circuit_point.h"
#include "gui/document/background.h"
#include "gui/document/later.h"
#include "gui/document/workspace.h"

namespace uadze::gui {

/// What a lap and a session do to the circuit.
struct CircuitSession {
  circuit::LoadTrace trace;
  circuit::LoadRun lap;
  double always_electric = 0.0;  ///< W, all main pumps all the time; the same as staged if none is
  circuit::ChargeRun charge;
  circuit::HeatRun heat, heat_always;
  double duration = 0.0;
};

class CircuitBench : public QObject {
  Q_OBJECT
 public:
  explicit CircuitBench(Workspace& workspace, QObject* parent = nullptr);

  bool follows_cursor() const { return follow_; }
  void set_follow(bool on);
  double power() const { return power_; }        ///< W
  double manifold() const { return manifold_; }  ///< Pa, absolute
  /// Whether it goes with the power; until it is moved by hand.
  bool manifold_follows() const { return manifold_follows_; }
  /// V: by hand, the car's own at the cursor, or the setup's.
  double supply() const;
  double temperature() const { return temperature_; }
  double most_power() const;
  void set_power(double value);
  void set_manifold(double value);
  void set_supply(double value) { set(supply_, value); }
  void set_temperature(double value) { set(temperature_, value); }
  /// Back to the setup's own full load, without any what-if.
  void reset();

  const std::set<circuit::WhatIf>& what_ifs() const { return what_ifs_; }
  void set_what_if(circuit::WhatIf what, bool on);
  /// Index of the setup to compare with; -1: none.
  int compared() const { return compared_; }
  void set_compared(int setup);

  /// Nothing if the setup has no circuit, it is at fault, or it is still being computed for the first time.
  const circuit::Case* point() const { return now_.own ? &now_.own->at : nullptr; }
  const circuit::State* state() const { return now_.own ? &now_.own->state : nullptr; }
  /// What it could carry, with what costs most of it; nothing where there is no state.
  const circuit::Capacity* capacity() const { return now_.own ? &now_.capacity : nullptr; }
  const std::vector<Derivation>& workings() const { return now_.workings; }
  const circuit::Case* other_point() const { return now_.other ? &now_.other->at : nullptr; }
  const circuit::State* other_state() const { return now_.other ? &now_.other->state : nullptr; }
  /// Pickups that draw gas at the cursor, in words; empty if none does.
  QString bare() const { return now_.bare; }
  /// A lap and a session; nothing until it is computed.
  const CircuitSession* session() const { return session_ ? &*session_ : nullptr; }
  /// Starts computing it if it is not there.
  void want_session();

 signals:
  void changed();          ///< the operating point's states
  void session_changed();  ///< the lap and session

 private:
  /// What follows from one operating point.
  struct Point {
    std::optional<solve::CircuitPoint> own, other;
    circuit::Capacity capacity;  ///< of the own one
    std::vector<Derivation> workings;
    circuit::Case without_cursor;  ///< without what only the cursor's moment does
    circuit::LoadTrace trace;      ///< the lap as the circuit sees it; empty without a lap
    QString bare;
    std::shared_ptr<const starvation::FuelSystem> trace_car;
    solve::LapPtr trace_lap;
  };
  /// All that it is computed from.
  struct Inputs {
    project::Project project;
    std::shared_ptr<solve::Sources> sources;
    size_t setup = 0;
    int other = -1;  ///< setup to compare with; -1: none
    bool follow = true;
    double power = 0.0, manifold = 0.0;
    bool manifold_follows = true;
    std::optional<double> supply;  ///< by hand; nothing: the car's own
    double temperature = 0.0, level = 0.0;
    std::vector<circuit::WhatIf> what_ifs;
    size_t cursor = 0;
    std::vector<double> wet;  ///< of each pickup at the cursor
    std::shared_ptr<const starvation::FuelSystem> car;
    solve::LapPtr lap;
  };
  static Point point_of(const Inputs& in, Point before, const Progress& progress);

  void set(double& member, double value);
  void adopt_setup();
  bool supply_by_hand() const;
  void drop_session();
  void compute();

  Workspace& workspace_;
  bool follow_ = true, manifold_follows_ = true;
  double power_ = 0.0, manifold_ = 101325.0, supply_ = 13.8, temperature_ = 293.15;
  std::set<circuit::WhatIf> what_ifs_;
  int compared_ = -1;
  std::string setup_name_;
  Point now_;
  Background<Point> point_run_;
  std::optional<CircuitSession> session_;
  Background<CircuitSession> session_run_;
  Later later_{0, this, [this] { compute(); }};  ///< several signals of one edit are answered once
};

}  // namespace uadze::gui
