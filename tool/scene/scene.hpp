#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <optional>
#include <vector>

#include "scene/options.hpp"
#include "scene/results.hpp"

namespace cursimeter::tool {

/// A chart, a drill and maybe a course, loaded for a run.
struct Scene {
    ChartFile chart;
    std::optional<Course> course;
    DrillFile drill;
    double rate = 60.0;        ///< ticks a second
    std::vector<double> ends;  ///< of the ticks, s
    [[nodiscard]] const Course* world() const { return course ? &*course : nullptr; }
};

[[nodiscard]] Scene load_scene(const SceneOptions& options);
[[nodiscard]] RunResult run_scene(const Scene& scene);

/// Throws ChartError unless the file, if there is one, ends in .png or .svg.
void check_picture(const std::string& option, const std::string& file);

/// "demo/charts/bearer.toml:44:36" for a path of the spec.
[[nodiscard]] std::string place_of(const std::string& file, const SourceMap& sources,
                                   const std::string& path);

}  // namespace cursimeter::tool
