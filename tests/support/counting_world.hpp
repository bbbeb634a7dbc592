#pragma once

#include <cursimeter/terrain.hpp>

namespace support {

/// A world that counts what it is asked, and says that a box is open only if `tells_open`.
class CountingWorld final : public cursimeter::Terrain {
  public:
    explicit CountingWorld(const cursimeter::Terrain& world, bool tells_open = false)
        : world_(world), tells_open_(tells_open) {}
    mutable int sweeps = 0, overlaps = 0, zone_questions = 0, motion_questions = 0, open_questions = 0;
    void forget() { sweeps = overlaps = zone_questions = motion_questions = open_questions = 0; }

    [[nodiscard]] bool sweep(const cursimeter::Sweep& sweep, cursimeter::Hit& hit) const noexcept override {
        ++sweeps;
        return world_.sweep(sweep, hit);
    }
    [[nodiscard]] bool overlap(const cursimeter::Capsule& body, const glm::dvec3& feet, double at,
                               cursimeter::Overlap& overlap) const noexcept override {
        ++overlaps;
        return world_.overlap(body, feet, at, overlap);
    }
    [[nodiscard]] cursimeter::ZoneReading zones(const glm::dvec3& point, double at) const noexcept override {
        ++zone_questions;
        return world_.zones(point, at);
    }
    [[nodiscard]] bool moves(const glm::dvec3& low, const glm::dvec3& high) const noexcept override {
        ++motion_questions;
        return world_.moves(low, high);
    }
    [[nodiscard]] bool is_open(const glm::dvec3& low, const glm::dvec3& high,
                               cursimeter::LevelFloor& floor) const noexcept override {
        ++open_questions;
        return tells_open_ && world_.is_open(low, high, floor);
    }
    [[nodiscard]] glm::dvec3 surface_motion(std::uint32_t surface, double at,
                                            double seconds) const noexcept override {
        return world_.surface_motion(surface, at, seconds);
    }

  private:
    const cursimeter::Terrain& world_;
    bool tells_open_;
};

}  // namespace support
