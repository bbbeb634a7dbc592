#pragma once

#include <functional>
#include <utility>
#include <vector>

namespace CLI {
class App;
}

namespace cursimeter::tool {

/// What each subcommand does once the call is parsed.
using Calls = std::vector<std::pair<const CLI::App*, std::function<int()>>>;

/// Adds all subcommands with their options.
[[nodiscard]] Calls add_calls(CLI::App& app);

}  // namespace cursimeter::tool
