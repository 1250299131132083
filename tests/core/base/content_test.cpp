// Keys by content, what is kept by them, names of enumerations, places of faults, roots.
#include <gtest/gtest.h>

#include <cmath>
#include <set>

#include "core/base/csv.h"
#include "core/base/fault.h"
#include "core/base/kept.h"
#include "core/base/names.h"
#include "core/base/root.h"
#include "core/circuit/catalogue.h"
#include "core/circuit/parts.h"
#include "core/lap/manoeuvre.h"
#include "core/session/session.h"
#include "core/starvation/parts.h"
#include "support/random_shapes.h"

namespace uadze {
namespace {

TEST(ContentKey, RowsOfAdditionsAreToldApart) {
  std::set<ContentKey> keys;
  const std::vector<double> one{1.0}, two{1.0, 2.0}, rest{2.0};
  const std::vector<ContentKey> all{
      KeyMaker().add("ab").key(),
      KeyMaker().add("a").add("b").key(),
      KeyMaker().add("").add("ab").key(),
      KeyMaker().add(1.0).key(),
      KeyMaker().add(1).key(),
      KeyMaker().add(one).key(),
      KeyMaker().add(two).key(),
      KeyMaker().add(one).add(rest).key(),
      KeyMaker().add(1.0).add(2.0).key(),
      KeyMaker().add(2.0).add(1.0).key(),
      KeyMaker().key(),
  };
  for (const ContentKey& k : all) EXPECT_TRUE(keys.insert(k).second);
  EXPECT_EQ(KeyMaker().add(0.0).key(), KeyMaker().add(-0.0).key()) << "both zeros are one content";
  EXPECT_NE(KeyMaker().add(1.0).key(), KeyMaker().add(std::nextafter(1.0, 2.0)).key());
}

TEST(Kept, ABudgetOfBytesLetsTheLeastRecentlyUsedGo) {
  // Against a plain list that is kept in order of use.
  test::Random random(9);
  Kept<int> kept(1000);
  std::vector<std::pair<int, size_t>> model;  // the most recently used first
  for (int n = 0; n < 5000; ++n) {
    const int what = random.whole(0, 40);
    const ContentKey key = KeyMaker().add(what).key();
    const auto at = std::find_if(model.begin(), model.end(), [&](const auto& m) { return m.first == what; });
    const auto found = kept.find(key);
    ASSERT_EQ(found != nullptr, at != model.end()) << n;
    if (found) {
      EXPECT_EQ(*found, what);
      std::rotate(model.begin(), at, at + 1);
      continue;
    }
    const auto bytes = static_cast<size_t>(random.whole(1, 300));
    kept.keep(key, std::make_shared<const int>(what), bytes);
    model.insert(model.begin(), {what, bytes});
    size_t sum = 0;
    for (const auto& m : model) sum += m.second;
    while (sum > 1000 && model.size() > 1) sum -= model.back().second, model.pop_back();
    EXPECT_EQ(kept.bytes(), sum);
  }
  kept.keep(KeyMaker().add("large").key(), std::make_shared<const int>(1), 5000);
  EXPECT_EQ(kept.bytes(), 5000u) << "the newest stays even so";
}

template <class E>
void each_name_is_its_own() {
  std::set<std::string> names;
  for (int k = 0; k < count_of<E>(); ++k) {
    const E value = static_cast<E>(k);
    EXPECT_TRUE(names.insert(name_of(value)).second) << name_of(value);
    EXPECT_EQ(value_named<E>(name_of(value)), value);
  }
  EXPECT_EQ(names.size(), names_of<E>().size());
  EXPECT_GT(names.size(), 1u);
  EXPECT_FALSE(value_named<E>("no such name"));
  EXPECT_FALSE(value_named<E>(""));
}

TEST(Names, EveryEnumerationOfAFileReadsAllItWrites) {
  each_name_is_its_own<session::Kind>();
  each_name_is_its_own<circuit::PartKind>();
  each_name_is_its_own<circuit::FittingForm>();
  each_name_is_its_own<circuit::ReturnTo>();
  each_name_is_its_own<circuit::EngineSupply>();
  each_name_is_its_own<circuit::RailEntry>();
  each_name_is_its_own<circuit::StageBy>();
  each_name_is_its_own<circuit::TransferKind>();
  each_name_is_its_own<circuit::PumpRole>();
  each_name_is_its_own<circuit::CostClass>();
  each_name_is_its_own<lap::Manoeuvre>();
  each_name_is_its_own<starvation::DemandFrom>();
  EXPECT_EQ(value_named<session::Kind>("test bench"), session::Kind::test_bench) << "the last one too";
}

TEST(Root, IsFoundWhereverItLiesAndSaysHow) {
  test::Random random(3);
  for (int n = 0; n < 500; ++n) {
    const double at = random.uniform(-5, 5), low = at - random.uniform(0, 4),
                 high = at + random.uniform(0, 4);
    const double steep = random.uniform(0.1, 30);
    const auto f = [&](double x) { return std::expm1(steep * (x - at)); };
    const Root root = root_between(f, low, high, 1e-10);
    EXPECT_TRUE(root.found()) << n;
    EXPECT_NEAR(root.value, at, 1.1e-10);
    EXPECT_LE(root.low, root.value);
    EXPECT_GE(root.high, root.value);
    EXPECT_LT(root.evaluations, 60);
  }
  EXPECT_EQ(root_between([](double x) { return x; }, 0.0, 1.0, 1e-9).stop, RootStop::exact);
  const Root none = root_between([](double x) { return x * x + 1; }, -1.0, 3.0, 1e-9);
  EXPECT_EQ(none.stop, RootStop::no_change);
  EXPECT_EQ(none.value, -1.0) << "the end nearer to zero";
  const Root capped = root_between(
      [](double x) { return std::copysign(std::pow(std::abs(x - 0.3), 0.2), x - 0.3); }, -1e6, 3e6, 1e-12, 6);
  EXPECT_EQ(capped.stop, RootStop::evaluations);
  EXPECT_FALSE(capped.found());
}

TEST(Turn, StandsOnEitherSideOfTheAnswerBothWays) {
  test::Random random(4);
  for (int n = 0; n < 300; ++n) {
    const double at = random.uniform(0, 1), width = std::pow(10, random.uniform(-8, -1));
    const auto above = [&](double x) { return x >= at; };
    const auto below = [&](double x) { return x <= at; };
    for (const Turn& t : {turn_between(above, -0.1, 1.1, width), turn_between(below, 1.1, -0.1, width),
                          turn_in_thirds(
                              [&](double a, double b) {
                                return std::pair{above(a), above(b)};
                              },
                              -0.1, 1.1, width),
                          turn_close_to(
                              [&](double a, double b) {
                                return std::pair{above(a), above(b)};
                              },
                              at - std::pow(10, random.uniform(-6, 0)), 2.1, width),
                          turn_close_to(
                              [&](double a, double b) {
                                return std::pair{below(a), below(b)};
                              },
                              1.1, -0.1, width)}) {
      EXPECT_LE(std::abs(t.yes - t.no), width);
      EXPECT_LE(std::min(t.no, t.yes), at);
      EXPECT_GE(std::max(t.no, t.yes), at);
    }
  }
}

TEST(Fault, AMemberAtTheStartOfAStructIsNotTheStruct) {
  circuit::Part part;
  EXPECT_EQ(static_cast<const void*>(&part), static_cast<const void*>(&part.kind));
  EXPECT_NE(place_of(part), place_of(part.kind));
  Faults faults;
  EXPECT_FALSE(has_errors(faults));
  add_fault(faults, Severity::warning, place_of(part.length), "x", "y");
  EXPECT_FALSE(has_errors(faults));
  add_fault(faults, Severity::error, place_of(part.length), "x", "y");
  EXPECT_TRUE(has_errors(faults));
}

TEST(Csv, WhatIsWrittenIsReadBack) {
  test::Random random(7);
  const std::string letters = "ab ,;\t\"'\n#-1.5";
  for (int n = 0; n < 2000; ++n) {
    std::vector<std::string> cells;
    for (int k = random.whole(2, 5); k > 0; --k) {
      std::string cell = "x";
      for (int c = random.whole(0, 6); c > 0; --c) {
        const char letter =
            letters[static_cast<size_t>(random.whole(0, static_cast<int>(letters.size()) - 1))];
        if (letter != '\n') cell += letter;
      }
      cells.push_back(cell + "x");
    }
    std::vector<std::string> header;
    for (size_t k = 0; k < cells.size(); ++k) header.push_back("h" + std::to_string(k));
    const CsvTable table = parse_csv(csv_row(header) + csv_row(cells), "t.csv");
    ASSERT_EQ(table.rows.size(), 1u);
    EXPECT_EQ(table.rows[0], cells) << csv_row(cells);
  }
}

}  // namespace
}  // namespace uadze
