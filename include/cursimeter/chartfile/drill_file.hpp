#pragma once

#include <cursimeter/chartfile/source_map.hpp>
#include <cursimeter/drill/drill.hpp>
#include <filesystem>
#include <string>
#include <string_view>

/// Drills as TOML files. The format is in docs/drill-reference.md.
namespace cursimeter {

struct DrillFile {
    DrillSpec spec;
    Drill drill;  ///< laid out for the chart it was loaded for
    SourceMap sources;
};

/// Reads a drill file for a chart. Throws ChartError with every diagnostic, as `load_chart` does.
[[nodiscard]] DrillFile load_drill(const std::filesystem::path& file, const Chart& chart);
[[nodiscard]] DrillFile parse_drill(std::string_view text, const std::string& name, const Chart& chart);

/// The same without what the drill expects of its runs, as where another chart plays its hands.
[[nodiscard]] DrillFile parse_hands(std::string_view text, const std::string& name, const Chart& chart);

/// The spec as TOML that `parse_drill` reads back equal.
[[nodiscard]] std::string format_drill(const DrillSpec& spec);

/// docs/drill-reference.md (Markdown).
[[nodiscard]] std::string drill_reference();

}  // namespace cursimeter
