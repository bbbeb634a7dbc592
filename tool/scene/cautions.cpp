#include "scene/cautions.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/diagnostics.hpp>

namespace cursimeter::tool {

std::vector<std::string> cautions_of(const Chart& chart, const Course& course, const glm::dvec3& start) {
    std::vector<std::string> cautions;
    const std::vector<std::string> known = chart.zones();
    for (std::size_t i = 0; i < course.spec().zones.size(); ++i) {
        const std::string& kind = course.spec().zones[i].kind;
        const std::string_view near = nearest_name(kind, known);
        if (std::find(known.begin(), known.end(), kind) == known.end() && !near.empty()) {
            cautions.push_back(
                fmt::format("zone[{}]: the chart knows no zone '{}'; did you mean '{}'?", i + 1, kind, near));
        }
    }
    constexpr double deep = 1000.0;  // m; nobody means to fall further
    constexpr double lifted = 0.01;  // m, so that ground at the feet's own height is met
    const CourseTerrain terrain(course, chart);
    const Capsule body = chart.body(StateId{0});
    Hit hit;
    Overlap overlap;
    if (terrain.overlap(body, start, 0.0, overlap) && overlap.depth > lifted) {
        cautions.push_back(fmt::format("the start, [{:g}, {:g}, {:g}], is {:.2f} m deep in a solid", start.x,
                                       start.y, start.z, overlap.depth));
    } else if (!terrain.sweep({body, start + glm::dvec3(0.0, 0.0, lifted), glm::dvec3(0.0, 0.0, -deep), 0.0},
                              hit)) {
        cautions.push_back(
            fmt::format("there is no ground below the start, [{:g}, {:g}, {:g}]: the runner falls for ever",
                        start.x, start.y, start.z));
    }
    return cautions;
}

}  // namespace cursimeter::tool
