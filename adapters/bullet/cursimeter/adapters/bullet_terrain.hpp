#pragma once

#include <btBulletCollisionCommon.h>

#include <cursimeter/terrain.hpp>
#include <functional>

/// Bullet's collision world as a terrain. Link cursimeter::bullet; built where libbullet-dev is installed.
namespace cursimeter {

/// What sweeps and overlaps find are the world's collision objects; an object's user index, if it is above 0,
/// is the number of its surface. The world must outlive the terrain, and must have up = +z and metres.
///
/// Bullet rounds convex shapes by their margin: 4 cm unless `setMargin` says less. With 1 mm, runs
/// come within 5 ms of those on exact geometry (tests/adapters/test_bullet.cpp).
/// Not for several threads at once: Bullet's queries use the world's own caches.
class BulletTerrain final : public Terrain {
  public:
    explicit BulletTerrain(btCollisionWorld& world) : world_(&world) {}
    /// What zones do at a place; without it there are none.
    std::function<ZoneReading(const glm::dvec3&)> zone_reader;

    [[nodiscard]] bool sweep(const Sweep& sweep, Hit& hit) const noexcept override;
    [[nodiscard]] bool overlap(const Capsule& body, const glm::dvec3& feet, double at,
                               Overlap& overlap) const noexcept override;
    [[nodiscard]] ZoneReading zones(const glm::dvec3& point, double at) const noexcept override;
    /// Whether any object in the box is not static, by the boxes that the world's broad phase keeps.
    [[nodiscard]] bool moves(const glm::dvec3& low, const glm::dvec3& high) const noexcept override;
    /// By the object's interpolation velocity, which the game sets for what it moves.
    [[nodiscard]] glm::dvec3 surface_motion(std::uint32_t surface, double at,
                                            double seconds) const noexcept override;

  private:
    [[nodiscard]] glm::dvec3 upmost_face(const btVector3& point, const glm::dvec3& normal) const;
    btCollisionWorld* world_;
};

}  // namespace cursimeter
