#include "core/tick/turning.hpp"

#include <algorithm>
#include <cmath>

#include "core/contact/surroundings.hpp"
#include "core/effects/modifiers.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/leg.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/instant.hpp"
#include "core/tick/way.hpp"
#include "core/want/move_and_look.hpp"

/// Ticks in which the wanted velocity turns. A look that follows a mouse turns it in every tick, so these ticks go the
/// whole way to the target in one go, without planning its legs.
namespace cursimeter::detail {

Rates modified_rates(const ChartData& chart, const RunnerState& runner, const GainRate& down,
                     const GainRate& up) {
    const GainLaw law = chart.states[runner.state].gain.law;
    const double factor = gain_factor(chart, runner);
    const GainRate changed_down = changed_rate(down, law, factor), changed_up = changed_rate(up, law, factor);
    return {changed_down.value, changed_down.inverse, changed_up.value, changed_up.inverse};
}

namespace {

/// Integral of sqrt(1 + x^2) from 0 for |x| <= 0.05: the Taylor series, to 1e-16.
double short_integral(double x) {
    const double z = x * x;
    return x * (1.0 + z * (1.0 / 6.0 - z * (1.0 / 40.0 - z * (1.0 / 112.0 - z * (5.0 / 1152.0)))));
}

/// A stretch of the way: s at its turn and at its end, and the seconds before and after the turn.
struct TurnStretch {
    double turn, end;
    double first, second;
};

/// Length of its path. Along its line the velocity has the component (along + s g^2) / |g|, across it the constant
/// across / |g|. Gentle turns take one division and no root.
double path_of(const Way& way, double speed, const TurnStretch& stretch, const Rates& rates) {
    const double at_end = way.along + stretch.end * way.squared;
    const double gentle = 0.05 * way.across;
    if (std::fabs(way.along) <= gentle && std::fabs(at_end) <= gentle) {
        const double unit = 1.0 / way.across;
        const double begin = short_integral(way.along * unit), end = short_integral(at_end * unit);
        // Where the speed falls and rises again, it does so at 0.
        const double middle = stretch.first <= 0.0 ? begin : stretch.second <= 0.0 ? end : 0.0;
        return way.across * way.across * way.inverse *
               ((middle - begin) * rates.down_inverse + (end - middle) * rates.up_inverse);
    }
    const double shrink = way.size * way.inverse;  // 1 / |g|
    const double across = way.across * shrink;
    const auto at = [&](double along) {
        const double w = along * shrink;
        return PathEnd{w, std::sqrt(w * w + across * across)};
    };
    const PathEnd begin{way.along * shrink, speed}, end = at(at_end);
    const PathEnd turn = stretch.first <= 0.0    ? begin
                         : stretch.second <= 0.0 ? end
                                                 : at(way.along + stretch.turn * way.squared);
    if (across <= straight_limit) {
        // The speed is linear in time, so each part is walked at the mean of its ends.
        return 0.5 * ((speed + turn.r) * stretch.first + (turn.r + end.r) * stretch.second);
    }
    return (stretch.first > 0.0 ? ramp_path(begin, turn, across, rates.down_inverse) : 0.0) +
           (stretch.second > 0.0 ? ramp_path(turn, end, across, rates.up_inverse) : 0.0);
}

/// Whether a foot comes down on the way, or might: it does so at a time that only the plain way finds.
[[gnu::noinline]] bool steps(const CompiledState& state, const RunnerState& runner, double dt) {
    const double most = std::max(runner.speed, std::fabs(runner.wanted.x) + std::fabs(runner.wanted.y));
    return may_step(state, runner, most, dt);
}

/// Whether the runner is on level ground, and nothing but its own legs moves it or costs it anything.
[[gnu::always_inline]] inline bool walks_plainly(const CompiledState& state, const RunnerState& runner,
                                                 double dt) {
    return state.follows_turns && runner.around.grounded && runner.by_distance == 0 && !runner.carried &&
           !on_slope(runner.around) && runner.around.barrier_count == 0 &&
           (state.strides_per_metre <= 0.0 || !steps(state, runner, dt));
}

/// Has come to the target, and goes on so.
void keep_target(RunnerState& runner, const glm::dvec2& target, double target_speed) {
    runner.velocity = {target.x, target.y, 0.0};
    runner.speed = target_speed;
    keep_velocity(runner);
}

/// The commonest turn: at full speed, by a few degrees, to a target of the same length, which is reached within the
/// tick. Then v.g = -g^2 / 2: the speed falls up to the middle of the gap and rises from there, and its mean on the way
/// is that of sqrt(1 - q (1 - u^2)) over u from 0 to 1 with q = g^2 / 4v^2, whose series is 1 - q/3 - q^2/15 - q^3/35 ...
/// Returns false, and changes nothing, in any other case.
bool turn_at_speed(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt) {
    const glm::dvec2 target = level_target(runner);
    const glm::dvec2 velocity = flat(runner.velocity);
    const glm::dvec2 gap = target - velocity;
    const double speed_squared = runner.speed * runner.speed, target_squared = inner(target, target);
    const double gap_squared = inner(gap, gap);
    if (gap_squared > 0.01 * speed_squared ||
        std::fabs(target_squared - speed_squared) > 1e-13 * speed_squared) {
        return false;
    }
    const Rates rates = rates_of(chart, runner, state.gain);
    const double half = 0.5 * std::sqrt(gap_squared);
    const double first = half * rates.down_inverse, second = half * rates.up_inverse;
    const double steady = dt - first - second;
    if (steady < 0.0 || any_mark_between(chart, runner.speed - half, runner.speed)) {
        return false;
    }
    const double q = 0.25 * gap_squared / speed_squared;
    const double mean =
        runner.speed *
        (1.0 - q * (1.0 / 3.0 + q * (1.0 / 15.0 + q * (1.0 / 35.0 + q * (1.0 / 63.0 + q * (1.0 / 99.0))))));
    const glm::dvec2 moved =
        velocity * (first + second) + gap * (0.25 * first + 0.75 * second) + target * steady;
    runner.position.x += moved.x;
    runner.position.y += moved.y;
    runner.distance += runner.speed * steady + mean * (first + second);
    runner.clock += dt;
    runner.velocity.x = target.x;
    runner.velocity.y = target.y;
    runner.speed = std::sqrt(target_squared);
    return true;
}

/// On a ramp: braking, speeding up and, once there, steadily.
bool follow_ramp(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt) {
    const glm::dvec2 target = level_target(runner);
    const glm::dvec2 velocity = flat(runner.velocity);
    const Way way = way_between(velocity, target);
    const double target_speed = length_of(target);
    if (way.size <= arrival_gap || meets_mark(chart, runner, way, target_speed)) {
        return false;
    }
    const Rates rates = rates_of(chart, runner, state.gain);
    const double braking = way.slowed * way.size * rates.down_inverse;
    const double speeding = (1.0 - way.slowed) * way.size * rates.up_inverse;
    TurnStretch stretch{way.slowed, 1.0, std::min(braking, dt), 0.0};
    stretch.second = std::min(speeding, dt - stretch.first);
    const double steady = dt - stretch.first - stretch.second;
    const bool arrives = stretch.first == braking && stretch.second == speeding;
    if (!arrives) {
        const double shrink = way.size * way.inverse;  // 1 / |g|
        if (stretch.first < braking) {
            stretch.turn = stretch.first * rates.down * shrink;
        }
        stretch.end = stretch.turn + stretch.second * rates.up * shrink;
    }
    // The velocity is linear in time, so each part is walked at the mean of its ends.
    const double reach = 0.5 * (stretch.turn * stretch.first + (stretch.turn + stretch.end) * stretch.second);
    const glm::dvec2 moved = velocity * (stretch.first + stretch.second) + way.gap * reach + target * steady;
    runner.position.x += moved.x;
    runner.position.y += moved.y;
    runner.distance += target_speed * steady + path_of(way, runner.speed, stretch, rates);
    runner.clock += dt;
    runner.leg_end = LegEnd::replan;
    if (arrives) {
        keep_target(runner, target, target_speed);
    } else {
        const bool falling = stretch.first < braking;
        const glm::dvec2 now = velocity + way.gap * stretch.end;
        const double rate = (falling ? rates.down : rates.up) * (way.size * way.inverse);
        runner.velocity = {now.x, now.y, 0.0};
        runner.speed = length_of(now);
        runner.leg = LegKind::ramp;
        runner.trend = falling ? Trend::falling : Trend::rising;
        runner.straight = way.across <= straight_limit * way.size;
        runner.acceleration = {way.gap.x * rate, way.gap.y * rate, 0.0};
        runner.leg_end = falling && way.dips() ? LegEnd::replan : LegEnd::arrival;
        runner.leg_due = runner.clock + (falling ? braking - stretch.first : speeding - stretch.second);
    }
    runner.next_due = std::min(runner.leg_due, runner.condition_due);
    return true;
}

/// Under the instant law the velocity is the target's at once.
bool follow_at_once(const ChartData& chart, RunnerState& runner, double dt) {
    const glm::dvec2 target = level_target(runner);
    const double target_speed = length_of(target);
    if (any_mark_between(chart, std::min(runner.speed, target_speed), std::max(runner.speed, target_speed))) {
        return false;
    }
    keep_target(runner, target, target_speed);
    runner.position.x += target.x * dt;
    runner.position.y += target.y * dt;
    runner.distance += target_speed * dt;
    runner.clock += dt;
    runner.next_due = runner.condition_due;
    return true;
}

}  // namespace

bool follow_target(const ChartData& chart, RunnerState& runner, double dt) {
    const CompiledState& state = chart.states[runner.state];
    if (!walks_plainly(state, runner, dt)) {
        return false;
    }
    switch (state.gain.law) {
        case GainLaw::instant:
            return follow_at_once(chart, runner, dt);
        case GainLaw::ramp:
            return follow_ramp(chart, runner, state, dt);
        case GainLaw::ease:
            return follow_ease(chart, runner, state, dt);
        case GainLaw::curve:
            break;  // each piece of the curve is a leg of its own
    }
    return false;
}

Turn take_turn(const ChartData& chart, RunnerState& runner, const Look& look, double dt) {
    if (!is_look(look.yaw, look.pitch) || runner.condition_due <= runner.clock + instant_width.value) {
        return Turn::pending;
    }
    static_cast<void>(take_look(runner, look.yaw, look.pitch));
    runner.around.cornered = false;
    const CompiledState& state = chart.states[runner.state];
    if (runner.idle || !is_steered(state, runner)) {
        return Turn::unheeded;
    }
    const double end = runner.clock + dt;
    if (runner.leg == LegKind::steady && end < runner.next_due && state.gain.law == GainLaw::ramp &&
        walks_plainly(state, runner, dt) && turn_at_speed(chart, runner, state, dt)) {
        return Turn::followed;
    }
    return end < runner.condition_due && follow_target(chart, runner, dt) ? Turn::followed : Turn::pending;
}

}  // namespace cursimeter::detail
