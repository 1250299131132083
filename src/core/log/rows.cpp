#include "core/log/rows.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace uadze::log {
namespace {

/// s; the clock of one part never steps further.
constexpr double longest_step = 60.0;
constexpr double day = 86400.0;

class Settler {
 public:
  Settler(Rows&& rows, const std::string& file, Messages& notes)
      : rows_(std::move(rows)), file_(file), notes_(notes) {}

  Log run() {
    make_time();
    finish();
    log_.channels = std::move(rows_.channels);
    return std::move(log_);
  }

 private:
  void say(Severity severity, std::string place, std::string expected, std::string found) {
    notes_.push_back({severity, file_, std::move(place), std::move(expected), std::move(found)});
  }

  /// The rows' clock as one time that only rises; rows of the same moment become one.
  void make_time() {
    std::vector<std::uint32_t> rows;
    rows.reserve(rows_.clock.size());
    for (size_t r = 0; r < rows_.clock.size(); ++r)
      if (!std::isnan(rows_.clock[r])) rows.push_back(static_cast<std::uint32_t>(r));
    if (rows.size() < 2) {
      say(Severity::error, fmt::format("line {}", rows_.first_line), "at least 2 rows with a time",
          fmt::format("{}", rows.size()));
      throw InputError(notes_);
    }
    if (!rows_.date.empty()) {
      int last = 0;
      for (const std::uint32_t r : rows) {
        if (rows_.date[r]) last = rows_.date[r];
        if (rows_.clock[r] < 2 * day) rows_.clock[r] += last * day;
      }
    }
    spread_coarse_clock(rows);
    std::vector<double> steps;
    for (size_t k = 1; k < rows.size() && steps.size() < 20000; ++k)
      if (const double step = rows_.clock[rows[k]] - rows_.clock[rows[k - 1]]; step > 0)
        steps.push_back(step);
    if (steps.empty()) {
      say(Severity::error, "column " + rows_.clock_name, "times that rise",
          fmt::format("{:.6g} s throughout", rows_.clock[rows[0]]));
      throw InputError(notes_);
    }
    const auto middle = steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2);
    std::nth_element(steps.begin(), middle, steps.end());
    const double usual = *middle;
    if (usual > longest_step) {
      say(Severity::error, "column " + rows_.clock_name, "steps of less than a minute",
          fmt::format("steps of {:.4g} s: in which unit is the time?", usual));
      throw InputError(notes_);
    }

    log_.begin = rows_.clock[rows[0]];
    log_.parts = {0};
    keep_.reserve(rows.size());
    log_.time.reserve(rows.size());
    double offset = -rows_.clock[rows[0]], last = 0;
    size_t repeated = 0, back = 0, leaps = 0;
    for (const std::uint32_t r : rows) {
      double t = rows_.clock[r] + offset;
      if (keep_.empty()) {
        keep_.push_back(r), log_.time.push_back(0.0);
        continue;
      }
      if (t < last - 0.5 * usual && t + day >= last && t + day - last < longest_step)
        offset += day, t += day;  // midnight
      if (t < last - 0.5 * usual || t > last + longest_step) {
        const bool backward = t < last;
        if ((backward ? back : leaps)++ < 3)
          say(Severity::warning, fmt::format("line {}, column {}", rows_.first_line + r, rows_.clock_name),
              fmt::format("a time after {:.6g} s", last + log_.begin),
              fmt::format("{:.6g} s: the clock {}; a new part of the log begins", rows_.clock[r],
                          backward ? "runs back" : "leaps"));
        offset = last + usual - rows_.clock[r];
        t = last + usual;
        log_.parts.push_back(log_.time.size());
      } else if (t <= last) {
        // Channels of other rates have rows of their own at one moment.
        bool conflict = false;
        for (Channel& c : rows_.channels) {
          float &there = c.values[keep_.back()], here = c.values[r];
          if (std::isnan(there))
            there = here;
          else if (!std::isnan(here) && here != there)
            conflict = true;
        }
        if (conflict && repeated++ == 0) first_repeated_ = rows_.first_line + r;
        continue;
      }
      keep_.push_back(r), log_.time.push_back(t);
      last = t;
    }
    if (repeated)
      say(Severity::warning, fmt::format("line {}, column {}", first_repeated_, rows_.clock_name),
          "a later time", fmt::format("the same time again; {} such rows are left out", repeated));
    if (back + leaps > 3)
      say(Severity::warning, "column " + rows_.clock_name, "",
          fmt::format("{} leaps of the clock in all", back + leaps));
    if (log_.time.size() < 2) {
      say(Severity::error, "column " + rows_.clock_name, "at least 2 different times", "1");
      throw InputError(notes_);
    }
  }

  /// A clock of whole seconds with many rows to each: the rows of a second lie evenly in it.
  void spread_coarse_clock(const std::vector<std::uint32_t>& rows) {
    size_t same = 0, conflicts = 0;
    for (size_t k = 1; k < std::min<size_t>(rows.size(), 5000); ++k)
      if (rows_.clock[rows[k]] == rows_.clock[rows[k - 1]]) {
        ++same;
        bool shared = false;
        for (const Channel& c : rows_.channels)
          shared = shared || (!std::isnan(c.values[rows[k]]) && !std::isnan(c.values[rows[k - 1]]));
        conflicts += shared;
      }
    const size_t looked = std::min<size_t>(rows.size(), 5000);
    if (conflicts * 2 < looked || same == 0 || same + 1 == rows.size()) return;
    size_t most = 1;
    for (size_t k = 0; k < rows.size();) {
      size_t end = k + 1;
      while (end < rows.size() && rows_.clock[rows[end]] == rows_.clock[rows[k]]) ++end;
      most = std::max(most, end - k);
      k = end;
    }
    double tick = 0;
    for (size_t k = 0; k < rows.size();) {
      size_t end = k + 1;
      const double at = rows_.clock[rows[k]];
      while (end < rows.size() && rows_.clock[rows[end]] == at) ++end;
      if (end < rows.size() && rows_.clock[rows[end]] > at && rows_.clock[rows[end]] - at < longest_step)
        tick = rows_.clock[rows[end]] - at;
      // The first second may have begun before the log: its rows are the last of it.
      const size_t n = end - k, empty = k == 0 ? most - n : 0;
      for (size_t i = k; i < end; ++i)
        rows_.clock[rows[i]] =
            at + tick * static_cast<double>(i - k + empty) /
                     static_cast<double>(std::max(n + empty, end == rows.size() ? most : n));
      k = end;
    }
    say(Severity::note, "column " + rows_.clock_name, "",
        fmt::format("the clock moves once in {} rows: they are spread evenly", most));
  }

  void finish() {
    const bool all_kept = keep_.size() == rows_.clock.size();
    for (size_t k = 0; k < rows_.channels.size(); ++k) {
      auto& values = rows_.channels[k].values;
      if (!all_kept) {
        for (size_t i = 0; i < keep_.size(); ++i) values[i] = values[keep_[i]];
        values.resize(keep_.size());
        values.shrink_to_fit();
      }
    }
    std::vector<double>().swap(rows_.clock);
    tbb::parallel_for(size_t{0}, rows_.channels.size(), [&](size_t k) { fill(rows_.channels[k]); });
    std::string silent;
    for (const Channel& c : rows_.channels)
      if (c.values.empty() || std::isnan(c.values[0])) silent += (silent.empty() ? "" : ", ") + c.name;
    if (!silent.empty()) say(Severity::note, "", "", "without any value: " + silent);
    std::erase_if(rows_.channels,
                  [](const Channel& c) { return c.values.empty() || std::isnan(c.values[0]); });
    if (rows_.channels.empty()) {
      say(Severity::error, fmt::format("line {}", rows_.first_line), "a channel beside the time",
          "none with values");
      throw InputError(notes_);
    }
  }

  /// Blank moments of a channel, part by part.
  void fill(Channel& c) {
    for (size_t p = 0; p < log_.parts.size(); ++p) {
      const size_t begin = log_.parts[p],
                   end = p + 1 < log_.parts.size() ? log_.parts[p + 1] : log_.time.size();
      size_t last = end;
      for (size_t i = begin; i < end; ++i) {
        if (std::isnan(c.values[i])) continue;
        if (last == end)
          for (size_t j = begin; j < i; ++j) c.values[j] = c.values[i];
        else
          for (size_t j = last + 1; j < i; ++j) {
            const double share = (log_.time[j] - log_.time[last]) / (log_.time[i] - log_.time[last]);
            c.values[j] = c.between == Between::held
                              ? c.values[last]
                              : static_cast<float>(c.values[last] + share * (c.values[i] - c.values[last]));
          }
        last = i;
      }
      for (size_t j = last == end ? end : last + 1; j < end; ++j) c.values[j] = c.values[last];
    }
    // A part in which it never spoke has the value before it.
    for (size_t i = 1; i < c.values.size(); ++i)
      if (std::isnan(c.values[i])) c.values[i] = c.values[i - 1];
    for (size_t i = c.values.size(); i-- > 1;)
      if (std::isnan(c.values[i - 1])) c.values[i - 1] = c.values[i];
  }

  Rows rows_;
  const std::string& file_;
  Messages& notes_;
  Log log_;
  /// Rows: fewer than 2^32, as a row has two bytes at least and a log no more than 4 GB.
  std::vector<std::uint32_t> keep_;
  size_t first_repeated_ = 0;
};

}  // namespace

Log settled(Rows&& rows, const std::string& file, Messages& notes) {
  return Settler(std::move(rows), file, notes).run();
}

}  // namespace uadze::log
