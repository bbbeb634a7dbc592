#pragma once

#include <cursimeter/course/course.hpp>
#include <cursimeter/tryout/palette.hpp>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

namespace cursimeter::panels {

/// A course and bodies as a plain picture, seen from the south at an angle (x to the right, y into the picture, z up): enough to
/// begin a game with. It draws behind all windows of the present ImGui frame, and needs no graphics library.
class Sketch {
  public:
    /// What is in the middle of the screen, m; pixels for a metre.
    explicit Sketch(const glm::dvec3& centre, double metre = 42.0) : centre_(centre), metre_(metre) {}

    /// `time`: s, where its platforms stand.
    void draw(const Course& course, double time) const;
    /// A capsule with its feet at a place.
    void draw(const glm::dvec3& feet, const Capsule& body, const tryout::Colour& colour) const;
    /// Where a point of the world is on the screen, pixels from the top left corner.
    [[nodiscard]] glm::dvec2 place(const glm::dvec3& point) const;

  private:
    void draw_box(const Solid& box, const glm::dvec3& moved) const;
    glm::dvec3 centre_;
    double metre_;
};

}  // namespace cursimeter::panels
