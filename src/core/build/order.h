#pragma once
// What is to be bought, in which order it is built, and what waits for what.
//
// Items are told apart by what they are and their size ("O-ring" "-8"); each knows the steps that need it, so
// that what is missing says which step it stops. Spares: one of what is easily ruined (O-rings, crush
// washers, olives, tube nuts' sleeves, fuses), every consumable twice (clamps, ties, sleeve), none of the
// rest. What is in stock or ordered is taken off.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   const auto steps = build::assembly(c);
//   const auto items = build::order_list(c, steps, {});
//   EXPECT_EQ(steps.front().title, "Make the place safe");
//   for (const auto& i : items) EXPECT_FALSE(i.steps.empty()) << i.what;
#include "core/base/phrase.h"
#include "core/build/cutting.h"
#include "core/build/kept.h"
#include "core/build/wires.h"

namespace uadze::build {

enum class Spare { none, one, twice };

struct Need {
  std::string what, size;
  double count = 0.0;  ///< pieces, or m
  bool metres = false;
  Spare spare = Spare::none;
  std::string supplier, marking;
};

struct Step {
  std::string title;
  std::vector<Phrase> how;            ///< one thing to do each
  std::vector<std::string> cautions;  ///< of this step; those of the first hold for all
  std::vector<Need> needs;
  std::vector<std::string> tools;
  std::vector<int> after;  ///< indices of steps that come before
  double minutes = 0.0;
  bool opens_fuel = false;  ///< a line or tank stands open: the first step's cautions hold
};

/// From the bare tank to the first start, in an order that can be worked; each step comes behind those that
/// it waits for.
std::vector<Step> assembly(const circuit::Case& c, const Scheme& scheme = {});

struct OrderItem {
  std::string what, size;
  bool metres = false;
  double needed = 0.0, spare = 0.0, have = 0.0, ordered = 0.0;
  double to_order = 0.0;  ///< needed + spare - have - ordered, not under 0; metres in tenths, upward
  std::string supplier, marking;
  std::vector<int> steps;  ///< that need it
  /// The first step that can not be done with what is in stock: nothing, if there is enough for all.
  std::optional<int> stops;
};

std::vector<OrderItem> order_list(const circuit::Case& c, const std::vector<Step>& steps,
                                  const std::vector<Stock>& stock);

/// Steps that can be begun: all before them done (by index), and all that they need in stock.
std::vector<int> can_start(const std::vector<Step>& steps, const std::vector<OrderItem>& items,
                           const std::vector<char>& done);

/// What is left, cut into days of `minutes` of work, in its order: one person's day, or a crew's that works
/// on one step at a time. A step longer than a day has one for itself. Throws std::invalid_argument for days
/// without time.
std::vector<std::vector<int>> by_day(const std::vector<Step>& steps, const std::vector<char>& done,
                                     double minutes);

/// min of the longest chain of steps from here to the end.
double longest_chain(const std::vector<Step>& steps, const std::vector<char>& done);

}  // namespace uadze::build
