#include <cstdio>
#include <cursimeter/adapters/bullet_course.hpp>

int main() {
    using namespace cursimeter;
    CourseSpec spec;
    spec.boxes.push_back({{-1.0, -1.0, -1.0}, {1.0, 1.0, 0.0}, Degrees{0.0}});
    spec.name = "floor";
    BulletCourse course{Course(spec)};
    const BulletTerrain terrain(course.world());
    Hit hit;
    const bool met = terrain.sweep({{0.35, 1.8}, {0.0, 0.0, 1.0}, {0.0, 0.0, -2.0}, 0.0}, hit);
    std::printf("%s at %.2f\n", met ? "met the floor" : "met nothing", hit.fraction);
    return met ? 0 : 1;
}
