#pragma once
// What a session's printed page says; drawn by src/card.
//
// Example:
//   using namespace uadze;
//   const report::CardLine line{"start with", format(0.0475, Quantity::volume)};
//   EXPECT_EQ(line.value, "47.5 L");
#include "core/logbook/ready.h"
#include "core/solve/plan.h"

namespace uadze::report {

struct CardLine {
  std::string label, value;
};

struct CardCorner {
  std::string place, text;
  double distance = 0.0;  ///< m
};

struct CardText {
  std::string title, subtitle;
  CardLine start, back;              ///< the large numbers
  std::vector<CardLine> also;        ///< the same as mass, share, gauge, dip
  std::vector<CardLine> refuelling;  ///< stints: laps, fuel, latest lap, one lap more
  std::vector<CardLine> fill;        ///< what is in: what to add
  std::vector<CardCorner> corners;   ///< the tightest, the first to hurt first
  std::vector<std::string> assumptions, cautions;
};

/// `ready`: what the car's book says; nothing is said without.
CardText card_text(const solve::SessionResult& session, const UnitSystem& units,
                   const logbook::Readiness* ready = nullptr);

}  // namespace uadze::report
