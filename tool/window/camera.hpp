#pragma once

#include <cursimeter/intent.hpp>
#include <cursimeter/terrain.hpp>
#include <glm/mat4x4.hpp>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>
#include <optional>

namespace cursimeter::tool {

enum class View { behind, own_eyes, side, above };
inline constexpr int view_count = 4;
[[nodiscard]] const char* name_of(View view);

/// Where a picture is taken from.
struct Camera {
    glm::dvec3 eye{0.0}, target{0.0}, up{0.0, 0.0, 1.0};
    double field = 1.1;   ///< rad, of the picture's height
    double aspect = 1.6;  ///< width / height

    [[nodiscard]] glm::mat4 matrix() const;
    /// Place in the picture, 0 to 1 from the top left corner; nothing behind the eye.
    [[nodiscard]] std::optional<glm::dvec2> project(const glm::dvec3& point) const;
};

/// A camera for a body with its feet at a place. `world` may be null; with it, what is solid keeps the camera out.
[[nodiscard]] Camera follow(View view, const glm::dvec3& feet, const Capsule& body, Look look, double aspect,
                            const Terrain* world);

}  // namespace cursimeter::tool
