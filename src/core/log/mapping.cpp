#include "core/log/mapping.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/log/letters.h"

namespace uadze::log {
namespace {

/// The sampled cells of a column as numbers, and how many were none.
struct Looks {
  std::vector<double> values;
  size_t clocks = 0, dates = 0, filled = 0;

  /// Of their amounts.
  double percentile(double share) const {
    if (values.empty()) return 0;
    std::vector<double> sizes;
    for (double v : values) sizes.push_back(std::abs(v));
    const auto at =
        sizes.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(sizes.size() - 1));
    std::nth_element(sizes.begin(), at, sizes.end());
    return *at;
  }
  bool constant() const {
    return values.size() > 3 &&
           std::all_of(values.begin(), values.end(), [&](double v) { return v == values[0]; });
  }
  bool rising() const {
    size_t up = 0, down = 0;
    for (size_t i = 1; i < values.size(); ++i)
      up += values[i] > values[i - 1], down += values[i] < values[i - 1];
    return up > 0 && down * 20 <= up && (up + down) * 4 > values.size();
  }
};

Looks looks_of(const Layout& layout, const std::vector<std::vector<std::string>>& sample, size_t column) {
  Looks out;
  for (const auto& row : sample) {
    if (column >= row.size() || is_missing(row[column])) continue;
    ++out.filled;
    if (const auto value = number(row[column], layout.style))
      out.values.push_back(*value);
    else if (date_days(row[column]))
      ++out.dates;
    else if (clock_seconds(row[column]))
      ++out.clocks;
  }
  return out;
}

struct Fit {
  double score = 0.0;
  std::string unit, why;
};

Fit fit_of(const RoleInfo& role, const Heading& heading, const Looks& looks) {
  const double name = name_score(role, heading.name);
  const std::string said = known_unit(heading.unit);
  const auto unit = said.empty() ? std::nullopt : unit_for(role.role, said);
  Fit out;
  double score = name;
  std::string why = name > 0.9 ? "name" : name > 0 ? "part of the name" : "";
  // Some units name their channel by themselves.
  if (score < 0.4 && unit) {
    const bool telling = (role.role == Role::speed && (said == "km/h" || said == "mph")) ||
                         (role.role == Role::rpm && said == "1/min") ||
                         (role.role == Role::lambda && said != "%" && said != "1" && said != "kg/kg") ||
                         (role.role == Role::yaw_rate && said == "deg/s") ||
                         (role.role == Role::fuel_flow && said == "L/h") ||
                         (role.role == Role::time && said == "s" && looks.rising());
    if (telling && score == 0) score = 0.4, why = "unit";
  }
  if (role.role == Role::time && looks.clocks * 2 > looks.filled) {
    // A clock time is a time whatever else is said of it.
    return {std::max(0.5, name), "s", name > 0 ? "name and look (clock time)" : "look (clock time)"};
  }
  if (role.role == Role::date)
    return looks.dates * 2 > looks.filled && looks.filled ? Fit{0.9, "", "look (dates)"} : Fit{};
  if (score == 0 || looks.dates || looks.clocks) return out;
  if (!said.empty() && said != "1") {
    score *= unit ? 1.0 : is_unit(heading.unit) ? 0.12 : 0.6;
    if (unit && name > 0) why += ", unit";
  } else {
    score *= 0.85;
  }
  // Fuel by volume or by mass: the unit decides, and without one it is by volume.
  if (role.role == Role::fuel_mass_flow && !unit) return out;
  out.unit = unit ? said : unit_by_size(role.role, looks.percentile(0.5), looks.percentile(0.98));
  if (!unit && !looks.values.empty() && !out.unit.empty()) why += ", unit by its size";
  if (looks.values.empty()) {
    score *= looks.filled ? 0.2 : 0.5;
  } else if (const auto of = unit_for(role.role, out.unit)) {
    size_t inside = 0;
    for (double v : looks.values) inside += of->to_si(v) >= role.low && of->to_si(v) <= role.high;
    const double share = static_cast<double>(inside) / static_cast<double>(looks.values.size());
    if (share < 0.9) score *= 0.35 + 0.4 * share, why += ", but values out of range";
    if (role.varies && looks.constant()) score *= 0.8;
  }
  if (role.role == Role::time && !looks.rising() && looks.values.size() > 3) score *= 0.3;
  out.score = score, out.why = why;
  return out;
}

Against against_of(Role role, const Heading& heading, const Looks& looks) {
  const std::string text = lowered(heading.unit);
  const auto ends = [&](std::initializer_list<const char*> marks) {
    return std::any_of(marks.begin(), marks.end(),
                       [&](const char* m) { return text.ends_with(m) || text.find(m) == 0; });
  };
  if (ends({"barg", "psig", "kpag", "(g)", "gauge"})) return Against::air;
  if (ends({"bara", "psia", "kpaa", "(a)", "abs"})) return Against::vacuum;
  const auto words = words_of(heading.name);
  const auto has = [&](const char* word) {
    return std::find(words.begin(), words.end(), word) != words.end();
  };
  if (has("abs") || has("absolute") || has("map")) return Against::vacuum;
  if (has("gauge") || has("rel") || has("relative")) return Against::air;
  if (role == Role::air_pressure) return Against::vacuum;
  // A manifold's figure that is never negative and stands well over nothing at closed throttle is absolute.
  if (role == Role::manifold_pressure)
    return std::any_of(looks.values.begin(), looks.values.end(), [](double v) { return v < 0; }) ||
                   has("boost")
               ? Against::air
               : Against::vacuum;
  return Against::air;
}

}  // namespace

std::optional<size_t> Mapping::column_of(Role role) const {
  for (size_t i = 0; i < columns.size(); ++i)
    if (columns[i].role == role) return i;
  return std::nullopt;
}

Mapping propose(const Layout& layout, const std::vector<std::vector<std::string>>& sample) {
  struct Choice {
    double score;
    size_t column;
    const RoleInfo* role;
    Fit fit;
  };
  std::vector<Choice> choices;
  std::vector<Looks> looks;
  for (size_t c = 0; c < layout.columns.size(); ++c) {
    looks.push_back(looks_of(layout, sample, c));
    for (const RoleInfo& role : roles())
      if (Fit fit = fit_of(role, layout.columns[c], looks[c]); fit.score >= 0.3)
        choices.push_back({fit.score, c, &role, std::move(fit)});
  }
  std::stable_sort(choices.begin(), choices.end(),
                   [](const Choice& a, const Choice& b) { return a.score > b.score; });
  Mapping out;
  for (const Heading& h : layout.columns)
    out.columns.push_back({.column = h.name, .unit = known_unit(h.unit)});
  std::set<Role> taken;
  for (const Choice& choice : choices) {
    ColumnUse& use = out.columns[choice.column];
    if (use.role != Role::none || taken.contains(choice.role->role)) continue;
    // What is nearly as likely elsewhere is less sure.
    double rival = 0;
    for (const Choice& other : choices)
      if (&other != &choice && (other.column == choice.column || other.role == choice.role) &&
          out.columns[other.column].role == Role::none && !taken.contains(other.role->role))
        rival = std::max(rival, other.score);
    taken.insert(choice.role->role);
    use.role = choice.role->role;
    use.unit = choice.fit.unit;
    use.why = choice.fit.why;
    use.sure = std::clamp(choice.score - 0.5 * std::max(0.0, rival - 0.6 * choice.score), 0.05, 0.99);
    use.against = against_of(use.role, layout.columns[choice.column], looks[choice.column]);
  }
  // Without a column called so, the first that only rises is the time.
  if (!taken.contains(Role::time))
    for (size_t c = 0; c < looks.size() && c < 2; ++c)
      if (out.columns[c].role == Role::none && looks[c].rising() && !(layout.header_line && c > 0)) {
        out.columns[c].role = Role::time;
        out.columns[c].unit = unit_for(Role::time, known_unit(layout.columns[c].unit))
                                  ? known_unit(layout.columns[c].unit)
                                  : "s";
        out.columns[c].sure = 0.4;
        out.columns[c].why = "look (it only rises)";
        break;
      }
  if (!out.column_of(Role::time)) out.rate = layout.said_rate;
  // Accelerations of one sensor have one unit; where none is said the largest says which.
  double high = 0;
  std::vector<size_t> unsaid;
  for (Role role : {Role::lat_acc, Role::long_acc, Role::vert_acc})
    if (const auto c = out.column_of(role); c && known_unit(layout.columns[*c].unit).empty()) {
      unsaid.push_back(*c);
      high = std::max(high, looks[*c].percentile(0.98));
    }
  for (size_t c : unsaid) out.columns[c].unit = unit_by_size(Role::lat_acc, high, high);
  // Milliseconds without a word for them: steps of whole numbers that no logger has in seconds.
  if (const auto t = out.column_of(Role::time); t && known_unit(layout.columns[*t].unit).empty()) {
    std::vector<double> steps;
    for (size_t i = 1; i < looks[*t].values.size(); ++i)
      if (const double step = looks[*t].values[i] - looks[*t].values[i - 1]; step > 0) steps.push_back(step);
    if (steps.size() > 3) {
      std::nth_element(steps.begin(), steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2),
                       steps.end());
      const double step = steps[steps.size() / 2];
      if (step >= 900 && step == std::floor(step))
        out.columns[*t].unit = "us", out.columns[*t].why += ", microseconds by its steps";
      else if (step >= 2 && step == std::floor(step))
        out.columns[*t].unit = "ms", out.columns[*t].why += ", milliseconds by its steps";
    }
  }
  return out;
}

ContentKey header_key(const Layout& layout) {
  KeyMaker key;
  for (const Heading& h : layout.columns) key.add(h.name).add(h.unit);
  return key.key();
}

Mapping applied(const Mapping& wanted, const Mapping& proposed) {
  Mapping out = proposed;
  Messages faults;
  for (const ColumnUse& use : wanted.columns) {
    const auto at = std::find_if(out.columns.begin(), out.columns.end(),
                                 [&](const ColumnUse& c) { return c.column == use.column; });
    if (at == out.columns.end()) {
      std::string names;
      for (const ColumnUse& c : out.columns) names += (names.empty() ? "\"" : ", \"") + c.column + "\"";
      faults.push_back({.place = "the mapping's columns",
                        .expected = "a column of the log: " + names,
                        .found = "\"" + use.column + "\""});
      continue;
    }
    for (ColumnUse& c : out.columns)
      if (c.role == use.role && use.role != Role::none && c.column != use.column) c.role = Role::none;
    const std::string told = at->unit;
    *at = use;
    if (at->unit.empty()) at->unit = told;
  }
  if (wanted.rate) out.rate = wanted.rate;
  if (!faults.empty()) throw InputError(faults);
  return out;
}

}  // namespace uadze::log
