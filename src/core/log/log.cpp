#include "core/log/log.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstring>
#include <limits>
#include <mutex>

#include "core/base/counted.h"
#include "core/base/series.h"
#include "core/log/can_text.h"
#include "core/log/letters.h"
#include "core/log/rows.h"
#include "core/log/text.h"

namespace uadze::log {
namespace {

struct Chunk {
  std::string_view text;
  size_t first_line = 0;  // from 1
  size_t first_row = 0, rows = 0;
};

struct BadCell {
  size_t line = 0, column = 0;
  std::string found;
};

/// The table's rows, cell by cell into columns.
class TableReader {
 public:
  TableReader(std::string_view text, const Layout& layout, const Mapping& mapping, const std::string& file,
              const TextFile* source, Progress* progress)
      : text_(text), layout_(layout), mapping_(mapping), file_(file), source_(source), progress_(progress) {}

  Read<Log> run() {
    choose();
    cut();
    read();
    judge_cells();
    Rows rows{.clock = std::move(clock_),
              .date = std::move(date_),
              .channels = std::move(channels_),
              .first_line = layout_.first_row};
    if (const auto t = mapping_.column_of(Role::time)) rows.clock_name = layout_.columns[*t].name;
    Log log = settled(std::move(rows), file_, notes_);
    return {std::move(log), std::move(notes_)};
  }

 private:
  struct Wanted {
    size_t column;
    Unit unit;
    bool timed = false;  // goes into `clock_`, not into a channel
    bool date = false;
    size_t channel = 0;
  };

  void say(Severity severity, std::string place, std::string expected, std::string found) {
    notes_.push_back({severity, file_, std::move(place), std::move(expected), std::move(found)});
  }

  void choose() {
    const auto& columns = mapping_.columns;
    if (!mapping_.column_of(Role::time) && !mapping_.rate) {
      std::string names;
      for (const Heading& h : layout_.columns) names += (names.empty() ? "" : ", ") + h.name;
      say(Severity::error, fmt::format("line {}", std::max<size_t>(layout_.header_line, 1)),
          "a column of times, or how many rows there are a second", "only: " + names);
      throw InputError(notes_);
    }
    for (size_t c = 0; c < columns.size() && c < layout_.columns.size(); ++c) {
      const ColumnUse& use = columns[c];
      Wanted w{.column = c, .unit = {"", 1.0}};
      if (use.role != Role::none && use.role != Role::date) {
        const auto unit = unit_for(use.role, use.unit);
        const bool clock = use.role == Role::time;
        if (!unit && !(clock && use.unit.empty()) && info_of(use.role).quantity != Quantity::plain &&
            info_of(use.role).quantity != Quantity::count) {
          std::string units;
          for (const Unit& u : known_units(info_of(use.role).quantity))
            if (!u.name.empty()) units += (units.empty() ? "" : ", ") + std::string(u.name);
          say(Severity::error, fmt::format("column {}", use.column),
              fmt::format("a unit of {}: {}", info_of(use.role).label, units),
              use.unit.empty() ? "none" : "\"" + use.unit + "\"");
          continue;
        }
        if (unit) w.unit = *unit;
      }
      w.timed = use.role == Role::time;
      w.date = use.role == Role::date;
      if (!w.timed && !w.date) {
        w.channel = channels_.size();
        const bool role = use.role != Role::none;
        channels_.push_back({.name = use.column,
                             .unit = role ? "" : use.unit,
                             .role = use.role,
                             .against = use.against,
                             .between = role ? info_of(use.role).between : Between::straight,
                             .values = {}});
      }
      wanted_.push_back(w);
    }
    if (has_errors(notes_)) throw InputError(notes_);
  }

  /// The text under the header in pieces of whole lines, with the rows of each counted.
  void cut() {
    size_t begin = 0;
    for (size_t line = 1; line < layout_.first_row && begin < text_.size(); ++line) begin = after_line(begin);
    const std::string_view body = text_.substr(begin);
    const size_t piece = std::max<size_t>(size_t{1} << 20, body.size() / 64);
    for (size_t at = 0; at < body.size();) {
      size_t end = std::min(at + piece, body.size());
      if (end < body.size()) {
        const size_t line = body.find_first_of("\r\n", end);
        end = line == std::string_view::npos ? body.size() : line + 1;
        if (end < body.size() && body[end - 1] == '\r' && body[end] == '\n') ++end;
      }
      chunks_.push_back({.text = body.substr(at, end - at)});
      at = end;
    }
    tbb::parallel_for(size_t{0}, chunks_.size(), [&](size_t k) {
      const std::string_view t = chunks_[k].text;
      size_t rows = static_cast<size_t>(std::count(t.begin(), t.end(), '\n'));
      // Old line ends.
      if (rows == 0) rows = static_cast<size_t>(std::count(t.begin(), t.end(), '\r'));
      chunks_[k].rows = rows + (!t.empty() && t.back() != '\n' && t.back() != '\r');
      if (source_) source_->let_go(t);
    });
    size_t row = 0;
    for (Chunk& chunk : chunks_) {
      chunk.first_row = row;
      chunk.first_line = layout_.first_row + row;
      row += chunk.rows;
    }
    rows_ = row;
  }

  size_t after_line(size_t at) const {
    const size_t end = text_.find_first_of("\r\n", at);
    if (end == std::string_view::npos) return text_.size();
    return end + (text_.substr(end).starts_with("\r\n") ? 2 : 1);
  }

  void read() {
    // The clock's bit patterns of rows that are none stay as they are here.
    clock_.assign(rows_, std::numeric_limits<double>::quiet_NaN());
    if (mapping_.column_of(Role::date)) date_.assign(rows_, 0);
    for (Channel& c : channels_) c.values.assign(rows_, blank_cell);
    bad_count_.assign(layout_.columns.size(), 0);
    filled_.assign(layout_.columns.size(), 0);
    std::atomic<size_t> done{0};
    tbb::parallel_for(size_t{0}, chunks_.size(), [&](size_t k) {
      if (progress_ && progress_->cancelled()) return;
      read_chunk(chunks_[k]);
      if (source_) source_->let_go(chunks_[k].text);
      if (progress_)
        progress_->report(0.9 * static_cast<double>(++done) / static_cast<double>(chunks_.size()));
    });
    if (progress_) progress_->check();
  }

  void read_chunk(const Chunk& chunk) {
    std::vector<std::string_view> cells;
    std::vector<size_t> bad(layout_.columns.size(), 0), filled(layout_.columns.size(), 0);
    std::vector<BadCell> first;
    size_t row = chunk.first_row, line = chunk.first_line, passed = 0, first_passed = 0;
    std::string_view rest = chunk.text;
    const bool timed = mapping_.column_of(Role::time).has_value();
    for (; !rest.empty(); ++row, ++line) {
      size_t end = rest.find('\n');
      if (end == std::string_view::npos) end = rest.find('\r');
      const std::string_view text = rest.substr(0, end);
      rest.remove_prefix(end == std::string_view::npos ? rest.size() : end + 1);
      if (trimmed(text).empty()) continue;
      split(text, layout_.separator, cells);
      // A row with less than half of the columns, or one of words, is none of the table's: a header again,
      // a preamble of a file that was joined, a remark.
      if (const bool heading = words_only(cells); heading) {
        if (!is_heading_again(text.ends_with('\r') ? text.substr(0, text.size() - 1) : text, layout_) &&
            passed++ == 0)
          first_passed = line;
        continue;
      }
      bool spoke = !timed;
      for (const Wanted& w : wanted_) {
        if (w.column >= cells.size()) continue;
        const std::string_view cell = cells[w.column];
        if (cell.empty()) continue;
        if (w.date) {
          if (const auto days = date_days(cell)) date_[row] = *days;
          continue;
        }
        auto value = number(cell, layout_.style);
        if (w.timed && !value) value = clock_seconds(cell);
        if (!value) {
          if (is_missing(cell)) continue;
          value = truth(cell);
        }
        ++filled[w.column];
        if (!value) {
          if (bad[w.column]++ < 2) first.push_back({line, w.column, std::string(cell.substr(0, 40))});
          continue;
        }
        const double si = w.unit.to_si(*value);
        if (w.timed)
          clock_[row] = si, spoke = true;
        else
          channels_[w.channel].values[row] =
              static_cast<float>(mapping_.columns[w.column].reversed ? -si : si);
      }
      if (!timed && spoke) clock_[row] = static_cast<double>(row) / *mapping_.rate;
    }
    const std::lock_guard lock(mutex_);
    for (size_t c = 0; c < bad.size(); ++c) bad_count_[c] += bad[c], filled_[c] += filled[c];
    bad_.insert(bad_.end(), first.begin(), first.end());
    passed_ += passed;
    if (passed && (first_passed_ == 0 || first_passed < first_passed_)) first_passed_ = first_passed;
  }

  static bool words_only(const std::vector<std::string_view>& cells) {
    size_t words = 0, values = 0;
    for (std::string_view cell : cells) {
      if (cell.empty()) continue;
      const char c = cell[0];
      const bool number_like = (c >= '0' && c <= '9') || c == '-' || c == '+' || c == '.' || c == ',';
      if (number_like)
        if (++values > 1) return false;
      words += !number_like && !is_missing(cell);
    }
    return values == 0 || words > 2 * values;
  }

  /// Switches as words.
  static std::optional<double> truth(std::string_view cell) {
    const std::string word = lowered(cell.substr(0, 6));
    if (word == "on" || word == "true" || word == "yes") return 1.0;
    if (word == "off" || word == "false" || word == "no") return 0.0;
    return std::nullopt;
  }

  void judge_cells() {
    std::sort(bad_.begin(), bad_.end(), [](const BadCell& a, const BadCell& b) {
      return std::pair(a.line, a.column) < std::pair(b.line, b.column);
    });
    std::vector<size_t> told(bad_count_.size(), 0);
    for (const BadCell& cell : bad_) {
      const size_t count = bad_count_[cell.column];
      const Role role = mapping_.columns[cell.column].role;
      if (told[cell.column]++ >= 2) continue;
      const bool many = count * 20 > filled_[cell.column];
      // A column of words without a role is no channel.
      if (role == Role::none && many) continue;
      const std::string more = count > 1 ? fmt::format(" ({} such cells in that column)", count) : "";
      say(many ? Severity::error : Severity::warning,
          fmt::format("line {}, column {}", cell.line, layout_.columns[cell.column].name),
          role == Role::time ? "a time" : "a number",
          "\"" + cell.found + "\"" + (told[cell.column] == 1 ? more : ""));
    }
    if (passed_)
      say(Severity::note, fmt::format("line {}", first_passed_), "",
          counted(passed_, "line") + " of words between the rows passed over");
    if (has_errors(notes_)) throw InputError(notes_);
    std::vector<bool> words(channels_.size(), false);
    for (const Wanted& w : wanted_)
      if (!w.timed && !w.date && mapping_.columns[w.column].role == Role::none)
        words[w.channel] = bad_count_[w.column] * 20 > filled_[w.column];
    size_t k = 0;
    std::erase_if(channels_, [&](const Channel&) { return words[k++]; });
  }

  std::string_view text_;
  const Layout& layout_;
  const Mapping& mapping_;
  const std::string& file_;
  const TextFile* source_;
  Progress* progress_;
  Messages notes_;
  std::vector<Channel> channels_;
  std::vector<Wanted> wanted_;
  std::vector<Chunk> chunks_;
  size_t rows_ = 0;
  std::vector<double> clock_;
  std::vector<int> date_;
  std::mutex mutex_;
  std::vector<BadCell> bad_;
  std::vector<size_t> bad_count_, filled_;
  size_t passed_ = 0, first_passed_ = 0;
};

Read<LogFile> read_table(std::string_view text, const std::string& file, const Mapping* mapping,
                         const TextFile* source, Progress* progress) {
  LogFile out;
  Mapping proposed;
  try {
    out.layout = find_layout(text);
    out.mapping = propose(out.layout, sample_rows(text, out.layout, 2000));
    if (mapping) out.mapping = applied(*mapping, out.mapping);
  } catch (const InputError& error) {
    Messages named = error.messages();
    for (Message& m : named)
      if (m.file.empty()) m.file = file;
    throw InputError(named);
  }
  auto read = TableReader(text, out.layout, out.mapping, file, source, progress).run();
  out.log = std::move(read.value);
  return {std::move(out), std::move(read.notes)};
}

}  // namespace

const Channel* Log::channel(Role role) const {
  for (const Channel& c : channels)
    if (c.role == role) return &c;
  return nullptr;
}

std::span<const float> Log::values(Role role) const {
  const Channel* c = channel(role);
  return c ? std::span<const float>(c->values) : std::span<const float>();
}

size_t Log::index_at(double t) const { return last_until(time, t); }

double Log::step() const {
  std::vector<double> steps;
  const size_t stride = std::max<size_t>(1, time.size() / 5000);
  for (size_t i = stride; i < time.size(); i += stride) steps.push_back(time[i] - time[i - 1]);
  if (steps.empty()) return 0.0;
  std::nth_element(steps.begin(), steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2), steps.end());
  return steps[steps.size() / 2];
}

Read<Log> parse_log(std::string_view text, const std::string& file, const Mapping* mapping,
                    Progress* progress) {
  auto read = read_text(text, file, mapping, progress);
  return {std::move(read.value.log), std::move(read.notes)};
}

Read<LogFile> read_text(std::string_view text, const std::string& file, const Mapping* mapping,
                        Progress* progress) {
  auto read = read_table(text, file, mapping, nullptr, progress);
  read.value.encoding = "UTF-8";
  return read;
}

Read<LogFile> read_log(const std::filesystem::path& path, const Mapping* mapping,
                       const std::vector<Signal>& signal_table, Progress* progress) {
  const TextFile file(path, progress);
  if (looks_like_can(file.text()))
    return parse_can(file.text(), signal_table, file.name(), mapping, progress);
  auto read = read_table(file.text(), file.name(), mapping, &file, progress);
  read.value.encoding = file.encoding();
  return read;
}

}  // namespace uadze::log
