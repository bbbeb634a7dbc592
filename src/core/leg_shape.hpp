#pragma once

#include "core/chart_data.hpp"

/// The closed forms of a leg. In the plane of velocities a leg runs along one straight line from the
/// velocity towards the target, and everything about it follows from where on that line it is.
namespace cursimeter::detail {

inline constexpr double ln_two = 0.6931471805599453;

/// Below this component across its line (m/s) a leg counts as straight; its path is then as long as
/// its displacement.
inline constexpr double straight_limit = 1e-10;

/// A leg seen along its line. With unit vector d from the velocity to the target, a velocity has the
/// component `along` d, which changes, and `across` d, which does not: speed^2 = along^2 + across^2.
struct LegShape {
    LegKind kind = LegKind::steady;
    double along = 0.0;         ///< m/s now
    double across = 0.0;        ///< m/s, >= 0
    double acceleration = 0.0;  ///< m/s^2 of a ramp
    double target = 0.0;        ///< m/s; component of the target along d (an ease ends there)
    double half_life = 0.0;     ///< s of an ease
};

/// Component along the leg's line after t seconds.
[[nodiscard]] double along_after(const LegShape& leg, double t);
/// Speed after t seconds, m/s.
[[nodiscard]] double speed_after(const LegShape& leg, double t);
/// Length of the path walked in t seconds, m. The component along must not change its sign in between.
[[nodiscard]] double path_length(const LegShape& leg, double t);
/// Seconds until the speed, rising or falling as `trend` says, equals `speed`; `never` if it does not.
[[nodiscard]] double time_to_speed(const LegShape& leg, Trend trend, double speed);

/// One end of a stretch of path: the component along the line and the speed, m/s.
struct PathEnd {
    double w = 0.0, r = 0.0;
};

/// Path of a ramp with the component p > 0 across its line: integral of sqrt(w^2 + p^2) dw over the
/// acceleration.
[[nodiscard]] double ramp_path(PathEnd from, PathEnd to, double p, double inverse_acceleration);

}  // namespace cursimeter::detail
