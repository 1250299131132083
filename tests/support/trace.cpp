// What the compiler calls at every piece of code that a build with UADZE_TRACE runs: which were reached is
// written to a file of the folder UADZE_TRACE_DIR, with the program's name, for scripts/choose-sanitized.
#include <unistd.h>
#include <cstdint>
#include <fstream>
#include <string>
#include <vector>

extern "C" {
extern char __executable_start, etext;
}

namespace {
constexpr size_t longest = 128u << 20;  // bytes of a program's code
unsigned char reached[longest];

struct AtTheEnd {
  ~AtTheEnd() {
    const char* folder = std::getenv("UADZE_TRACE_DIR");
    if (!folder) return;
    std::vector<char> name(4096);
    const auto letters = readlink("/proc/self/exe", name.data(), name.size());
    std::ofstream out(std::string(folder) + "/" + std::to_string(getpid()));
    out << std::string(name.data(), static_cast<size_t>(std::max<ssize_t>(letters, 0))) << "\n";
    const auto code = static_cast<size_t>(&etext - &__executable_start);
    for (size_t at = 0; at < std::min(longest, code); ++at)
      if (reached[at]) out << at << "\n";
  }
} at_the_end;
}  // namespace

extern "C" void __sanitizer_cov_trace_pc();
extern "C" void __sanitizer_cov_trace_pc() {
  const auto at = static_cast<size_t>(static_cast<char*>(__builtin_return_address(0)) - &__executable_start);
  if (at < longest && !reached[at]) reached[at] = 1;
}
