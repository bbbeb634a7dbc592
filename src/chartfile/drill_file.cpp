#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>
#include <optional>

#include "chartfile/toml_document.hpp"
#include "chartfile/toml_reader.hpp"
#include "chartfile/toml_writer.hpp"
#include "drill/drill_keys.hpp"

namespace cursimeter {

namespace {

DrillFile parsed_drill(std::string_view text, const std::string& name, const Chart& chart, bool hands_alone) {
    const toml::table root = chartfile::parse_toml(text, name, FileKind::drill);
    chartfile::TomlReader reader(root);
    DrillSpec spec;
    reader.read(keys::drill_table(), spec);
    if (hands_alone) {
        spec.expects.clear();
    }
    SourceMap sources = reader.take_sources();
    std::optional<Drill> drill;
    chartfile::compile_located(reader.take_diagnostics(), sources, name, [&] { drill.emplace(spec, chart); });
    return {std::move(spec), *drill, std::move(sources)};
}

}  // namespace

DrillFile parse_drill(std::string_view text, const std::string& name, const Chart& chart) {
    return parsed_drill(text, name, chart, false);
}

DrillFile parse_hands(std::string_view text, const std::string& name, const Chart& chart) {
    return parsed_drill(text, name, chart, true);
}

DrillFile load_drill(const std::filesystem::path& file, const Chart& chart) {
    return parse_drill(read_whole_file(file), file.string(), chart);
}

std::string format_drill(const DrillSpec& spec) {
    return chartfile::TomlWriter().write(keys::drill_table(), spec);
}

}  // namespace cursimeter
