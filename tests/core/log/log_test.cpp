#include "core/log/log.h"

#include <gtest/gtest.h>

#include <fstream>

#include "core/log/shapes.h"
#include "core/log/store.h"
#include "core/log/text.h"
#include "support/random_shapes.h"
#include "support/refusal.h"
#include "support/temp_folder.h"

namespace uadze::log {
namespace {

using test::Shape;

class EveryShape : public testing::TestWithParam<Shape> {};

/// No hand on it: the roles, and every value where one was written.
TEST_P(EveryShape, IsRead) {
  const Shape& shape = GetParam();
  const Decoded text = decoded(test::written(shape));
  const Mapping* mapping = nullptr;
  // A table without names needs its columns named: the one choice in the dialog.
  Mapping given;
  if (!shape.header) {
    for (size_t k = 0; k < shape.columns.size(); ++k)
      given.columns.push_back({.column = "column " + std::to_string(k + 1),
                               .role = shape.columns[k].role,
                               .unit = known_unit(shape.columns[k].unit)});
    mapping = &given;
  }
  Read<Log> read;
  ASSERT_NO_THROW(
      try { read = parse_log(text.text, "shape", mapping); } catch (const InputError& e) {
        ADD_FAILURE() << e.what();
        throw;
      })
      << text.text.substr(0, 600);
  const Log& log = read.value;
  const size_t rows = static_cast<size_t>(12 * shape.rate);
  ASSERT_EQ(log.size(), rows * static_cast<size_t>(shape.joined)) << text_of(read.notes);
  EXPECT_EQ(log.parts.size(), static_cast<size_t>(shape.joined));
  for (size_t i = 0; i < rows; ++i)
    ASSERT_NEAR(log.time[i], static_cast<double>(i) / shape.rate, 1.1e-3) << i;
  for (const test::ShapeColumn& column : shape.columns) {
    if (column.role == Role::time) continue;
    if (column.role == Role::none) {
      EXPECT_TRUE(
          std::any_of(log.channels.begin(), log.channels.end(),
                      [&](const Channel& c) { return c.name == column.name && c.role == Role::none; }))
          << column.name << " is kept, and taken for nothing else";
      continue;
    }
    const auto values = log.values(column.role);
    ASSERT_EQ(values.size(), log.size()) << column.name << "\n"
                                         << text.text.substr(0, 300) << text_of(read.notes);
    const double rounding = 0.6 * std::pow(10.0, -column.digits) * column.factor;
    for (size_t i = 0; i < rows; i += static_cast<size_t>(column.every)) {
      const double wanted = test::logged(column.role, static_cast<double>(i) / shape.rate);
      ASSERT_NEAR(values[i], wanted, rounding + 1e-5 * std::abs(wanted)) << column.name << ", row " << i;
    }
  }
}

INSTANTIATE_TEST_SUITE_P(Logs, EveryShape, testing::ValuesIn(test::log_shapes()), [](const auto& each) {
  std::string name;
  for (char c : each.param.name) name += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
  return name;
});

TEST(Shapes, ThereAreSixty) { EXPECT_GE(test::log_shapes().size(), 60u); }

// --- What can not be read ---

std::string refused(const std::string& text, const Mapping* mapping = nullptr) {
  return test::refusal([&] { parse_log(text, "x.csv", mapping); });
}

TEST(LogFaults, EachSaysLineColumnExpectedAndFound) {
  EXPECT_EQ(refused(""), "error: x.csv: expected a table of channels, found an empty file");
  EXPECT_EQ(refused("\n \n\r\n"), "error: x.csv: expected a table of channels, found an empty file");
  EXPECT_EQ(refused("Time,Speed\n"),
            "error: x.csv: line 2: expected rows of numbers under the header, found none");
  EXPECT_EQ(refused("Time\n0\n1\n2\n3\n"),
            "error: x.csv: line 1: expected a time and at least one channel beside it, found one column");
  EXPECT_EQ(refused("To whom it may concern:\nthis is a letter.\n"),
            "error: x.csv: line 1: expected a time and at least one channel beside it, found \"To whom it "
            "may concern:\"");
  EXPECT_EQ(refused("Time [s],Speed [km/h]\n0,30\n"),
            "error: x.csv: line 2: expected at least 2 rows with a time, found 1");
  EXPECT_EQ(refused("Time [s],Speed [km/h]\n7,30\n7,31\n7,32\n"),
            "error: x.csv: column Time: expected times that rise, found 7 s throughout");
  EXPECT_EQ(refused("Depth [mm],Speed [km/h]\n3,30\n1,30\n2,30\n"),
            "error: x.csv: line 1: expected a column of times, or how many rows there are a second, found "
            "only: Depth, Speed");
  EXPECT_NE(refused("Time [h],Speed [km/h]\n0,30\n1,30\n2,30\n").find("in which unit is the time?"),
            std::string::npos);
  // Too many words in a channel that is used: the first two are named.
  std::string bad = "Time [s],Speed [km/h]\n";
  for (int i = 0; i < 40; ++i) bad += std::to_string(i) + (i % 4 == 3 ? ",fast\n" : ",30\n");
  EXPECT_EQ(
      refused(bad),
      "error: x.csv: line 5, column Speed: expected a number, found \"fast\" (10 such cells in that column)\n"
      "error: x.csv: line 9, column Speed: expected a number, found \"fast\"");
  std::string zeros = "Time,Speed\n0,1\n";
  zeros[3] = '\0';
  EXPECT_NE(refused(zeros).find("expected a text"), std::string::npos);
}

TEST(LogFaults, AFewBadCellsAreToldAndPassedOver) {
  std::string text = "Time [s],Speed [km/h]\n";
  for (int i = 0; i < 100; ++i) text += std::to_string(i * 0.1) + (i == 50 ? ",err?\n" : ",36\n");
  const auto read = parse_log(text, "x.csv");
  EXPECT_EQ(text_of(read.notes), "warning: x.csv: line 52, column Speed: expected a number, found \"err?\"");
  EXPECT_EQ(read.value.size(), 100u);
  EXPECT_NEAR(read.value.values(Role::speed)[50], 10, 1e-5) << "drawn between its neighbours";
}

TEST(LogFaults, ChannelsWithoutEndAreRefusedPolitely) {
  std::string text = "Time [s]";
  for (int i = 0; i < 2000000; ++i) text += ",c";
  text += "\n0";
  for (int i = 0; i < 2000000; ++i) text += ",1";
  EXPECT_NE(refused(text + "\n").find("at most 5000 columns"), std::string::npos);
}

TEST(LogFaults, AUnitThatIsNone) {
  Mapping wrong;
  wrong.columns = {{.column = "Speed", .role = Role::speed, .unit = "bar"}};
  const std::string text = "Time [s],Speed [km/h]\n0,30\n1,30\n";
  EXPECT_EQ(refused(text, &wrong),
            "error: x.csv: column Speed: expected a unit of speed: km/h, mph, m/s, kn, found \"bar\"");
  wrong.columns = {{.column = "Sped", .role = Role::speed, .unit = "km/h"}};
  EXPECT_EQ(refused(text, &wrong),
            "error: x.csv: the mapping's columns: expected a column of the log: \"Time\", \"Speed\", found \"Sped\"");
}

TEST(Log, AMappingIsObeyed) {
  const std::string text = "a;b;c\n1;10;3\n2;20;3\n3;30;4\n";
  Mapping given;
  given.columns = {{.column = "b", .role = Role::lat_acc, .unit = "m/s2", .reversed = true}};
  given.rate = 10;
  const Log log = parse_log(text, "x.csv", &given).value;
  EXPECT_FLOAT_EQ(log.values(Role::lat_acc)[1], -20);
  const std::string timed = "clock;b;c\n1;10;3\n2;20;3\n3;30;4\n";
  given.columns[0].role = Role::long_acc;
  EXPECT_FLOAT_EQ(parse_log(timed, "x.csv", &given).value.values(Role::long_acc)[2], -30);
}

TEST(Log, ALeapOfTheClockBeginsANewPart) {
  std::string text = "Time [s],Speed [km/h]\n";
  for (int i = 0; i < 20; ++i) text += std::to_string(i) + ",36\n";
  for (int i = 500; i < 520; ++i) text += std::to_string(i) + ",72\n";
  const auto read = parse_log(text, "x.csv");
  EXPECT_EQ(read.value.parts, (std::vector<size_t>{0, 20}));
  EXPECT_EQ(read.value.duration(), 39);
  EXPECT_NE(text_of(read.notes).find("line 22, column Time"), std::string::npos) << text_of(read.notes);
}

TEST(Log, RowsOfOneMomentBecomeOne) {
  const auto read =
      parse_log("Time [s],Speed [km/h],RPM\n0,36,\n0,,6000\n1,72,\n1,,7200\n2,36,\n2,,6000\n", "x.csv");
  EXPECT_EQ(read.value.size(), 3u);
  EXPECT_FLOAT_EQ(read.value.values(Role::rpm)[1], 120);
  EXPECT_TRUE(read.notes.empty()) << text_of(read.notes);
}

TEST(Log, OtherChannelsAreKeptUnderTheirNames) {
  const Log log =
      parse_log("Time [s],Speed [km/h],Oil Temp [°C],Driver\n0,36,80,one\n1,36,81,one\n2,36,82,one\n",
                "x.csv")
          .value;
  const auto oil = std::find_if(log.channels.begin(), log.channels.end(),
                                [](const Channel& c) { return c.name == "Oil Temp"; });
  ASSERT_NE(oil, log.channels.end());
  EXPECT_EQ(oil->unit, "°C");
  EXPECT_FLOAT_EQ(oil->values[2], 82) << "as written";
  EXPECT_EQ(log.channels.size(), 2u) << "a column of words is no channel";
}

TEST(Log, TheSameOnOneThreadAndMany) {
  Shape shape = test::log_shapes()[0];
  shape.rate = 5000;
  const std::string text = test::written(shape);
  EXPECT_GT(text.size(), size_t{3} << 20) << "several pieces";
  const Log a = parse_log(text, "x").value, b = parse_log(text, "x").value;
  for (size_t k = 0; k < a.channels.size(); ++k) EXPECT_EQ(a.channels[k].values, b.channels[k].values);
  for (size_t i = 0; i < a.size(); i += 997)
    ASSERT_NEAR(a.values(Role::speed)[i], test::logged(Role::speed, a.time[i]), 0.01) << i;
}

TEST(TextFile, FilesAreReadAsTheyLie) {
  const test::TempFolder folder;
  const Shape shape = test::log_shapes()[0];
  const auto plain = folder.write("a.csv", test::written(shape));
  EXPECT_EQ(read_log(plain).value.log.size(), 600u);
  Shape packed = shape;
  packed.packed = true;
  const std::string bytes = test::written(packed);
  EXPECT_EQ(read_log(folder.write("a.csv.gz", bytes)).value.encoding, "gzip, UTF-8");
  const std::string broken =
      test::refusal([&] { read_log(folder.write("b.csv.gz", bytes.substr(0, bytes.size() / 2))); });
  EXPECT_NE(broken.find("b.csv.gz: expected a whole gzip file"), std::string::npos) << broken;
  EXPECT_NE(test::refusal([&] { read_log(folder / "none.csv"); }).find("can not be read: No such file"),
            std::string::npos);
  EXPECT_NE(test::refusal([&] { read_log(folder.path()); }).find("expected a regular file"),
            std::string::npos);
  EXPECT_NE(test::refusal([&] { read_log("/dev/zero"); }).find("expected a regular file"), std::string::npos);
}

// --- What is kept ---

TEST(LogStore, ASecondOpeningIsTheSameAndAChangeIsSeen) {
  const test::TempFolder folder;
  const Store store{folder / "kept", 0};
  Shape shape = test::log_shapes()[0];
  shape.joined = 2;
  const auto file = folder.write("a.csv", test::written(shape));
  const auto first = read_log(file, store);
  const auto count = [&] { return std::distance(std::filesystem::directory_iterator(folder / "kept"), {}); };
  EXPECT_EQ(count(), 1);
  std::filesystem::rename(file, folder / "b.csv");
  const auto second = read_log(folder / "b.csv", store);
  EXPECT_EQ(count(), 1) << "by content, whatever its name";
  EXPECT_EQ(second.value.log.time, first.value.log.time);
  EXPECT_EQ(second.value.log.parts, first.value.log.parts);
  ASSERT_EQ(second.value.log.channels.size(), first.value.log.channels.size());
  for (size_t k = 0; k < first.value.log.channels.size(); ++k) {
    EXPECT_EQ(second.value.log.channels[k].values, first.value.log.channels[k].values);
    EXPECT_EQ(second.value.log.channels[k].role, first.value.log.channels[k].role);
  }
  EXPECT_EQ(second.value.layout.columns, first.value.layout.columns);
  EXPECT_EQ(second.value.mapping.columns.size(), first.value.mapping.columns.size());
  ASSERT_EQ(second.notes.size(), first.notes.size());
  EXPECT_NE(second.notes[0].text().find("b.csv"), std::string::npos)
      << "told of the file as it is called now";
  // Another mapping or another byte is another log.
  Mapping given;
  given.columns = {{.column = "Lambda", .role = Role::none}};
  EXPECT_FALSE(read_log(folder / "b.csv", store, &given).value.log.channel(Role::lambda));
  EXPECT_EQ(count(), 2);
  std::ofstream(folder / "b.csv", std::ios::app) << "24,1,1,1,1,1,1,1,1\n";
  EXPECT_EQ(read_log(folder / "b.csv", store).value.log.size(), first.value.log.size() + 1);
}

TEST(LogStore, WhatIsBrokenIsReadAgain) {
  const test::TempFolder folder;
  const Store store{folder / "kept", 0};
  const auto file = folder.write("a.csv", test::written(test::log_shapes()[0]));
  const auto first = read_log(file, store);
  const auto kept = std::filesystem::directory_iterator(folder / "kept")->path();
  const std::string whole = test::slurp(kept);
  test::Random random(7);
  for (int n = 0; n < 300; ++n) {
    std::string bytes =
        whole.substr(0, n % 3 == 0 ? static_cast<size_t>(random.uniform(0, static_cast<double>(whole.size())))
                                   : whole.size());
    // In its head, where sizes stand.
    for (int k = 0; k < 3 && !bytes.empty(); ++k)
      bytes[static_cast<size_t>(random.uniform(0, std::min(2000.0, static_cast<double>(bytes.size()))))] ^=
          static_cast<char>(1 << random.whole(0, 7));
    std::ofstream(kept, std::ios::binary) << bytes;
    EXPECT_NO_THROW(read_log(file, store));
  }
  std::ofstream(kept, std::ios::binary) << "";
  EXPECT_EQ(read_log(file, store).value.log.channels[0].values, first.value.log.channels[0].values);
  EXPECT_EQ(test::slurp(kept), whole) << "and kept anew";
  // A folder that can not be made keeps nothing and says nothing.
  EXPECT_EQ(read_log(file, Store{folder.write("file", "x") / "in", 0}).value.log.size(),
            first.value.log.size());
}

TEST(TextFile, CancelLeavesNothing) {
  Progress progress;
  progress.cancel();
  EXPECT_THROW(parse_log(test::written(test::log_shapes()[0]), "x", nullptr, &progress), Cancelled);
}

}  // namespace
}  // namespace uadze::log
