#include "core/motion/aim.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/chart/facts.hpp"
#include "core/contact/surroundings.hpp"
#include "core/effects/modifiers.hpp"
#include "core/want/blocks.hpp"

namespace cursimeter::detail {
namespace {

/// A move split into its direction and its length, 0 to 1.
struct Wish {
    double forward = 0.0, side = 0.0;  ///< unit vector, or 0 without a wish
    double length = 0.0;
};

Wish read_wish(const RunnerState& runner) {
    if (runner.locks != 0 || runner.rooted) {
        return {};  // a push or a block has taken control away
    }
    double forward = runner.move_forward, side = runner.move_side;
    const double largest = std::max(std::fabs(forward), std::fabs(side));
    double length = 0.0;
    if (largest > 1e3) {  // the squares of huge values would overflow
        forward /= largest;
        side /= largest;
        length = 1.0;
    }
    const double size = std::sqrt(forward * forward + side * side);
    if (size < smallest_move) {
        return {};
    }
    return {forward / size, side / size, length > 0.0 ? length : std::min(size, 1.0)};
}

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

bool take_move(RunnerState& runner, double forward, double side) {
    const bool defined = std::isfinite(forward) && std::isfinite(side);
    runner.move_forward = defined ? forward : 0.0;
    runner.move_side = defined ? side : 0.0;
    return defined;
}

bool take_look(RunnerState& runner, double yaw, double pitch) {
    if (!is_look(yaw, pitch)) {
        return false;
    }
    if (yaw != runner.look_yaw) {
        const detmath::SineCosine turned = detmath::sine_cosine(yaw);
        runner.facing = {turned.cosine, turned.sine};
    }
    runner.look_yaw = yaw;
    runner.look_pitch = pitch;
    return true;
}

bool take_focus(RunnerState& runner, const Focus& focus, double seconds) {
    const glm::dvec3 to = focus.position + focus.velocity * seconds - runner.position;
    const double level = std::sqrt(to.x * to.x + to.y * to.y);
    if (!(level > 1e-6) || !std::isfinite(level) || !std::isfinite(to.z)) {
        return false;  // straight above or below: the last look stays
    }
    const double yaw = detmath::arc_tangent(to.y, to.x);
    const double pitch = detmath::arc_tangent(to.z - focus.eye_height, level);
    runner.facing = {to.x / level, to.y / level};
    runner.look_yaw = yaw;
    runner.look_pitch = pitch;
    return true;
}

std::uint8_t moving_facts(const ChartData& chart, const RunnerState& runner) {
    const Wish wish = read_wish(runner);
    if (wish.length == 0.0) {
        return 0;
    }
    if (runner.faces_movement || wish.forward >= chart.forward_cosine) {
        return fact::moving_ahead;
    }
    return wish.forward <= -chart.forward_cosine ? fact::moving_back : fact::moving_aside;
}

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

glm::dvec2 wish_direction(const RunnerState& runner) {
    const Wish wish = read_wish(runner);
    return runner.facing * wish.forward + right_of(runner) * wish.side;
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
    if (runner.around.grounded) {
        const glm::dvec3 ground = ground_normal(runner.around);
        const double into = inner(target, ground);
        target = into < 0.0 ? target - ground * into : target;
    }
    return target;
}

}  // namespace

glm::dvec3 target_of(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    if (state.kind == StateKind::fly) {
        return without_barred(runner.around, flight_target(chart, state.fly, runner));
    }
    const glm::dvec2 plane = runner.facing * runner.wanted.x + right_of(runner) * runner.wanted.y;
    if (!runner.around.grounded) {
        return without_barred(runner.around, {plane.x, plane.y, 0.0});
    }
    return without_barred(runner.around, along_ground(runner.around, plane));
}

double full_speed_of(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    const Wish wish = read_wish(runner);
    glm::dvec2 direction(wish.forward, wish.side);
    if (runner.idle && runner.speed > 0.0) {
        const glm::dvec2 velocity = flat(runner.velocity);
        direction = glm::dvec2(inner(velocity, runner.facing), inner(velocity, right_of(runner))) *
                    (1.0 / runner.speed);
    }
    if (runner.faces_movement) {
        return state.forward;
    }
    const double full = length_of(full_velocity(state, direction.x, direction.y));
    return full > 0.0 ? full : state.forward;
}

}  // namespace cursimeter::detail
