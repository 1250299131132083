#pragma once
// The plan of the sessions as a table, and what a session's printed page says.
//
//   const std::string csv = plan_csv(results, units);
//   const CardText card = card_text(result, units);     // drawn by src/card
#include "core/project/solve.h"

namespace uadze::project {

/// One row a session, in the user's units; the header names them.
std::string plan_csv(const std::vector<SessionResult>& sessions, const UnitSystem& units);

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

CardText card_text(const SessionResult& session, const UnitSystem& units);

}  // namespace uadze::project
