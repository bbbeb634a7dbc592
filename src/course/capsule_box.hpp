#pragma once

#include <cursimeter/course/course.hpp>

/// Distance between an upright capsule and a box.
namespace cursimeter::detail {

struct Gap {
    double distance = 0.0;    ///< m; negative: how deep the capsule is in the box
    glm::dvec3 normal{0.0};   ///< unit, from the box to the capsule
    glm::dvec3 nearest{0.0};  ///< point of the box, along its axes from its middle
};

/// Exact: the squared distance along the capsule's middle line is convex and piecewise quadratic, so its
/// least value lies at an end, at a border between two pieces, or where a piece's derivative vanishes.
[[nodiscard]] Gap gap_between(const Capsule& body, const glm::dvec3& feet, const Solid& solid,
                              const glm::dvec3& middle) noexcept;

/// Normal of the box's face at a point of its surface: of the faces that meet there and turn towards
/// `normal`, the one that faces up most.
[[nodiscard]] glm::dvec3 upmost_face(const Solid& solid, const Gap& gap) noexcept;

}  // namespace cursimeter::detail
