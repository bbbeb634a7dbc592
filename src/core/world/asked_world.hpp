#pragma once

#include <cstdint>
#include <cursimeter/terrain.hpp>

/// A world, and what it has said for the whole of a tick.
namespace cursimeter::detail {

/// `Terrain::is_open`, checked: a floor that is a number and lies below the box's upper side.
[[nodiscard]] inline bool is_open(const Terrain& terrain, const glm::dvec3& low, const glm::dvec3& high,
                                  LevelFloor& floor) {
    return terrain.is_open(low, high, floor) && floor.height < high.z;
}

/// What a world is asked about a box: `but_open` where it has just been asked whether it is open, and is not.
enum class Questions : std::uint8_t { all, but_open };

/// Asks the world about a box around the runner once, and answers by that what lies in it: where it is open, sweeps can meet its
/// level floor alone. What reaches out of the box is asked of the world.
class AskedWorld {
  public:
    explicit AskedWorld(const Terrain& terrain) : terrain_(terrain) {}

    /// Asks about the upright box from `low` to `high`, m, and a margin, unless one that holds it was asked about.
    void ask(const glm::dvec3& low, const glm::dvec3& high, Questions questions);
    /// Whether anything in the box may move in this tick.
    [[nodiscard]] bool moves() const { return moves_; }

    // As in `Terrain`.
    [[nodiscard]] bool sweep(const Sweep& sweep, Hit& hit) const {
        return open_ && lies_in_open(sweep.body, sweep.from, sweep.motion) ? meets_floor(sweep, hit)
                                                                           : terrain_.sweep(sweep, hit);
    }
    [[nodiscard]] bool overlap(const Capsule& body, const glm::dvec3& feet, double at,
                               Overlap& overlap) const {
        return !(open_ && lies_in_open(body, feet, {0.0, 0.0, 0.0})) &&
               terrain_.overlap(body, feet, at, overlap);
    }
    [[nodiscard]] ZoneReading zones(const glm::dvec3& point, double at) const {
        return open_ && is_asked(point, point) ? ZoneReading{} : terrain_.zones(point, at);
    }
    [[nodiscard]] glm::dvec3 surface_motion(std::uint32_t surface, double at, double seconds) const {
        return terrain_.surface_motion(surface, at, seconds);
    }

  private:
    [[nodiscard]] bool is_asked(const glm::dvec3& low, const glm::dvec3& high) const {
        return low.x >= low_.x && low.y >= low_.y && low.z >= low_.z && high.x <= high_.x &&
               high.y <= high_.y && high.z <= high_.z;
    }
    [[nodiscard]] bool lies_in_open(const Capsule& body, const glm::dvec3& from,
                                    const glm::dvec3& motion) const;
    [[nodiscard]] bool meets_floor(const Sweep& sweep, Hit& hit) const;

    const Terrain& terrain_;
    glm::dvec3 low_{1.0}, high_{-1.0};  ///< m; none at first
    LevelFloor floor_;
    bool moves_ = false, open_ = false;
};

}  // namespace cursimeter::detail
