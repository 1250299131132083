#pragma once
// What `uadze book` takes.
#include <CLI/CLI.hpp>

#include "cli/commands.h"

namespace uadze::cli {

CLI::App* add_book(CLI::App& app, BookOptions& options);

}  // namespace uadze::cli
