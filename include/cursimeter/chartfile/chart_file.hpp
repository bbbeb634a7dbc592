#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/chartfile/source_map.hpp>
#include <filesystem>
#include <string>
#include <string_view>

/// Charts as TOML files. The format is in docs/chart-reference.md.
namespace cursimeter {

/// A chart with what it was made from.
struct ChartFile {
    ChartSpec spec;
    Chart chart;
    SourceMap sources;
};

/// Reads and compiles a chart file. Throws ChartError with every diagnostic: file, line and column,
/// what is wrong and what would be right. A file that is not TOML yields the parser's first complaint.
[[nodiscard]] ChartFile load_chart(const std::filesystem::path& file);

/// The same from text; `name` stands in for the file's name in diagnostics.
[[nodiscard]] ChartFile parse_chart(std::string_view text, const std::string& name);

/// The spec as TOML that `parse_chart` reads back equal. Throws ChartError if the spec is not valid.
[[nodiscard]] std::string format_chart(const ChartSpec& spec);

/// Writes `format_chart` to a file, which is replaced as a whole or not at all. A spec has no comments, so
/// those of a file that it was loaded from are not kept.
void save_chart(const ChartSpec& spec, const std::filesystem::path& file);

/// docs/chart-reference.md: every key with type, unit, default, range and meaning (Markdown).
[[nodiscard]] std::string chart_reference();

}  // namespace cursimeter
