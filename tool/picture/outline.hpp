#pragma once

#include <array>
#include <cursimeter/course/course.hpp>
#include <vector>

#include "picture/canvas.hpp"

/// The shapes of solids in pictures.
namespace cursimeter::tool {

/// Corners of a solid, m; of a platform, at the start of its path.
[[nodiscard]] std::array<glm::dvec3, 8> corners_of(const Solid& solid);
/// The hull of points in a plane, counter-clockwise.
[[nodiscard]] std::vector<Point> hull(std::vector<Point> points);

}  // namespace cursimeter::tool
