#pragma once

#include <cursimeter/intent.hpp>
#include <cursimeter/runner.hpp>

#include "core/chart/chart_data.hpp"

namespace cursimeter {

/// Nothing held, no move, looking level the runner's way.
[[nodiscard]] inline Intent empty_hands(const Runner& runner) {
    Intent hands;
    hands.look = {runner.yaw(), 0.0};
    return hands;
}

/// As the runner was told last.
[[nodiscard]] inline Intent hands_of(const Runner& runner) {
    const detail::RunnerState& state = detail::RunnerAccess::state(runner);
    Intent hands;
    hands.held = state.held;
    hands.move = {state.move_forward, state.move_side};
    hands.look = {state.look_yaw, state.look_pitch};
    return hands;
}

}  // namespace cursimeter
