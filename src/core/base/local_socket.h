#pragma once
// One question and its answer over a local socket (a name in the file system): how instruments of the garage,
// and the simulated ones that ship, are read.
//
// Example:
//   test::TempFolder folder;
//   LocalServer server(folder / "bench");
//   std::thread answering([&] { server.serve([](const std::string& asked) { return "you said " + asked; }, 1); });
//   EXPECT_EQ(ask(folder / "bench", "flow"), "you said flow");
//   answering.join();
#include <chrono>
#include <filesystem>
#include <functional>
#include <string>

namespace uadze {

/// Sends one line and reads what comes back to its end. Throws InputError that names the socket where nobody
/// answers in time, or too much comes (1 MiB).
std::string ask(const std::filesystem::path& socket, const std::string& line,
                std::chrono::milliseconds wait = std::chrono::seconds(5));

class LocalServer {
 public:
  /// Throws InputError where the name is too long, or another program answers there.
  explicit LocalServer(std::filesystem::path socket);
  ~LocalServer();
  LocalServer(const LocalServer&) = delete;
  LocalServer& operator=(const LocalServer&) = delete;
  /// Answers so many questions, or, with 0, until the program ends.
  void serve(const std::function<std::string(const std::string&)>& answer, int questions = 0);

 private:
  std::filesystem::path socket_;
  int handle_ = -1;
};

}  // namespace uadze
