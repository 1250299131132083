#include "core/starvation/level_search.h"

#include <algorithm>
#include <cmath>

namespace uadze::starvation {
namespace {

constexpr double one_place = 3.0;  // s: troubles nearer to each other are at one place
constexpr double further = 20.0;   // s before a place, where the usual tells too little

}  // namespace

void LevelSearch::suspect(double time) { places_.push_back(time); }

bool LevelSearch::passes(double level) const {
  if (level <= starves_) return false;
  if (whole_ || places_.empty()) return is_clean(car_, course_, level, options_);
  return std::none_of(places_.begin(), places_.end(), [&](double time) {
    return starves_about(car_, course_, level, time, before_, options_);
  });
}

bool LevelSearch::clean(double level, bool passed) {
  if (level == clean_) return true;
  const auto trouble = first_trouble(car_, course_, level, options_);
  if (!trouble) {
    clean_ = level;
    return true;
  }
  const bool told = !passed && !places_.empty() && !passes(level);
  starves_ = std::max(starves_, level);
  if (!told) missed(level, *trouble);
  return false;
}

void LevelSearch::missed(double level, const FirstTrouble& trouble) {
  starves_ = std::max(starves_, level);
  // That it passes where it starves is due to what was before that, or to what drains from lap to lap.
  const bool known = std::any_of(places_.begin(), places_.end(),
                                 [&](double time) { return std::abs(time - trouble.time) < one_place; });
  if (!known) suspect(trouble.time);
  if (known && before_ < further)
    before_ = further;
  else if (known || trouble.later)
    whole_ = true;
}

}  // namespace uadze::starvation
