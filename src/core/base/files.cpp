#include "core/base/files.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>
#include <sstream>

#include "core/base/message.h"

namespace uadze {
namespace fs = std::filesystem;
namespace {

[[noreturn]] void fail(const fs::path& path, const std::string& what, int code) {
  throw InputError(Message{
      .file = path.string(), .place = {}, .expected = {}, .found = what + ": " + std::strerror(code)});
}

}  // namespace

std::string read_file(const fs::path& path) {
  if (std::error_code ignored; fs::is_directory(path, ignored)) fail(path, "can not be read", EISDIR);
  errno = 0;
  std::ifstream in(path, std::ios::binary);
  if (!in) fail(path, "can not be read", errno ? errno : ENOENT);
  std::ostringstream out;
  out << in.rdbuf();
  if (in.bad()) fail(path, "can not be read", errno ? errno : EIO);
  return std::move(out).str();
}

void write_file_atomically(const fs::path& path, std::string_view content) {
  fs::path target = path;
  if (std::error_code code; fs::is_symlink(path, code)) target = fs::weakly_canonical(path, code);
  std::string temporary = target.string() + ".XXXXXX";
  const int file = ::mkstemp(temporary.data());
  if (file < 0) fail(path, "can not be saved", errno);
  const auto give_up = [&](int code) {
    ::close(file);
    ::unlink(temporary.c_str());
    fail(path, "can not be saved (the file on disk is unchanged)", code);
  };
  for (size_t done = 0; done < content.size();) {
    const ssize_t n = ::write(file, content.data() + done, content.size() - done);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) give_up(n < 0 ? errno : ENOSPC);
    done += static_cast<size_t>(n);
  }
  struct stat old {};
  mode_t mode = 0644;
  if (::stat(target.c_str(), &old) == 0) {
    mode = old.st_mode & 07777;
    if (::access(target.c_str(), W_OK) != 0) give_up(errno);
  }
  if (::fchmod(file, mode) != 0 || ::fsync(file) != 0) give_up(errno);
  if (::close(file) != 0 || ::rename(temporary.c_str(), target.c_str()) != 0) {
    const int code = errno;
    ::unlink(temporary.c_str());
    fail(path, "can not be saved (the file on disk is unchanged)", code);
  }
}

}  // namespace uadze
