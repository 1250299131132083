#pragma once
// The build's lists as tables of words, the same for window, command line and files.
//
// Example:
//   const report::Table table{{"what", "count"}, {{"O-ring", "3"}}};
//   EXPECT_EQ(report::csv_of(table), "what,count\nO-ring,3\n");
#include "core/base/units.h"
#include "core/build/checks.h"
#include "core/build/order.h"

namespace uadze::report {

struct Table {
  std::vector<std::string> columns;
  std::vector<std::vector<std::string>> rows;
};
/// In columns as wide as their longest word.
std::string text_of(const Table& table);
/// RFC 4180, a comma between.
std::string csv_of(const Table& table);

Table cutting_table(const circuit::Case& c, const UnitSystem& units = {});
Table joints_table(const circuit::Case& c);
Table wires_table(const circuit::Case& c, const build::Scheme& scheme = {}, const UnitSystem& units = {});
/// Which relay and fuse each pump hangs on.
Table fuses_table(const circuit::Case& c, const build::Scheme& scheme = {});
/// Of tanks, filters, pumps, regulator and rail: each port, what comes to it, its size and seal.
Table ports_table(const circuit::Case& c);
/// What stands on each line's and wire's labels, both ends.
Table labels_table(const circuit::Case& c, const build::Scheme& scheme = {});
Table order_table(const std::vector<build::OrderItem>& items, const std::vector<build::Step>& steps,
                  const UnitSystem& units = {});
/// A work order: steps with what they wait for, how long, and what to do; by days of so many minutes where
/// they are given, what is done left out then.
std::string steps_text(const std::vector<build::Step>& steps, const std::vector<char>& done = {},
                       double day = 0.0, const UnitSystem& units = {});
/// "Day 2, 5.5 h": of build::by_day().
std::string day_title(const std::vector<build::Step>& steps, const std::vector<int>& day, size_t number);
std::string checks_text(const std::vector<circuit::Finding>& findings, const UnitSystem& units = {});

/// "45 min", "6.5 h".
std::string work_time(double minutes);

/// "3" or "420 mm": of an item of the order list.
std::string amount(double count, bool metres, const UnitSystem& units);
/// A hose's end: "90° hose end to rail".
std::string end_words(const build::HoseEnd& end);

}  // namespace uadze::report
