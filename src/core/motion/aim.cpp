#include "core/motion/aim.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/chart/facts.hpp"
#include "core/contact/surroundings.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/amounts.hpp"
#include "core/want/blocks.hpp"
#include "core/want/move_and_look.hpp"

namespace cursimeter::detail {
namespace {

/// Full speed in the unit direction (f, s), as a vector: the radius of the ellipse with the half-axes `ahead`
/// and `aside`. Where a half-axis is 0 the chart has no movement that way, and only the other component
/// counts.
glm::dvec2 full_velocity(const CompiledState& state, double f, double s) {
    const double ahead = f >= 0.0 ? state.forward : state.back;
    const double aside = state.side;
    const bool still = f == 0.0 && s == 0.0;
    if (still || ahead == aside || ahead == 0.0 || aside == 0.0) {
        return {f * ahead, s * aside};
    }
    const double a = f / ahead, b = s / aside;
    const double radius = 1.0 / std::sqrt(a * a + b * b);
    return {f * radius, s * radius};
}

}  // namespace

WantedParts wanted_parts(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    const Wish wish = read_wish(runner);
    WantedParts parts;
    parts.full = runner.faces_movement ? glm::dvec2(wish.forward, wish.side) * state.forward
                                       : full_velocity(state, wish.forward, wish.side);
    parts.stick = wish.length;
    parts.pace = double{runner.around.pace};
    if (runner.around.grounded && on_slope(runner.around) && wish.length != 0.0) {
        const double steepness = incline(runner.around, wish_direction(runner)) / chart.body.limit_sine;
        const double factor = steepness > 0.0 ? 1.0 + (state.slope_up - 1.0) * steepness
                                              : 1.0 + (1.0 - state.slope_down) * steepness;
        parts.slope = std::max(factor, 0.0);
    }
    return parts;
}

void plan_wanted(const ChartData& chart, RunnerState& runner) {
    const WantedParts parts = wanted_parts(chart, runner);
    runner.idle = parts.stick == 0.0;
    double factor = parts.stick * parts.pace * parts.slope;
    if (!runner.idle && is_modified(chart, runner, measure::speed)) {
        const double speed = length_of(parts.full);
        factor *= speed > 0.0 ? modified(chart, runner, measure::speed, speed) / speed : 1.0;
    }
    runner.wanted = parts.full * factor;
}

namespace {

/// Ahead follows the look up and down; sideways stays level; actions and a glide's sinking come on top.
glm::dvec3 flight_target(const ChartData& chart, const CompiledFly& fly, const RunnerState& runner) {
    glm::dvec3 ahead(runner.facing.x, runner.facing.y, 0.0);
    if (fly.by_look && runner.look_pitch != 0.0) {
        constexpr double upright = 1.5707963267948966;
        const detmath::SineCosine pitch =
            detmath::sine_cosine(std::clamp(runner.look_pitch, -upright, upright));
        ahead = {ahead.x * pitch.cosine, ahead.y * pitch.cosine, pitch.sine};
    }
    const glm::dvec2 right = right_of(runner);
    glm::dvec3 target = ahead * runner.wanted.x + glm::dvec3(right.x, right.y, 0.0) * runner.wanted.y;
    const auto is_on = [&](std::uint8_t action) {
        return action != no_action && (on_now(chart, runner) >> action & 1U) != 0;
    };
    if (runner.locks == 0 && !runner.rooted) {
        target.z += is_on(fly.up) ? fly.climb : 0.0;
        target.z -= is_on(fly.down) ? fly.dive : 0.0;
    }
    target.z -= fly.sink;
    return target;
}

}  // namespace

glm::dvec3 target_of(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    if (state.traits.aims_in_space) {
        const glm::dvec3 target = flight_target(chart, state.fly, runner);
        const glm::dvec3 ground = ground_normal(runner.around);
        return without_barred(runner.around,
                              runner.around.grounded ? target - ground * inner(target, ground) : target);
    }
    const glm::dvec2 plane = runner.facing * runner.wanted.x + right_of(runner) * runner.wanted.y;
    if (!runner.around.grounded) {
        return {level_without_barred(runner.around, plane, glm::dvec3(0.0)), 0.0};
    }
    return without_barred(runner.around, along_ground(runner.around, plane));
}

bool aims_off_ground(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    if (!runner.around.grounded || !state.traits.aims_in_space) {
        return false;
    }
    Surroundings off = runner.around;
    off.grounded = false;
    const glm::dvec3 target = without_barred(off, flight_target(chart, state.fly, runner));
    return inner(target, ground_normal(runner.around)) > turning_gap;
}

double full_speed_of(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    const Wish wish = read_wish(runner);
    if (runner.faces_movement || wish.length == 0.0) {
        return state.forward;
    }
    const double full = length_of(full_velocity(state, wish.forward, wish.side));
    return full > 0.0 ? full : state.forward;
}

}  // namespace cursimeter::detail
