#include "core/crowd/lane_block.hpp"

#include <algorithm>
#include <limits>

#include "core/motion/segment.hpp"
#include "core/tick/way.hpp"

namespace cursimeter::detail {
namespace {

/// The speed to which a runner may fall from its own without coming near a speed that something compares; its own, and more, if
/// there is one at hand.
double clear_below(const ChartData& chart, double speed) {
    constexpr double near =
        2.0 * turning_gap;  // wider than what one runner by itself asks: then that decides
    double below = -std::numeric_limits<double>::infinity();
    for (const SpeedMark& mark : chart.speed_marks) {
        if (mark.value <= speed + near) {
            below = std::max(below, mark.value + near);
        }
    }
    return below;
}

}  // namespace

GoingOn going_on_after(const ChartData& chart, const RunnerState& runner, Went went) {
    switch (went) {
        case Went::otherwise:
            break;
        case Went::evenly:
            return GoingOn::evenly;
        case Went::looking:
            return GoingOn::looking;
        case Went::round:
            // A foot comes down at a time of its own, and a modifier fades.
            return chart.states[runner.state].strides_per_metre > 0.0 || runner.modifier_count != 0
                       ? GoingOn::whole
                       : GoingOn::round;
    }
    return GoingOn::whole;
}

void enter_lane(const ChartData& chart, const RunnerState& runner, GoingOn how, LaneBlock& block,
                std::size_t lane) {
    block.clock[lane] = runner.clock;
    block.x[lane] = runner.position.x;
    block.y[lane] = runner.position.y;
    block.z[lane] = runner.position.z;
    block.distance[lane] = runner.distance;
    block.velocity_x[lane] = runner.velocity.x;
    block.velocity_y[lane] = runner.velocity.y;
    block.velocity_z[lane] = runner.velocity.z;
    block.speed[lane] = runner.speed;
    block.next_due[lane] = runner.next_due;
    block.move_forward[lane] = runner.move_forward;
    block.move_side[lane] = runner.move_side;
    block.look_yaw[lane] = runner.look_yaw;
    block.look_pitch[lane] = runner.look_pitch;
    block.keys[lane] = lane_keys(runner.held, runner.faces_movement);
    block.naming[lane] = chart.naming;
    block.facing_x[lane] = runner.facing.x;
    block.facing_y[lane] = runner.facing.y;
    if (how == GoingOn::round) {
        const Rates rates = rates_of(chart, runner, chart.states[runner.state].gain);
        block.wanted_x[lane] = runner.wanted.x;
        block.wanted_y[lane] = runner.wanted.y;
        block.down_inverse[lane] = rates.down_inverse;
        block.up_inverse[lane] = rates.up_inverse;
        block.clear_below[lane] = clear_below(chart, runner.speed);
    }
}

void leave_lane(const LaneBlock& block, std::size_t lane, RunnerState& runner) {
    runner.clock = block.clock[lane];
    runner.position = {block.x[lane], block.y[lane], block.z[lane]};
    runner.distance = block.distance[lane];
    runner.velocity = {block.velocity_x[lane], block.velocity_y[lane], block.velocity_z[lane]};
    runner.speed = block.speed[lane];
    runner.look_yaw = block.look_yaw[lane];
    runner.look_pitch = block.look_pitch[lane];
    runner.facing = {block.facing_x[lane], block.facing_y[lane]};
}

}  // namespace cursimeter::detail
