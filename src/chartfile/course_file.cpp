#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/whole_file.hpp>
#include <optional>

#include "chartfile/toml_document.hpp"
#include "chartfile/toml_reader.hpp"
#include "chartfile/toml_writer.hpp"
#include "course/course_keys.hpp"

namespace cursimeter {

Course parse_course(std::string_view text, const std::string& name) {
    const toml::table root = chartfile::parse_toml(text, name, FileKind::course);
    chartfile::TomlReader reader(root);
    CourseSpec spec;
    reader.read(keys::course_table(), spec);
    const SourceMap sources = reader.take_sources();
    std::optional<Course> course;
    std::vector<Diagnostic> misread = reader.take_diagnostics();
    const bool readable = misread.empty();
    chartfile::compile_located(std::move(misread), sources, name, [&] {
        if (readable) {  // what could not be read would only be found wrong again
            course.emplace(spec);
        }
    });
    return *course;
}

Course load_course(const std::filesystem::path& file) {
    return parse_course(read_whole_file(file), file.string());
}

std::string format_course(const CourseSpec& spec) {
    return chartfile::TomlWriter().write(keys::course_table(), spec);
}

}  // namespace cursimeter
