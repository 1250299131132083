#include "core/diagnosis/cause.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <map>
#include <set>

#include "core/diagnosis/instants.h"
#include "support/random_shapes.h"

namespace uadze::diagnosis {
namespace {

using log::Channel;
using log::Role;

/// Twelve minutes of driving written by hand: eight laps of 90 s with three corners, throttle and flow as
/// steps; every channel right and the pressure steady. What is wrong is laid over it by each test.
struct Hand {
  log::Log log;
  std::vector<double> flow, throttle, lateral, since_opened;

  std::vector<float>& of(Role role) {
    return std::find_if(log.channels.begin(), log.channels.end(),
                        [&](const Channel& c) { return c.role == role; })
        ->values;
  }
  /// Changes the difference by a share of the usual, the mixture with it.
  template <class Change>
  void lay_over(Change&& change, bool mixture = true) {
    auto &rail = of(Role::rail_pressure), &lambda = of(Role::lambda);
    for (size_t i = 0; i < log.size(); ++i) {
      const double d = change(i);
      rail[i] += static_cast<float>(3e5 * d);
      if (mixture) lambda[i] = static_cast<float>(lambda[i] / std::sqrt(std::max(1 + d, 0.05)));
    }
  }
};

Hand drive(unsigned seed = 1) {
  Hand out;
  test::Random random(seed);
  const auto noise = [&](double size) {
    return size * (random.uniform(-1, 1) + random.uniform(-1, 1) + random.uniform(-1, 1));
  };
  const auto add = [&](const char* name, Role role) {
    out.log.channels.push_back(
        {.name = name,
         .unit = "",
         .role = role,
         .against = role == Role::manifold_pressure ? log::Against::vacuum : log::Against::air,
         .values = {}});
  };
  add("v", Role::speed), add("ay", Role::lat_acc), add("ax", Role::long_acc), add("u", Role::throttle),
      add("n", Role::rpm), add("lap", Role::lap);
  add("q", Role::fuel_flow), add("P", Role::rail_pressure), add("MAP", Role::manifold_pressure),
      add("lambda", Role::lambda), add("U", Role::battery), add("T", Role::fuel_temperature);
  out.log.parts = {0};
  double opened = -100;
  for (int i = 0; i < 36000; ++i) {
    const double t = 0.02 * i, in = std::fmod(t, 90);
    const bool stopped = t > 705;
    const bool left = in > 20 && in<26, right = in> 50 && in<54, fast = in> 70 && in < 78;
    const bool brake = (in > 17 && in < 20) || (in > 47.5 && in < 50);
    const double u = stopped ? 0 : brake || left || right ? 0.1 : fast ? 0.8 : 1.0;
    if (u > 0.8 && !out.throttle.empty() && out.throttle.back() <= 0.8) opened = t;
    const double n = stopped ? 0 : 90 + 40 * std::fmod(in, 6) / 6,
                 q = stopped ? 0 : 1e-6 + 4e-5 * u * n / 130;
    const double ay = stopped ? 0
                      : left  ? 12
                      : right ? -11
                      : fast  ? 15
                              : 0,
                 ax = stopped   ? 0
                      : brake   ? -12
                      : u > 0.9 ? 3
                                : 0;
    const double map = stopped ? 101325 : 4e4 + 6e4 * u;
    out.log.time.push_back(t);
    out.flow.push_back(q / 4.1e-5), out.throttle.push_back(u), out.lateral.push_back(ay),
        out.since_opened.push_back(t - opened);
    const double values[] = {stopped ? 0 : 45.0,
                             ay + noise(0.2),
                             ax + noise(0.2),
                             u,
                             n,
                             1 + std::floor(t / 90),
                             q,
                             stopped ? 0 : 3e5 + map - 101325 + noise(800),
                             map,
                             0.9 + noise(0.003),
                             (stopped ? 12.4 : 13.8) + noise(0.02),
                             300 + 3 * t / 720};
    for (size_t k = 0; k < std::size(values); ++k)
      out.log.channels[k].values.push_back(static_cast<float>(values[k]));
  }
  // Stopped it falls slowly.
  auto& rail = out.of(Role::rail_pressure);
  for (size_t i = 0; i < out.log.size(); ++i)
    if (out.log.time[i] > 705) rail[i] = static_cast<float>(3e5 * std::exp(-(out.log.time[i] - 705) / 120));
  return out;
}

Diagnosis said(const Hand& hand) {
  const auto laps = log::split_laps(hand.log);
  return diagnose(hand.log, laps, find_events(hand.log, laps, {}, "x"));
}

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

/// A pump that takes 8 A, and runs light where it draws gas.
void add_pump(Hand& h, const std::function<bool(double)>& gas) {
  std::vector<float> amps;
  for (double t : h.log.time) amps.push_back(t > 705 ? 0.f : gas(t) ? 5.f : 8.f);
  h.log.channels.push_back({.name = "I", .unit = "", .role = Role::pump_current, .values = std::move(amps)});
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

// --- Events ---

TEST(Events, OfALogByHand) {
  Hand hand = drive(2);
  // A quarter of the pressure for 0.6 s in the left-hand corner of the third lap, the level known.
  hand.log.channels.push_back({.name = "level",
                               .unit = "",
                               .role = Role::fuel_level,
                               .values = std::vector<float>(hand.log.size(), 0.012f)});
  const size_t from = hand.log.index_at(2 * 90 + 22.0);
  hand.lay_over([&](size_t i) { return i >= from && i < from + 30 ? -0.25 : 0.0; });
  const auto laps = log::split_laps(hand.log);
  const Found found =
      find_events(hand.log, laps,
                  {.limit = {}, .set = 3e5, .corners = {{"Heron Sweep", 900, 1200, lap::Hand::left}}}, "x");
  ASSERT_EQ(found.events.size(), 1u);
  const LoggedEvent& e = found.events[0];
  EXPECT_EQ(e.sign, Sign::pressure);
  EXPECT_EQ(e.lap, 3);
  EXPECT_NEAR(e.duration(), 0.6, 0.03);
  EXPECT_NEAR(e.lost, 0.25 * 3e5, 4e3);
  EXPECT_EQ(e.side, "right") << "turning left throws the fuel to the right";
  EXPECT_NEAR(e.lateral, 12, 0.5);
  EXPECT_EQ(e.place, "Heron Sweep");
  EXPECT_FLOAT_EQ(static_cast<float>(*e.level), 0.012f);
}

TEST(Events, AGaugeThatIsAbsoluteIsDoubted) {
  Hand hand = drive(2);
  for (float& p : hand.of(Role::rail_pressure)) p += 101325;
  const auto laps = log::split_laps(hand.log);
  const Found found = find_events(hand.log, laps, {.limit = {}, .set = 3e5}, "x");
  EXPECT_NE(text_of(found.notes).find("a gauge that is absolute"), std::string::npos) << text_of(found.notes);
  hand.log.channels[7].against = log::Against::vacuum;
  EXPECT_TRUE(find_events(hand.log, laps, {.limit = {}, .set = 3e5}, "x").events.empty());
}

TEST(Events, ShortOnesAndStoppedEnginesAreNone) {
  Hand hand = drive(2);
  hand.lay_over([&](size_t i) { return i % 1000 < 5 ? -0.3 : 0.0; });
  const auto laps = log::split_laps(hand.log);
  EXPECT_TRUE(find_events(hand.log, laps, {}, "x").events.empty());
}

}  // namespace
}  // namespace uadze::diagnosis
