#pragma once

#include <cursimeter/terrain.hpp>

namespace cursimeter::link {

/// Where a body comes to that the chart alone carries from one place to another: the first solid in its way stops
/// it, and it goes along there. `grounded`: what is low enough to step on does not count.
[[nodiscard]] glm::dvec3 kept_out(const Terrain& world, const Capsule& body, bool grounded,
                                  double step_height, const glm::dvec3& from, const glm::dvec3& to);

}  // namespace cursimeter::link
