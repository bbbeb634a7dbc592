#pragma once

#include <array>
#include <cursimeter/course/course.hpp>
#include <vector>

#include "picture/canvas.hpp"

/// The shapes of solids in pictures.
namespace cursimeter::tool {

/// Corners of a solid, m; of a platform, at the start of its path.
[[nodiscard]] std::array<glm::dvec3, 8> corners_of(const Solid& solid);
inline constexpr Colour stone{0.62, 0.62, 0.60};
/// Draws a solid by where its corners are on the page; `strength` is how much stone covers.
void draw_solid(Canvas& canvas, std::vector<PagePoint> corners, bool moves, double strength);

}  // namespace cursimeter::tool
