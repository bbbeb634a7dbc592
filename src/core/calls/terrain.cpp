#include <cursimeter/terrain.hpp>

namespace cursimeter {

ZoneReading Terrain::zones(const glm::dvec3& /*point*/, double /*at*/) const noexcept {
    return {};
}

bool Terrain::moves(const glm::dvec3& /*low*/, const glm::dvec3& /*high*/) const noexcept {
    return false;
}

bool Terrain::is_open(const glm::dvec3& /*low*/, const glm::dvec3& /*high*/,
                      LevelFloor& /*floor*/) const noexcept {
    return false;
}

glm::dvec3 Terrain::surface_motion(std::uint32_t /*surface*/, double /*at*/,
                                   double /*seconds*/) const noexcept {
    return {0.0, 0.0, 0.0};
}

}  // namespace cursimeter
