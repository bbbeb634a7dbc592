#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/course/course.hpp>
#include <string>
#include <vector>

namespace cursimeter::tool {

/// What is allowed in a run on a course, and hardly meant: zones whose kind is spelt almost like one that the chart
/// knows, a start without ground below it or inside a solid.
[[nodiscard]] std::vector<std::string> cautions_of(const Chart& chart, const Course& course,
                                                   const glm::dvec3& start);

}  // namespace cursimeter::tool
