#pragma once

#include <algorithm>
#include <cmath>

#include "core/chart/chart_data.hpp"
#include "core/numbers/space.hpp"

/// The closed forms of a segment. In the plane of velocities a segment runs along one straight line from the
/// velocity towards the target, and everything about it follows from where on that line it is.
namespace cursimeter::detail {

inline constexpr double ln_two = 0.6931471805599453;

/// Below this component across its line (m/s) a segment counts as straight; its path is then as long as
/// its displacement.
inline constexpr double straight_limit = 1e-10;

/// A segment seen along its line. With unit vector d from the velocity to the target, a velocity has the
/// component `along` d, which changes, and `across` d, which does not: speed^2 = along^2 + across^2.
struct SegmentShape {
    SegmentKind kind = SegmentKind::steady;
    double along = 0.0;         ///< m/s now
    double across = 0.0;        ///< m/s, >= 0
    double acceleration = 0.0;  ///< m/s^2 of a ramp
    double target = 0.0;        ///< m/s; component of the target along d (an ease ends there)
    double half_life = 0.0;     ///< s of an ease
};

/// Component along the segment's line after t seconds.
[[nodiscard]] double along_after(const SegmentShape& segment, double t);
/// Speed after t seconds, m/s.
[[nodiscard]] double speed_after(const SegmentShape& segment, double t);
/// Length of the path walked in t seconds, m. The component along must not change its sign in between.
[[nodiscard]] double path_length(const SegmentShape& segment, double t);
/// Seconds until the speed, rising or falling as `trend` says, equals `speed`; `never` if it does not.
[[nodiscard]] double time_to_speed(const SegmentShape& segment, Trend trend, double speed);

/// One end of a stretch of path: the component along the line and the speed, m/s.
struct PathEnd {
    double w = 0.0, r = 0.0;
};

/// Path of a ramp with the component p > 0 across its line: integral of sqrt(w^2 + p^2) dw over the
/// acceleration, in closed form.
[[nodiscard]] double exact_ramp_path(PathEnd from, PathEnd to, double p, double inverse_acceleration);
/// The same for any velocity and acceleration; the speeds at both ends are given.
[[nodiscard]] double exact_ramp_path(const glm::dvec3& velocity, const glm::dvec3& acceleration,
                                     double before, double after, double dt);

/// Mean of a speed over a short stretch by four points (Lobatto), given the speeds at both ends and the
/// squares of those between them. Where the velocity changes by at most an eighth of the speed, as in most
/// ticks, it is off by less than 1e-10 of itself: the error is 6.6e-7 h^6 times the sixth derivative,
/// 45 / r^5 at most, of sqrt(w^2 + p^2). Two roots in place of a logarithm.
[[nodiscard]] inline double mean_speed(double before, double early_squared, double late_squared,
                                       double after) {
    return (before + after + 5.0 * (std::sqrt(early_squared) + std::sqrt(late_squared))) * (1.0 / 12.0);
}
/// Where the points between the ends lie, as fractions of the stretch: (1 -+ 1/sqrt 5) / 2.
inline constexpr double early_point = 0.27639320225002106, late_point = 0.7236067977499790;

/// Whether `mean_speed` is exact enough: h is by how much the velocity changes.
[[nodiscard]] inline bool is_short(double h_squared, double before, double after) {
    return 64.0 * h_squared <= std::min(before * before, after * after);
}

[[nodiscard]] inline double ramp_path(PathEnd from, PathEnd to, double p, double inverse_acceleration) {
    const double h = to.w - from.w;
    if (!is_short(h * h, from.r, to.r)) {
        return exact_ramp_path(from, to, p, inverse_acceleration);
    }
    const double early = from.w + h * early_point, late = from.w + h * late_point;
    return h * inverse_acceleration * mean_speed(from.r, early * early + p * p, late * late + p * p, to.r);
}
[[nodiscard]] inline double ramp_path(const glm::dvec3& velocity, const glm::dvec3& acceleration,
                                      double before, double after, double dt) {
    const double square = inner(acceleration, acceleration);
    if (!is_short(square * dt * dt, before, after)) {
        return exact_ramp_path(velocity, acceleration, before, after, dt);
    }
    const double start = before * before, slope = 2.0 * inner(velocity, acceleration);
    const double early = dt * early_point, late = dt * late_point;
    return dt * mean_speed(before, start + early * (slope + square * early),
                           start + late * (slope + square * late), after);
}

}  // namespace cursimeter::detail
