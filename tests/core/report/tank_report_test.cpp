// The tank's reports under any steady push, at any level: what is told of the spaces is what is in the tank.
#include "core/report/tank_report.h"

#include <gtest/gtest.h>

#include "core/base/csv.h"
#include "core/report/sound.h"
#include "core/solve/run.h"
#include "support/demo.h"
#include "support/random_shapes.h"

namespace uadze::report {
namespace {

class TankReport : public testing::TestWithParam<const char*> {
 protected:
  const test::Demo opened = test::demo(GetParam());
};

TEST_P(TankReport, SettledFuelAddsUpAndIsReadable) {
  test::Random r(5);
  for (const project::Setup& setup : opened.project.setups) {
    const solve::Case wanted{.setup = setup.name, .lap = {}, .session = {}};
    const auto full =
        solve::settle(opened.project, wanted, {.level = 0, .acceleration = {}}, *opened.sources);
    double capacity = 0;
    for (const auto& space : full.spaces) capacity += space.capacity;
    for (double share : {0.0, 1e-6, 0.01, 0.4, 0.999, 1.0}) {
      const Vec3 push =
          r.whole(0, 2) ? Vec3(r.uniform(-18, 18), r.uniform(-25, 25), r.uniform(-5, 5)) : Vec3(Vec3::Zero());
      const auto lies = solve::settle(opened.project, wanted,
                                      {.level = share * capacity, .acceleration = push}, *opened.sources);
      SCOPED_TRACE(fmt::format("{}, {:g} of the tank, pushed {:.1f} {:.1f} {:.1f}", setup.name, share,
                               push.x(), push.y(), push.z()));
      const Json json = settled_json(lies);
      EXPECT_EQ(test::unsound(json), "");
      double held = 0;
      for (const Json& space : json["spaces"]) {
        const double volume = space["volume_l"], most = space["capacity_l"];
        held += volume;
        EXPECT_GE(volume, 0) << space["name"];
        EXPECT_LE(volume, most * (1 + 1e-9)) << space["name"];
        EXPECT_GE(space["surface"]["area_cm2"].get<double>(), 0) << space["name"];
        double length = 0;
        for (const Json& n : space["surface"]["normal"]) length += n.get<double>() * n.get<double>();
        EXPECT_NEAR(length, 1, 1e-9) << space["name"];
      }
      EXPECT_NEAR(held, json["level_l"].get<double>(), 1e-8);
      for (const Json& pickup : json["pickups"]) {
        const double wet = pickup["wet_fraction"];
        EXPECT_GE(wet, 0) << pickup["name"];
        EXPECT_LE(wet, 1) << pickup["name"];
        if (share == 0.0) {
          EXPECT_EQ(wet, 0) << pickup["name"] << " in an empty tank";
        }
        if (share == 1.0) {
          EXPECT_EQ(wet, 1) << pickup["name"] << " in a full tank";
        }
      }
      EXPECT_EQ(test::unsound_words(settled_text(lies)), "") << settled_text(lies);
    }
  }
}

TEST_P(TankReport, AManoeuvresTableHoldsTheFuel) {
  for (const auto what : {lap::Manoeuvre::slalom, lap::Manoeuvre::spin}) {
    const auto ran =
        solve::run(opened.project, {.alone = true},
                   {.level = 8e-3, .manoeuvre = what, .with_motion = true, .points = 200}, *opened.sources);
    const auto& car = *ran.ready->car;
    const CsvTable table = parse_csv(motion_csv(*car.tank, car.pickups, ran.run.motion), "motion.csv");
    ASSERT_FALSE(table.rows.empty());
    const auto value = [&](const std::vector<std::string>& row, const std::string& name) {
      const auto at = std::find(table.header.begin(), table.header.end(), name);
      return at == table.header.end() ? std::nan("")
                                      : std::stod(row[static_cast<size_t>(at - table.header.begin())]);
    };
    for (const auto& row : table.rows) {
      double held = 0;
      for (const auto& space : car.tank->spaces) held += value(row, space.name + " volume [l]");
      ASSERT_GT(held, 0.5) << "litres";
      ASSERT_LE(held, car.tank->volume() * 1e3 + 1e-6);
      for (const auto& pickup : car.pickups) {
        ASSERT_GE(value(row, pickup.name + " wet fraction [1]"), 0);
        ASSERT_LE(value(row, pickup.name + " wet fraction [1]"), 1);
      }
      for (const std::string& cell : row) ASSERT_EQ(cell.find("-0.0000 "), std::string::npos);
    }
    EXPECT_EQ(test::unsound_words(motion_csv(*car.tank, car.pickups, ran.run.motion)), "");
  }
}

TEST_P(TankReport, ModesGrowShorterWithGravity) {
  // All frequencies go with the root of the effective gravity; text and JSON tell the same.
  const auto ready = solve::lap_case(opened.project, solve::resolve(opened.project, {.alone = true}),
                                     *opened.sources, {.points = 200});
  const auto& space = ready->car->tank->spaces.front();
  const double volume = 0.4 * space.body.volume();
  std::vector<double> lowest;
  for (double g : {standard_gravity, 4 * standard_gravity}) {
    const Vec3 force(0, 0, -g);
    const std::vector<SpaceModes> modes{{space.name, volume, slosh::first_modes(space.body, volume, force)}};
    const Json json = modes_json("any", volume, force, modes);
    EXPECT_EQ(test::unsound(json), "");
    EXPECT_EQ(test::unsound_words(modes_text("any", volume, force, modes)), "")
        << modes_text("any", volume, force, modes);
    ASSERT_FALSE(json["spaces"][0]["modes"].empty());
    lowest.push_back(json["spaces"][0]["modes"][0]["frequency_hz"]);
  }
  EXPECT_NEAR(lowest[1], 2 * lowest[0], 1e-6 * lowest[0]);
}

INSTANTIATE_TEST_SUITE_P(Demos, TankReport, testing::Values("ostrel-p4", "ostrel-tarn", "ostrel-wisp"));

}  // namespace
}  // namespace uadze::report
