// Whatever bytes a lap file holds, reading it gives a sound lap or a message.
#include <gtest/gtest.h>

#include <random>

#include "core/lap/lap.h"
#include "support/temp_folder.h"

namespace uadze::lap {
namespace {

void expect_sound(const Lap& lap) {
  ASSERT_GE(lap.size(), 2u);
  for (const auto* channel : {&lap.distance, &lap.lateral, &lap.longitudinal, &lap.vertical, &lap.speed}) {
    ASSERT_EQ(channel->size(), lap.size());
    for (double v : *channel) ASSERT_TRUE(std::isfinite(v));
  }
  for (const auto* channel : {&lap.throttle, &lap.rotation, &lap.fuel_flow})
    ASSERT_TRUE(channel->empty() || channel->size() == lap.size());
  for (size_t i = 1; i < lap.size(); ++i) {
    ASSERT_GT(lap.time[i], lap.time[i - 1]);
    ASSERT_GE(lap.distance[i], lap.distance[i - 1]);
  }
  for (double q : lap.fuel_flow) ASSERT_GE(q, 0);
}

std::string head_of_demo(size_t lines) {
  const std::string text = test::slurp(test::source("demo/laps/vey-hill-wisp.csv"));
  size_t end = 0;
  for (size_t i = 0; i < lines; ++i) end = text.find('\n', end) + 1;
  return text.substr(0, end);
}

TEST(LapFuzz, ChangedBytesGiveALapOrAMessage) {
  const std::string good = head_of_demo(40);
  const std::string alphabet = "0123456789.,;-+eE\t\r\n \"[]xnaif#";
  std::mt19937 engine(2026);
  int laps = 0, messages = 0;
  for (int n = 0; n < 4000; ++n) {
    std::string text = good;
    for (unsigned k = engine() % 4; k < 4; ++k) {
      const size_t at = engine() % text.size();
      switch (engine() % 3) {
        case 0:
          text[at] = alphabet[engine() % alphabet.size()];
          break;
        case 1:
          text.erase(at, engine() % 5);
          break;
        default:
          text.insert(at, 1, alphabet[engine() % alphabet.size()]);
      }
    }
    try {
      expect_sound(parse_lap(text, "fuzz.csv").value);
      ++laps;
    } catch (const InputError& error) {
      EXPECT_NE(std::string(error.what()).find("fuzz.csv"), std::string::npos);
      ++messages;
    }
  }
  EXPECT_GT(laps, 100);
  EXPECT_GT(messages, 100);
}

TEST(LapFuzz, ATruncatedFileGivesALapOrAMessage) {
  const std::string good = head_of_demo(12);
  for (size_t n = 0; n <= good.size(); ++n) try {
      expect_sound(parse_lap(good.substr(0, n), "cut.csv").value);
    } catch (const InputError& error) {
      EXPECT_NE(std::string(error.what()), "");
    }
}

TEST(LapFuzz, ColumnsInAnyOrderGiveTheSameLap) {
  const std::string good = head_of_demo(30);
  const Lap wanted = parse_lap(good, "x").value;
  std::mt19937 engine(7);
  for (int n = 0; n < 20; ++n) {
    std::vector<size_t> order{0, 1, 2, 3, 4, 5, 6, 7, 8};
    std::shuffle(order.begin(), order.end(), engine);
    std::istringstream in(good);
    std::string shuffled;
    for (std::string line; std::getline(in, line);) {
      std::vector<std::string> cells;
      std::istringstream fields(line);
      for (std::string cell; std::getline(fields, cell, ',');) cells.push_back(cell);
      for (size_t k = 0; k < order.size(); ++k) shuffled += (k ? ";" : "") + cells[order[k]];
      shuffled += "\r\n";
    }
    const Lap lap = parse_lap(shuffled, "x").value;
    EXPECT_EQ(lap.time, wanted.time);
    EXPECT_EQ(lap.lateral, wanted.lateral);
    EXPECT_EQ(lap.fuel_flow, wanted.fuel_flow);
  }
}

TEST(LapFuzz, WritingAndReadingKeepsTheChannels) {
  const Lap lap = read_lap(test::source("demo/laps/brackenholt-p4.csv")).value;
  const Lap again = parse_lap(write_lap(lap), "x").value;
  ASSERT_EQ(again.size(), lap.size());
  for (size_t i = 0; i < lap.size(); ++i) {
    EXPECT_NEAR(again.lateral[i], lap.lateral[i], 1e-9);
    EXPECT_NEAR(again.rotation[i], lap.rotation[i], 1e-9);
    EXPECT_NEAR(again.throttle[i], lap.throttle[i], 1e-9);
  }
  EXPECT_EQ(lap.index_at(-5), 0u);
  EXPECT_EQ(lap.index_at(1e9), lap.size() - 1);
  EXPECT_EQ(lap.time[lap.index_at(10.0)], 10.0);
}

}  // namespace
}  // namespace uadze::lap
