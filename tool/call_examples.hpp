#pragma once

#include <string>
#include <string_view>

namespace cursimeter::tool {

/// What stands below the options of a subcommand: calls to copy, which a test runs, and what it exits with.
[[nodiscard]] std::string footer_of(std::string_view command);

}  // namespace cursimeter::tool
