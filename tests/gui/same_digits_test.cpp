// Window and command line answer alike, to the last digit: all demos, all setups and sessions, and the size.
#include <QLabel>
#include <QProcess>

#include "core/base/json.h"
#include "core/report/session_report.h"
#include "window_fixture.h"

namespace uadze::gui {
namespace {

using Json = nlohmann::json;

class SameDigits : public WindowTest, public ::testing::WithParamInterface<const char*> {
 protected:
  SameDigits() : WindowTest(std::string(GetParam()) + ".uadze.json") {}
  Json command_line(const QStringList& words) {
    QProcess uadze;
    uadze.start(UADZE_BINARY, words);
    EXPECT_TRUE(uadze.waitForFinished(300000));
    return json_of<Json>(uadze.readAllStandardOutput().toStdString());
  }
};

TEST_P(SameDigits, OfEverySession) {
  // As `uadze solve` asks: the fine answer, without the model's band.
  workspace().runs.set_effort({.band = false});
  workspace().runs.set_draws({});
  workspace().evaluate();
  ASSERT_TRUE(wait_for([this] { return !workspace().runs.evaluator.running(); }, 300000));
  size_t sessions = 0;
  for (const auto& setup : workspace().project().setups) {
    const Json said =
        command_line({"solve", path(), "--setup", QString::fromStdString(setup.name), "--json"});
    for (const Json& row : said.at("results")) {
      const auto* shown = workspace().runs.result_of(setup.name, row.at("session"));
      ASSERT_TRUE(shown) << setup.name << row.at("session");
      EXPECT_EQ(json_of<Json>(report::session_json(*shown).dump()), row) << setup.name;
      ++sessions;
    }
  }
  EXPECT_EQ(sessions, workspace().project().setups.size() * workspace().project().sessions.size());
  // The size that the station shows is what `uadze size` says.
  window->show_station(Station::sizing);
  const Json sized = command_line({"size", path(), "--json"});
  if (!sized.contains("surge_tank")) return;
  const auto says = QString::fromStdString(sized.at("surge_tank").at("says"));
  auto* label = find<QLabel>("surge says");
  EXPECT_TRUE(wait_for([&] { return label->text().contains(says); }, 120000))
      << label->text().toStdString() << "\n"
      << says.toStdString();
}

INSTANTIATE_TEST_SUITE_P(Demos, SameDigits, ::testing::Values("ostrel-p4", "ostrel-tarn", "ostrel-wisp"));

}  // namespace
}  // namespace uadze::gui
