#include "core/diagnosis/cause.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>
#include <set>

#include "core/diagnosis/hand.h"

namespace uadze::diagnosis {
namespace {

TEST(Cause, NothingIsWrongWithAHealthyLog) {
  for (unsigned seed = 1; seed <= 6; ++seed) {
    const Diagnosis d = said(drive(seed));
    ASSERT_FALSE(d.causes.empty());
    EXPECT_EQ(d.causes[0].cause, Cause::none) << d.answer;
    EXPECT_EQ(d.next_test, "");
  }
}

struct Shape {
  Cause cause;
  const char* name;
  void (*spoil)(Hand&);
};

/// Steps, ramps and decays: what each cause does, written without any model of a car.
const Shape shapes[] = {
    {Cause::slosh, "left corners late in the stint",
     [](Hand& h) {
       h.lay_over([&](size_t i) { return i > 18000 && i > 40 && h.lateral[i - 40] > 10 ? -0.25 : 0.0; });
     }},
    {Cause::capacity, "steps down at the highest flow",
     [](Hand& h) {
       h.lay_over([&](size_t i) { return h.flow[i] > 0.8 ? std::pow(0.8 / h.flow[i], 2) - 1 : 0.0; });
     }},
    {Cause::staged_late, "half a second after the throttle",
     [](Hand& h) {
       h.lay_over([&](size_t i) { return h.since_opened[i] < 0.5 && h.flow[i] > 0.5 ? -0.2 : 0.0; });
     }},
    {Cause::filter, "flow squared, a ramp over the log",
     [](Hand& h) {
       h.lay_over([&](size_t i) { return -0.25 * h.flow[i] * h.flow[i] * h.log.time[i] / 720; });
     }},
    {Cause::wiring, "the voltage falls in a step, the pressure with it",
     [](Hand& h) {
       for (size_t i = 0; i < h.log.size(); ++i)
         if (i > 12000 && i < 24000) h.of(Role::battery)[i] -= 2.5f;
       h.lay_over(
           [&](size_t i) { return i > 12000 && i < 24000 && h.flow[i] > 0.1 ? -0.2 * h.flow[i] : 0.0; });
     }},
    {Cause::vapour, "above a temperature, at flow",
     [](Hand& h) {
       for (size_t i = 0; i < h.log.size(); ++i)
         h.of(Role::fuel_temperature)[i] =
             static_cast<float>(300 + 30 * std::pow(std::sin(h.log.time[i] / 229), 2));
       h.lay_over([&](size_t i) {
         return -0.3 * std::max(h.of(Role::fuel_temperature)[i] - 320.0, 0.0) / 10 * h.flow[i];
       });
     }},
    {Cause::vent, "a slow decline at any flow",
     [](Hand& h) {
       h.lay_over([&](size_t i) { return h.log.time[i] < 705 ? -0.2 * h.log.time[i] / 720 : 0.0; });
     }},
    {Cause::small_return, "high where little is burnt",
     [](Hand& h) {
       h.lay_over([&](size_t i) { return h.log.time[i] < 705 && h.flow[i] < 0.3 ? 0.3 : 0.0; });
     }},
    {Cause::reference_lost, "the rail stands still",
     [](Hand& h) {
       // With a second car's throttle the manifold is not the flow alone.
       for (size_t i = 0; i < h.log.size(); ++i)
         if (h.log.time[i] < 705) {
           const double map =
               4e4 + 6e4 * h.throttle[i] * (0.6 + 0.4 * std::pow(std::sin(0.11 * h.log.time[i]), 2));
           h.of(Role::manifold_pressure)[i] = static_cast<float>(map),
           h.of(Role::rail_pressure)[i] = static_cast<float>(3e5 + 500 * std::sin(13.0 * h.log.time[i]));
         }
     }},
    {Cause::check_valve, "gone within seconds of stopping",
     [](Hand& h) {
       for (size_t i = 0; i < h.log.size(); ++i)
         if (h.log.time[i] > 705)
           h.of(Role::rail_pressure)[i] = static_cast<float>(3e5 * std::exp(-(h.log.time[i] - 705) / 3));
     }},
    {Cause::aeration, "short dips here and there",
     [](Hand& h) {
       test::Random random(9);
       double left = 0;
       h.lay_over([&](size_t i) {
         if (h.log.time[i] < 705 && left <= 0 && random.uniform(0, 1) < 0.006) left = 0.1;
         left -= 0.02;
         return left > 0 ? -0.2 : 0.0;
       });
     }},
    {Cause::sensor, "long dips that the mixture does not know",
     [](Hand& h) {
       h.lay_over(
           [&](size_t i) { return std::fmod(h.log.time[i], 61) < 9 && h.log.time[i] < 705 ? -0.2 : 0.0; },
           false);
     }},
};

void PrintTo(const Shape& shape, std::ostream* to) { *to << shape.name; }

class HandShapes : public testing::TestWithParam<Shape> {};

TEST_P(HandShapes, AreNamed) {
  Hand hand = drive(3);
  GetParam().spoil(hand);
  const Diagnosis d = said(hand);
  ASSERT_FALSE(d.causes.empty());
  EXPECT_EQ(name_of(d.causes[0].cause), std::string(name_of(GetParam().cause))) << d.answer;
  EXPECT_GT(d.causes[0].probability, 0.8);
  EXPECT_FALSE(d.causes[0].evidence.empty());
  EXPECT_NE(d.next_test.find("ventilate"), std::string::npos) << "the caution stands at the test";
}

INSTANTIATE_TEST_SUITE_P(Causes, HandShapes, testing::ValuesIn(shapes), [](const auto& each) {
  std::string name;
  for (char c : std::string(each.param.name)) name += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
  return name;
});

TEST(Cause, ProbabilitiesAddUpAndAModelIsDrawn) {
  Hand hand = drive(4);
  shapes[1].spoil(hand);
  const Diagnosis d = said(hand);
  double sum = 0;
  for (const Suspect& s : d.causes) sum += s.probability;
  EXPECT_NEAR(sum, 1, 1e-9);
  ASSERT_EQ(d.causes[0].model.size(), hand.log.size());
  // What the cause would have made lies on what was laid over.
  double left = 0, whole = 0;
  for (size_t i = 0; i < hand.log.size(); ++i)
    if (!std::isnan(d.causes[0].model[i])) {
      left += std::pow(d.causes[0].model[i] - d.deviation[i], 2);
      whole += std::pow(d.deviation[i], 2);
    }
  EXPECT_LT(left, 0.15 * whole);
  EXPECT_GT(d.causes[0].explained, 0.8);
}

TEST(Cause, AFewShortDipsBehindALightPumpAreTheFuels) {
  // Two dips of a fifth of a second in all, one a lap in the last two laps: nothing that could be fitted.
  const auto dips = [](Hand& h) {
    h.lay_over([&](size_t i) {
      const double t = h.log.time[i], in = std::fmod(t, 90);
      return t > 450 && t < 630 && in > 25 && in < 25.2 ? -0.2 : 0.0;
    });
  };
  const auto before_dip = [](double t) {
    return t > 450 && t < 630 && std::fmod(t, 90) > 23.4 && std::fmod(t, 90) < 24;
  };
  Hand light = drive(6);
  dips(light), add_pump(light, before_dip);
  const Diagnosis fuel = said(light);
  EXPECT_EQ(name_of(fuel.causes[0].cause), std::string(name_of(Cause::slosh))) << fuel.answer;
  // The same dips, and a pump that works as always: there is not enough to name the fuel.
  Hand steady = drive(6);
  dips(steady), add_pump(steady, [](double) { return false; });
  EXPECT_NE(said(steady).causes[0].cause, Cause::slosh) << said(steady).answer;
  // Gas in every corner of every lap that does no harm says nothing.
  Hand harmless = drive(6);
  add_pump(harmless, [](double t) { return std::fmod(t, 90) > 22 && std::fmod(t, 90) < 24; });
  EXPECT_EQ(said(harmless).causes[0].cause, Cause::none) << said(harmless).answer;
}

TEST(Cause, ASlowLossThatTheMixtureFollowsIsReal) {
  Hand hand = drive(7);
  shapes[3].spoil(hand);  // a filter that loads from the first metre to the last
  const Diagnosis d = said(hand);
  for (const std::string& against : d.causes[0].against)
    EXPECT_EQ(against.find("mixture"), std::string::npos) << against;
}

TEST(Cause, EachHasAPictureOfWhatItGoesBy) {
  const std::map<Cause, Quantity> axis{
      {Cause::slosh, Quantity::fraction},          {Cause::capacity, Quantity::fraction},
      {Cause::staged_late, Quantity::duration},    {Cause::filter, Quantity::duration},
      {Cause::wiring, Quantity::voltage},          {Cause::vapour, Quantity::temperature},
      {Cause::vent, Quantity::fraction},           {Cause::small_return, Quantity::fraction},
      {Cause::reference_lost, Quantity::pressure}, {Cause::check_valve, Quantity::duration},
      {Cause::aeration, Quantity::acceleration},   {Cause::sensor, Quantity::fraction}};
  for (const Shape& shape : shapes) {
    SCOPED_TRACE(shape.name);
    Hand hand = drive(3);
    shape.spoil(hand);
    const Picture p = said(hand).causes[0].picture;
    EXPECT_EQ(p.x, axis.at(shape.cause));
    ASSERT_GT(p.seen.x.size(), 20u);
    EXPECT_LT(p.seen.x.size(), 1600u) << "thinned";
    EXPECT_EQ(p.seen.x.size(), p.seen.y.size());
    EXPECT_FALSE(p.title.empty());
    for (double v : p.seen.x) ASSERT_TRUE(std::isfinite(v));
    // What stands out is never thinned away.
    const auto& out = shape.cause == Cause::sensor ? p.seen.x : p.seen.y;
    const auto [least, most] = std::minmax_element(out.begin(), out.end());
    EXPECT_GT(*most - *least, 0.08);
    // What the cause alone would do runs with what was seen, where it has a model of each moment.
    if (p.line || p.expected.y.empty()) continue;
    ASSERT_EQ(p.expected.x, p.seen.x);
    double with = 0;
    for (size_t i = 0; i < p.seen.y.size(); ++i) with += p.seen.y[i] * p.expected.y[i];
    EXPECT_GT(with, 0);
  }
}

TEST(Cause, TwoAtOnceAreBothNamed) {
  Hand hand = drive(5);
  for (const int k : {1, 6}) shapes[k].spoil(hand);  // capacity and vent
  const Diagnosis d = said(hand);
  ASSERT_TRUE(d.also) << d.answer;
  const std::set<Cause> both{d.causes[0].cause, *d.also};
  EXPECT_EQ(both, (std::set<Cause>{Cause::capacity, Cause::vent})) << d.answer;
}

TEST(Cause, TooLittleToSay) {
  EXPECT_FALSE(diagnose({}, {}, {}).enough);
  Hand hand = drive(1);
  std::erase_if(hand.log.channels, [](const Channel& c) { return c.role == Role::rail_pressure; });
  EXPECT_EQ(said(hand).answer, "There is not enough in the log to say.");
}

}  // namespace
}  // namespace uadze::diagnosis
