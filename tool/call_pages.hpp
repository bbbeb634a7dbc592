#pragma once

#include <CLI/CLI.hpp>
#include <string>

/// What is made from the table of calls, so that it never differs from --help.
namespace cursimeter::tool {

/// A script for "bash", "zsh" or "fish" that completes subcommands, options and files.
[[nodiscard]] std::string completion_script(const CLI::App& app, const std::string& shell);
/// The manual page cursimeter(1), for `man`.
[[nodiscard]] std::string manual_page(const CLI::App& app);

}  // namespace cursimeter::tool
