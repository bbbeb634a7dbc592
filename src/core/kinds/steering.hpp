#pragma once

#include "core/chart/chart_data.hpp"

/// What the kinds' plans share.
namespace cursimeter::detail {

/// Steering along the ground plane: its acceleration, and how long it takes.
struct Steering {
    glm::dvec3 acceleration{0.0};
    double seconds = never;
};

/// From the velocity's part along the ground, or the level, to that of `plane` which barriers leave; a gap too small to
/// see is closed at once. `gravity`, m/s^2, is that of the air.
[[nodiscard]] Steering steer_to(RunnerState& runner, const glm::dvec2& plane, double rate, double gravity);

/// What of a level direction can be steered in the air: nothing into a barrier, nor away from one that `gravity` presses the
/// runner against although it steers so at `rate`, m/s^2.
[[nodiscard]] glm::dvec2 steerable(const RunnerState& runner, const glm::dvec2& level, double rate,
                                   double gravity);

/// m/s^2 that pull what is thrown, rising or falling as it does, before modifiers.
[[nodiscard]] double gravity_of(const CompiledState& state, const RunnerState& runner);
/// The level velocity that steering in the air goes to, in the unit direction `wish`. Where the runner already is faster than
/// `limit` in that direction it keeps that speed: the way from the velocity to the target then never leaves the circle of the
/// faster of the two, so steering turns and brakes, but adds nothing beyond the limit.
[[nodiscard]] glm::dvec2 air_target(const RunnerState& runner, const glm::dvec2& wish, double limit);

/// Seconds to the end of the present slice of a force; `middle` is its middle, in seconds since the entry.
[[nodiscard]] double rest_of_slice(const RunnerState& runner, double& middle);

/// Speeds below this have no direction to speak of, m/s.
inline constexpr double directed_speed = 0.01;

}  // namespace cursimeter::detail
