// Results in the reader's own units: what a person reads follows --units, what a program reads never does.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <regex>

#include "cli/run.h"
#include "support/demo.h"

namespace uadze::test {
namespace {

/// Every figure of a volume, flow, pressure, length, temperature or mass in metric units.
std::vector<std::string> metric_figures(const std::string& text) {
  // Parts' own names ("150 l/h class", "hose, 4 mm") and the 20 °C of a formula are no figures of the car.
  static const std::regex figure(
      R"([0-9] (L|L/h|bar|kPa|m2|kg|kg/m3|km/h)(?![A-Za-z0-9/])|([.][0-9]+|[0-9]{2,}) mm(?![0-9])|[.][0-9]+ °C)");
  std::vector<std::string> out;
  for (std::sregex_iterator k(text.begin(), text.end(), figure), end; k != end; ++k) {
    const size_t at = static_cast<size_t>(k->position()), from = at < 40 ? 0 : at - 40;
    out.push_back(text.substr(from, 60));
  }
  return out;
}

class UnitsCli : public ::testing::TestWithParam<const char*> {
 protected:
  void SetUp() override { copy_demo(folder); }
  /// The parameter, with the project's file in the place of FILE.
  std::string words() const {
    std::string out = GetParam();
    return out.replace(out.find("FILE"), 4, (folder / "ostrel-wisp.uadze.json").string());
  }
  TempFolder folder;
};

TEST_P(UnitsCli, NothingIsLeftInMetricOnes) {
  const Outcome metric = run(words()), us = run("--units us " + words());
  EXPECT_EQ(metric.code, us.code) << us.err;
  EXPECT_NE(metric.out, us.out) << "it tells figures";
  EXPECT_THAT(metric_figures(us.out), ::testing::IsEmpty()) << us.out;
}

INSTANTIATE_TEST_SUITE_P(
    Commands, UnitsCli,
    ::testing::Values("settle FILE --level-l 8 --accel-g 0.5,0.3,0", "modes FILE --level-l 8",
                      "run FILE --level-l 8", "run FILE --level-l 8 --stint 2",
                      "plan FILE --draws 200 --no-band", "solve FILE --working", "size FILE",
                      "size FILE --pickup-shift-mm=-12.5,20", "circuit FILE", "build cut FILE",
                      "build steps FILE", "build wires FILE", "build order FILE",
                      "book readings FILE 'base pressure'",
                      "resolve FILE --level-l 8 --manoeuvre braking --cell-mm 60"),
    [](const auto& each) {
      const std::string words = each.param;
      std::string name;
      for (const char c : words.substr(0, words.find(" FILE")) + std::to_string(each.index))
        if (std::isalnum(static_cast<unsigned char>(c))) name += c;
      return name;
    });

TEST(UnitsOfPrograms, StayWhatTheirKeysAndHeadsName) {
  for (const std::string& words :
       std::vector<std::string>{"run " + wisp + " --level-l 8 --json", "run " + wisp + " --level-l 8 -o -",
                                "map " + wisp + " --levels 4", "circuit " + wisp + " --json",
                                "dip " + wisp + " --steps 3", "plan " + wisp + " --draws 200 --no-band --csv",
                                "size " + wisp + " --pickup-shift-mm=-12.5 --json"}) {
    const Outcome metric = run(words);
    EXPECT_EQ(metric.code, 0) << words << metric.err;
    EXPECT_EQ(run("--units us " + words).out, metric.out) << words;
  }
}

TEST(UnitsOfPrograms, AreMetricWhereNothingIsSaid) {
  EXPECT_EQ(run("--units metric size " + wisp).out, run("size " + wisp).out);
}

TEST(UnitsOfPrograms, OfAnotherNameAreRefused) {
  const Outcome o = run("--units imperial check " + wisp);
  EXPECT_EQ(o.code, 2);
  EXPECT_THAT(o.err, ::testing::HasSubstr("imperial"));
}

}  // namespace
}  // namespace uadze::test
