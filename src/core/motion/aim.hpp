#pragma once

#include <cmath>
#include <cursimeter/intent.hpp>

#include "core/chart/chart_data.hpp"

/// From what is wanted to the velocity aimed for.
namespace cursimeter::detail {

/// Looks beyond this angle (rad) are refused: sine and cosine would lose accuracy.
inline constexpr double largest_look = 1e6;
/// Moves shorter than this count as none.
inline constexpr double smallest_move = 1e-6;

/// Takes a move in. Returns false if it is undefined; then the runner takes it as no move.
bool take_move(RunnerState& runner, double forward, double side);
/// Whether a look is defined and in range.
[[nodiscard]] inline bool is_look(double yaw, double pitch) {
    return std::fabs(yaw) <= largest_look && std::fabs(pitch) <= largest_look;
}
/// Takes a look in. Returns false if it is undefined or out of range; then the last look stays.
bool take_look(RunnerState& runner, double yaw, double pitch);

/// Looks at a point, `seconds` after the tick's start. Returns false if it is straight above or below.
bool take_focus(RunnerState& runner, const Focus& focus, double seconds);

/// The facts about the wanted movement, as RunnerState::moving has them.
[[nodiscard]] std::uint8_t moving_facts(const ChartData& chart, const RunnerState& runner);

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
/// The direction of the wanted move in the world, as a unit vector; 0 without one.
[[nodiscard]] glm::dvec2 wish_direction(const RunnerState& runner);
/// The wanted velocity turned into the world, by the present facing: along the ground where the runner
/// stands on it, and along what it leans against.
[[nodiscard]] glm::dvec3 target_of(const ChartData& chart, const RunnerState& runner);
/// Speed at full stick in the direction of the move, or while coasting in that of travel, m/s.
[[nodiscard]] double full_speed_of(const ChartData& chart, const RunnerState& runner);

/// The runner's right hand, by the facing.
[[nodiscard]] inline glm::dvec2 right_of(const RunnerState& runner) {
    return {runner.facing.y, -runner.facing.x};
}

}  // namespace cursimeter::detail
