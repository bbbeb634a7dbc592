#pragma once

#include <CLI/CLI.hpp>
#include <cursimeter/diagnostics.hpp>

namespace cursimeter::tool {

/// What is wrong with a call that could not be parsed, in our words, with a mend.
[[nodiscard]] Diagnostic error_of_call(CLI::App& app, const CLI::ParseError& error, int argc, char** argv);

}  // namespace cursimeter::tool
