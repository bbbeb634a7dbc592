#pragma once

#include <cmath>
#include <cursimeter/intent.hpp>

#include "core/chart/chart_data.hpp"

/// From what is wanted to the velocity aimed for.
namespace cursimeter::detail {

/// Computes the velocity that the present state aims for, relative to the facing: speed by direction
/// (an ellipse through the forward or back speed and the side speed) times the length of the move, the
/// slope's factor and that of the zones around.
void plan_wanted(const ChartData& chart, RunnerState& runner);
/// What the speed target is made of, modifiers apart.
struct WantedParts {
    glm::dvec2 full{0.0};  ///< m/s at full stick, ahead and to the right
    double stick = 0.0, pace = 1.0, slope = 1.0;
};
[[nodiscard]] WantedParts wanted_parts(const ChartData& chart, const RunnerState& runner);
/// The wanted velocity turned into the world, by the present facing: along the ground where the runner
/// stands on it, and along what it leans against.
[[nodiscard]] glm::dvec3 target_of(const ChartData& chart, const RunnerState& runner);
/// Whether a turn of the look leads to another motion.
[[nodiscard]] inline bool is_steered(const CompiledState& state, const RunnerState& runner) {
    return state.traits.steered || (state.traits.steered_in_air && !runner.around.grounded);
}
/// Whether it stands on the ground and a flight aims up from it.
[[nodiscard]] bool aims_off_ground(const ChartData& chart, const RunnerState& runner);
/// Speed at full stick in the direction of the move, m/s; while coasting the forward speed, so that a look that turns
/// meanwhile changes nothing.
[[nodiscard]] double full_speed_of(const ChartData& chart, const RunnerState& runner);

}  // namespace cursimeter::detail
