#pragma once

#include <cstddef>
#include <cursimeter/detail/crowd_lanes.hpp>
#include <cursimeter/detail/runner_state.hpp>

#include "core/chart/chart_data.hpp"
#include "core/tick/open_ground.hpp"

/// From whole runners to lanes of a crowd, and back.
namespace cursimeter::detail {

/// Where the lane of a runner of a crowd is.
inline std::size_t block_of(std::size_t index) {
    return index / lanes_of_block;
}
inline std::size_t lane_of(std::size_t index) {
    return index % lanes_of_block;
}

/// What the keys of a runner, or of an intent, come to in a lane.
inline std::uint64_t lane_keys(ActionMask held, bool faces_movement) {
    return held | std::uint64_t{faces_movement} << 32U;
}

/// How a runner may go on whose tick went so.
[[nodiscard]] GoingOn going_on_after(const ChartData& chart, const RunnerState& runner, Went went);

/// Moves a runner into a lane, and what has changed in it back.
void enter_lane(const ChartData& chart, const RunnerState& runner, GoingOn how, LaneBlock& block,
                std::size_t lane);
void leave_lane(const LaneBlock& block, std::size_t lane, RunnerState& runner);

}  // namespace cursimeter::detail
