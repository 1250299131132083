#include "core/base/local_socket.h"

#include <poll.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>

#include "core/base/message.h"

namespace uadze {
namespace {

constexpr size_t most_answer = size_t{1} << 20, most_question = 4096;

[[noreturn]] void fail(const std::filesystem::path& socket, const std::string& expected,
                       const std::string& found) {
  throw InputError(Message{.file = socket.string(), .expected = expected, .found = found});
}

struct Handle {
  int fd;
  ~Handle() {
    if (fd >= 0) ::close(fd);
  }
};

sockaddr_un address_of(const std::filesystem::path& socket) {
  sockaddr_un out{};
  out.sun_family = AF_UNIX;
  const std::string name = socket.string();
  if (name.empty() || name.size() >= sizeof out.sun_path)
    fail(socket, "a socket's name of 1 to 107 bytes", std::to_string(name.size()));
  std::memcpy(out.sun_path, name.c_str(), name.size() + 1);
  return out;
}

bool joined(int fd, const sockaddr_un& address) {
  return ::connect(fd, reinterpret_cast<const sockaddr*>(&address), sizeof address) == 0;
}

/// Waits until something can be read; false after the wait.
bool readable(int fd, std::chrono::milliseconds wait) {
  pollfd p{fd, POLLIN, 0};
  return ::poll(&p, 1, static_cast<int>(wait.count())) > 0;
}

bool send_all(int fd, const std::string& text) {
  for (size_t sent = 0; sent < text.size();) {
    const ssize_t n = ::send(fd, text.data() + sent, text.size() - sent, MSG_NOSIGNAL);
    if (n <= 0) return false;
    sent += static_cast<size_t>(n);
  }
  return true;
}

}  // namespace

std::string ask(const std::filesystem::path& socket, const std::string& line,
                std::chrono::milliseconds wait) {
  const sockaddr_un address = address_of(socket);
  const Handle h{::socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0)};
  if (h.fd < 0 || !joined(h.fd, address)) fail(socket, "a bench that answers", std::strerror(errno));
  if (!send_all(h.fd, line + "\n")) fail(socket, "a bench that listens", "one that hung up");
  std::string out;
  const auto until = std::chrono::steady_clock::now() + wait;
  for (char bytes[4096];;) {
    const auto left =
        std::chrono::duration_cast<std::chrono::milliseconds>(until - std::chrono::steady_clock::now());
    if (left.count() <= 0 || !readable(h.fd, left)) fail(socket, "an answer within its time", "none");
    const ssize_t n = ::read(h.fd, bytes, sizeof bytes);
    if (n < 0) fail(socket, "an answer", std::strerror(errno));
    if (n == 0) return out;
    out.append(bytes, static_cast<size_t>(n));
    if (out.size() > most_answer) fail(socket, "an answer of 1 MiB at the most", "more");
  }
}

LocalServer::LocalServer(std::filesystem::path socket) : socket_(std::move(socket)) {
  const sockaddr_un address = address_of(socket_);
  std::error_code ignored;
  if (std::filesystem::exists(socket_, ignored)) {
    const Handle other{::socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0)};
    if (!std::filesystem::is_socket(socket_, ignored)) fail(socket_, "a name for a socket", "a file");
    if (joined(other.fd, address)) fail(socket_, "a socket of its own", "another program answers there");
    std::filesystem::remove(socket_, ignored);  // left behind by one that was killed
  }
  handle_ = ::socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
  if (handle_ < 0 || ::bind(handle_, reinterpret_cast<const sockaddr*>(&address), sizeof address) != 0 ||
      ::listen(handle_, 8) != 0) {
    const std::string why = std::strerror(errno);
    if (handle_ >= 0) ::close(handle_);
    fail(socket_, "a place for a socket", why);
  }
}

LocalServer::~LocalServer() {
  ::close(handle_);
  std::error_code ignored;
  std::filesystem::remove(socket_, ignored);
}

void LocalServer::serve(const std::function<std::string(const std::string&)>& answer, int questions) {
  for (int k = 0; questions == 0 || k < questions; ++k) {
    const Handle h{::accept(handle_, nullptr, nullptr)};
    if (h.fd < 0) continue;
    std::string line;
    // One that says nothing does not hold up the next.
    for (char c; line.size() < most_question && readable(h.fd, std::chrono::seconds(5)) &&
                 ::read(h.fd, &c, 1) == 1 && c != '\n';)
      line += c;
    send_all(h.fd, answer(line));
  }
}

}  // namespace uadze
