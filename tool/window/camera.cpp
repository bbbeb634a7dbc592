#include "window/camera.hpp"

#include <cmath>
#include <glm/ext/matrix_clip_space.hpp>
#include <glm/ext/matrix_transform.hpp>
#include <glm/vec4.hpp>

namespace cursimeter::tool {
namespace {

constexpr double near_plane = 0.05, far_plane = 400.0;  // m

}  // namespace

const char* name_of(View view) {
    switch (view) {
        case View::behind:
            return "behind";
        case View::own_eyes:
            return "own eyes";
        case View::side:
            return "side";
        case View::above:
            return "above";
    }
    return "";
}

glm::mat4 Camera::matrix() const {
    const glm::dmat4 view = glm::lookAt(eye, target, up);
    return glm::mat4(glm::perspective(field, aspect, near_plane, far_plane) * view);
}

std::optional<glm::dvec2> Camera::project(const glm::dvec3& point) const {
    const glm::dmat4 view = glm::lookAt(eye, target, up);
    const glm::dvec4 clip =
        glm::perspective(field, aspect, near_plane, far_plane) * view * glm::dvec4(point, 1.0);
    if (clip.w <= near_plane) {
        return std::nullopt;
    }
    return glm::dvec2(0.5 + 0.5 * clip.x / clip.w, 0.5 - 0.5 * clip.y / clip.w);
}

Camera follow(View view, const glm::dvec3& feet, const Capsule& body, Look look, double aspect,
              const Terrain* world) {
    const glm::dvec3 ahead(std::cos(look.yaw), std::sin(look.yaw), 0.0);
    const glm::dvec3 gaze = ahead * std::cos(look.pitch) + glm::dvec3(0.0, 0.0, std::sin(look.pitch));
    const glm::dvec3 head = feet + glm::dvec3(0.0, 0.0, body.height * 0.92);
    Camera camera;
    camera.aspect = aspect;
    switch (view) {
        case View::behind: {
            const glm::dvec3 away = gaze * -4.6 + glm::dvec3(0.0, 0.0, 1.0);
            double part = 1.0;
            Hit hit;
            constexpr double radius = 0.15;
            const Sweep sweep{{radius, 2.0 * radius}, head - glm::dvec3(0.0, 0.0, radius), away, 0.0};
            if (world != nullptr && world->sweep(sweep, hit)) {
                part = hit.fraction;
            }
            camera.eye = head + away * part;
            camera.target = head + gaze * 3.0;
            break;
        }
        case View::own_eyes:
            camera.eye = head;
            camera.target = head + gaze;
            camera.field = 1.3;
            break;
        case View::side:
            camera.eye = feet + glm::dvec3(ahead.y, -ahead.x, 0.0) * 9.0 + glm::dvec3(0.0, 0.0, 1.6);
            camera.target = feet + glm::dvec3(0.0, 0.0, 1.2);
            break;
        case View::above:
            camera.eye = feet + glm::dvec3(0.0, 0.0, 22.0);
            camera.target = feet;
            camera.up = ahead;
            break;
    }
    return camera;
}

}  // namespace cursimeter::tool
