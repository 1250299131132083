#include "core/base/files.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstdlib>
#include <cstring>

#include "core/base/message.h"

namespace uadze {
namespace fs = std::filesystem;
namespace {

[[noreturn]] void fail(const fs::path& path, const std::string& what, int code) {
  throw InputError(Message{
      .file = path.string(), .place = {}, .expected = {}, .found = what + ": " + std::strerror(code)});
}

struct File {
  explicit File(int opened) : handle(opened) {}
  File(const File&) = delete;
  File& operator=(const File&) = delete;
  ~File() {
    const int code = errno;
    if (handle >= 0) ::close(handle);
    errno = code;
  }
  int handle;
};

const char* kind_of(mode_t mode) {
  if (S_ISDIR(mode)) return "a folder";
  if (S_ISFIFO(mode)) return "a pipe";
  if (S_ISCHR(mode) || S_ISBLK(mode)) return "a device";
  return "something else";
}

}  // namespace

std::string read_file(const fs::path& path, size_t most) {
  // Not blocking: a pipe without a writer would hold whoever looks at it.
  const File file(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
  if (file.handle < 0) fail(path, "can not be read", errno);
  struct stat about {};
  if (::fstat(file.handle, &about) != 0) fail(path, "can not be read", errno);
  const auto refuse = [&](std::string expected, std::string found) {
    throw InputError(Message{
        .file = path.string(), .place = {}, .expected = std::move(expected), .found = std::move(found)});
  };
  if (!S_ISREG(about.st_mode)) refuse("a regular file", kind_of(about.st_mode));
  const auto too_large = [&] {
    refuse(fmt::format("a file of {} MB at most", most >> 20),
           fmt::format("{} MB", (static_cast<size_t>(about.st_size) >> 20) + 1));
  };
  if (static_cast<size_t>(about.st_size) > most) too_large();
  std::string out;
  out.reserve(static_cast<size_t>(about.st_size));
  char block[1 << 16];
  for (;;) {
    const ssize_t n = ::read(file.handle, block, sizeof block);
    if (n < 0 && errno == EINTR) continue;
    if (n < 0) fail(path, "can not be read to its end", errno);
    if (n == 0) return out;
    out.append(block, static_cast<size_t>(n));
    if (out.size() > most) too_large();
  }
}

bool lies_inside(const fs::path& file, const fs::path& folder) {
  std::error_code ignored;
  const fs::path inner = fs::weakly_canonical(fs::absolute(file, ignored), ignored),
                 outer = fs::weakly_canonical(fs::absolute(folder.empty() ? "." : folder, ignored), ignored);
  const auto [a, b] = std::mismatch(outer.begin(), outer.end(), inner.begin(), inner.end());
  return a == outer.end() || (a->empty() && std::next(a) == outer.end());
}

namespace {

/// Bytes that could not be written: the system's reason; 0 if all were.
int write_all(int handle, std::string_view content) {
  for (size_t done = 0; done < content.size();) {
    const ssize_t n = ::write(handle, content.data() + done, content.size() - done);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) return n < 0 ? errno : ENOSPC;
    done += static_cast<size_t>(n);
  }
  return 0;
}

/// What can not be put in another's place: it, or what it links to, is no regular file, or belongs to the
/// system's view of a running program.
bool written_straight(const fs::path& path) {
  std::error_code ignored;
  fs::path at = fs::absolute(path, ignored).lexically_normal();
  for (int links = 0; links < 40; ++links) {
    const std::string text = at.string();
    if (text.starts_with("/dev/") || text.starts_with("/proc/")) return true;
    if (!fs::is_symlink(at, ignored)) break;
    at = (at.parent_path() / fs::read_symlink(at, ignored)).lexically_normal();
  }
  struct stat about {};
  return ::stat(path.c_str(), &about) == 0 && !S_ISREG(about.st_mode);
}

constexpr const char* part_mark = ".part-";

/// What saves of this file left that were killed: of processes that are gone, and a minute old, for another
/// machine on the same disk has processes of its own.
void remove_leftovers(const fs::path& target) {
  std::error_code ignored;
  const fs::path folder = target.has_parent_path() ? target.parent_path() : fs::path(".");
  const std::string begin = target.filename().string() + part_mark;
  for (const auto& entry : fs::directory_iterator(folder, ignored)) {
    const std::string name = entry.path().filename().string();
    if (!name.starts_with(begin)) continue;
    const long pid = std::strtol(name.c_str() + begin.size(), nullptr, 10);
    const bool gone = pid > 0 && ::kill(static_cast<pid_t>(pid), 0) != 0 && errno == ESRCH;
    const auto age = fs::file_time_type::clock::now() - fs::last_write_time(entry.path(), ignored);
    if (gone && age > std::chrono::minutes(1)) fs::remove(entry.path(), ignored);
  }
}

void write_straight(const fs::path& path, std::string_view content) {
  int handle = ::open(path.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC | O_NONBLOCK);
  // A pipe's reader may come a moment later.
  for (int wait = 0; handle < 0 && errno == ENXIO && wait < 250; ++wait) {
    ::usleep(20000);
    handle = ::open(path.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC | O_NONBLOCK);
  }
  const File file(handle);
  if (handle < 0) fail(path, "can not be written", errno);
  ::fcntl(handle, F_SETFL, ::fcntl(handle, F_GETFL) & ~O_NONBLOCK);
  if (const int code = write_all(handle, content)) fail(path, "can not be written", code);
}

}  // namespace

void write_file_atomically(const fs::path& path, std::string_view content) {
  if (written_straight(path)) return write_straight(path, content);
  fs::path target = path;
  if (std::error_code code; fs::is_symlink(path, code)) target = fs::weakly_canonical(path, code);
  remove_leftovers(target);
  std::string temporary = target.string() + part_mark + std::to_string(::getpid()) + "-XXXXXX";
  const int file = ::mkstemp(temporary.data());
  if (file < 0) fail(path, "can not be saved", errno);
  const auto give_up = [&](int code) {
    ::close(file);
    ::unlink(temporary.c_str());
    fail(path, "can not be saved (the file on disk is unchanged)", code);
  };
  if (const int code = write_all(file, content)) give_up(code);
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
