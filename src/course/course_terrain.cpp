#include <algorithm>
#include <cmath>

#include "core/numbers/space.hpp"
#include "course/capsule_box.hpp"
#include "course/course_data.hpp"

namespace cursimeter {
namespace {

using detail::Extent;
using detail::Gap;
using detail::inner;

constexpr double touch = 1e-7;  ///< m; nearer than this counts as touching

Extent extent_of(const Capsule& body, const glm::dvec3& feet, const glm::dvec3& motion) {
    const double r = body.radius;
    return {{feet.x + std::min(0.0, motion.x) - r, feet.y + std::min(0.0, motion.y) - r,
             feet.z + std::min(0.0, motion.z)},
            {feet.x + std::max(0.0, motion.x) + r, feet.y + std::max(0.0, motion.y) + r,
             feet.z + std::max(0.0, motion.z) + body.height}};
}

/// The distance between two convex bodies on a straight course is a convex function of time. Its tangent
/// at a time, d + t (motion . normal), lies below it, so walking to the tangent's zero never passes the
/// touch, and ends there as Newton's method does.
bool sweep_solid(const Sweep& sweep, const Solid& solid, const glm::dvec3& middle, double most, Hit& hit) {
    double t = 0.0;
    for (int step = 0; step < 64; ++step) {
        const Gap gap = detail::gap_between(sweep.body, sweep.from + sweep.motion * t, solid, middle);
        const double closing = -inner(sweep.motion, gap.normal);
        if (closing <= 1e-12) {
            return false;
        }
        if (gap.distance <= touch) {
            hit.fraction = t;
            hit.normal = gap.normal;
            hit.face = detail::upmost_face(solid, gap);
            return true;
        }
        t += gap.distance / closing;
        if (!(t < most)) {
            return false;
        }
    }
    return false;  // it only grazes
}

/// Whether the solid's top is level and goes through the box from side to side.
bool is_floor_of(const Solid& solid, const Extent& box) {
    if (solid.axes[2].z != 1.0) {
        return false;
    }
    const glm::dvec3 middle = (box.low + box.high) * 0.5 - solid.middle, half = (box.high - box.low) * 0.5;
    const auto reaches = [&](const glm::dvec3& axis, double half_solid) {
        const double reach = std::fabs(axis.x) * half.x + std::fabs(axis.y) * half.y;
        return std::fabs(axis.x * middle.x + axis.y * middle.y) + reach < half_solid;
    };
    return reaches(solid.axes[0], solid.half.x) && reaches(solid.axes[1], solid.half.y);
}

}  // namespace

CourseTerrain::CourseTerrain(const Course& course, const Chart& chart) : course_(course) {
    std::vector<std::string> kinds = chart.zones();
    for (const ZoneSpec& zone : course.spec().zones) {
        auto found = std::find(kinds.begin(), kinds.end(), zone.kind);
        if (found == kinds.end()) {
            kinds.push_back(zone.kind);
            found = kinds.end() - 1;
        }
        const auto bit = static_cast<std::size_t>(found - kinds.begin());
        zone_bits_.push_back(static_cast<std::uint8_t>(bit < limits::zones ? 1U << bit : 0U));
    }
}

bool CourseTerrain::sweep(const Sweep& sweep, Hit& hit) const noexcept {
    const detail::CourseData& course = course_.data();
    const Extent swept = extent_of(sweep.body, sweep.from, sweep.motion);
    bool any = false;
    double most = 1.0;
    course.solid_cells.visit(swept, [&](std::uint32_t i) {
        const Solid& solid = course.solids[i];
        glm::dvec3 middle = solid.middle;
        if (solid.platform >= 0) {
            const glm::dvec3 offset =
                course_.platform_offset(static_cast<std::size_t>(solid.platform), time_ + sweep.at);
            middle += offset;
            if (!course.extents[i].moved(offset).meets(swept)) {
                return;
            }
        } else if (!course.extents[i].meets(swept)) {
            return;
        }
        Hit found;
        if (sweep_solid(sweep, solid, middle, most, found)) {
            hit = found;
            hit.surface = i + 1;
            most = std::max(found.fraction, 1e-15);
            any = true;
        }
    });
    return any;
}

bool CourseTerrain::overlap(const Capsule& body, const glm::dvec3& feet, double at,
                            Overlap& overlap) const noexcept {
    const detail::CourseData& course = course_.data();
    const Extent around = extent_of(body, feet, {0.0, 0.0, 0.0});
    double deepest = -touch;
    course.solid_cells.visit(around, [&](std::uint32_t i) {
        const Solid& solid = course.solids[i];
        glm::dvec3 offset(0.0);
        if (solid.platform >= 0) {
            offset = course_.platform_offset(static_cast<std::size_t>(solid.platform), time_ + at);
        }
        if (!course.extents[i].moved(offset).meets(around)) {
            return;
        }
        const Gap gap = detail::gap_between(body, feet, solid, solid.middle + offset);
        if (gap.distance < deepest) {
            deepest = gap.distance;
            overlap = {-gap.distance, gap.normal};
        }
    });
    return deepest < -touch;
}

ZoneReading CourseTerrain::zones(const glm::dvec3& point, double /*at*/) const noexcept {
    const detail::CourseData& course = course_.data();
    ZoneReading reading;
    course.zone_cells.visit({point, point}, [&](std::uint32_t i) {
        const ZoneSpec& zone = course.spec.zones[i];
        const Extent& extent = course.zones[i];
        double depth = 1e300;  // m inside the nearest border
        for (int k = 0; k < 3; ++k) {
            depth = std::min({depth, point[k] - extent.low[k], extent.high[k] - point[k]});
        }
        if (depth < 0.0) {
            return;
        }
        reading.zones = static_cast<std::uint8_t>(reading.zones | zone_bits_[i]);
        reading.pace *= zone.pace;
        const double part = depth < zone.fade ? std::ceil(16.0 * depth / zone.fade) / 16.0 : 1.0;
        reading.wind += glm::dvec3(zone.wind[0], zone.wind[1], zone.wind[2]) * part;
        if (zone.push) {
            reading.push = &course.pushes[i];
        }
    });
    return reading;
}

bool CourseTerrain::moves(const glm::dvec3& low, const glm::dvec3& high) const noexcept {
    const std::vector<detail::Track>& tracks = course_.data().tracks;
    return std::any_of(tracks.begin(), tracks.end(), [&](const detail::Track& track) {
        return track.swept.meets({low, high});
    });
}

bool CourseTerrain::is_open(const glm::dvec3& low, const glm::dvec3& high, LevelFloor& floor) const noexcept {
    const detail::CourseData& course = course_.data();
    const Extent box{low, high};
    floor = {};
    double highest = floor.height;  // m, of solids that are no floor
    const bool may_be = course.wherever_cells.all_pass(box, [&](std::uint32_t i) {
        const Extent& extent = course.wherever[i];
        if (!extent.meets(box)) {
            return true;
        }
        if (i >= course.solids.size() || course.solids[i].platform >= 0 || extent.high.z >= high.z) {
            return false;
        }
        if (!is_floor_of(course.solids[i], box)) {
            highest = std::max(highest, extent.high.z);
        } else if (extent.high.z > floor.height) {
            floor = {extent.high.z, i + 1};
        }
        return true;
    });
    return may_be && highest <= floor.height;
}

glm::dvec3 CourseTerrain::surface_motion(std::uint32_t surface, double at, double seconds) const noexcept {
    const std::span<const Solid> solids = course_.solids();
    if (surface == 0 || surface > solids.size() || solids[surface - 1].platform < 0) {
        return {0.0, 0.0, 0.0};
    }
    const auto platform = static_cast<std::size_t>(solids[surface - 1].platform);
    return course_.platform_offset(platform, time_ + at + seconds) -
           course_.platform_offset(platform, time_ + at);
}

}  // namespace cursimeter
