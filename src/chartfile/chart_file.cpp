#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>

#include "chartfile/toml_document.hpp"
#include "chartfile/toml_reader.hpp"
#include "chartfile/toml_writer.hpp"
#include "core/chart/chart_keys.hpp"

namespace cursimeter {

ChartFile parse_chart(std::string_view text, const std::string& name) {
    const toml::table root = chartfile::parse_toml(text, name, FileKind::chart);
    chartfile::TomlReader reader(root);
    ChartSpec spec;
    reader.read(keys::chart_table(), spec);
    SourceMap sources = reader.take_sources();
    std::optional<Chart> chart;
    chartfile::compile_located(reader.take_diagnostics(), sources, name, [&] { chart = compile(spec); });
    return {std::move(spec), *chart, std::move(sources)};
}

ChartFile load_chart(const std::filesystem::path& file) {
    return parse_chart(read_whole_file(file), file.string());
}

std::string format_chart(const ChartSpec& spec) {
    static_cast<void>(compile(spec));
    return chartfile::TomlWriter().write(keys::chart_table(), spec);
}

void save_chart(const ChartSpec& spec, const std::filesystem::path& file) {
    write_whole_file(file, format_chart(spec));
}

}  // namespace cursimeter
