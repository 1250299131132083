#pragma once
// Whether a mesh can be a tank: closed, its triangles facing outward, not crossing itself; and what of it can
// be mended safely.
//
// Safe mends: "weld" joins vertices closer than a hundred-thousandth of the mesh's size; "drop" leaves out
// triangles without area and those that stand twice; "orient" turns triangles so that neighbours agree and
// the whole faces outward; "fill" closes holes with a flat fan, where their edge lies in a plane.
//
// Example:
//   test::TempFolder folder;
//   const auto mesh = tank::read_mesh(folder.write("triangle.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"));
//   const tank::MeshReport report = check_mesh(mesh, 1e-3);            // the file is in mm
//   EXPECT_FALSE(report.usable());
//   EXPECT_FALSE(report.findings.empty());             // what is wrong, and where
#include <optional>
#include <set>

#include "core/tank/mesh_file.h"
#include "core/tank/shape.h"

namespace uadze::tank {

enum class MeshFault {
  open_edge,
  crowded_edge,
  turned,
  flat_triangle,
  repeated_triangle,
  inside_out,
  crossing,
  no_volume,
  odd_size,
  shells
};

struct MeshFinding {
  MeshFault fault;
  Severity severity = Severity::error;
  int count = 0;
  Vec3 where = Vec3::Zero();   ///< in the file's unit, of the first
  std::vector<int> triangles;  ///< some of those concerned, for showing
  std::string text;            ///< a sentence: what, how often, where
  std::string mend;            ///< that helps; empty if none does
};

struct MeshReport {
  std::vector<MeshFinding> findings;
  size_t vertices = 0, triangles = 0;
  int shells = 0;
  double volume = 0.0;       ///< m3; of use only if the mesh is closed
  Vec3 size = Vec3::Zero();  ///< m
  bool usable() const;       ///< no errors
};

/// `unit`: m of one unit of the file.
MeshReport check_mesh(const MeshFile& mesh, double unit);

const std::vector<std::string>& mesh_mends();
MeshFile mended(MeshFile mesh, const std::vector<std::string>& mends);

/// "x y z", "-y x z": which of the file's axes point forward, left and up. Nothing if it is not such a text
/// or mirrors the mesh.
std::optional<Mat3> axes_matrix(const std::string& axes);

/// Reads, mends and places; throws InputError with the report's errors if the mesh is not usable.
std::shared_ptr<const Solid> load_mesh(const MeshShape& shape, const std::filesystem::path& folder);

}  // namespace uadze::tank
