#pragma once
// Track and car files of the lap simulator (JSON, units in the keys; see docs/file-formats.md).
//
// Example:
//   using namespace uadze;
//   const std::filesystem::path demo = std::filesystem::path(UADZE_SOURCE_DIR) / "demo";
//   const lap::Lap lap = lap::simulate(project::read_track(demo / "tracks/vey-hill.json").value,
//                                      project::read_car(demo / "cars/ostrel-wisp.json").value.car);
//   EXPECT_GT(lap.length(), 1000.0);
#include <filesystem>

#include "core/base/message.h"
#include "core/project/describe_catalogue.h"

namespace uadze::project {

Read<lap::Track> read_track(const std::filesystem::path& path);
Read<CarFile> read_car(const std::filesystem::path& path);
/// What those read back.
std::string track_text(const lap::Track& track);
std::string car_text(const CarFile& car);

}  // namespace uadze::project
