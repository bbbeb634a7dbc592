#include "window/camera.hpp"

#include <cmath>
#include <glm/ext/matrix_clip_space.hpp>
#include <glm/ext/matrix_transform.hpp>
#include <glm/vec4.hpp>

namespace cursimeter::tool {
namespace {

constexpr double near_plane = 0.05, far_plane = 400.0;  // m

/// How much of the way is free for a small ball, 0 to 1.
double free_part(const glm::dvec3& from, const glm::dvec3& way, const Terrain* world) {
    constexpr double radius = 0.15;
    const Sweep sweep{{radius, 2.0 * radius}, from - glm::dvec3(0.0, 0.0, radius), way, 0.0};
    Hit hit;
    return world != nullptr && world->sweep(sweep, hit) ? hit.fraction : 1.0;
}

/// Behind the head and above it; less far above it where a ceiling would bring the eye nearer.
glm::dvec3 eye_behind(const glm::dvec3& head, const glm::dvec3& gaze, const Terrain* world) {
    constexpr double above = 1.0, behind = 4.6, enough = 0.9;
    glm::dvec3 eye = head;
    double furthest = -1.0;
    for (const double height : {above, 0.5 * above, 0.0}) {
        const glm::dvec3 away = gaze * -behind + glm::dvec3(0.0, 0.0, height);
        const double part = free_part(head, away, world);
        if (part > furthest + 0.05) {  // by a hair nothing is gained
            furthest = part;
            eye = head + away * part;
        }
        if (furthest >= enough) {
            break;
        }
    }
    return eye;
}

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
            camera.eye = eye_behind(head, gaze, world);
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
