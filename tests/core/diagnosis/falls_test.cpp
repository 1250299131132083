#include "core/diagnosis/falls.h"

#include <gtest/gtest.h>

#include <numeric>

#include "core/diagnosis/hand.h"

namespace uadze::diagnosis {
namespace {

/// Dips of 0.3 s by a fifth of the pressure, each `in` seconds after the begin of a lap of 90 s.
struct Dip {
  int lap;
  double in;
};
Hand with(const std::vector<Dip>& dips, bool mixture = true) {
  Hand hand = drive(6);
  hand.lay_over(
      [&](size_t i) {
        const double t = hand.log.time[i];
        return std::any_of(dips.begin(), dips.end(),
                           [&](const Dip& d) {
                             return t >= 90 * (d.lap - 1) + d.in && t < 90 * (d.lap - 1) + d.in + 0.3;
                           })
                   ? -0.2
                   : 0.0;
      },
      mixture);
  return hand;
}

Falls read(const Hand& hand, double mixture = 0) {
  const auto laps = log::split_laps(hand.log);
  const Found found = find_events(hand.log, laps, {}, "x");
  const Instants at = instants_of(hand.log, laps, found);
  return falls_of(at, found, at.deviation, mixture);
}

TEST(Falls, AreCountedByWhereTheyStand) {
  // Two at one place of two laps behind the left-hand corner, two of one burst on the straight.
  const Falls f = read(with({{6, 25.5}, {7, 25.7}, {7, 40.0}, {7, 42.0}}));
  EXPECT_EQ(f.all, 4);
  EXPECT_EQ(f.apart, 3) << "one of the two that are two seconds apart";
  EXPECT_EQ(f.pushed, 2);
  EXPECT_EQ(f.again, 2);
  EXPECT_EQ(f.light, 0);
  EXPECT_EQ(f.gas, 0) << "the log has no pump current";
}

TEST(Falls, GasIsHeldAgainstHowOftenThePumpRunsLight) {
  Hand hand = with({{6, 25.5}, {7, 25.5}});
  add_pump(hand,
           [](double t) { return t > 450 && t < 630 && std::fmod(t, 90) > 24 && std::fmod(t, 90) < 25; });
  const Falls f = read(hand);
  EXPECT_EQ(f.light, 2);
  // By hand: light, or within 4 s after it, for 5 s in two of the laps, of some 700 s: (100 - 6 + 1) of 7020
  // instants, so each of the two falls counts ln(0.9 / 0.0135) = 4.2.
  EXPECT_NEAR(f.gas_before, 2 * std::log(0.9 / 0.0135), 0.3);
  EXPECT_GT(f.gas, f.gas_before) << "and it comes behind pushes";

  Hand often = with({{6, 25.5}, {7, 25.5}});
  add_pump(often, [](double t) { return std::fmod(t, 5) < 1; });
  EXPECT_NEAR(read(often).gas_before, 0, 0.3) << "always light within four seconds: says nothing";
  Hand never = with({{6, 25.5}, {7, 25.5}});
  add_pump(never, [](double) { return false; });
  EXPECT_LT(read(never).gas_before, -4);
}

TEST(Falls, LateAtOnePlaceBehindPushesIsTheFuels) {
  const double two_laps = read(with({{6, 25.5}, {7, 25.5}}), 6).by_fuel.value();
  EXPECT_LT(read(with({{6, 25.5}, {7, 53.0}}), 6).by_fuel.value(), two_laps - 1) << "not at one place";
  EXPECT_LT(read(with({{6, 40.0}, {7, 40.0}}), 6).by_fuel.value(), two_laps - 1) << "behind no push";
  EXPECT_LT(read(with({{2, 25.5}, {3, 25.5}}), 6).by_fuel.value(), two_laps - 1) << "while the tank was full";
  EXPECT_FALSE(read(with({{6, 25.5}, {7, 25.5}}), -40).by_fuel) << "the mixture does not know of them";
  EXPECT_FALSE(read(with({{7, 25.5}})).by_fuel) << "that it fell once does not say why";
  EXPECT_FALSE(read(with({}), 80).by_fuel) << "it never fell";
}

TEST(Falls, LeftAndRightCountAlike) {
  Hand hand = with({{5, 25.5}, {6, 25.5}, {7, 53.5}});
  const Falls one = read(hand, 5);
  for (float& a : hand.of(Role::lat_acc)) a = -a;
  EXPECT_EQ(one.by_fuel, read(hand, 5).by_fuel);
}

TEST(Falls, AreNamedWithoutACurrentWhereTheMixtureFollows) {
  const std::vector<Dip> dips{{6, 27.0}, {7, 27.0}};  // behind the corner, at full throttle
  const Diagnosis real = said(with(dips));
  EXPECT_EQ(name_of(real.causes[0].cause), std::string(name_of(Cause::slosh))) << real.answer;
  const auto& evidence = real.causes[0].evidence;
  const std::string all = std::accumulate(evidence.begin(), evidence.end(), std::string());
  EXPECT_NE(all.find("Of 2 falls of pressure that stand apart 2 came behind a strong push of the car, and 2 "
                     "where another lap had one too."),
            std::string::npos)
      << all;
  EXPECT_EQ(all.find("0 % of the usual difference"), std::string::npos) << all;
  EXPECT_NE(said(with(dips, false)).causes[0].cause, Cause::slosh) << "the mixture stayed";
  // Once, and nothing to hold it against: that is not enough.
  Hand once = with({{7, 25.5}});
  std::erase_if(once.log.channels, [](const Channel& c) { return c.role == Role::lambda; });
  EXPECT_TRUE(said(once).answer.starts_with("Not enough to say")) << said(once).answer;
}

}  // namespace
}  // namespace uadze::diagnosis
