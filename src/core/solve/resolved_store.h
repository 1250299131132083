#pragma once
// Resolved runs as they are kept: beside the project, each by the content of all that decides it, so that a
// question that was answered is answered at once, by whoever asks. Any of them can be thrown away.
//
//   p4.uadze.json
//   p4.runs/  3f9c....run    what was run (a line of JSON), its samples, and what was seen, packed
//             3f9c....part   a run that was stopped: it goes on from there
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   test::TempFolder folder;
//   auto job = solve::resolved_job(opened.project, {.alone = true},
//       {.level = 12e-3, .manoeuvre = lap::Manoeuvre::braking, .to = 0.4, .size = 0.05, .sample = 0.1}, *opened.sources);
//   const auto first = solve::resolve_kept(job, {.folder = folder.path()});
//   const auto again = solve::resolve_kept(job, {.folder = folder.path()});
//   EXPECT_FALSE(first.was_there);
//   EXPECT_TRUE(again.was_there);
//   EXPECT_EQ(again.run.samples.back().centroid, first.run.samples.back().centroid);
//   EXPECT_EQ(solve::kept_runs(folder.path()).size(), 1u);
#include "core/resolved/surface.h"
#include "core/solve/resolved_run.h"

namespace uadze::solve {

/// What is seen at one instant.
struct ResolvedFrame {
  double time = 0.0;  ///< s of the drive
  Vec3 pull = Vec3(0, 0, -standard_gravity);
  resolved::Surface surface;
  std::vector<double> wet;  ///< of each pickup
};

struct KeptRun {
  ContentKey key;
  resolved::RunResult run;
  std::vector<ResolvedFrame> frames;
  double seconds = 0.0;    ///< that it took
  bool was_there = false;  ///< not run now
  std::string not_kept;    ///< why it could not be kept; empty: it is, or was not to be
};

/// Pictures a second that are kept with a run, and how many at the most.
inline constexpr double kept_pictures = 25.0, most_pictures = 600.0;

struct KeepOptions {
  std::filesystem::path folder;  ///< empty: it is not kept
  double every = 5.0;            ///< s of the drive between two checkpoints
};

/// "p4.runs" beside "p4.uadze.json".
std::filesystem::path runs_folder(const std::filesystem::path& project);

/// The run's answer: that which is kept, or a new one, which goes on from where it was stopped. A folder that
/// can not be written never costs the answer. Throws as resolved::run.
KeptRun resolve_kept(const ResolvedJob& job, const KeepOptions& options, Progress* progress = nullptr);
/// Only if it is kept.
std::optional<KeptRun> kept_run(const ResolvedJob& job, const KeepOptions& options);

/// What is in the folder: newest first.
struct KeptLine {
  std::filesystem::path file;
  std::string setup, driven;  ///< of a file that is none of ours: empty
  double level = 0.0, from = 0.0, to = 0.0, size = 0.0;
  std::uintmax_t bytes = 0;
  bool stopped = false;  ///< begun, not ended
};
std::vector<KeptLine> kept_runs(const std::filesystem::path& folder);
/// Bytes that were freed. A file that can not be removed is an InputError.
std::uintmax_t throw_away(const std::vector<KeptLine>& lines);

}  // namespace uadze::solve
