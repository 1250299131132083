#include "core/log/can_text.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <array>

#include "core/project/log_files.h"
#include "support/random_shapes.h"
#include "support/refusal.h"
#include "support/temp_folder.h"

namespace uadze::log {
namespace {

TEST(RawValue, ByHand) {
  // Bytes 0A F4: as little order 0xF40A = 62474, as big order 0x0AF4 = 2804; with a sign -3062.
  const std::array<std::uint8_t, 2> data{0x0A, 0xF4};
  EXPECT_EQ(raw_value({.length = 16}, data), 62474);
  EXPECT_EQ(raw_value({.length = 16, .negative = true}, data), -3062);
  EXPECT_EQ(raw_value({.start_bit = 7, .length = 16, .order = ByteOrder::big}, data), 2804);
  // Bits 2 to 5 of the first byte, 0A = 00001010: 0010.
  EXPECT_EQ(raw_value({.start_bit = 2, .length = 4}, data), 2);
  EXPECT_EQ(raw_value({.start_bit = 8, .length = 16}, data), std::nullopt) << "too short";
}

TEST(RawValue, EveryBitRunComesBack) {
  test::Random random(3);
  for (int n = 0; n < 400; ++n) {
    Signal s{.length = random.whole(1, 32), .negative = random.whole(0, 1) == 1};
    s.order = random.whole(0, 1) ? ByteOrder::big : ByteOrder::little;
    const std::int64_t most = std::int64_t{1} << (s.length - s.negative);
    const auto value = static_cast<std::int64_t>(
        random.uniform(s.negative ? -static_cast<double>(most) : 0.0, static_cast<double>(most)) * 0.999);
    s.start_bit = s.order == ByteOrder::little ? random.whole(0, 63 - s.length + 1) : random.whole(0, 31);
    // Written apart from the code: bit by bit into a row of 64, in the order in which they are sent.
    std::array<std::uint8_t, 8> data{};
    for (int k = 0; k < s.length; ++k) {
      int at = s.start_bit;
      if (s.order == ByteOrder::little)
        at += k;
      else
        for (int j = 0; j < s.length - 1 - k; ++j) at = at % 8 == 0 ? at + 15 : at - 1;
      if (value >> k & 1) data[static_cast<size_t>(at / 8)] |= static_cast<std::uint8_t>(1 << at % 8);
    }
    EXPECT_EQ(raw_value(s, data), static_cast<double>(value))
        << n << " " << s.start_bit << "+" << s.length << name_of(s.order);
  }
}

const std::vector<Signal> two_frames{
    {.name = "Fuel Pressure", .id = "1A0", .length = 16, .scale = 0.1, .unit = "kPa"},
    {.name = "Lambda", .id = "0x1A0", .start_bit = 16, .scale = 0.01},
    {.name = "Lateral Acc", .id = "18FF0001", .length = 16, .negative = true, .scale = 0.001, .unit = "g"}};

std::string frames(bool spaced) {
  std::string out;
  for (int i = 0; i < 100; ++i) {
    const double t = 1772323210 + 0.02 * i;
    const auto word = static_cast<unsigned>(3000 + i), acc = static_cast<unsigned>(65536 - 10 * i) & 0xFFFF;
    if (spaced) {
      out += fmt::format(" ({:.6f})  can0  1A0   [3]  {:02X} {:02X} 5A   '..Z'\n", t, word & 0xFF, word >> 8);
      if (i % 2 == 0)
        out +=
            fmt::format(" ({:.6f})  can0  18FF0001   [2]  {:02X} {:02X}\n", t + 0.005, acc & 0xFF, acc >> 8);
    } else {
      out += fmt::format("({:.6f}) can0 1A0#{:02X}{:02X}5A\n", t, word & 0xFF, word >> 8);
      if (i % 2 == 0)
        out += fmt::format("({:.6f}) can0 18FF0001#{:02X}{:02X}\n", t + 0.005, acc & 0xFF, acc >> 8);
      if (i % 7 == 0) out += fmt::format("({:.6f}) can0 7DF#R\n", t + 0.006);
    }
  }
  return out;
}

TEST(CanText, BothFormsGiveTheSameLog) {
  const auto a = parse_can(frames(false), two_frames, "a.log"),
             b = parse_can(frames(true), two_frames, "b.log");
  EXPECT_TRUE(looks_like_can(frames(false)));
  EXPECT_TRUE(looks_like_can(frames(true)));
  EXPECT_FALSE(looks_like_can("Time,Speed\n1,2\n"));
  EXPECT_TRUE(a.notes.empty()) << text_of(a.notes);
  ASSERT_EQ(a.value.log.size(), 150u);
  ASSERT_EQ(b.value.log.size(), 150u);
  for (Role role : {Role::rail_pressure, Role::lambda, Role::lat_acc}) {
    const auto x = a.value.log.values(role), y = b.value.log.values(role);
    ASSERT_EQ(x.size(), 150u) << name_of(role);
    for (size_t i = 0; i < 150; ++i) EXPECT_EQ(x[i], y[i]);
  }
  EXPECT_NEAR(a.value.log.values(Role::rail_pressure)[0], 300e3, 1);
  EXPECT_NEAR(a.value.log.values(Role::lambda)[50], 0.90, 1e-6);
  // The acceleration comes every 40 ms, 5 ms later, and is drawn straight between.
  EXPECT_NEAR(a.value.log.values(Role::lat_acc)[a.value.log.index_at(0.0851)], -0.04 * standard_gravity,
              1e-3);
}

TEST(CanText, FaultsAreNamed) {
  const auto refused = [](const std::string& text, const std::vector<Signal>& table) {
    return test::refusal([&] { parse_can(text, table, "a.log"); });
  };
  EXPECT_EQ(refused(frames(false), {}),
            "error: a.log: expected a table of signals for its frames, found none");
  EXPECT_NE(
      refused("(1.0) can0 1A0#0A\nhello\nhello\n", two_frames).find("line 2: expected a frame with its time"),
      std::string::npos);
  EXPECT_NE(refused(" can0  1A0   [1]  0A\n can0  1A0   [1]  0A\n", two_frames).find("a frame with its time"),
            std::string::npos);
  EXPECT_NE(refused("(1.0) can0 7DF#0A\n(2.0) can0 7DF#0A\n", two_frames).find("none of them in the log"),
            std::string::npos);
  EXPECT_NE(
      refused("(1.0) can0 7DF#0A\n", {{.name = "x", .id = "XY"}}).find("signal x: expected a frame's number"),
      std::string::npos);
  // One that its frames are too short for is told, the others are read.
  auto longer = two_frames;
  longer.push_back({.name = "far", .id = "1A0", .start_bit = 40});
  EXPECT_NE(text_of(parse_can(frames(false), longer, "a.log").notes)
                .find("signal far: its frames 1A0 are too short for it"),
            std::string::npos);
}

// --- Files beside a log ---

TEST(LogFiles, AMappingComesBack) {
  const test::TempFolder folder;
  Mapping mapping;
  mapping.rate = 50;
  mapping.columns = {{.column = "FP",
                      .role = Role::rail_pressure,
                      .unit = "psi",
                      .reversed = true,
                      .against = Against::vacuum},
                     {.column = "x", .role = Role::none, .unit = "V"}};
  const Mapping back = project::read_mapping(folder.write("m.json", project::mapping_text(mapping))).value;
  EXPECT_EQ(back.rate, 50);
  ASSERT_EQ(back.columns.size(), 2u);
  EXPECT_EQ(back.columns[0].role, Role::rail_pressure);
  EXPECT_EQ(back.columns[0].unit, "psi");
  EXPECT_TRUE(back.columns[0].reversed);
  EXPECT_EQ(back.columns[0].against, Against::vacuum);
  EXPECT_EQ(back.columns[1].role, Role::none);
}

TEST(LogFiles, FaultsHaveTheirPlaces) {
  const test::TempFolder folder;
  const auto mapping = [&](const std::string& columns) {
    const auto file =
        folder.write("m.json", R"({"undertow_adze_log_mapping": 1, "columns": [)" + columns + "]}");
    return test::refusal([&] { project::read_mapping(file); });
  };
  EXPECT_NE(mapping(R"({"column": "a", "channel": "sped"})").find("/columns/0/channel"), std::string::npos);
  EXPECT_NE(mapping(R"({"column": "a", "channel": "speed"}, {"column": "b", "channel": "speed"})")
                .find("/columns/1/channel: expected each channel once"),
            std::string::npos);
  EXPECT_NE(
      mapping(R"({"column": "a"}, {"column": "a"})").find("/columns/1/column: expected each column once"),
      std::string::npos);
  EXPECT_NE(mapping(R"({"column": "a", "channel": "speed", "unit": "bar"})")
                .find("/columns/0/unit: expected a unit of speed"),
            std::string::npos);
  const auto can = [&](const std::string& one) {
    const auto file = folder.write("s.json", R"({"undertow_adze_can_signals": 1, "signals": [)" + one + "]}");
    return test::refusal([&] { project::read_signals(file); });
  };
  EXPECT_NE(can("").find("/signals: expected one signal or more"), std::string::npos);
  EXPECT_NE(can(R"({"name": "x", "id": "ZZ"})").find("/signals/0/id: expected a hexadecimal number"),
            std::string::npos)
      << can(R"({"name": "x", "id": "ZZ"})");
  EXPECT_NE(can(R"({"name": "x", "id": "1", "length": 65})").find("/signals/0/length"), std::string::npos);
  EXPECT_EQ(can(R"({"name": "x", "id": "1", "order": "big"})"), "accepted");
}

}  // namespace
}  // namespace uadze::log
