#include "core/log/formula.h"

#include <fmt/format.h>
#include <muParser.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/log/cell.h"
#include "core/log/letters.h"

namespace uadze::log {
namespace {

/// Values a time: bounds what is held as doubles beside the log.
constexpr size_t rows_a_time = 1u << 16;

constexpr std::pair<const char*, double> constants[] = {
    {"bar", 1e5},     {"kPa", 1e3},         {"psi", 6894.757293168},
    {"g", 9.80665},   {"kmh", 1 / 3.6},     {"mph", 0.44704},
    {"litre", 1e-3},  {"l_h", 1e-3 / 3600}, {"deg", std::numbers::pi / 180},
    {"rpm", 1.0 / 60}};

[[noreturn]] void fail(const Formula& formula, std::string expected, std::string found) {
  throw InputError(Message{.file = {},
                           .place = "formula " + formula.name,
                           .expected = std::move(expected),
                           .found = std::move(found)});
}

}  // namespace

std::string identifier(std::string_view name) {
  std::string out;
  for (const std::string& word : words_of(name)) out += (out.empty() ? "" : "_") + word;
  // Letters of other alphabets are not read by the library.
  for (char& c : out)
    if (!is_digit(c) && !(c >= 'a' && c <= 'z')) c = '_';
  if (out.empty() || is_digit(out.front())) out = "c_" + out;
  return out;
}

void add_formula(Log& log, const Formula& formula) {
  if (trimmed(formula.name).empty()) fail(formula, "a name", "none");
  for (const Channel& c : log.channels)
    if (c.name == formula.name) fail(formula, "a name that no channel has", "\"" + formula.name + "\"");
  std::map<std::string, const Channel*> named;
  for (const Channel& c : log.channels)
    if (c.role != Role::none) named.emplace(name_of(c.role), &c);
  for (const Channel& c : log.channels) named.emplace(identifier(c.name), &c);
  const auto all_names = [&] {
    std::string out;
    for (const auto& [name, channel] : named) out += (out.empty() ? "" : ", ") + name;
    return out;
  };
  try {
    mu::Parser parser;
    std::map<std::string, std::vector<double>> columns;
    parser.SetExpr(formula.text);
    for (const auto& [name, value] : constants)
      if (!named.contains(name)) parser.DefineConst(name, value);
    // What the line names, before anything is known by it.
    const mu::varmap_type used_names = parser.GetUsedVar();  // the parser's own changes as names are given
    for (const auto& used : used_names) {
      const auto at = named.find(used.first);
      if (at == named.end()) fail(formula, "a channel's name: " + all_names(), "\"" + used.first + "\"");
      auto& column = columns[used.first];
      column.resize(std::min(rows_a_time, std::max<size_t>(log.size(), 1)));
      parser.DefineVar(used.first, column.data());
    }
    Channel made{.name = formula.name, .unit = formula.unit};
    made.values.resize(log.size());
    std::vector<double> results(rows_a_time);
    for (size_t first = 0; first < log.size(); first += rows_a_time) {
      const size_t n = std::min(rows_a_time, log.size() - first);
      for (auto& [name, column] : columns)
        std::copy_n(named.at(name)->values.begin() + static_cast<std::ptrdiff_t>(first), n, column.begin());
      if (columns.empty()) {
        // Nothing varies: the library's bulk evaluation wants something that does.
        std::fill_n(results.begin(), n, parser.Eval());
      } else {
        parser.Eval(results.data(), static_cast<int>(n));
      }
      std::transform(results.begin(), results.begin() + static_cast<std::ptrdiff_t>(n),
                     made.values.begin() + static_cast<std::ptrdiff_t>(first), [](double v) {
                       return std::isfinite(v) ? static_cast<float>(v)
                                               : std::numeric_limits<float>::quiet_NaN();
                     });
    }
    log.channels.push_back(std::move(made));
  } catch (const mu::Parser::exception_type& error) {
    fail(formula, "one line of names, numbers and operators; names: " + all_names(), error.GetMsg());
  }
}

void add_formulas(LogFile& file, const std::vector<Formula>& formulas) {
  for (const Formula& formula : formulas) add_formula(file.log, formula);
  file.mapping.formulas = formulas;
}

}  // namespace uadze::log
