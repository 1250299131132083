#include "core/log/heading.h"

#include <algorithm>
#include <array>
#include <map>

#include "core/log/cell.h"
#include "core/log/letters.h"

namespace uadze::log {
namespace {

/// Small letters, no blanks; signs written in one way.
std::string squeezed(std::string_view text) {
  static constexpr std::array<std::pair<std::string_view, std::string_view>, 9> signs{{{"²", "2"},
                                                                                       {"³", "3"},
                                                                                       {"º", "°"},
                                                                                       {"˚", "°"},
                                                                                       {"·", "*"},
                                                                                       {"µ", "u"},
                                                                                       {"μ", "u"},
                                                                                       {"^", ""},
                                                                                       {"−", "-"}}};
  std::string out;
  for (size_t i = 0; i < text.size();) {
    const auto sign = std::find_if(signs.begin(), signs.end(),
                                   [&](const auto& s) { return text.substr(i).starts_with(s.first); });
    if (sign != signs.end()) {
      out += sign->second;
      i += sign->first.size();
      continue;
    }
    if (text[i] != ' ') out += lower(text[i]);
    ++i;
  }
  return out;
}

/// What is written, squeezed, and the name that this application has for it.
const std::map<std::string, std::string, std::less<>>& aliases() {
  static const std::map<std::string, std::string, std::less<>>& all =
      *new std::map<std::string, std::string, std::less<>>{// time
                                                           {"s", "s"},
                                                           {"sec", "s"},
                                                           {"secs", "s"},
                                                           {"second", "s"},
                                                           {"seconds", "s"},
                                                           {"sek", "s"},
                                                           {"ms", "ms"},
                                                           {"msec", "ms"},
                                                           {"millis", "ms"},
                                                           {"milliseconds", "ms"},
                                                           {"us", "us"},
                                                           {"usec", "us"},
                                                           {"min", "min"},
                                                           {"h", "h"},
                                                           {"hr", "h"},
                                                           // length
                                                           {"m", "m"},
                                                           {"meter", "m"},
                                                           {"metre", "m"},
                                                           {"meters", "m"},
                                                           {"metres", "m"},
                                                           {"km", "km"},
                                                           {"mi", "mi"},
                                                           {"mile", "mi"},
                                                           {"miles", "mi"},
                                                           {"ft", "ft"},
                                                           {"feet", "ft"},
                                                           {"mm", "mm"},
                                                           {"cm", "cm"},
                                                           {"in", "in"},
                                                           {"inch", "in"},
                                                           // speed
                                                           {"km/h", "km/h"},
                                                           {"kmh", "km/h"},
                                                           {"kph", "km/h"},
                                                           {"kmph", "km/h"},
                                                           {"km/hr", "km/h"},
                                                           {"mph", "mph"},
                                                           {"mi/h", "mph"},
                                                           {"m/s", "m/s"},
                                                           {"mps", "m/s"},
                                                           {"m.s-1", "m/s"},
                                                           {"ms-1", "m/s"},
                                                           {"kn", "kn"},
                                                           {"knots", "kn"},
                                                           // acceleration
                                                           {"g", "g"},
                                                           {"gs", "g"},
                                                           {"g-force", "g"},
                                                           {"gforce", "g"},
                                                           {"m/s2", "m/s2"},
                                                           {"m/s/s", "m/s2"},
                                                           {"m.s-2", "m/s2"},
                                                           {"m/sec2", "m/s2"},
                                                           {"mps2", "m/s2"},
                                                           {"ms-2", "m/s2"},
                                                           {"mg", "mg"},
                                                           {"milli-g", "mg"},
                                                           // turning
                                                           {"deg/s", "deg/s"},
                                                           {"°/s", "deg/s"},
                                                           {"dps", "deg/s"},
                                                           {"deg/sec", "deg/s"},
                                                           {"rad/s", "rad/s"},
                                                           {"degrees/s", "deg/s"},
                                                           {"deg", "deg"},
                                                           {"°", "deg"},
                                                           {"degrees", "deg"},
                                                           {"rad", "rad"},
                                                           // rotation
                                                           {"rpm", "1/min"},
                                                           {"1/min", "1/min"},
                                                           {"u/min", "1/min"},
                                                           {"r/min", "1/min"},
                                                           {"rev/min", "1/min"},
                                                           {"min-1", "1/min"},
                                                           {"/min", "1/min"},
                                                           {"1/s", "1/s"},
                                                           {"hz", "1/s"},
                                                           // share
                                                           {"%", "%"},
                                                           {"pct", "%"},
                                                           {"percent", "%"},
                                                           {"per cent", "%"},
                                                           {"prozent", "%"},
                                                           {"1", "1"},
                                                           // pressure
                                                           {"bar", "bar"},
                                                           {"barg", "bar"},
                                                           {"bara", "bar"},
                                                           {"bar(g)", "bar"},
                                                           {"bar(a)", "bar"},
                                                           {"bargauge", "bar"},
                                                           {"barabs", "bar"},
                                                           {"psi", "psi"},
                                                           {"psig", "psi"},
                                                           {"psia", "psi"},
                                                           {"kpa", "kPa"},
                                                           {"kpag", "kPa"},
                                                           {"kpaa", "kPa"},
                                                           {"kpa(g)", "kPa"},
                                                           {"kpa(a)", "kPa"},
                                                           {"kpaabs", "kPa"},
                                                           {"pa", "Pa"},
                                                           {"mbar", "mbar"},
                                                           {"mb", "mbar"},
                                                           {"hpa", "mbar"},
                                                           {"mpa", "MPa"},
                                                           {"inhg", "inHg"},
                                                           // temperature
                                                           {"°c", "°C"},
                                                           {"c", "°C"},
                                                           {"degc", "°C"},
                                                           {"deg.c", "°C"},
                                                           {"celsius", "°C"},
                                                           {"grad c", "°C"},
                                                           {"°f", "°F"},
                                                           {"f", "°F"},
                                                           {"degf", "°F"},
                                                           {"fahrenheit", "°F"},
                                                           {"k", "K"},
                                                           {"kelvin", "K"},
                                                           // electric
                                                           {"v", "V"},
                                                           {"volt", "V"},
                                                           {"volts", "V"},
                                                           {"mv", "mV"},
                                                           {"a", "A"},
                                                           {"amp", "A"},
                                                           {"amps", "A"},
                                                           {"ampere", "A"},
                                                           {"ma", "mA"},
                                                           // fuel
                                                           {"l", "L"},
                                                           {"litre", "L"},
                                                           {"litres", "L"},
                                                           {"liter", "L"},
                                                           {"liters", "L"},
                                                           {"ml", "ml"},
                                                           {"cc", "cc"},
                                                           {"cm3", "cc"},
                                                           {"gal", "US gal"},
                                                           {"usgal", "US gal"},
                                                           {"l/h", "L/h"},
                                                           {"lph", "L/h"},
                                                           {"l/hr", "L/h"},
                                                           {"l/min", "L/min"},
                                                           {"lpm", "L/min"},
                                                           {"ml/s", "ml/s"},
                                                           {"cc/min", "cc/min"},
                                                           {"ml/min", "ml/min"},
                                                           {"gal/h", "US gal/h"},
                                                           {"gph", "US gal/h"},
                                                           {"usgal/h", "US gal/h"},
                                                           {"kg/h", "kg/h"},
                                                           {"lb/h", "lb/h"},
                                                           {"lb/hr", "lb/h"},
                                                           {"g/s", "g/s"},
                                                           {"kg/s", "kg/s"},
                                                           {"kg", "kg"},
                                                           // mixture
                                                           {"lambda", "lambda"},
                                                           {"la", "lambda"},
                                                           {"λ", "lambda"},
                                                           {"afr", "AFR"},
                                                           {"kg/kg", "kg/kg"},
                                                           // none
                                                           {"laps", "laps"},
                                                           {"nm", "Nm"}};
  return all;
}

bool says_nothing(std::string_view squeezed_text) {
  return squeezed_text.empty() || squeezed_text == "-" || squeezed_text == "--" || squeezed_text == "none" ||
         squeezed_text == "n/a" || squeezed_text == "*" || squeezed_text == "null";
}

/// Without the brackets that stand round the whole of it.
std::string_view out_of_brackets(std::string_view text) {
  text = trimmed(text);
  static constexpr std::string_view opening = "[({<", closing = "])}>";
  if (text.size() >= 2)
    if (const size_t k = opening.find(text.front()); k != std::string_view::npos && text.back() == closing[k])
      return trimmed(text.substr(1, text.size() - 2));
  return text;
}

}  // namespace

std::string known_unit(std::string_view text) {
  text = out_of_brackets(text);
  const std::string plain = squeezed(text);
  if (says_nothing(plain)) return "";
  const auto known = aliases().find(plain);
  return known == aliases().end() ? std::string(text) : known->second;
}

bool is_unit(std::string_view text) { return aliases().contains(squeezed(out_of_brackets(text))); }

Heading heading(std::string_view text) {
  text = trimmed(text);
  static constexpr std::string_view opening = "[({<", closing = "])}>";
  for (size_t k = 0; k < opening.size(); ++k) {
    const size_t close = text.rfind(closing[k]);
    if (close == std::string_view::npos) continue;
    // Brackets within, as in "[bar(g)]": the outermost opening one that fits.
    const size_t open = text.find(opening[k]);
    if (open == std::string_view::npos || open > close) continue;
    const std::string_view inside = trimmed(text.substr(open + 1, close - open - 1));
    const std::string name(trimmed(text.substr(0, open)));
    const bool last = trimmed(text.substr(close + 1)).empty();
    if (!last || name.empty()) continue;
    // Round brackets hold remarks as well as units.
    if (k == 0 || is_unit(inside) || says_nothing(squeezed(inside)) || inside.size() <= 6)
      return {name, std::string(inside)};
  }
  // Behind the name: the longest end that is a unit of two letters or more, or a sign.
  for (size_t i = 1; i + 1 < text.size(); ++i) {
    const char c = text[i];
    if (c != ' ' && c != '_' && c != ',' && c != '|' && c != '/' && c != ':') continue;
    const std::string_view name = trimmed(text.substr(0, i)), unit = trimmed(text.substr(i + 1));
    if (name.empty() || unit.empty() || !is_unit(unit)) continue;
    const bool letter = unit.size() == 1 && is_letter(unit[0]);
    const bool index = unit.size() == 1 && is_digit(unit[0]);
    // "Pump_A" and "Sensor 1" are names; "time_s", "speed / m" are not.
    static constexpr std::string_view letters = "sgV%";
    if (index ||
        (letter && letters.find(unit[0]) == std::string_view::npos && c != ',' && c != '|' && c != '/'))
      continue;
    const std::string plain = squeezed(unit);
    if (plain == "lambda" || plain == "la" || plain == "afr" || plain == "in" || plain == "laps") continue;
    return {std::string(name), std::string(unit)};
  }
  return {std::string(text), ""};
}

std::vector<std::string> words_of(std::string_view name) {
  std::vector<std::string> out;
  std::string word;
  const auto end = [&] {
    if (!word.empty()) out.push_back(word);
    word.clear();
  };
  for (size_t i = 0; i < name.size(); ++i) {
    const char c = name[i];
    if (!is_letter(c) && !is_digit(c)) {
      end();
      continue;
    }
    const bool after_small = i > 0 && name[i - 1] >= 'a' && name[i - 1] <= 'z';
    const bool before_small = i + 1 < name.size() && name[i + 1] >= 'a' && name[i + 1] <= 'z';
    const bool after_upper = i > 0 && is_upper(name[i - 1]);
    if (is_upper(c) && (after_small || (after_upper && before_small))) end();
    if (i > 0 && is_digit(c) != is_digit(name[i - 1])) end();
    word += lower(c);
  }
  end();
  return out;
}

}  // namespace uadze::log
