#pragma once

namespace cursimeter::tool {

/// The exit code of an unusable call or input.
inline constexpr int unusable = 2;

/// Parses the call and does what it asks for. All options of all subcommands are in call_table.cpp.
[[nodiscard]] int run_program(int argc, char** argv);

}  // namespace cursimeter::tool
