#pragma once
// Runs the command as a user does.
//
// Example:
//   const test::Outcome o = test::run("--version");       // o.code, o.out, o.err
#include <sys/wait.h>

#include <cstdlib>
#include <string>

#include "support/temp_folder.h"

namespace uadze::test {

inline const std::string p4 = source("demo/ostrel-p4.uadze.json").string();
inline const std::string wisp = source("demo/ostrel-wisp.uadze.json").string();

/// The command under test: UADZE_BINARY of the environment (the one with the sanitizers), or the build's own.
inline std::string uadze_binary() {
  const char* other = std::getenv("UADZE_BINARY");
  return other ? other : UADZE_BINARY;
}

struct Outcome {
  int code;
  std::string out, err;
};

inline Outcome run(const std::string& arguments) {
  TempFolder folder;
  const std::string command = uadze_binary() + " " + arguments + " >" + (folder / "out").string() + " 2>" +
                              (folder / "err").string() + " </dev/null";
  const int status = std::system(command.c_str());
  return {WIFEXITED(status) ? WEXITSTATUS(status) : -1, slurp(folder / "out"), slurp(folder / "err")};
}

}  // namespace uadze::test
