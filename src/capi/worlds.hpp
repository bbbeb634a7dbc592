#pragma once

#include <cursimeter/course/course.hpp>
#include <memory>

#include "capi/boundary.hpp"
#include "capi/zones.hpp"

namespace cursimeter::capi {

/// A world of the C program's own functions.
class CalledTerrain final : public Terrain {
  public:
    explicit CalledTerrain(const cursimeter_world& world) : world_(world) {}
    [[nodiscard]] bool sweep(const Sweep& sweep, Hit& hit) const noexcept override;
    [[nodiscard]] bool overlap(const Capsule& body, const glm::dvec3& feet, double at,
                               Overlap& overlap) const noexcept override;
    [[nodiscard]] ZoneReading zones(const glm::dvec3& point, double at) const noexcept override;
    [[nodiscard]] bool moves(const glm::dvec3& low, const glm::dvec3& high) const noexcept override;
    [[nodiscard]] bool is_open(const glm::dvec3& low, const glm::dvec3& high,
                               LevelFloor& floor) const noexcept override;
    [[nodiscard]] glm::dvec3 surface_motion(std::uint32_t surface, double at,
                                            double seconds) const noexcept override;

  private:
    cursimeter_world world_;
    mutable ReadZones zones_;  // a terrain of a C program's own serves one thread
};

}  // namespace cursimeter::capi

struct cursimeter_terrain {
    std::unique_ptr<cursimeter::capi::CalledTerrain> called;
    std::unique_ptr<cursimeter::CourseTerrain> course;
    [[nodiscard]] const cursimeter::Terrain& world() const {
        return course ? static_cast<const cursimeter::Terrain&>(*course) : *called;
    }
};
