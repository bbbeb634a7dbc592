#include <fmt/format.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <fstream>

#include "chartfile/toml_document.hpp"
#include "chartfile/toml_reader.hpp"
#include "chartfile/toml_writer.hpp"
#include "core/chart/chart_keys.hpp"

namespace cursimeter {

ChartFile parse_chart(std::string_view text, const std::string& name) {
    const toml::table root = chartfile::parse_toml(text, name);
    chartfile::TomlReader reader(root);
    ChartSpec spec;
    reader.read(keys::chart_table(), spec);
    SourceMap sources = reader.take_sources();
    std::optional<Chart> chart;
    chartfile::compile_located(reader.take_diagnostics(), sources, name, [&] { chart = compile(spec); });
    return {std::move(spec), *chart, std::move(sources)};
}

ChartFile load_chart(const std::filesystem::path& file) {
    return parse_chart(chartfile::read_text(file), file.string());
}

std::string format_chart(const ChartSpec& spec) {
    static_cast<void>(compile(spec));
    return chartfile::TomlWriter().write(keys::chart_table(), spec);
}

void save_chart(const ChartSpec& spec, const std::filesystem::path& file) {
    const std::string text = format_chart(spec);
    const std::filesystem::path fresh = file.string() + ".new";
    std::ofstream out(fresh, std::ios::binary);
    out << text;
    out.close();
    std::error_code error;
    if (out) {
        std::filesystem::rename(fresh, file, error);
    }
    if (!out || error) {
        std::error_code ignored;
        std::filesystem::remove(fresh, ignored);
        throw ChartError(
            {{"", "cannot be written", "check the path and its permissions", file.string(), 0, 0}});
    }
}

}  // namespace cursimeter
