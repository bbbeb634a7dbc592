#pragma once

#include <cursimeter/adapters/bullet_terrain.hpp>
#include <cursimeter/course/course.hpp>
#include <memory>
#include <vector>

namespace cursimeter {

/// A course laid out in a Bullet collision world, for comparing and for trying the adapter: what stands
/// still on it, with the numbers of its surfaces. Header only; needs cursimeter::course.
class BulletCourse {
  public:
    explicit BulletCourse(const Course& course, double margin = 0.001)
        : dispatcher_(&configuration_), world_(&dispatcher_, &broadphase_, &configuration_) {
        for (std::size_t i = 0; i < course.solids().size(); ++i) {
            const Solid& solid = course.solids()[i];
            if (solid.platform >= 0) {
                continue;
            }
            auto shape = std::make_unique<btBoxShape>(vector(solid.half));
            shape->setMargin(btScalar(margin));
            auto object = std::make_unique<btCollisionObject>();
            object->setCollisionShape(shape.get());
            btMatrix3x3 basis;
            for (int k = 0; k < 3; ++k) {
                const glm::dvec3& axis = solid.axes[static_cast<std::size_t>(k)];
                basis[0][k] = btScalar(axis.x);
                basis[1][k] = btScalar(axis.y);
                basis[2][k] = btScalar(axis.z);
            }
            object->setWorldTransform(btTransform(basis, vector(solid.middle)));
            object->setUserIndex(static_cast<int>(i + 1));
            world_.addCollisionObject(object.get());
            shapes_.push_back(std::move(shape));
            objects_.push_back(std::move(object));
        }
        world_.updateAabbs();
    }
    ~BulletCourse() {
        for (const auto& object : objects_) {
            world_.removeCollisionObject(object.get());
        }
    }
    BulletCourse(const BulletCourse&) = delete;
    BulletCourse& operator=(const BulletCourse&) = delete;

    [[nodiscard]] btCollisionWorld& world() { return world_; }

  private:
    static btVector3 vector(const glm::dvec3& v) { return {btScalar(v.x), btScalar(v.y), btScalar(v.z)}; }

    btDefaultCollisionConfiguration configuration_;
    btCollisionDispatcher dispatcher_;
    btDbvtBroadphase broadphase_;
    btCollisionWorld world_;
    std::vector<std::unique_ptr<btBoxShape>> shapes_;
    std::vector<std::unique_ptr<btCollisionObject>> objects_;
};

}  // namespace cursimeter
