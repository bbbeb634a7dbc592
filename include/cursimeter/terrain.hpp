#pragma once

#include <cstdint>
#include <cursimeter/chart.hpp>
#include <cursimeter/runner.hpp>
#include <glm/vec3.hpp>
#include <limits>

/// The world as the library sees it when it moves a runner itself: a game answers these questions from
/// its own geometry. Up is +z; lengths in metres.
namespace cursimeter {

/// A capsule on its way along a straight line.
struct Sweep {
    Capsule body;
    glm::dvec3 from{0.0};    ///< m; lowest point of the capsule
    glm::dvec3 motion{0.0};  ///< m
    double at = 0.0;         ///< s after the tick's start; where the world moves, how it stands then
};

/// What a sweep met first.
struct Hit {
    double fraction = 1.0;  ///< of the motion, 0 to 1, up to the touch
    /// Unit vector from the obstacle to the body where they touch.
    glm::dvec3 normal{0.0, 0.0, 1.0};
    /// Unit normal of the obstacle's surface there. On an edge, where the capsule touches at an angle
    /// between two surfaces, that of the one which faces up most: what the runner would stand on.
    glm::dvec3 face{0.0, 0.0, 1.0};
    /// Number of the surface: the same wall has the same number. 0: unknown.
    std::uint32_t surface = 0;
};

/// How deep a body is in a solid.
struct Overlap {
    double depth = 0.0;                ///< m
    glm::dvec3 normal{0.0, 0.0, 1.0};  ///< the shortest way out
};

/// What zones do at a place.
struct ZoneReading {
    std::uint8_t zones = 0;  ///< bit per kind of zone of the chart (`ChartSpec::zones`)
    double pace = 1.0;       ///< factor of speed targets
    glm::dvec3 wind{0.0};    ///< m/s; carries states by their `wind`
    const Push* push =
        nullptr;  ///< pushes once when a zone of `zones` is entered, unless a push acts already
};

/// A level floor.
struct LevelFloor {
    double height = -std::numeric_limits<double>::infinity();  ///< m; by default there is none
    std::uint32_t surface = 0;                                 ///< as in `Hit`
};

/// A world. The functions are called within `advance`, on its thread, once in a tick in an open box,
/// else some five times, in the worst ticks some two hundred; they must not throw. Answers need not be exact: what is off by less than a millimetre is mended
/// as the runner moves. NaN and values out of range count as no answer.
class Terrain {
  public:
    virtual ~Terrain() = default;
    /// The first solid that the capsule would touch. A solid that it overlaps at the start counts only if
    /// the motion leads deeper into it, with fraction 0.
    [[nodiscard]] virtual bool sweep(const Sweep& sweep, Hit& hit) const noexcept = 0;
    /// The solid in which the capsule is deepest, if it is in one.
    [[nodiscard]] virtual bool overlap(const Capsule& body, const glm::dvec3& feet, double at,
                                       Overlap& overlap) const noexcept = 0;
    /// What zones do at a point.
    [[nodiscard]] virtual ZoneReading zones(const glm::dvec3& point, double at) const noexcept;
    /// Whether anything that moves may come into the upright box from `low` to `high`, m, during this tick. Near it, tick
    /// parts are at most 10 ms long and the room for the body is checked after each. Asked once or twice a tick.
    [[nodiscard]] virtual bool moves(const glm::dvec3& low, const glm::dvec3& high) const noexcept;
    /// Whether the upright box from `low` to `high`, m, is open during this tick: nothing that moves comes into it, no zone reaches
    /// into it, and it holds nothing solid but, at most, a level floor from side to side and what lies below that. Tells that
    /// floor. Asked first, once in most ticks, for a box little larger than the runner's way: where it is open, nothing else
    /// is asked. A world that cannot tell at less cost than two sweeps leaves it out: it is never open then.
    [[nodiscard]] virtual bool is_open(const glm::dvec3& low, const glm::dvec3& high,
                                       LevelFloor& floor) const noexcept;
    /// How far a surface moves in `seconds` from `at` on. A runner that stands on it goes along.
    [[nodiscard]] virtual glm::dvec3 surface_motion(std::uint32_t surface, double at,
                                                    double seconds) const noexcept;
};

}  // namespace cursimeter
