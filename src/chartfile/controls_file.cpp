#include <cursimeter/chartfile/controls_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>

#include "chartfile/toml_document.hpp"
#include "chartfile/toml_reader.hpp"
#include "chartfile/toml_writer.hpp"
#include "controls/controls_keys.hpp"

namespace cursimeter {

ControlsSpec parse_controls(std::string_view text, const std::string& name, const Chart& chart) {
    const toml::table root = chartfile::parse_toml(text, name, FileKind::controls);
    chartfile::TomlReader reader(root);
    ControlsSpec spec;
    reader.read(keys::controls_table(), spec);
    const SourceMap sources = reader.take_sources();
    chartfile::compile_located(reader.take_diagnostics(), sources, name,
                               [&] { static_cast<void>(Controls(chart, spec)); });
    return spec;
}

ControlsSpec load_controls(const std::filesystem::path& file, const Chart& chart) {
    return parse_controls(read_whole_file(file), file.string(), chart);
}

std::string format_controls(const ControlsSpec& spec) {
    return chartfile::TomlWriter().write(keys::controls_table(), spec);
}

}  // namespace cursimeter
