#pragma once

#include <CLI/CLI.hpp>
#include <functional>
#include <utility>
#include <vector>

namespace cursimeter::tool {

/// What each subcommand does once the call is parsed.
using Calls = std::vector<std::pair<const CLI::App*, std::function<int()>>>;

/// Adds all subcommands with their options. The one table of calls: --help, completion and manual read it.
[[nodiscard]] Calls add_calls(CLI::App& app);

/// Those of it that ask something of a chart: check, figures, why, trial, sweep, scout, fit.
void add_survey_calls(CLI::App& app, Calls& calls);

}  // namespace cursimeter::tool
