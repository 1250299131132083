#pragma once
// Moments as seconds since 1970 UTC, and days as the calendar has them. Written in files as UTC, shown in the
// machine's own time zone.
//
// Example:
//   EXPECT_EQ(utc_text(0), "1970-01-01T00:00:00Z");
//   EXPECT_EQ(*utc_of("2026-11-28T09:30:00Z") - *utc_of("2026-11-27T09:30:00Z"), 86400);
//   EXPECT_EQ(day_after("2028-02-28", 2), "2028-03-01");
//   EXPECT_FALSE(is_day("2026-02-30"));
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace uadze {

using Moment = std::int64_t;  ///< s since 1970-01-01 00:00 UTC

/// Of the machine; or what UADZE_CLOCK says ("2026-11-28T09:30:00Z"), for tests and pictures.
Moment now();

/// "2026-11-28T09:30:00Z".
std::string utc_text(Moment moment);
std::optional<Moment> utc_of(std::string_view text);
/// "2026-11-28 10:30" in the machine's time zone.
std::string shown_time(Moment moment);
/// The day in the machine's time zone, "2026-11-28".
std::string day_of(Moment moment);

/// Whether the text is a day of the calendar as "2026-11-28".
bool is_day(std::string_view text);
/// The day so many days later; needs a day.
std::string day_after(std::string_view day, int days);
/// Days from one day to another; needs days.
int days_between(std::string_view from, std::string_view to);

}  // namespace uadze
