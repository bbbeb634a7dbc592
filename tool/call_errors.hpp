#pragma once

#include <CLI/CLI.hpp>
#include <cstdint>
#include <cursimeter/diagnostics.hpp>
#include <limits>
#include <string_view>

namespace cursimeter::tool {

/// Whether it is a whole number, and larger than `most`.
[[nodiscard]] bool is_too_large(std::string_view digits,
                                std::uint64_t most = std::numeric_limits<std::uint64_t>::max());

/// What is wrong with a call that could not be parsed, in our words, with a mend.
[[nodiscard]] Diagnostic error_of_call(CLI::App& app, const CLI::ParseError& error, int argc, char** argv);

}  // namespace cursimeter::tool
