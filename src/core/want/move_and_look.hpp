#pragma once

#include <cmath>
#include <cursimeter/intent.hpp>

#include "core/chart/chart_data.hpp"
#include "core/numbers/sine_cosine.hpp"

/// The move and the look that are wanted.
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
/// Takes a look in that is one.
inline void set_look(RunnerState& runner, double yaw, double pitch) {
    if (yaw != runner.look_yaw) {
        const detmath::SineCosine turned = detmath::sine_cosine_inline(yaw);
        runner.facing = {turned.cosine, turned.sine};
    }
    runner.look_yaw = yaw;
    runner.look_pitch = pitch;
}
/// Takes a look in. Returns false if it is undefined or out of range; then the last look stays.
bool take_look(RunnerState& runner, double yaw, double pitch);

/// Looks at a point, `seconds` after the tick's start. Returns false if it is straight above or below.
bool take_focus(RunnerState& runner, const Focus& focus, double seconds);

/// The facts about the wanted movement, as RunnerState::moving has them.
[[nodiscard]] std::uint8_t moving_facts(const ChartData& chart, const RunnerState& runner);

/// A move split into its direction and its length, 0 to 1.
struct Wish {
    double forward = 0.0, side = 0.0;  ///< unit vector, or 0 without a wish
    double length = 0.0;
};

[[nodiscard]] Wish read_wish(const RunnerState& runner);
/// The direction of the wanted move in the world, as a unit vector; 0 without one.
[[nodiscard]] glm::dvec2 wish_direction(const RunnerState& runner);
/// The runner's right hand, by the facing.
[[nodiscard]] inline glm::dvec2 right_of(const RunnerState& runner) {
    return {runner.facing.y, -runner.facing.x};
}

}  // namespace cursimeter::detail
