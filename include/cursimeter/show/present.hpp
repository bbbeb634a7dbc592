#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/runner.hpp>

/// What a game shows of a runner: numbers for bars, animation and sound. Nothing in this folder acts back on the run, so
/// none of it is saved, rolled back or sent; the values that remember something live beside the runner.
namespace cursimeter {

/// Read off a runner after a tick. Cheap, allocates nothing.
struct Presentation {
    double pace = 0.0;  ///< speed over the forward speed of the chart's lowest ranked ground state
    double heading =
        0.0;             ///< rad from the facing to the way it goes, counter-clockwise, -pi to pi; 0 at rest
    double rise = 0.0;   ///< m/s upward
    double slope = 0.0;  ///< rad that the ground rises ahead of the facing
    double lean_forward = 0.0;  ///< m/s^2 ahead of the facing, by which its own speed changes now
    double lean_side = 0.0;     ///< m/s^2 to the right
    double stride = 0.0;        ///< 0 to 1: phase of a stride of two steps; the left foot comes down at 0
    double cadence = 0.0;       ///< steps per second at the present speed
    Seconds time_in_state{0.0};
};
/// By the facing: the look, or under Facing::movement the way it goes, and at rest the look. The way that it came is for a
/// `BodyFacing` beside the runner to remember: then present by that. Throws ChartError for a runner of another chart.
[[nodiscard]] Presentation present(const Chart& chart, const Runner& runner);
/// By the body's own direction, such as `BodyFacing::yaw`, in rad.
[[nodiscard]] Presentation present(const Chart& chart, const Runner& runner, double yaw);

}  // namespace cursimeter
