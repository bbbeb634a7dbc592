#include "core/aim.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/facts.hpp"
#include "core/plane.hpp"

namespace cursimeter::detail {
namespace {

/// A move split into its direction and its length, 0 to 1.
struct Wish {
    double forward = 0.0, side = 0.0;  ///< unit vector, or 0 without a wish
    double length = 0.0;
};

Wish read_wish(const RunnerState& runner) {
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
    if (!(std::fabs(yaw) <= largest_look) || !(std::fabs(pitch) <= largest_look)) {
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

std::uint8_t moving_facts(const ChartData& chart, const RunnerState& runner) {
    const Wish wish = read_wish(runner);
    if (wish.length == 0.0) {
        return 0;
    }
    if (wish.forward >= chart.forward_cosine) {
        return fact::moving_ahead;
    }
    return wish.forward <= -chart.forward_cosine ? fact::moving_back : fact::moving_aside;
}

void plan_wanted(const ChartData& chart, RunnerState& runner) {
    const Wish wish = read_wish(runner);
    runner.idle = wish.length == 0.0;
    runner.wanted = full_velocity(chart.states[runner.state], wish.forward, wish.side) * wish.length;
    runner.target_speed = length_of(runner.wanted);
}

glm::dvec2 target_of(const RunnerState& runner) {
    const glm::dvec2 right(runner.facing.y, -runner.facing.x);
    return runner.facing * runner.wanted.x + right * runner.wanted.y;
}

double full_speed_of(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    const Wish wish = read_wish(runner);
    glm::dvec2 direction(wish.forward, wish.side);
    if (runner.idle && runner.speed > 0.0) {
        const glm::dvec2 velocity(runner.velocity.x, runner.velocity.y);
        const glm::dvec2 right(runner.facing.y, -runner.facing.x);
        direction = glm::dvec2(inner(velocity, runner.facing), inner(velocity, right)) * (1.0 / runner.speed);
    }
    const double full = length_of(full_velocity(state, direction.x, direction.y));
    return full > 0.0 ? full : state.forward;
}

}  // namespace cursimeter::detail
