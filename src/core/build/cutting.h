#pragma once
// What is cut and joined: each hose's and tube's length, its two ends, and every joint of the circuit with
// what seals it.
//
//      seat |<---------------- route ---------------->| seat
//           [ end )===============================( end ]
//           |takes|<------------ cut ------------>|takes|        cut = route - takes - takes + slack
//
// A line's ends are made of the bends that stand beside it in its leg: those behind it, up to the next part,
// are its far end and, if there is a second, its near end; those before it, behind a part, are its near end.
// What is left over is a fitting by itself, as are tees, reducers, bulkheads and quick connectors. A line
// that meets a barbed part is pushed over the barb.
//
// What an end takes is typical of its class and rises with its size: 12 mm + 1.6 mm by dash straight, 30
// + 2.6 at 45 degrees, 32 + 3.2 at 90, 40 + 3.6 at 120, 55 + 4.2 at 180 (along the way through it);
// a barb takes -25 mm, a bent one 18 mm + 2 mm by dash more. Measure your own: they are what a cut hangs on.
// Slack is 3 %, 10 mm at the least, for hoses, which move and shorten under pressure; rigid tube has none.
//
// Example:
//   circuit::Case c = test::plain_case();
//   c.circuit.feed = {test::line(8, 1.0)};                        // -8, 1 m, straight ends
//   const auto cuts = build::cutting_list(c);
//   const auto feed = std::find_if(cuts.begin(), cuts.end(),
//                                  [](const build::HoseCut& h) { return h.leg.kind == circuit::LegKind::feed; });
//   ASSERT_NE(feed, cuts.end());
//   EXPECT_NEAR(feed->cut, 1.0 - 2 * 24.8e-3 + 30e-3, 1e-9);      // m
#include "core/circuit/circuit.h"

namespace uadze::build {

enum class EndKind { flare, barb, tube_nut };
constexpr const char* name_of(EndKind value) {
  switch (value) {
    case EndKind::flare:
      return "hose end";
    case EndKind::barb:
      return "barb";
    case EndKind::tube_nut:
      return "tube nut";
  }
  return nullptr;
}

struct HoseEnd {
  EndKind kind = EndKind::flare;
  circuit::FittingForm form = circuit::FittingForm::straight;
  double takes = 0.0;  ///< m, of the route; negative: the hose goes over it
  std::string meets;   ///< "fine filter, 10 micron", "surge tank"
  bool operator==(const HoseEnd&) const = default;
};

struct HoseCut {
  circuit::LegPlace leg;
  int part = 0;
  std::string label;  ///< "feed line 2"
  std::string type;
  int dash = 0;
  bool rigid = false;
  double route = 0.0, slack = 0.0, cut = 0.0;  ///< m
  HoseEnd near_end, far_end;
  bool clocked = false;   ///< both ends are bent: their angle to each other is marked on the car
  bool sleeved = false;   ///< runs where it is hot or the driver sits
  int clips = 0;          ///< P-clips on its way
  double straight = 0.0;  ///< m from end to end in the car; 0: not entered
  bool operator==(const HoseCut&) const = default;
};

/// In the order of the legs and their parts.
std::vector<HoseCut> cutting_list(const circuit::Case& c);

/// A fitting that is not a line's end, by what it is: "tee", "bulkhead".
struct LooseFitting {
  circuit::LegPlace leg;
  int part = 0;
  circuit::FittingForm form = circuit::FittingForm::straight;
  int dash = 0;
  int count = 1;
};
std::vector<LooseFitting> loose_fittings(const circuit::Case& c);

/// Between two neighbours of a leg, or a leg's end and the tank, rail or regulator it stands at.
struct Joint {
  circuit::LegPlace leg;
  std::string from, to;
  int dash = 0;
  circuit::Seal seal = circuit::Seal::flare;
  bool inside = false;  ///< of the main tank: a weep stays in the fuel
};
std::vector<Joint> joints(const circuit::Case& c);

/// m of the route that an end takes.
double takes_of(EndKind kind, circuit::FittingForm form, int dash);

/// The ratings that the catalogue has of a part; nothing if it has none.
const circuit::Ratings* ratings_of(const circuit::Part& part, const circuit::Catalogue& catalogue);
/// What a part is called in a list: its name, else its type, else its kind.
std::string called(const circuit::Part& part);

/// Whether a leg of this place lies in the main tank: the lift legs and overflow of a surge tank inside.
bool inside_tank(const circuit::Case& c, const circuit::LegPlace& leg, const circuit::Part& part);

inline constexpr double clip_spacing = 0.3;  ///< m, between P-clips on a run that can move

}  // namespace uadze::build
