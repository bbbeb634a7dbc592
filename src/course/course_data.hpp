#pragma once

#include <cursimeter/course/course.hpp>

namespace cursimeter::detail {

/// Corners of an upright box around a solid.
struct Extent {
    glm::dvec3 low{0.0}, high{0.0};

    [[nodiscard]] bool meets(const Extent& other) const {
        return low.x <= other.high.x && other.low.x <= high.x && low.y <= other.high.y &&
               other.low.y <= high.y && low.z <= other.high.z && other.low.z <= high.z;
    }
};

/// A platform's path with the distances along it.
struct Track {
    std::vector<glm::dvec3> points;
    std::vector<double> distances;
    double speed = 0.0;
    double pause = 0.0;
};

struct CourseData {
    CourseSpec spec;
    std::uint64_t digest = 0;
    std::vector<Solid> solids;
    std::vector<Extent> extents;  ///< by solid; of a platform, at the start of its path
    std::vector<Track> tracks;    ///< by platform
    std::vector<Push> pushes;     ///< by zone
};

}  // namespace cursimeter::detail
