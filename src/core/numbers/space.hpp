#pragma once

#include <cmath>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

/// Products of vectors. glm has them too, but as inline templates: a game that compiles the same templates
/// with fused multiply-add may have its copies linked in place of ours, and the bits of a run would depend
/// on the game's flags. glm's plain + - * carry no such risk.
namespace cursimeter::detail {

inline double inner(const glm::dvec2& a, const glm::dvec2& b) {
    return a.x * b.x + a.y * b.y;
}
inline double length_of(const glm::dvec2& a) {
    return std::sqrt(inner(a, a));
}
inline double inner(const glm::dvec3& a, const glm::dvec3& b) {
    return a.x * b.x + a.y * b.y + a.z * b.z;
}
inline double length_of(const glm::dvec3& a) {
    return std::sqrt(inner(a, a));
}
inline glm::dvec3 cross(const glm::dvec3& a, const glm::dvec3& b) {
    return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
/// What of `a` is across the unit vector `direction`: its length.
inline double across_of(const glm::dvec3& a, const glm::dvec3& direction) {
    return length_of(a - direction * inner(a, direction));
}
inline glm::dvec2 flat(const glm::dvec3& a) {
    return {a.x, a.y};
}
inline bool is_zero(const glm::dvec3& a) {
    return a.x == 0.0 && a.y == 0.0 && a.z == 0.0;
}

}  // namespace cursimeter::detail
