#include "core/base/when.h"

#include <fmt/format.h>

#include <charconv>
#include <chrono>
#include <cstdlib>
#include <ctime>

namespace uadze {
namespace {

using std::chrono::sys_days;

/// A number of exactly so many digits at the text's begin, which is then cut off it.
std::optional<int> digits(std::string_view& text, size_t count) {
  if (text.size() < count) return std::nullopt;
  int out = 0;
  const auto end = text.data() + count;
  const auto [at, error] = std::from_chars(text.data(), end, out);
  if (error != std::errc() || at != end || out < 0) return std::nullopt;
  text.remove_prefix(count);
  return out;
}

bool cut(std::string_view& text, char sign) {
  if (text.empty() || text.front() != sign) return false;
  text.remove_prefix(1);
  return true;
}

std::optional<sys_days> day(std::string_view& text) {
  const auto year = digits(text, 4);
  if (!year || !cut(text, '-')) return std::nullopt;
  const auto month = digits(text, 2);
  if (!month || !cut(text, '-')) return std::nullopt;
  const auto number = digits(text, 2);
  if (!number) return std::nullopt;
  const std::chrono::year_month_day out{std::chrono::year(*year),
                                        std::chrono::month(static_cast<unsigned>(*month)),
                                        std::chrono::day(static_cast<unsigned>(*number))};
  if (!out.ok() || *year < 1970) return std::nullopt;
  return sys_days(out);
}

std::string text_of(sys_days days) {
  const std::chrono::year_month_day d(days);
  return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(d.year()), static_cast<unsigned>(d.month()),
                     static_cast<unsigned>(d.day()));
}

}  // namespace

Moment now() {
  if (const char* said = std::getenv("UADZE_CLOCK"))
    if (const auto moment = utc_of(said)) return *moment;
  return static_cast<Moment>(std::time(nullptr));
}

std::string utc_text(Moment moment) {
  const sys_days days = std::chrono::floor<std::chrono::days>(
      std::chrono::sys_time<std::chrono::seconds>(std::chrono::seconds(moment)));
  const auto rest =
      moment - std::chrono::duration_cast<std::chrono::seconds>(days.time_since_epoch()).count();
  return fmt::format("{}T{:02}:{:02}:{:02}Z", text_of(days), rest / 3600, rest / 60 % 60, rest % 60);
}

std::optional<Moment> utc_of(std::string_view text) {
  const auto days = day(text);
  if (!days || !cut(text, 'T')) return std::nullopt;
  const auto hour = digits(text, 2);
  if (!hour || *hour > 23 || !cut(text, ':')) return std::nullopt;
  const auto minute = digits(text, 2);
  if (!minute || *minute > 59 || !cut(text, ':')) return std::nullopt;
  const auto second = digits(text, 2);
  if (!second || *second > 59 || text != "Z") return std::nullopt;
  return std::chrono::duration_cast<std::chrono::seconds>(days->time_since_epoch()).count() + 3600 * *hour +
         60 * *minute + *second;
}

namespace {
std::tm local(Moment moment) {
  const auto seconds = static_cast<std::time_t>(moment);
  std::tm out{};
  ::localtime_r(&seconds, &out);
  return out;
}
}  // namespace

std::string shown_time(Moment moment) {
  const std::tm t = local(moment);
  return fmt::format("{:04}-{:02}-{:02} {:02}:{:02}", t.tm_year + 1900, t.tm_mon + 1, t.tm_mday, t.tm_hour,
                     t.tm_min);
}

std::string day_of(Moment moment) { return shown_time(moment).substr(0, 10); }

bool is_day(std::string_view text) { return day(text).has_value() && text.empty(); }

std::string day_after(std::string_view from, int days) {
  return text_of(day(from).value() + std::chrono::days(days));
}

int days_between(std::string_view from, std::string_view to) {
  return static_cast<int>((day(to).value() - day(from).value()).count());
}

}  // namespace uadze
