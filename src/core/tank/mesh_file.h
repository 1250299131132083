#pragma once
// Triangle meshes from files: STL (text and binary), OBJ, PLY (text, binary of either byte order).
//
// Vertices at the very same place are one vertex; faces of more than three corners become fans. Numbers keep
// double precision.
//
// Example:
//   test::TempFolder folder;
//   const auto file = folder.write("triangle.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
//   const tank::MeshFile mesh = tank::read_mesh(file);          // in the file's own unit and axes
//   EXPECT_EQ(mesh.triangles.size(), 1u);
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/message.h"
#include "core/tank/solid.h"

namespace uadze::tank {

struct MeshFile {
  std::string format;  ///< "STL, text", "STL, binary", "OBJ", "PLY, text", "PLY, binary"
  std::vector<Vec3> vertices;
  std::vector<Triangle> triangles;
};

/// Throws InputError with the line (text) or byte (binary) for: no file, an unknown format, text or values
/// that are not finite numbers, corners that do not exist, a file that ends early, no triangles.
MeshFile read_mesh(const std::filesystem::path& path);

/// The same from bytes; the format is told by the content, and by the name's ending where that leaves doubt.
MeshFile parse_mesh(std::string_view bytes, const std::string& file);

}  // namespace uadze::tank
