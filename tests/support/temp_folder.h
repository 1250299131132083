#pragma once
// A folder for one test, removed with all it holds.
#include <stdlib.h>

#include <chrono>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <string>

namespace uadze::test {

class TempFolder {
 public:
  TempFolder() {
    std::string name = (std::filesystem::temp_directory_path() / "uadze-test-XXXXXX").string();
    path_ = ::mkdtemp(name.data());
  }
  ~TempFolder() {
    std::error_code ignored;
    std::filesystem::remove_all(path_, ignored);
  }
  TempFolder(const TempFolder&) = delete;
  TempFolder& operator=(const TempFolder&) = delete;

  std::filesystem::path operator/(const std::string& name) const { return path_ / name; }
  const std::filesystem::path& path() const { return path_; }

  std::filesystem::path write(const std::string& name, const std::string& text) const {
    std::filesystem::create_directories((path_ / name).parent_path());
    std::ofstream(path_ / name, std::ios::binary) << text;
    return path_ / name;
  }

 private:
  std::filesystem::path path_;
};

inline std::string slurp(const std::filesystem::path& path) {
  std::ifstream in(path, std::ios::binary);
  std::ostringstream out;
  out << in.rdbuf();
  return out.str();
}

inline std::filesystem::path source(const std::string& name) {
  return std::filesystem::path(UADZE_SOURCE_DIR) / name;
}

/// As if the file had been written again, alike.
inline void touch(const std::filesystem::path& file) {
  std::filesystem::last_write_time(file, std::filesystem::last_write_time(file) + std::chrono::seconds(2));
}

/// A copy of the demo in a folder of its own.
inline void copy_demo(const TempFolder& folder) {
  std::filesystem::copy(source("demo"), folder.path(), std::filesystem::copy_options::recursive);
}

/// A copy whose laps end soon, with the corners that are left of them, two laps for each stint: quick to run,
/// for tests that look at something else than the figures.
void copy_short_demo(const TempFolder& folder, double seconds = 16.0);

}  // namespace uadze::test
