#pragma once

#include <cursimeter/chartfile/source_map.hpp>
#include <cursimeter/drill/trials.hpp>
#include <filesystem>
#include <string>
#include <string_view>

/// Trials as TOML files. The format is in docs/trials-reference.md.
namespace cursimeter {

struct TrialsFile {
    TrialsSpec spec;
    SourceMap sources;
};

/// Reads a trials file, not the files that it names. Throws ChartError with every diagnostic, as `load_chart` does.
[[nodiscard]] TrialsFile load_trials(const std::filesystem::path& file);
[[nodiscard]] TrialsFile parse_trials(std::string_view text, const std::string& name);

/// The spec as TOML that `parse_trials` reads back equal.
[[nodiscard]] std::string format_trials(const TrialsSpec& spec);

/// docs/trials-reference.md (Markdown).
[[nodiscard]] std::string trials_reference();

}  // namespace cursimeter
