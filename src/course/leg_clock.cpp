#include <cmath>
#include <limits>

#include "course/course_data.hpp"

namespace cursimeter {
namespace {

constexpr double gate_height = 6.0, gate_depth = 1.0;  ///< m
constexpr double not_yet = std::numeric_limits<double>::quiet_NaN();

/// The place at a part of the stretch, from 0 to 1; Hermite's form.
glm::dvec3 place_at(const PathStretch& stretch, double s) {
    const double s2 = s * s, s3 = s2 * s;
    return stretch.from * (2.0 * s3 - 3.0 * s2 + 1.0) + stretch.to * (3.0 * s2 - 2.0 * s3) +
           (stretch.velocity_from * (s3 - 2.0 * s2 + s) + stretch.velocity_to * (s3 - s2)) *
               (stretch.end - stretch.begin);
}

/// Which side of the gate a point is on; positive or negative.
double side_of(const GateSpec& gate, const glm::dvec3& point) {
    return (gate.to[0] - gate.from[0]) * (point.y - gate.from[1]) -
           (gate.to[1] - gate.from[1]) * (point.x - gate.from[0]);
}

}  // namespace

double gate_passage(const GateSpec& gate, const PathStretch& stretch) {
    const double begin = side_of(gate, stretch.from), end = side_of(gate, stretch.to);
    if ((begin < 0.0) == (end < 0.0)) {
        return not_yet;
    }
    double low = 0.0, high = 1.0;
    for (int i = 0; i < 40; ++i) {
        const double middle = 0.5 * (low + high);
        ((side_of(gate, place_at(stretch, middle)) < 0.0) == (begin < 0.0) ? low : high) = middle;
    }
    const glm::dvec3 place = place_at(stretch, high);
    const double dx = gate.to[0] - gate.from[0], dy = gate.to[1] - gate.from[1];
    const double along =
        ((place.x - gate.from[0]) * dx + (place.y - gate.from[1]) * dy) / (dx * dx + dy * dy);
    const double foot = std::min(gate.from[2], gate.to[2]);
    const bool through =
        along >= 0.0 && along <= 1.0 && place.z >= foot - gate_depth && place.z <= foot + gate_height;
    return through ? stretch.begin + high * (stretch.end - stretch.begin) : not_yet;
}

LegClock::LegClock(const Course& course)
    : course_(course), times_(course.spec().legs.size(), Times{not_yet, not_yet}) {}

void LegClock::pass(const PathStretch& stretch) {
    for (std::size_t i = 0; i < times_.size(); ++i) {
        const LegSpec& leg = course_.spec().legs[i];
        Times& times = times_[i];
        if (std::isnan(times.begun)) {
            times.begun = gate_passage(leg.start, stretch);
        }
        if (!std::isnan(times.begun) && std::isnan(times.ended)) {
            const double ended = gate_passage(leg.finish, stretch);
            times.ended = ended > times.begun ? ended : not_yet;
        }
    }
}

}  // namespace cursimeter
