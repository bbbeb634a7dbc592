#pragma once

#include <cmath>
#include <glm/vec2.hpp>

/// Products of two plane vectors. glm has them too, but as inline templates: a game that compiles the
/// same templates with fused multiply-add may have its copies linked in place of ours, and the bits of
/// a run would depend on the game's flags. glm's plain + - * carry no such risk.
namespace cursimeter::detail {

inline double inner(const glm::dvec2& a, const glm::dvec2& b) {
    return a.x * b.x + a.y * b.y;
}
inline double outer(const glm::dvec2& a, const glm::dvec2& b) {
    return a.x * b.y - a.y * b.x;
}
inline double length_of(const glm::dvec2& a) {
    return std::sqrt(inner(a, a));
}

}  // namespace cursimeter::detail
