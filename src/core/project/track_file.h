#pragma once
// Track and car files of the lap simulator (JSON, units in the keys; see docs/file-formats.md).
//
//   const lap::Lap lap = lap::simulate(read_track("brackenholt.track.json").value,
//   read_car("p4.car.json").value.car);
#include <filesystem>

#include "core/base/message.h"
#include "core/lap/simulate.h"

namespace uadze::project {

struct CarFile {
  lap::Car car;
  lap::Noise noise;
};

Read<lap::Track> read_track(const std::filesystem::path& path);
Read<CarFile> read_car(const std::filesystem::path& path);

}  // namespace uadze::project
