#include "scene/scene.hpp"

#include <fmt/format.h>

#include "files/files.hpp"

namespace cursimeter::tool {

Scene load_scene(const SceneOptions& options) {
    ChartFile chart = load_chart(options.chart);
    std::optional<Course> course;
    if (!options.course.empty()) {
        course = load_course(options.course);
    }
    DrillFile drill = load_drill(options.drill, chart.chart);
    const Seconds length = options.seconds ? Seconds{*options.seconds} : drill.drill.length();
    std::vector<double> ends = survey::even_ticks(options.rate, length);
    return {std::move(chart), std::move(course), std::move(drill), options.rate, std::move(ends)};
}

RunResult run_scene(const Scene& scene) {
    return {scene.chart.chart, scene.drill.drill.name(), scene.rate,
            scene.course ? survey::run(scene.chart.chart, scene.drill.drill, *scene.course, scene.ends)
                         : survey::run(scene.chart.chart, scene.drill.drill, scene.ends),
            scene.course};
}

void check_picture(const std::string& option, const std::string& file) {
    if (!file.empty() && ending_of(file) != ".png" && ending_of(file) != ".svg") {
        throw ChartError(
            {{option, "is neither a .png nor a .svg file", "end its name in one of them", file, 0, 0}});
    }
}

std::string place_of(const std::string& file, const SourceMap& sources, const std::string& path) {
    const SourcePosition at = sources.find(path);
    return at.line > 0 ? fmt::format("{}:{}:{}", file, at.line, at.column) : file;
}

}  // namespace cursimeter::tool
