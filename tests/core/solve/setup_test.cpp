// A setup compiled under the conditions of a session, with the project's own catalogue and the lap's own
// flow.
#include "core/solve/setup.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "core/solve/plan.h"
#include "support/demo.h"

namespace uadze::solve {
namespace {

TEST(Setup, AUsersOwnHosesCountInTheLinesVolume) {
  test::TempFolder folder;
  copy_demo(folder);
  folder.write("own.json", R"({"undertow_adze_catalogue": 1,
    "hoses": [{"name": "wide hose", "bore_mm": {"8": 16}, "roughness_um": 10}]})");
  Sources sources(folder.path());
  project::Project project = open_project(folder / "ostrel-p4.uadze.json", sources).project;
  project.catalogue_files = {"own.json"};
  project::Setup& setup = project.setups[0];
  setup.line_hold = 2e-3;  // more than the lines hold: the rest is the filter
  const auto catalogue = sources.catalogue(project);
  const double before = compile(setup, sources, catalogue.get(), false).filter_hold;
  double longer = 0;
  for (circuit::Part& part : setup.circuit->feed)
    if (part.kind == circuit::PartKind::line) {
      const circuit::Leg alone{part};
      const double bore = circuit::bore_of(alone, 0, *catalogue);
      part.type = "wide hose", part.dash = 8, part.bore = 0;
      longer += M_PI / 4 * (16e-3 * 16e-3 - bore * bore) * part.length;
    }
  ASSERT_GT(longer, 0);
  EXPECT_NEAR(compile(setup, sources, catalogue.get(), false).filter_hold, before - longer, 1e-12);
}

TEST(Setup, ASessionsFuelTemperatureIsInTheWorkingOfItsMass) {
  test::Demo opened = test::demo("ostrel-wisp");
  session::Session& hot = opened.project.sessions[0];
  hot.temperature = 318.15;
  PlanOptions options;
  options.lap.ladder.levels = 4;
  options.lap.points = 100;
  options.draws.draws = 100;
  const auto r = plan(opened.project, {.session = hot.name}, options, *opened.sources).at(0);
  fluid::Blend fuel = fuel_of(opened.project.setups[0]);
  fuel.temperature = 318.15;
  EXPECT_NEAR(r.lap->car->fuel_density, fluid::density(fuel), 1e-9);
  // The density's own working comes to what the mass is reckoned with, and says that temperature.
  EXPECT_NEAR(r.lap->density.value, r.lap->car->fuel_density, 1e-12);
  EXPECT_TRUE(std::any_of(r.lap->density.inputs.begin(), r.lap->density.inputs.end(), [](const Term& t) {
    return t.quantity == Quantity::temperature && std::abs(t.value - 318.15) < 1e-9;
  }));
  EXPECT_NEAR(r.plan.start_mass, r.plan.start * fluid::density(fuel), 1e-9);
}

TEST(Setup, FlowLoggedByMassIsTurnedByTheFuelsOwnDensity) {
  const test::Demo opened = test::demo("ostrel-wisp");
  lap::Lap lap = opened.sources->laps.get(opened.project.laps[0])->value;
  lap.fuel_flow.clear();
  lap.fuel_mass_flow.assign(lap.size(), 0.03);  // kg/s
  for (double celsius : {15.0, 45.0}) {
    project::Setup setup = opened.project.setups[0];
    setup.engine.flow_scale = 1.0;
    setup.fuel.temperature = 273.15 + celsius;
    const auto car = compile(setup, *opened.sources, nullptr, false);
    EXPECT_NEAR(starvation::engine_demand(car, lap)[10], 0.03 / fluid::density(setup.fuel), 1e-12) << celsius;
  }
}

}  // namespace
}  // namespace uadze::solve
