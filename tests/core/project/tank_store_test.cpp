#include "core/project/tank_store.h"

#include <gtest/gtest.h>

#include <fstream>

#include "support/temp_folder.h"

namespace uadze::project {
namespace {

tank::TankParts box(double length = 0.4) {
  tank::TankParts parts;
  parts.shapes = {tank::Box{{0, 0, 0}, {length, 0.3, 0.2}}};
  return parts;
}

const char* const cube =
    "v 0 0 0\nv 300 0 0\nv 300 300 0\nv 0 300 0\nv 0 0 300\nv 300 0 300\nv 300 300 300\nv 0 300 300\n"
    "f 4 3 2 1\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n";

TEST(TankStore, AssemblesTheSamePartsOnce) {
  TankStore store;
  const auto first = store.assembled(box());
  EXPECT_EQ(store.assembled(box()), first);
  EXPECT_NE(store.assembled(box(0.5)), first);
  EXPECT_EQ(store.assembled(box()), first) << "still there";
  for (int i = 0; i < 60; ++i) store.assembled(box(0.6 + 0.01 * i));
  EXPECT_NE(store.assembled(box()), first) << "the oldest have gone";
}

TEST(TankStore, InertiaIsGivenWithoutWaitingOnceItIsKnown) {
  TankStore store;
  const auto made = store.assembled(box());
  EXPECT_FALSE(store.inertia(made->tank, false));
  const auto known = store.inertia(made->tank);
  ASSERT_TRUE(known);
  ASSERT_EQ(known->size(), 1u);
  for (const auto& row : known->at(0).rows) {
    EXPECT_NEAR(row.along, 1, 0.002) << "a box is its own equivalent";
    EXPECT_NEAR(row.across, 1, 0.002);
  }
  EXPECT_TRUE(store.inertia(made->tank, false));
  // A pickup more changes nothing of the fuel's inertia.
  tank::TankParts more = box();
  more.pickups = {{"p", {0.1, 0.1, 0.01}, 0.01, "engine"}};
  EXPECT_TRUE(store.inertia(store.assembled(more)->tank, false));
}

TEST(TankStore, MeshesAreReadBesideTheProjectAndAgainWhenTheyChange) {
  test::TempFolder folder;
  const auto file = folder.write("cube.obj", cube);
  tank::MeshShape mesh;
  mesh.file = "cube.obj";
  tank::TankParts parts;
  parts.shapes = {mesh};
  TankStore store;
  store.read_meshes(parts, folder.path());
  const auto loaded = std::get<tank::MeshShape>(parts.shapes[0]).loaded;
  ASSERT_TRUE(loaded);
  EXPECT_NEAR(loaded->volume(), 0.027, 1e-15);
  tank::TankParts again = parts;
  store.read_meshes(again, folder.path());
  EXPECT_EQ(std::get<tank::MeshShape>(again.shapes[0]).loaded, loaded) << "read once";
  std::filesystem::last_write_time(file, std::filesystem::last_write_time(file) + std::chrono::seconds(3));
  store.read_meshes(again, folder.path());
  EXPECT_NE(std::get<tank::MeshShape>(again.shapes[0]).loaded, loaded) << "changed on the disk";
  std::get<tank::MeshShape>(again.shapes[0]).unit = 0.01;
  store.read_meshes(again, folder.path());
  EXPECT_NEAR(std::get<tank::MeshShape>(again.shapes[0]).loaded->volume(), 27, 1e-12) << "in centimetres";
  std::filesystem::remove(file);
  EXPECT_THROW(store.read_meshes(again, folder.path()), InputError);
}

TEST(TankStore, AMeshCanDisplaceAndBeDivided) {
  test::TempFolder folder;
  folder.write("cube.obj", cube);
  tank::MeshShape mesh;
  mesh.file = "cube.obj";
  tank::TankParts parts;
  parts.shapes = {mesh};
  tank::MeshShape inner = mesh;
  inner.unit = 0.1e-3, inner.move = {0.1, 0.1, 0.1};
  parts.bodies = {{"pump", inner}};
  parts.baffles = {{.name = "wall", .point = {0.2, 0, 0}, .normal = Vec3::UnitX(), .top = 0.2}};
  TankStore store;
  store.read_meshes(parts, folder.path());
  const auto made = store.assembled(parts);
  EXPECT_FALSE(has_errors(made->messages));
  ASSERT_EQ(made->tank.spaces.size(), 2u);
  EXPECT_NEAR(made->tank.volume(), 0.027 - 0.03 * 0.03 * 0.03, 1e-14);
  // A body that sticks out is refused at its place.
  std::get<tank::MeshShape>(parts.bodies[0].shape).move = {0.29, 0.1, 0.1};
  std::get<tank::MeshShape>(parts.bodies[0].shape).loaded = nullptr;
  store.read_meshes(parts, folder.path());
  const auto& messages = store.assembled(parts)->messages;
  ASSERT_TRUE(has_errors(messages));
  EXPECT_EQ(messages[0].place, "/bodies/0");
}

}  // namespace
}  // namespace uadze::project
