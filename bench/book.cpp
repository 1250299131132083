// A season's book of 20,000 records: opening it (its file and chain checked, all records read) and searching
// it. The figures are asked for: 0.5 s and 50 ms.
//
//   build/dev/bench/book [RECORDS]
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <filesystem>

#include "core/logbook/book.h"

namespace {

template <class Work>
double median_ms(int times, Work&& work) {
  std::vector<double> took;
  for (int k = 0; k < times; ++k) {
    const auto start = std::chrono::steady_clock::now();
    work();
    took.push_back(
        std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
  }
  std::nth_element(took.begin(), took.begin() + times / 2, took.end());
  return took[static_cast<size_t>(times / 2)];
}

}  // namespace

int main(int argc, char** argv) {
  using namespace uadze;
  const int records = argc > 1 ? std::max(std::atoi(argv[1]), 1) : 20000;
  const auto folder = std::filesystem::temp_directory_path() / fmt::format("uadze-bench-book-{}", ::getpid());
  std::filesystem::create_directories(folder);
  const auto file = folder / "season.book";
  const char* words[]{"olive", "washer", "feed line", "banjo", "sock",
                      "gauge", "kerb",   "return",    "lid",   "pump"};
  double append = 0;
  {
    logbook::Book book = logbook::Book::open(file);
    const auto start = std::chrono::steady_clock::now();
    for (int k = 0; k < records; ++k) {
      logbook::Record r{.kind = static_cast<logbook::Kind>(k % 9),
                        .setup = "P4, surge fitted",
                        .subject = fmt::format("flow of main {}", k % 3),
                        .by = k % 2 ? "R. Fell" : "M. Dunn"};
      r.second = "T. Arkle";
      r.instrument = "can 5 L, meter 1";
      r.note = fmt::format("{} {} looked at, number {}, dry and tight as it should be", words[k % 10],
                           words[(k / 10) % 10], k);
      for (int i = 0; i < 3; ++i)
        r.readings.push_back({fmt::format("reading {}", i), Quantity::pressure, 3e5 + k, 3e5});
      book.append(r, 1700000000 + k);
    }
    append = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
  }
  std::int64_t read = 0;
  const double open = median_ms(7, [&] { read = logbook::Book::open(file).size(); });
  const double open_and_read =
      median_ms(7, [&] { read = static_cast<std::int64_t>(logbook::Book::open(file).all().size()); });
  const logbook::Book book = logbook::Book::open(file);
  size_t found = 0;
  const double common = median_ms(15, [&] { found = book.search("olive tight").size(); });
  const double rare = median_ms(15, [&] { found = book.search("numb 19 kerb").size(); });
  const double verify = median_ms(3, [&] { found = book.verify().faults.size(); });
  fmt::print("{} records, {:.1f} MB\n", read, static_cast<double>(std::filesystem::file_size(file)) / 1e6);
  fmt::print("written, each on the disk   {:8.2f} ms a record\n", append / records);
  fmt::print("opened, file and chain      {:8.0f} ms\n", open);
  fmt::print("opened and all read         {:8.0f} ms\n", open_and_read);
  fmt::print("searched, common words      {:8.1f} ms\n", common);
  fmt::print("searched, rare words        {:8.1f} ms\n", rare);
  fmt::print("proved whole                {:8.0f} ms, {} faults\n", verify, found);
  std::filesystem::remove_all(folder);
  return 0;
}
