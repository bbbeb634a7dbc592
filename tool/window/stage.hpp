#pragma once

#include "window/camera.hpp"
#include "window/renderer.hpp"
#include "window/session.hpp"

namespace cursimeter::tool {

/// The course, the bodies and what they left behind, drawn into a part of the window.
class Stage {
  public:
    explicit Stage(const Session& session);
    /// `area`: pixels, y from above. Writes signs over it with Dear ImGui.
    void draw(const Session& session, View view, int x, int y, int width, int height, int window_height,
              double scale);

  private:
    void draw_course(const Session& session, double time);
    void draw_shadow(const CourseTerrain& terrain, const glm::dvec3& feet, const Capsule& body);
    void draw_trail(const Session& session, const glm::dvec3& eye);
    void draw_bodies(const Session& session, View view, double part, const glm::dvec3& feet);
    void write_signs(const Session& session, const Camera& camera, int x, int y, int width, int height,
                     double scale) const;

    Renderer renderer_;
    std::vector<DrawnBox> solids_, zones_;
    std::vector<int> platforms_;  ///< by solid
};

}  // namespace cursimeter::tool
