// What was read and computed is kept by content, and falls when a file changes on the disk.
#include "core/solve/sources.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <fstream>

#include "core/project/places.h"
#include "core/solve/case.h"
#include "core/solve/open.h"
#include "support/box_project.h"
#include "support/demo.h"
#include "support/refusal.h"

namespace uadze::solve {
namespace {

using test::box_project;
using test::copy_demo;
using test::least_circuit;
using test::refusal;
using test::slurp;
using ::testing::HasSubstr;

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
  tank::MeshShape shape;
  shape.file = "cube.obj";
  TankStore store(folder.path());
  const auto first = store.mesh(shape);
  EXPECT_NEAR(first->solid.volume(), 0.027, 1e-15);
  EXPECT_EQ(store.mesh(shape), first) << "read once";
  tank::TankParts parts;
  parts.shapes = {shape};
  const ContentKey before = store.key_of(parts);
  const auto tank = store.assembled(parts);
  test::touch(file);
  EXPECT_NE(store.mesh(shape), first) << "read anew";
  EXPECT_EQ(store.key_of(parts), before) << "but its content is the same";
  EXPECT_EQ(store.assembled(parts), tank);
  std::string longer = cube;
  longer.replace(longer.find("v 0 0 300"), 9, "v 0 0 310");
  folder.write("cube.obj", longer);
  EXPECT_NE(store.key_of(parts), before) << "exported anew";
  EXPECT_NE(store.assembled(parts)->tank.volume(), tank->tank.volume());
  shape.unit = 0.01;
  EXPECT_NEAR(store.mesh(shape)->solid.volume(), 27, 1) << "in centimetres";
  std::filesystem::remove(file);
  EXPECT_THROW(store.mesh(shape), InputError);
}

TEST(TankStore, AMeshCanDisplaceAndBeDivided) {
  test::TempFolder folder;
  folder.write("cube.obj", cube);
  tank::MeshShape mesh;
  mesh.file = "cube.obj";
  tank::TankParts parts;
  parts.short_form = false;
  parts.shapes = {mesh};
  tank::MeshShape inner = mesh;
  inner.unit = 0.1e-3, inner.move = {0.1, 0.1, 0.1};
  parts.bodies = {{"pump", inner}};
  parts.baffles = {{.name = "wall", .point = {0.2, 0, 0}, .normal = Vec3::UnitX(), .top = 0.2}};
  TankStore store(folder.path());
  const auto made = store.assembled(parts);
  EXPECT_FALSE(has_errors(made->faults));
  ASSERT_EQ(made->tank.spaces.size(), 2u);
  EXPECT_NEAR(made->tank.volume(), 0.027 - 0.03 * 0.03 * 0.03, 1e-14);
  // A body that sticks out is refused at its place.
  std::get<tank::MeshShape>(parts.bodies[0].shape).move = {0.29, 0.1, 0.1};
  const auto refused = store.assembled(parts);
  const Messages messages = project::places_in(*refused->parts).messages(refused->faults, "");
  ASSERT_TRUE(has_errors(messages));
  EXPECT_EQ(messages[0].place, "/bodies/0");
}

TEST(LapStore, ReadsOnceAndAgainWhenTheFileChanges) {
  test::TempFolder folder;
  copy_demo(folder);
  LapStore laps(folder.path());
  const project::LapReference dry{.name = "dry", .file = "laps/vey-hill-wisp.csv"};
  const LapPtr first = laps.get(dry);
  EXPECT_EQ(laps.get(dry), first);
  test::touch(folder / dry.file);
  EXPECT_EQ(laps.get(dry)->key, first->key) << "the same content is the same lap";
  lap::Lap slower = first->value;
  for (double& v : slower.lateral) v *= 0.9;
  folder.write(dry.file, write_lap(slower));
  EXPECT_NE(laps.get(dry)->key, first->key);
  std::filesystem::remove(folder / dry.file);
  EXPECT_THROW(laps.get(dry), InputError);
}

TEST(Sources, WhatIsKeptFallsWithAnyFileThatDecidesIt) {
  test::TempFolder folder;
  copy_demo(folder);
  folder.write("own.json", R"({"undertow_adze_catalogue": 1,
    "pumps": [{"name": "ours", "role": "lift", "bench_file": "bench.csv"}]})");
  const std::string bench = "voltage [V],pressure [bar],flow [l/h]\n13.5,0,300\n13.5,5,200\n";
  folder.write("bench.csv", bench);
  Sources sources(folder.path());
  project::Project project = open_project(folder / "ostrel-wisp.uadze.json", sources).project;
  project.catalogue_files = {"own.json"};
  const auto key = [&] { return key_of_case(project, resolve(project, {}), sources, {.points = 60}); };
  const ContentKey first = key();
  EXPECT_EQ(key(), first);
  project::Project edited = project;
  edited.setups[0].line_hold += 1e-6;
  EXPECT_NE(key_of_case(edited, resolve(edited, {}), sources, {.points = 60}), first);
  EXPECT_EQ(key(), first) << "undone: the same content";
  EXPECT_NE(key_of_case(project, resolve(project, {}), sources, {.points = 61}), first);
  const LapCasePtr made = lap_case(project, resolve(project, {}), sources, {.points = 60});
  EXPECT_EQ(lap_case(project, resolve(project, {}), sources, {.points = 60}), made);
  folder.write("bench.csv", bench + "13.5,6,150\n");
  EXPECT_NE(key(), first) << "a bench file of the catalogue";
  folder.write("bench.csv", bench);
  EXPECT_EQ(key(), first);
  const std::string lap = slurp(folder / "laps/vey-hill-wisp.csv");
  folder.write("laps/vey-hill-wisp.csv", lap.substr(0, lap.rfind('\n', lap.size() - 2) + 1));
  EXPECT_NE(key(), first) << "the lap";
}

TEST(Sources, ProjectsBringTheirOwnCatalogues) {
  test::TempFolder folder;
  std::ofstream(folder / "mine.json") << R"({"undertow_adze_catalogue": 1,
    "pumps": [{"name": "ours", "point": {"l_h": 300, "bar": 3, "v": 13.5}}]})";
  std::string circuit = least_circuit;
  circuit.replace(circuit.find("main pump, 255 l/h class"), 24, "ours");
  std::ofstream(folder / "box.json") << box_project(circuit, R"("catalogues": ["mine.json"],)");
  Sources sources(folder.path());
  const project::Opened opened = open_project(folder / "box.json", sources);
  EXPECT_TRUE(find(sources.catalogue(opened.project)->pumps, "ours")->curves.estimated);
  EXPECT_EQ(project::project_text(opened.project, opened.file.text), opened.file.text);
  EXPECT_EQ(project::moved(opened.project, folder / "", folder / "deeper").catalogue_files[0],
            "../mine.json");
  std::ofstream(folder / "box.json") << box_project(circuit, R"("catalogues": ["gone.json"],)");
  EXPECT_THAT(refusal([&] { open_project(folder / "box.json", sources); }), HasSubstr("gone.json"));
  std::ofstream(folder / "box.json") << box_project(circuit, R"("catalogues": [7],)");
  EXPECT_THAT(refusal([&] { open_project(folder / "box.json", sources); }), HasSubstr("/catalogues/0"));
}

}  // namespace
}  // namespace uadze::solve
