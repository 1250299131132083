#pragma once
// A resolved run from begin to end: what is driven, what is sampled, and how it goes on after it was stopped.
//
//   drive ----> Fuel ----> a sample every 20 ms: centroid, spaces, pickups, openings, the run's own health
//                 |
//                 +------> a checkpoint every so often: killed, it goes on from there with the same digits
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.4, 0.2, 0.2}}));
//   const auto trace = lap::manoeuvre(lap::Manoeuvre::braking, {.strength = 1.0, .duration = 0.2});
//   const resolved::RunInput input{.tank = tank, .parts = {}, .drive = trace, .volume = 8e-3};
//   const auto ran = resolved::run(input, {.size = 0.04, .sample = 0.1});
//   EXPECT_NEAR(ran.samples.back().volume, 8e-3, 1e-11);
//   EXPECT_GT(ran.samples[12].centroid.x(), 0.2);              // forward
#include <filesystem>

#include "core/base/content_key.h"
#include "core/base/phrase.h"
#include "core/base/progress.h"
#include "core/lap/force_trace.h"
#include "core/resolved/bytes.h"
#include "core/resolved/fuel.h"

namespace uadze::resolved {

struct RunInput {
  const tank::Tank& tank;
  const tank::TankParts& parts;
  lap::ForceTrace drive;
  double volume = 0.0;          ///< m3
  std::vector<double> volumes;  ///< m3 of each space at the begin, with `surfaces`; empty: level, by volume
  std::vector<tank::Plane> surfaces;
  std::vector<tank::Pickup> pickups;
  std::vector<double> draws;  ///< m3/s of each pickup; empty: nothing is drawn
  Vec3 back = Vec3::Zero();   ///< m, where it is poured back
  FuelOptions fuel;
  tank::MeshSource meshes;
};

struct RunOptions {
  double size = 0.015;               ///< m, of a cell
  double sample = 0.02;              ///< s
  std::filesystem::path checkpoint;  ///< empty: none
  double every = 5.0;                ///< s of the drive between two checkpoints
  /// What `seen` gathers goes with the checkpoint: its bytes, and back.
  std::function<std::string()> gathered;
  std::function<void(std::string_view)> restore;
  /// After each sample, with the fuel as it is: for pictures.
  std::function<void(const Fuel&, size_t)> seen;
};

struct Sample {
  double time = 0.0;
  double volume = 0.0, filled = 0.0;  ///< m3
  Vec3 centroid = Vec3::Zero(), force = Vec3::Zero();
  double energy = 0.0, fastest = 0.0;
  std::vector<double> space;  ///< m3
  std::vector<double> wet;    ///< of each pickup, 0..1
  std::vector<double>
      share;  ///< of fuel in what each pickup drew since the last sample; 1 where none is asked
  std::vector<double> through;  ///< m3/s through each opening since the last sample
  std::vector<char> open;       ///< doors
};

struct RunResult {
  std::vector<Sample> samples;
  std::vector<Phrase> said;  ///< what of the answer is to be taken with care
  Steps steps;
  int cells = 0;  ///< of the lattice
  size_t particles = 0;
  double size = 0.0;          ///< m
  double worst_filled = 0.0;  ///< largest |filled/volume - 1|
  bool resumed = false;
};

/// Of all that decides a run but its checkpoint.
ContentKey key_of(const RunInput& input, const RunOptions& options);

/// As bytes, and back.
void put(std::string& out, const RunResult& result);
void get(Reader& in, RunResult& result);

/// Bytes that a run will hold at the most, roughly: by cells, and by the fuel in them.
double memory_needed(const RunInput& input, const RunOptions& options);
/// Of this machine, as it is now; infinite where it does not say.
double memory_free();

/// Throws InputError for what can not be run, or has no room in memory; Cancelled within a step of the wish.
/// A checkpoint that is there and of the same run is gone on from, any other is refused; it is removed at the
/// end. One that can not be written is said in the result: the run goes on without.
RunResult run(const RunInput& input, const RunOptions& options, Progress* progress = nullptr);

/// Core seconds that a run will take, roughly, as bench/resolved has it.
double estimated_seconds(const RunInput& input, const RunOptions& options);

}  // namespace uadze::resolved
