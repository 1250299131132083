#pragma once
// The fields of a log's mapping file and of a table of CAN signals.
//
// Example:
//   const log::ColumnUse use{.column = "FP", .role = log::Role::rail_pressure};
//   EXPECT_EQ(project::written(use)["channel"], "rail_pressure");
#include "core/log/mapping.h"
#include "core/log/signal.h"
#include "core/project/field_writer.h"

namespace uadze::project {

/// A table of signals as a file.
struct SignalTable {
  std::string notes;
  std::vector<log::Signal> signal_table;  // "signals" is a word of Qt
};

template <class V>
void describe(V& v, log::ColumnUse& c) {
  v.text({"column", "Column", "Its name in the log's header, without the unit", must}, c.column);
  v.choice({"channel", "Channel", "What it is; none: kept under its own name"}, c.role);
  v.text({"unit", "Unit", "Of the log's figures; absent: as the header says, or by their size"}, c.unit);
  v.flag({"reversed", "Reversed", "Its sign is turned round"}, c.reversed, "no", "yes");
  v.choice({"against", "Against", "Of a pressure: over the air's, or absolute"}, c.against);
}

template <class V>
void describe(V& v, log::Formula& f) {
  v.text({"name", "Name", "Of the channel that it makes", must}, f.name);
  v.text({"text", "Formula", "One line: (rail_pressure - manifold_pressure) / bar", must}, f.text);
  v.text({"unit", "Unit", "What its figures are in, told only"}, f.unit);
}

template <class V>
void describe(V& v, log::Mapping& m) {
  v.optional_number({"rows_per_s", "Rows a second", "Of a log without times"}, m.rate, in_file::plain,
                    {0, 100000, true});
  v.list({"columns", "Columns", "Those that are not as proposed, or all", must}, m.columns);
  v.list({"formulas", "Formulas", "Channels made of others, in their order"}, m.formulas);
}

template <class V>
void describe(V& v, log::Signal& s) {
  v.text({"name", "Name", "As a column's name: channels are proposed by it", must}, s.name);
  v.text({"id", "Frame", "Hexadecimal, as in the log: \"1A0\"", must}, s.id);
  v.whole({"start_bit", "First bit", "0: the lowest of the first byte; in big order the signal's highest"},
          s.start_bit, 0, 511);
  v.whole({"length", "Bits", ""}, s.length, 1, 64);
  v.choice({"order", "Order", "Of its bytes"}, s.order);
  v.flag({"signed", "Sign", "Whether its highest bit is a sign"}, s.negative, "no", "yes");
  v.number({"scale", "Scale", "Value = raw * scale + offset"}, s.scale, in_file::plain, {-1e9, 1e9});
  v.number({"offset", "Offset", ""}, s.offset, in_file::plain, {-1e9, 1e9});
  v.text({"unit", "Unit", "Of the value"}, s.unit);
}

template <class V>
void describe(V& v, SignalTable& t) {
  v.text({"notes", "Notes", "Free text"}, t.notes);
  v.list({"signals", "Signals", "", must}, t.signal_table);
}

}  // namespace uadze::project
