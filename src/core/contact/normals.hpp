#pragma once

#include <algorithm>
#include <cmath>

#include "core/contact/contact_limits.hpp"
#include "core/numbers/space.hpp"

/// Directions at a contact: of faces, edges and walls.
namespace cursimeter::detail {

inline bool is_unit(const glm::dvec3& normal) {
    const double squared = inner(normal, normal);
    return squared > 0.98 && squared < 1.02;
}

inline glm::dvec2 gradient_of(const glm::dvec3& face) {
    return {-face.x / face.z, -face.y / face.z};
}

inline glm::dvec3 flattened(const glm::dvec3& normal) {
    const double size = std::sqrt(normal.x * normal.x + normal.y * normal.y);
    return size > 1e-6 ? glm::dvec3(normal.x / size, normal.y / size, 0.0) : normal;
}

/// The part of a motion by which the skin lets a body come less near to a face.
inline double part_kept_off(const glm::dvec3& motion, const glm::dvec3& normal) {
    const double closing = -inner(motion, normal);
    return closing > 0.0 ? std::min(skin / closing, skin / (brushed * length_of(motion))) : 0.0;
}

/// Unit vector along the edge at which a body touches in the direction `normal`, beside the face `face`; 0: no edge.
inline glm::dvec3 edge_line(const glm::dvec3& normal, const glm::dvec3& face) {
    const glm::dvec3 line = cross(normal, face);
    const double size = length_of(line);
    return size > 1e-6 ? line * (1.0 / size) : glm::dvec3(0.0);
}

/// The part of a velocity across an edge.
inline glm::dvec3 across_edge(const glm::dvec3& velocity, const glm::dvec3& line) {
    return velocity - line * inner(velocity, line);
}

}  // namespace cursimeter::detail
