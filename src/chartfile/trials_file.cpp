#include <cursimeter/chartfile/trials_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>

#include "chartfile/toml_document.hpp"
#include "chartfile/toml_reader.hpp"
#include "chartfile/toml_writer.hpp"
#include "drill/trials_keys.hpp"

namespace cursimeter {

TrialsFile parse_trials(std::string_view text, const std::string& name) {
    const toml::table root = chartfile::parse_toml(text, name, FileKind::trials);
    chartfile::TomlReader reader(root);
    TrialsSpec spec;
    reader.read(keys::trials_table(), spec);
    SourceMap sources = reader.take_sources();
    chartfile::compile_located(reader.take_diagnostics(), sources, name, [&] { check_trials(spec); });
    return {std::move(spec), std::move(sources)};
}

TrialsFile load_trials(const std::filesystem::path& file) {
    return parse_trials(read_whole_file(file), file.string());
}

std::string format_trials(const TrialsSpec& spec) {
    return chartfile::TomlWriter().write(keys::trials_table(), spec);
}

}  // namespace cursimeter
