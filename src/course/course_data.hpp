#pragma once

#include <cursimeter/course/course.hpp>

#include "course/cell_grid.hpp"
#include "course/extent.hpp"

namespace cursimeter::detail {

/// A platform's path with the distances along it.
struct Track {
    std::vector<glm::dvec3> points;
    std::vector<double> distances;
    double speed = 0.0;
    double pause = 0.0;
    Extent swept;  ///< where the platform ever is
};

struct CourseData {
    CourseSpec spec;
    std::uint64_t digest = 0;
    std::vector<Solid> solids;
    std::vector<Extent> extents;  ///< by solid; of a platform, at the start of its path
    CellGrid solid_cells;         ///< of a platform, wherever it ever is
    std::vector<Extent> zones;    ///< by zone
    CellGrid zone_cells;
    std::vector<Extent> wherever;  ///< by solid, of a platform wherever it ever is; then by zone
    CellGrid wherever_cells;
    std::vector<Track> tracks;  ///< by platform
    std::vector<Push> pushes;   ///< by zone
};

}  // namespace cursimeter::detail
