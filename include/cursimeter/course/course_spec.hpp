#pragma once

#include <array>
#include <cursimeter/units.hpp>
#include <optional>
#include <string>
#include <vector>

/// A course as a person writes it: a simple world for demos, tests and tools. Its file format is in
/// docs/course-reference.md. Lengths in m.
namespace cursimeter {

using Point = std::array<double, 3>;

/// A box between two opposite corners, turned about the upright line through its middle.
struct BoxSpec {
    Point from{}, to{};
    Degrees yaw{0.0};
    friend bool operator==(const BoxSpec&, const BoxSpec&) = default;
};

/// A slab whose upper side runs straight from one point to another: its middle line.
struct RampSpec {
    Point from{}, to{};
    double width = 0.0;
    double thickness = 0.5;  ///< below the upper side
    friend bool operator==(const RampSpec&, const RampSpec&) = default;
};

/// An upright slab over the line between two points, which are its foot.
struct CourseWallSpec {
    Point from{}, to{};
    double height = 0.0;
    double thickness = 0.3;
    friend bool operator==(const CourseWallSpec&, const CourseWallSpec&) = default;
};

/// A flat slab between two corners, seen from above; its underside is at the lower corner's height.
struct CeilingSpec {
    Point from{}, to{};
    double thickness = 0.3;
    friend bool operator==(const CeilingSpec&, const CeilingSpec&) = default;
};

/// A box that moves to and fro along a path of points.
struct PlatformSpec {
    Point size{};             ///< along x, y, z
    std::vector<Point> path;  ///< of the middle of its upper side
    double speed = 0.0;       ///< m/s
    double pause = 0.0;       ///< s at either end
    friend bool operator==(const PlatformSpec&, const PlatformSpec&) = default;
};

/// What a zone does when it is entered.
struct GustSpec {
    Point direction{1.0, 0.0, 0.0};
    double strength = 0.0;  ///< m/s
    double lift = 0.0;
    double seconds = 0.0;
    bool locks = false;
    bool replaces = false;
    friend bool operator==(const GustSpec&, const GustSpec&) = default;
};

/// A box of air, between two corners, in which things are different.
struct ZoneSpec {
    std::string kind;  ///< what charts call it
    Point from{}, to{};
    double pace = 1.0;             ///< factor of speed targets
    Point wind{};                  ///< m/s
    double fade = 0.0;             ///< m inside the borders over which the wind rises, in 16 steps
    std::optional<GustSpec> push;  ///< once on entry
    friend bool operator==(const ZoneSpec&, const ZoneSpec&) = default;
};

/// An upright gate between two points, which are its foot: 6 m high, reaching 1 m below.
struct GateSpec {
    Point from{}, to{};
    friend bool operator==(const GateSpec&, const GateSpec&) = default;
};

/// A stretch that is timed, from one gate to another.
struct LegSpec {
    std::string name;
    GateSpec start, finish;
    friend bool operator==(const LegSpec&, const LegSpec&) = default;
};

struct CourseSpec {
    std::string name;
    std::vector<BoxSpec> boxes;
    std::vector<RampSpec> ramps;
    std::vector<CourseWallSpec> walls;
    std::vector<CeilingSpec> ceilings;
    std::vector<PlatformSpec> platforms;
    std::vector<ZoneSpec> zones;
    std::vector<LegSpec> legs;
    friend bool operator==(const CourseSpec&, const CourseSpec&) = default;
};

}  // namespace cursimeter
