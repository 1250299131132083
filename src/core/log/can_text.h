#pragma once
// Frames of a CAN bus as text, one a line, in the two forms in which the kernel's own tools write them, made
// into a log by a table of signals:
//
//   (1772323210.120000) can0 1A0#0A2B3C4D5E6F7081            id # data, hexadecimal
//    can0  1A0   [8]  0A 2B 3C 4D 5E 6F 70 81                with or without a time in brackets before it
//
// A signal is a run of bits of a frame's data: from `start_bit` on (bit 0 the lowest of byte 0), `length`
// bits; little order counts on to higher bits and bytes, big order has the signal's highest bit at
// `start_bit` and goes on to lower bits, then to the next byte's highest.
//
// Example:
//   const std::vector<log::Signal> table{{.name = "Fuel Press", .id = "1A0", .start_bit = 0, .length = 16, .scale = 0.001, .unit = "bar"}};
//   const log::Log log = log::parse_can("(10.00) can0 1A0#B80B\n(10.02) can0 1A0#C20B\n", table, "a.log").value.log;
//   EXPECT_NEAR(log.values(log::Role::rail_pressure)[0], 3.0e5, 1);        // 0x0BB8 = 3000
#include <cstdint>
#include <span>

#include "core/log/log.h"
#include "core/log/signal.h"

namespace uadze::log {

/// The number of a frame; nothing if it is none of 29 bits.
std::optional<std::uint32_t> frame_id(std::string_view hexadecimal);

/// The raw value of a signal in a frame's bytes; nothing if the frame is too short for it.
std::optional<double> raw_value(const Signal& signal, std::span<const std::uint8_t> data);

/// Whether a text looks like frames of a bus.
bool looks_like_can(std::string_view text);

/// Throws InputError for lines that are no frames (line, expected, found), for a table without signals or
/// one none of whose frames comes in the log; notes signals whose frames never come or are too short.
Read<LogFile> parse_can(std::string_view text, const std::vector<Signal>& table, const std::string& file,
                        const Mapping* mapping = nullptr, Progress* progress = nullptr);

}  // namespace uadze::log
