#pragma once

#include <string_view>

/// What a file holds, by a look at it: for messages, and so that no program replaces one kind by another.
namespace cursimeter {

enum class FileKind {
    unknown,
    chart,
    drill,
    course,
    controls,
    trials,
    take,
    match,
    png,
    svg,
    html,
    table,
    results
};

/// Guesses from the first bytes, or from the keys that stand in a TOML file. A file with mistakes is recognised too;
/// one that could be two kinds is `unknown`. Reads at most the first 64 kB.
[[nodiscard]] FileKind kind_of_file(std::string_view bytes);

/// "a chart file", "a take", "a PNG picture". Of `unknown`: "something else".
[[nodiscard]] std::string_view to_string(FileKind kind);

}  // namespace cursimeter
