#pragma once

#include <cursimeter/course/course.hpp>
#include <cursimeter/tryout/palette.hpp>
#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>
#include <vector>

namespace cursimeter::tool {

inline glm::vec4 floats(const tryout::Colour& colour) {
    return {static_cast<float>(colour.red), static_cast<float>(colour.green), static_cast<float>(colour.blue),
            static_cast<float>(colour.alpha)};
}

/// A box to draw: half axes with their lengths.
struct DrawnBox {
    glm::vec3 middle{0.0F};
    glm::vec3 first{0.0F}, second{0.0F}, third{0.0F};
    glm::vec4 colour{1.0F};
    float grid = 0.0F;  ///< 1: with a metre grid
};

struct DrawnBody {
    glm::dvec3 feet{0.0};
    Capsule body;
    double yaw = 0.0, pitch = 0.0;  ///< rad
    tryout::Colour colour;          ///< translucent below alpha 1
};

/// A corner of a ribbon on the ground.
struct RibbonPoint {
    glm::vec3 place{0.0F};
    glm::vec4 colour{1.0F};
};

/// Draws boxes, capsules and ribbons into a part of the window. OpenGL 3.3 must be current as long as it lives.
class Renderer {
  public:
    Renderer();
    Renderer(const Renderer&) = delete;
    Renderer& operator=(const Renderer&) = delete;
    ~Renderer();

    struct Area {
        int x = 0, y = 0, width = 0, height = 0;  ///< pixels, y from below
    };
    /// Clears the area to the sky.
    void begin(const Area& area, const glm::mat4& camera, const glm::dvec3& eye);
    void boxes(const std::vector<DrawnBox>& boxes);
    /// Boxes that nothing shines through, whose axes are right-handed.
    void solids(const std::vector<DrawnBox>& boxes);
    void body(const DrawnBody& body);
    /// A strip of triangles, two points after the other.
    void ribbon(const std::vector<RibbonPoint>& points);
    void end();

  private:
    struct Mesh {
        unsigned array = 0, corners = 0, instances = 0;
        int count = 0;
    };
    unsigned boxes_program_ = 0, body_program_ = 0, ribbon_program_ = 0;
    Mesh cube_, capsule_, ribbon_;
    glm::mat4 camera_{1.0F};
    glm::vec3 eye_{0.0F};
};

}  // namespace cursimeter::tool
