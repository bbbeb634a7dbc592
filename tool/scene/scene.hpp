#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/script.hpp>
#include <memory>
#include <optional>
#include <vector>

#include "files/call_files.hpp"
#include "scene/options.hpp"
#include "scene/results.hpp"

namespace cursimeter::tool {

/// A chart, what is played and maybe a course, loaded for a run.
class Scene {
    std::optional<survey::Take> take_;
    std::optional<ChartFile> own_;  ///< the take's chart
    std::optional<DrillFile> drill_;
    std::vector<double> ends_;  ///< of the drill's ticks, s

  public:
    explicit Scene(const SceneOptions& options);

    ChartFile chart;
    std::string chart_name, chart_text;  ///< where it stands, and what it says
    std::optional<Course> course;
    std::string name;    ///< of the drill, or the take's note
    double rate = 60.0;  ///< ticks a second

    /// Null for a take.
    [[nodiscard]] const DrillFile* drill() const { return drill_ ? &*drill_ : nullptr; }
    [[nodiscard]] const Course* world() const { return course ? &*course : nullptr; }
    /// From its start; this must live as long.
    [[nodiscard]] std::unique_ptr<survey::Script> script() const;

  private:
    void warn_of_difference(const SceneOptions& options) const;
};

[[nodiscard]] RunResult run_scene(const Scene& scene);
/// The same drill again at other tick rates, compared with the result. A take has ticks of its own: refused.
void run_also_at(const Scene& scene, const std::vector<double>& rates, RunResult& result);

/// What stands beside NAME.chart.toml, where neither drill nor take is named: NAME.drill.toml, and NAME.course.toml unless
/// a course is named.
void find_companions(SceneOptions& options);

/// The files that a scene is loaded from.
[[nodiscard]] std::vector<InputFile> inputs_of(const SceneOptions& options);

/// "demo/charts/bearer.toml:44:36" for a path of the spec.
[[nodiscard]] std::string place_of(const std::string& file, const SourceMap& sources,
                                   const std::string& path);

}  // namespace cursimeter::tool
