// The parts of a tank as values: listed, named, moved, added and removed, without a window.
#include "gui/stations/tank/tank_part.h"

#include <gtest/gtest.h>

#include <set>

#include "gui/stations/tank/tank_marks.h"
#include "support/demo.h"

namespace uadze::gui {
namespace {

class Parts : public ::testing::Test {
 protected:
  tank::TankParts p4 = test::demo("ostrel-p4").project.setups[0].tank;
  tank::TankParts tarn = test::demo("ostrel-tarn").project.setups[0].tank;

  static bool sound(const tank::TankParts& parts) { return !has_errors(tank::assemble(parts).faults); }
};

std::string part_pointer(const tank::TankParts& parts, const PartRef& part) {
  return part_place(project::places_in(parts), parts, part).toStdString();
}

TEST_F(Parts, AreListedWithOpeningsAfterTheirOwner) {
  const auto list = parts_of(p4);
  ASSERT_EQ(list.size(), 11u);
  EXPECT_EQ(list[0], (PartRef{TankPartKind::shape, 0, -1}));
  EXPECT_EQ(list[1], (PartRef{TankPartKind::collector, 0, -1}));
  EXPECT_EQ(list[2], (PartRef{TankPartKind::opening, 0, 0}));
  EXPECT_EQ(list[4], (PartRef{TankPartKind::opening, 2, 0}));
  EXPECT_EQ(list[5], (PartRef{TankPartKind::foam, 0, -1}));
  for (const PartRef& part : list) {
    EXPECT_TRUE(exists(p4, part));
    EXPECT_FALSE(part_title(p4, part).isEmpty());
    // A tank in the short form is its own shape.
    EXPECT_EQ(part_pointer(p4, part).starts_with("/"), part.kind != TankPartKind::shape);
    EXPECT_TRUE(part_position(p4, part)) << part_title(p4, part).toStdString();
  }
  EXPECT_FALSE(exists(p4, {TankPartKind::baffle, 0, -1}));
  EXPECT_FALSE(exists(p4, {TankPartKind::opening, 3, 0}));
  EXPECT_EQ(part_pointer(p4, {TankPartKind::opening, 1, 0}), "/collectors/0/openings/1");
  EXPECT_EQ(part_title(p4, {TankPartKind::opening, 1, 0}), "Opening: flap, left");
}

TEST_F(Parts, MoveByAVectorAndBack) {
  for (const PartRef& part : parts_of(p4)) {
    tank::TankParts moved = p4;
    const Vec3 by(0.03125, -0.0625, 0.015625), before = *part_position(moved, part);
    move_part(moved, part, by);
    EXPECT_NEAR((*part_position(moved, part) - before - by).norm(), 0, 1e-12)
        << part_title(p4, part).toStdString();
    EXPECT_FALSE(moved == p4);
    move_part(moved, part, -by);
    EXPECT_NEAR((*part_position(moved, part) - before).norm(), 0, 1e-12);
  }
}

TEST_F(Parts, ACollectorTakesItsDoorsAlong) {
  tank::TankParts moved = p4;
  move_part(moved, {TankPartKind::collector, 0, -1}, {0.02, 0, 0});
  EXPECT_NEAR(moved.collectors[0].openings[0].at.x(), p4.collectors[0].openings[0].at.x() + 0.02, 1e-12);
  move_part(moved, {TankPartKind::pickup, 0, -1}, {0.02, 0, 0});
  EXPECT_TRUE(sound(moved));
}

TEST_F(Parts, RemoveTakesThatOneOnly) {
  for (const PartRef& part : parts_of(p4)) {
    tank::TankParts less = p4;
    const size_t before = parts_of(less).size();
    remove_part(less, part);
    const size_t gone = part.kind == TankPartKind::collector ? 4u : 1u;  // its three doors go with it
    EXPECT_EQ(parts_of(less).size(), before - gone) << part_title(p4, part).toStdString();
  }
}

TEST_F(Parts, NewOnesFitIntoEveryDemo) {
  for (const tank::TankParts& demo : {p4, tarn}) {
    const tank::Assembly made = tank::assemble(demo);
    for (const NewPart& part : new_parts()) {
      if (part.kind == TankPartKind::shape) continue;
      tank::TankParts more = demo;
      // The Tarn has nothing that an opening could be in.
      if (part.kind == TankPartKind::opening && demo.collectors.empty()) {
        EXPECT_THROW(add_part(more, made.tank, part, std::nullopt), std::runtime_error);
        continue;
      }
      const PartRef added = add_part(more, made.tank, part, std::nullopt);
      EXPECT_TRUE(exists(more, added)) << part.title.toStdString();
      EXPECT_EQ(added.kind, part.kind);
      EXPECT_TRUE(sound(more)) << part.title.toStdString();
    }
  }
}

TEST_F(Parts, OpeningsGoWhereTheChosenPartIs) {
  const tank::Assembly made = tank::assemble(p4);
  tank::TankParts parts = p4;
  const NewPart baffle{"", TankPartKind::baffle, 0}, hole{"", TankPartKind::opening, 0};
  const PartRef plate = add_part(parts, made.tank, baffle, std::nullopt);
  const tank::Assembly divided = tank::assemble(parts);
  const PartRef in_plate = add_part(parts, divided.tank, hole, plate);
  EXPECT_EQ(in_plate.owner, plate.index);
  const PartRef in_pot = add_part(parts, divided.tank, hole, PartRef{TankPartKind::collector, 0, -1});
  EXPECT_EQ(in_pot.owner, 1) << "collectors count after the baffles";
  EXPECT_EQ(part_pointer(parts, in_pot), "/collectors/0/openings/3");
  EXPECT_FALSE(opening_of(parts, in_pot)->name.empty());
  EXPECT_TRUE(sound(parts));
}

TEST_F(Parts, NamesStayDifferent) {
  const tank::Assembly made = tank::assemble(p4);
  tank::TankParts parts = p4;
  for (int k = 0; k < 3; ++k) add_part(parts, made.tank, {"", TankPartKind::pickup, 0}, std::nullopt);
  std::set<std::string> names;
  for (const auto& p : parts.pickups) EXPECT_TRUE(names.insert(p.name).second) << p.name;
}

TEST(MessageOf, IsTheWorstAtOrBelowAPlace) {
  const Messages messages{{Severity::warning, "", "/baffles/1", "a", "b"},
                          {Severity::error, "", "/baffles/1/openings/0", "c", "d"},
                          {Severity::warning, "", "/baffles/10", "e", "f"}};
  EXPECT_EQ(message_of(messages, "/baffles/1")->expected, "c");
  EXPECT_EQ(message_of(messages, "/baffles/10")->expected, "e");
  EXPECT_FALSE(message_of(messages, "/baffles/2"));
  EXPECT_FALSE(message_of(messages, "")) << "of the whole tank only what is said of all of it";
}

}  // namespace
}  // namespace uadze::gui
