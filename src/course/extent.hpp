#pragma once

#include <algorithm>
#include <glm/vec3.hpp>

namespace cursimeter::detail {

/// Corners of an upright box around something, m.
struct Extent {
    glm::dvec3 low{0.0}, high{0.0};

    [[nodiscard]] bool meets(const Extent& other) const {
        return low.x <= other.high.x && other.low.x <= high.x && low.y <= other.high.y &&
               other.low.y <= high.y && low.z <= other.high.z && other.low.z <= high.z;
    }
    [[nodiscard]] Extent moved(const glm::dvec3& by) const { return {low + by, high + by}; }
    /// The least one that holds both.
    [[nodiscard]] Extent with(const Extent& other) const {
        return {
            {std::min(low.x, other.low.x), std::min(low.y, other.low.y), std::min(low.z, other.low.z)},
            {std::max(high.x, other.high.x), std::max(high.y, other.high.y), std::max(high.z, other.high.z)}};
    }
};

}  // namespace cursimeter::detail
