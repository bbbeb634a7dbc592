#include <catch2/catch.hpp>
#include <cursimeter/course/course.hpp>

#include "support/bearer.hpp"
#include "support/worlds.hpp"
#include "window/camera.hpp"

using namespace support;
using cursimeter::tool::Camera;
using cursimeter::tool::follow;
using cursimeter::tool::View;

namespace {

glm::dvec3 eye_in(const CourseSpec& world, double body_height) {
    const Chart chart = compile(walker({.forward = 2.0}));
    const CourseTerrain terrain(Course(world), chart);
    return follow(View::behind, {0.0, 0.0, 0.0}, {0.3, body_height}, {}, 1.6, &terrain).eye;
}

}  // namespace

TEST_CASE("the camera behind stands 4.6 m back and 1 m above the head, and in front of what is solid",
          "[window]") {
    const glm::dvec3 open = eye_in(floor_only(), 2.0);
    CHECK(open.x == Approx(-4.6));
    CHECK(open.z == Approx(0.92 * 2.0 + 1.0));
    CourseSpec walled = floor_only();
    walled.boxes.push_back({{-3.0, -5.0, 0.0}, {-2.0, 5.0, 6.0}, Degrees{0.0}});
    CHECK(eye_in(walled, 2.0).x > -2.0);
    CHECK(eye_in(walled, 2.0).x < -1.5);
}

TEST_CASE("under a low ceiling the camera behind stays back, and goes down instead", "[window]") {
    CourseSpec tunnel = floor_only();
    tunnel.boxes.push_back({{-20.0, -5.0, 1.3}, {20.0, 5.0, 3.0}, Degrees{0.0}});
    const glm::dvec3 eye = eye_in(tunnel, 1.1);
    CHECK(eye.x < -4.0);
    CHECK(eye.z < 1.3);
}
