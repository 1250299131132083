#include "core/solve/file_stamp.h"

#include <sys/stat.h>

namespace uadze::solve {

FileStamp file_stamp(const std::filesystem::path& path) {
  struct stat now {};
  if (::stat(path.c_str(), &now) != 0) return {};
  return {true, now.st_mtim.tv_sec * 1'000'000'000LL + now.st_mtim.tv_nsec,
          static_cast<std::uint64_t>(now.st_size), static_cast<std::uint64_t>(now.st_ino)};
}

}  // namespace uadze::solve
