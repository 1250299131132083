#pragma once
// What of the build can not stay so: parts that the worst state is too much for, parts in a place or a fuel
// that they are not made for, joints that do not fit, guards that are missing. Each finding names its place.
//
// Series' rules, local codes and licensed practice decide what may run; nothing here certifies a car as safe.
//
// Example:
//   circuit::Case c = test::plain_case();
//   c.circuit.mains[0].parts.insert(c.circuit.mains[0].parts.begin(),
//                                   {.kind = circuit::PartKind::filter, .type = "fine filter, 10 micron"});
//   bool said = false;
//   for (const auto& f : build::check(c)) said |= f.text.in().find("before the pump") != std::string::npos;
//   EXPECT_TRUE(said);
#include "core/build/keep_outs.h"
#include "core/build/worst.h"

namespace uadze::build {

/// m: a filter finer than this starves a pump that sucks through it, one coarser than this lets through what
/// blocks injectors.
inline constexpr double fine_mesh = 40e-6;

/// Worst first; the circuit's own cautions (circuit/findings.h) are among them.
std::vector<circuit::Finding> check(const circuit::Case& c, const std::vector<KeepOut>& keep_outs = {});

}  // namespace uadze::build
