#pragma once

#include <cursimeter/controls/controls.hpp>
#include <filesystem>
#include <string>
#include <string_view>

/// A player's settings as TOML files. The format is in docs/controls-reference.md.
namespace cursimeter {

/// Reads a file of settings for a chart. Throws ChartError with every diagnostic, as `load_chart` does.
[[nodiscard]] ControlsSpec load_controls(const std::filesystem::path& file, const Chart& chart);
[[nodiscard]] ControlsSpec parse_controls(std::string_view text, const std::string& name, const Chart& chart);

/// The settings as TOML that `parse_controls` reads back equal.
[[nodiscard]] std::string format_controls(const ControlsSpec& spec);

/// docs/controls-reference.md (Markdown).
[[nodiscard]] std::string controls_reference();

}  // namespace cursimeter
