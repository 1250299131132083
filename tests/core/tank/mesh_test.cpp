#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cstring>
#include <fstream>

#include "core/tank/mesh_check.h"
#include "support/random_shapes.h"
#include "support/refusal.h"
#include "support/temp_folder.h"

namespace uadze::tank {
namespace {

using test::Random;
using ::testing::HasSubstr;

MeshFile mesh_of(const Solid& solid) { return {"", solid.vertices(), solid.triangles()}; }

std::string text_stl(const Solid& s) {
  std::string out = "solid tank\n";
  for (const Triangle& t : s.triangles()) {
    out += "facet normal 0 0 0\n outer loop\n";
    for (int v : t) {
      const Vec3& p = s.vertices()[static_cast<size_t>(v)];
      out += fmt::format("  vertex {:.17g} {:.17g} {:.17g}\n", p.x(), p.y(), p.z());
    }
    out += " endloop\nendfacet\n";
  }
  return out + "endsolid tank\n";
}

template <class T>
void put(std::string& out, T value) {
  char raw[sizeof(T)];
  std::memcpy(raw, &value, sizeof(T));
  out.append(raw, sizeof(T));
}

std::string binary_stl(const Solid& s) {
  std::string out(80, ' ');
  put(out, static_cast<std::uint32_t>(s.triangles().size()));
  for (const Triangle& t : s.triangles()) {
    for (int k = 0; k < 3; ++k) put(out, 0.0f);
    for (int v : t)
      for (int k = 0; k < 3; ++k) put(out, static_cast<float>(s.vertices()[static_cast<size_t>(v)][k]));
    put(out, static_cast<std::uint16_t>(0));
  }
  return out;
}

std::string obj(const Solid& s) {
  std::string out = "# a tank\n";
  for (const Vec3& p : s.vertices()) out += fmt::format("v {:.17g} {:.17g} {:.17g}\n", p.x(), p.y(), p.z());
  out += "vn 0 0 1\n";
  for (const Triangle& t : s.triangles())
    out +=
        fmt::format("f {}//1 {}/2 -{}\n", t[0] + 1, t[1] + 1, static_cast<int>(s.vertices().size()) - t[2]);
  return out;
}

std::string ply(const Solid& s, bool binary) {
  std::string out = fmt::format(
      "ply\nformat {} 1.0\ncomment made here\nelement vertex {}\nproperty double x\nproperty double "
      "y\nproperty double z\nproperty uchar red\nelement face {}\nproperty list uchar int "
      "vertex_indices\nend_header\n",
      binary ? "binary_little_endian" : "ascii", s.vertices().size(), s.triangles().size());
  for (const Vec3& p : s.vertices()) {
    if (!binary) {
      out += fmt::format("{:.17g} {:.17g} {:.17g} 9\n", p.x(), p.y(), p.z());
      continue;
    }
    for (int k = 0; k < 3; ++k) put(out, p[k]);
    put(out, static_cast<unsigned char>(9));
  }
  for (const Triangle& t : s.triangles()) {
    if (!binary) {
      out += fmt::format("3 {} {} {}\n", t[0], t[1], t[2]);
      continue;
    }
    put(out, static_cast<unsigned char>(3));
    for (int v : t) put(out, v);
  }
  return out;
}

TEST(MeshFile, EveryFormatGivesTheSameBody) {
  Random random(501);
  for (int n = 0; n < 20; ++n) {
    const Solid solid = make_solid(random.prism());
    const struct {
      std::string bytes, file, format;
      double close;
    } cases[] = {{text_stl(solid), "a.stl", "STL, text", 1e-14},
                 {binary_stl(solid), "b.stl", "STL, binary", 1e-6},
                 {obj(solid), "c.OBJ", "OBJ", 1e-14},
                 {ply(solid, false), "d.ply", "PLY, text", 1e-14},
                 {ply(solid, true), "e.ply", "PLY, binary", 1e-14}};
    for (const auto& c : cases) {
      const MeshFile mesh = parse_mesh(c.bytes, c.file);
      EXPECT_EQ(mesh.format, c.format);
      EXPECT_EQ(mesh.triangles.size(), solid.triangles().size());
      EXPECT_EQ(mesh.vertices.size(), solid.vertices().size()) << "corners at one place are one";
      EXPECT_NEAR(Solid(mesh.vertices, mesh.triangles).volume(), solid.volume(), c.close);
      EXPECT_TRUE(check_mesh(mesh, 1.0).usable());
    }
  }
}

std::string failure(const std::string& bytes, const std::string& file) {
  try {
    parse_mesh(bytes, file);
  } catch (const InputError& error) {
    return error.what();
  }
  return "no failure";
}

TEST(MeshFile, BrokenFilesAreNamedAtTheirPlace) {
  const Solid box = make_solid(Box{{0, 0, 0}, {1, 1, 1}});
  EXPECT_THAT(failure("", "a.stl"), HasSubstr("a.stl: expected a mesh, found an empty file"));
  EXPECT_THAT(failure("hello", "a.step"),
              HasSubstr("expected a file that ends in .stl, .obj or .ply, found \".step\""));
  EXPECT_THAT(failure("hello", "a.stl"), HasSubstr("a.stl: byte 5: expected at least 84 bytes"));
  EXPECT_THAT(failure("solid\nfacet normal 0 0 1\nouter loop\nvertex 0 0 x\n", "a.stl"),
              HasSubstr("line 4: expected a number, z, found \"x\""));
  EXPECT_THAT(failure("solid\nfacet normal 0 0 1\nouter loop\nvertex 0 0 nan\n", "a.stl"),
              HasSubstr("line 4: expected a number, z"));
  EXPECT_THAT(failure("solid\nfacet normal 0 0 1\nvertex 0 0 0\nendfacet\n", "a.stl"),
              HasSubstr("line 4: expected 3 vertices in the facet, found 1"));
  const std::string text = text_stl(box);
  EXPECT_THAT(failure(text.substr(0, text.size() / 2), "a.stl"), HasSubstr("expected"));
  const std::string bytes = binary_stl(box);
  EXPECT_THAT(failure(bytes.substr(0, 300), "a.stl"), HasSubstr("byte 300: expected 12 facets of 50 bytes"));
  EXPECT_THAT(failure("v 0 0 0\nf 1 2 3\n", "a.obj"),
              HasSubstr("line 2: expected a vertex number from 1 to 1, found \"2\""));
  EXPECT_THAT(failure("v 0 0 0\nf 1 1\n", "a.obj"),
              HasSubstr("line 2: expected a face of 3 corners or more, found 2"));
  EXPECT_THAT(failure("v 0 0 0\n", "a.obj"), HasSubstr("expected triangles, found none"));
  EXPECT_THAT(failure("ply\nformat spoken 1.0\nend_header\n", "a.ply"), HasSubstr("line 2: expected ascii"));
  const std::string p = ply(box, true);
  EXPECT_THAT(failure(p.substr(0, p.size() - 5), "a.ply"), HasSubstr("found the file's end"));
  EXPECT_THAT(failure("ply\nformat ascii 1.0\nelement vertex 9\n", "a.ply"),
              HasSubstr("expected end_header"));
  // No prefix and no damaged byte brings more than a message.
  Random random(503);
  for (const std::string& whole : {text, bytes, obj(box), p, ply(box, false)})
    for (int n = 0; n < 60; ++n) {
      std::string bad = whole.substr(0, static_cast<size_t>(random.whole(1, static_cast<int>(whole.size()))));
      bad[static_cast<size_t>(random.whole(0, static_cast<int>(bad.size()) - 1))] =
          static_cast<char>(random.whole(0, 255));
      for (const char* name : {"a.stl", "a.obj", "a.ply"}) failure(bad, name);
    }
}

const MeshFinding* finding(const MeshReport& report, MeshFault fault) {
  for (const auto& f : report.findings)
    if (f.fault == fault) return &f;
  return nullptr;
}

class MeshCheck : public ::testing::Test {
 protected:
  const Solid box = make_solid(Box{{0, 0, 0}, {400, 300, 200}});
  MeshFile mesh = mesh_of(box);
};

TEST_F(MeshCheck, AGoodOneHasNothingToSay) {
  const MeshReport report = check_mesh(mesh, 1e-3);
  EXPECT_TRUE(report.findings.empty());
  EXPECT_EQ(report.shells, 1);
  EXPECT_NEAR(report.volume, 0.024, 1e-15);
}

TEST_F(MeshCheck, AHoleIsFoundAndClosed) {
  mesh.triangles.pop_back();
  mesh.triangles.pop_back();
  const MeshReport report = check_mesh(mesh, 1e-3);
  ASSERT_TRUE(finding(report, MeshFault::open_edge));
  EXPECT_EQ(finding(report, MeshFault::open_edge)->count, 4);
  EXPECT_EQ(finding(report, MeshFault::open_edge)->mend, "fill");
  const MeshReport after = check_mesh(mended(mesh, {"fill"}), 1e-3);
  EXPECT_TRUE(after.usable());
  EXPECT_NEAR(after.volume, 0.024, 1e-15);
}

TEST_F(MeshCheck, TurnedTrianglesAndTheWholeInsideOutAreTurnedBack) {
  std::swap(mesh.triangles[3][0], mesh.triangles[3][1]);
  EXPECT_EQ(finding(check_mesh(mesh, 1e-3), MeshFault::turned)->count, 3);
  EXPECT_TRUE(check_mesh(mended(mesh, {"orient"}), 1e-3).findings.empty());
  for (Triangle& t : mesh.triangles) std::swap(t[0], t[1]);
  std::swap(mesh.triangles[3][0], mesh.triangles[3][1]);
  ASSERT_TRUE(finding(check_mesh(mesh, 1e-3), MeshFault::inside_out));
  const MeshFile better = mended(mesh, {"orient"});
  EXPECT_NEAR(check_mesh(better, 1e-3).volume, 0.024, 1e-15);
}

TEST_F(MeshCheck, GapsBetweenNearCornersAreWelded) {
  // Every triangle with corners of its own, moved by less than the weld's distance.
  Random random(505);
  MeshFile torn;
  for (const Triangle& t : mesh.triangles) {
    for (int v : t)
      torn.vertices.push_back(mesh.vertices[static_cast<size_t>(v)] + 1e-4 * random.direction());
    const int n = static_cast<int>(torn.vertices.size());
    torn.triangles.push_back({n - 3, n - 2, n - 1});
  }
  EXPECT_EQ(finding(check_mesh(torn, 1e-3), MeshFault::open_edge)->mend, "weld");
  EXPECT_TRUE(check_mesh(mended(torn, {"weld"}), 1e-3).usable());
}

TEST_F(MeshCheck, FlatAndDoubleTrianglesAreDropped) {
  mesh.triangles.push_back(mesh.triangles[0]);
  mesh.triangles.push_back({0, 0, 1});
  const MeshReport report = check_mesh(mesh, 1e-3);
  EXPECT_TRUE(finding(report, MeshFault::repeated_triangle));
  EXPECT_TRUE(finding(report, MeshFault::flat_triangle));
  EXPECT_TRUE(check_mesh(mended(mesh, {"drop"}), 1e-3).findings.empty());
}

TEST_F(MeshCheck, ABodyThroughAnotherCrosses) {
  const Solid other = make_solid(Box{{100, 100, 100}, {500, 200, 150}});
  const Solid both = together({{&box, 1.0}, {&other, 1.0}});
  const MeshReport report = check_mesh(mesh_of(both), 1e-3);
  ASSERT_TRUE(finding(report, MeshFault::crossing));
  EXPECT_NEAR(finding(report, MeshFault::crossing)->where.x(), 300, 201);
  EXPECT_FALSE(report.usable());
  EXPECT_EQ(report.shells, 2);
  // Apart they do not cross, and are two shells.
  const Solid apart = make_solid(Box{{1000, 0, 0}, {1100, 100, 100}});
  const MeshReport two = check_mesh(mesh_of(together({{&box, 1.0}, {&apart, 1.0}})), 1e-3);
  EXPECT_FALSE(finding(two, MeshFault::crossing));
  EXPECT_TRUE(finding(two, MeshFault::shells));
}

TEST_F(MeshCheck, FlatAndWronglySizedOnesAreSaid) {
  MeshFile flat = mesh;
  for (Vec3& v : flat.vertices) v.z() = 0;
  EXPECT_TRUE(finding(check_mesh(flat, 1e-3), MeshFault::no_volume));
  EXPECT_THAT(finding(check_mesh(mesh, 1.0), MeshFault::odd_size)->text,
              HasSubstr("is the file's unit right?"));
  EXPECT_TRUE(finding(check_mesh(mesh, 1e-5), MeshFault::odd_size));
}

TEST(MeshShape, IsPlacedByUnitAxesAndMove) {
  test::TempFolder folder;
  const Solid box = make_solid(Box{{0, 0, 0}, {4, 2, 1}});
  std::ofstream(folder / "box.stl") << text_stl(box);
  MeshShape shape{.file = "box.stl", .unit = 0.0254, .axes = "-y x z", .move = {1, 0, 0}, .mends = {}};
  const auto solid = load_mesh(shape, folder.path());
  EXPECT_NEAR((solid->lower_corner() - Vec3(1 - 2 * 0.0254, 0, 0)).norm(), 0, 1e-12);
  EXPECT_NEAR((solid->upper_corner() - Vec3(1, 4 * 0.0254, 0.0254)).norm(), 0, 1e-12);
  EXPECT_GT(solid->volume(), 0);
  EXPECT_FALSE(axes_matrix("x y -z")) << "would mirror the tank";
  EXPECT_FALSE(axes_matrix("x x z"));
  EXPECT_FALSE(axes_matrix(""));
  shape.axes = "y x z";
  EXPECT_THROW(load_mesh(shape, folder.path()), InputError);
}

TEST(MeshMend, WhenNoTriangleIsLeftItSaysSo) {
  // Two triangles, both without area: "drop" leaves nothing.
  MeshFile flat{"", {{0, 0, 0}, {1, 0, 0}, {2, 0, 0}, {3, 0, 0}}, {{0, 1, 2}, {1, 2, 3}}};
  for (const auto& mends : {std::vector<std::string>{"drop"}, mesh_mends()}) {
    const MeshFile left = mended(flat, mends);
    EXPECT_TRUE(left.triangles.empty());
    const MeshReport report = check_mesh(left, 1e-3);
    ASSERT_EQ(report.findings.size(), 1u);
    EXPECT_EQ(report.findings[0].text, "no triangle left");
    EXPECT_FALSE(report.usable());
  }
}

TEST(MeshFile, WhatAHeaderPromisesIsHeldAgainstTheFile) {
  using test::refusal;
  const auto ply = [](const std::string& format, const std::string& element) {
    return "ply\nformat " + format + " 1.0\n" + element + "end_header\n0 0 0\n";
  };
  const std::string corners = "property float x\nproperty float y\nproperty float z\n";
  EXPECT_THAT(refusal([&] {
                parse_mesh(ply("binary_little_endian", "element vertex 40000000\n" + corners), "a.ply");
              }),
              HasSubstr("at least 480000000 bytes after it"));
  EXPECT_THAT(refusal([&] { parse_mesh(ply("ascii", "element vertex 40000000\n" + corners), "a.ply"); }),
              HasSubstr("bytes after it, for what it promises"));
  EXPECT_THAT(refusal([&] { parse_mesh(ply("ascii", "element face 40000000\n"), "a.ply"); }),
              HasSubstr("a property of each element"));
  std::string many = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf";
  for (int k = 0; k < 1001; ++k) many += " 1";
  EXPECT_THAT(refusal([&] { parse_mesh(many + "\n", "a.obj"); }),
              HasSubstr("a face of 1000 corners at most"));
}

}  // namespace
}  // namespace uadze::tank
