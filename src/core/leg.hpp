#pragma once

#include "core/chart_data.hpp"

/// A leg is a stretch of motion with one law: steady, a ramp (constant acceleration) or an ease
/// (exponential approach). In the plane of velocities a leg runs along one straight line from the
/// velocity towards the target, so everything about it has a closed form.
namespace cursimeter::detail {

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

[[nodiscard]] LegShape shape_of(const ChartData& chart, const RunnerState& runner);

/// Component along the leg's line after t seconds.
[[nodiscard]] double along_after(const LegShape& leg, double t);
/// Speed after t seconds, m/s.
[[nodiscard]] double speed_after(const LegShape& leg, double t);
/// Length of the path walked in t seconds, m. The component along must not change its sign in between.
[[nodiscard]] double path_length(const LegShape& leg, double t);
/// Seconds until the speed, rising or falling as `trend` says, equals `speed`; `never` if it does not.
[[nodiscard]] double time_to_speed(const LegShape& leg, Trend trend, double speed);

/// Chooses the leg from the present velocity to the target, and its end (`leg_due`).
void plan_leg(const ChartData& chart, RunnerState& runner);
/// Finds when the speed next crosses a value that something reads (`crossing_due`), given by the facts
/// on which side of each it is now.
void plan_crossing(const ChartData& chart, RunnerState& runner);
/// Lets dt seconds pass on a ramp to the target: braking, speeding up and, once there, steadily. The same
/// as planning and gliding leg by leg, in one go: a look that follows a mouse turns the target in every
/// tick, and this halves the cost of such ticks. Returns false, and changes nothing, under another law or
/// if the speed might cross a mark or a meter drains by the metre.
bool follow_ramp(const ChartData& chart, RunnerState& runner, double dt);
/// Sets the velocity to the target and keeps it.
void arrive(RunnerState& runner);
/// Lets dt seconds pass on the leg that was planned: position, velocity, speed, distance and meters.
void glide(const ChartData& chart, RunnerState& runner, double dt);

/// Rate at which the speed changes at most now, m/s^2.
[[nodiscard]] double steepest_change(const ChartData& chart, const RunnerState& runner);

}  // namespace cursimeter::detail
