#pragma once
// uadze-rig bench and uadze-rig season.
#include <CLI/CLI.hpp>

namespace uadze::rigs {

CLI::App* add_bench(CLI::App& app);
int run_bench();
CLI::App* add_season(CLI::App& app);
int run_season();

}  // namespace uadze::rigs
