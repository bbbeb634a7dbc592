#pragma once

#include "core/chart/chart_data.hpp"
#include "core/motion/segment_shape.hpp"

/// A segment is a stretch of motion with one law: steady, a ramp (constant acceleration) or an ease
/// (exponential approach). In the space of velocities a segment runs along one straight line, so everything
/// about it has a closed form.
namespace cursimeter::detail {

/// Velocities this near to the target count as arrived, m/s; an ease would otherwise never end. It is above rounding, and
/// well inside the 1e-11 m/s by which a speed that a condition reads is set off from the chart's number
/// (term_reader.hpp), so arriving never crosses such a speed unseen.
inline constexpr double arrival_gap = 1e-12;

/// The same for an ease, whose last stretch takes long: when it comes nearer than this is known to 1e-7 half-lives only,
/// and what it crosses nearer to the target it crosses on arriving.
inline constexpr double ease_gap = 1e-8;

/// A speed that falls by less than this, m/s, has come to its turning point.
inline constexpr double turning_gap = 1e-9;

/// The present segment's shape.
[[nodiscard]] SegmentShape shape_of(const ChartData& chart, const RunnerState& runner);

/// Chooses the segment from the present velocity on, by the state's kind, and its end (`segment_due`).
void plan_segment(const ChartData& chart, RunnerState& runner);
/// Gives the velocity the target's direction at its own speed, where a move is wanted and the gain turns at once.
void turn_at_once(const CompiledGain& gain, RunnerState& runner, const glm::dvec3& target);
/// A segment to the target by the state's gain law, straight through the space of velocities.
void plan_steered(const ChartData& chart, RunnerState& runner);
/// A segment of constant acceleration for at most `seconds`, less what points into the barriers.
void plan_free(RunnerState& runner, const glm::dvec3& acceleration, double seconds);
/// Ends the segment where the runner comes down on the open ground, if it does before.
void plan_landing(const ChartData& chart, RunnerState& runner);
/// Goes on with the velocity as it is, for ever.
inline void keep_velocity(RunnerState& runner) {
    runner.segment = SegmentKind::steady;
    runner.trend = Trend::constant;
    runner.straight = true;
    runner.acceleration = {0.0, 0.0, 0.0};
    runner.segment_due = never;
    runner.segment_end = SegmentEnd::replan;
}
/// Sets the velocity to the target and keeps it.
void arrive(const ChartData& chart, RunnerState& runner);
/// The same as `glide`, for segments on which the speed changes, or on which it is carried or pays by distance.
void glide_changing(const ChartData& chart, RunnerState& runner, double dt);
/// Whether the speed stays as it is, and nothing carries it or costs it anything by distance.
[[nodiscard]] inline bool glides_plainly(const RunnerState& runner) {
    return runner.segment == SegmentKind::steady && !runner.carried && runner.by_distance == 0;
}
inline void glide_plainly(RunnerState& runner, double dt) {
    runner.position += runner.velocity * dt;
    runner.distance += runner.speed * dt;
    runner.clock += dt;
}
/// Lets dt seconds pass on the segment that was planned: position, velocity, speed, distance and meters.
inline void glide(const ChartData& chart, RunnerState& runner, double dt) {
    if (glides_plainly(runner)) {
        glide_plainly(runner, dt);
    } else {
        glide_changing(chart, runner, dt);
    }
}
/// The velocity on the segment after dt seconds, m/s.
[[nodiscard]] glm::dvec3 velocity_after(const ChartData& chart, const RunnerState& runner, double dt);
/// How far the segment takes the runner in dt seconds, m.
[[nodiscard]] glm::dvec3 displacement_after(const ChartData& chart, const RunnerState& runner, double dt);

/// The gain law's numbers for the present segment.
[[nodiscard]] GainRate rate_of(const ChartData& chart, const RunnerState& runner);
/// What modifiers make of the rates of the present state, and a rate with that.
[[nodiscard]] double gain_factor(const ChartData& chart, const RunnerState& runner);
[[nodiscard]] GainRate changed_rate(const GainRate& rate, GainLaw law, double factor);
/// Acceleration at this moment, m/s^2.
[[nodiscard]] glm::dvec3 acceleration_now(const ChartData& chart, const RunnerState& runner);

}  // namespace cursimeter::detail
