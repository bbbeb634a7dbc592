#include "course/capsule_box.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/numbers/space.hpp"

namespace cursimeter::detail {
namespace {

glm::dvec3 within(const glm::dvec3& point, const glm::dvec3& half) {
    return {std::clamp(point.x, -half.x, half.x), std::clamp(point.y, -half.y, half.y),
            std::clamp(point.z, -half.z, half.z)};
}

/// Where on the line from `foot`, 0 to 1, the box is nearest.
double nearest_on_line(const glm::dvec3& foot, const glm::dvec3& line, const glm::dvec3& half) {
    const auto slope = [&](double t) {
        const glm::dvec3 point = foot + line * t;
        return inner(point - within(point, half), line);
    };
    std::array<double, 8> borders{};  // ascending
    std::size_t count = 1;
    const auto insert = [&](double t) {
        std::size_t place = count++;
        for (; place > 1 && borders[place - 1] > t; --place) {
            borders[place] = borders[place - 1];
        }
        borders[place] = t;
    };
    for (int i = 0; i < 3; ++i) {
        for (const double side : {-half[i], half[i]}) {
            const double t = line[i] != 0.0 ? (side - foot[i]) / line[i] : -1.0;
            if (t > 0.0 && t < 1.0) {
                insert(t);
            }
        }
    }
    insert(1.0);
    double low = 0.0, low_slope = slope(0.0);
    if (low_slope >= 0.0) {
        return 0.0;
    }
    for (std::size_t i = 1; i < count; ++i) {
        const double high = borders[i], high_slope = slope(high);
        if (high_slope >= 0.0) {
            return low + (high - low) * (-low_slope / (high_slope - low_slope));
        }
        low = high;
        low_slope = high_slope;
    }
    return 1.0;
}

/// The shortest way out of a box for a line with a radius.
Gap way_out(const glm::dvec3& foot, const glm::dvec3& head, double radius, const Solid& solid) {
    Gap gap;
    gap.distance = -1e300;
    for (int i = 0; i < 3; ++i) {
        for (const double side : {-1.0, 1.0}) {
            const double deepest = std::min(side * foot[i], side * head[i]);
            const double depth = solid.half[i] - deepest + radius;
            if (-depth > gap.distance) {
                gap.distance = -depth;
                gap.normal = solid.axes[static_cast<std::size_t>(i)] * side;
                gap.nearest = within(foot, solid.half);
                gap.nearest[i] = side * solid.half[i];
            }
        }
    }
    return gap;
}

}  // namespace

Gap gap_between(const Capsule& body, const glm::dvec3& feet, const Solid& solid,
                const glm::dvec3& middle) noexcept {
    const glm::dvec3 from = feet + glm::dvec3(0.0, 0.0, body.radius) - middle;
    const double length = std::max(0.0, body.height - 2.0 * body.radius);
    glm::dvec3 foot, line;
    for (int i = 0; i < 3; ++i) {
        const glm::dvec3& axis = solid.axes[static_cast<std::size_t>(i)];
        foot[i] = inner(from, axis);
        line[i] = axis.z * length;
    }
    const double t = length > 0.0 ? nearest_on_line(foot, line, solid.half) : 0.0;
    const glm::dvec3 point = foot + line * t;
    const glm::dvec3 nearest = within(point, solid.half);
    const glm::dvec3 apart = point - nearest;
    const double distance = length_of(apart);
    if (distance < 1e-12) {
        return way_out(foot, foot + line, body.radius, solid);
    }
    const glm::dvec3 direction = apart * (1.0 / distance);
    Gap gap;
    gap.distance = distance - body.radius;
    gap.nearest = nearest;
    gap.normal = solid.axes[0] * direction.x + solid.axes[1] * direction.y + solid.axes[2] * direction.z;
    return gap;
}

glm::dvec3 upmost_face(const Solid& solid, const Gap& gap) noexcept {
    glm::dvec3 face = gap.normal;
    double up = -2.0;
    for (int i = 0; i < 3; ++i) {
        const double side = gap.nearest[i] < 0.0 ? -1.0 : 1.0;
        const glm::dvec3 normal = solid.axes[static_cast<std::size_t>(i)] * side;
        const bool there = std::fabs(gap.nearest[i]) >= solid.half[i] - 1e-6;
        if (there && inner(normal, gap.normal) > 1e-3 && normal.z > up) {
            up = normal.z;
            face = normal;
        }
    }
    return face;
}

}  // namespace cursimeter::detail
