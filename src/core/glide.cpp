#include "core/leg.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/aim.hpp"
#include "core/instant.hpp"
#include "core/meters.hpp"
#include "core/pushes.hpp"
#include "core/surroundings.hpp"

/// Letting time pass on a leg.
namespace cursimeter::detail {

glm::dvec3 displacement_after(const ChartData& chart, const RunnerState& runner, double dt) {
    switch (runner.leg) {
        case LegKind::ramp:
            return runner.velocity * dt + runner.acceleration * (0.5 * dt * dt);
        case LegKind::ease: {
            const double half_life = rate_of(chart, runner).value;
            const glm::dvec3 target = target_of(chart, runner);
            const double reach = (1.0 - detmath::power_of_two(-dt / half_life)) * (half_life / ln_two);
            return target * dt + (runner.velocity - target) * reach;
        }
        case LegKind::steady:
            break;
    }
    return runner.velocity * dt;
}

void glide_changing(const ChartData& chart, RunnerState& runner, double dt) {
    double travelled = 0.0;
    if (runner.carried) {
        runner.position += carried_by(chart, runner, dt);
    }
    switch (runner.leg) {
        case LegKind::steady:
            runner.position += runner.velocity * dt;
            travelled = runner.speed * dt;
            break;
        case LegKind::ramp: {
            const double before = runner.speed;
            const glm::dvec3 velocity = runner.velocity;
            runner.position += velocity * dt + runner.acceleration * (0.5 * dt * dt);
            runner.velocity += runner.acceleration * dt;
            runner.speed = length_of(runner.velocity);
            if (runner.straight) {  // the speed is linear in time, so its mean is that of its ends
                travelled = 0.5 * (before + runner.speed) * dt;
            } else {
                travelled = ramp_path(velocity, runner.acceleration, before, runner.speed, dt);
            }
            break;
        }
        case LegKind::ease: {
            const LegShape leg = runner.straight ? LegShape{} : shape_of(chart, runner);
            const double half_life = rate_of(chart, runner).value;
            const glm::dvec3 target = target_of(chart, runner);
            const glm::dvec3 gap = runner.velocity - target;
            const double left = detmath::power_of_two(-dt / half_life);
            const glm::dvec3 moved = target * dt + gap * ((1.0 - left) * (half_life / ln_two));
            runner.position += moved;
            runner.velocity = target + gap * left;
            runner.speed = length_of(runner.velocity);
            travelled = runner.straight ? length_of(moved) : path_length(leg, dt);
            break;
        }
    }
    runner.distance += travelled;
    runner.clock += dt;
    if (runner.by_distance != 0) [[unlikely]] {
        lose_by_distance(chart, runner, travelled);
    }
}

namespace {

/// A ramp to the target on level ground, seen along its line: w rises from `begin` by `slowed` at the rate
/// for slowing down, then at the rate for speeding up until it is there.
struct Ramp {
    glm::dvec2 direction{0.0};
    double size = 0.0;    ///< m/s from the velocity to the target
    double across = 0.0;  ///< m/s
    double slowed = 0.0;  ///< m/s
    PathEnd begin;

    /// Whether the speed falls and rises again on the way.
    [[nodiscard]] bool dips() const { return slowed > 0.0 && slowed < size; }
};

Ramp ramp_between(const glm::dvec2& velocity, double speed, const glm::dvec2& target) {
    const glm::dvec2 gap = target - velocity;
    Ramp ramp;
    ramp.size = length_of(gap);
    if (ramp.size <= arrival_gap) {
        return ramp;
    }
    ramp.direction = gap * (1.0 / ramp.size);
    ramp.across = std::fabs(velocity.x * ramp.direction.y - velocity.y * ramp.direction.x);
    ramp.begin = {inner(velocity, ramp.direction), speed};
    ramp.slowed = ramp.begin.w < -turning_gap ? std::min(-ramp.begin.w, ramp.size) : 0.0;
    return ramp;
}

/// Whether the speed meets a value on the ramp that something reads.
bool meets_mark(const ChartData& chart, const RunnerState& runner, const Ramp& ramp, double target_speed) {
    const double speed = ramp.begin.r;
    const double lowest = (ramp.dips() ? ramp.across : std::min(speed, target_speed)) - turning_gap;
    const double highest = std::max(speed, target_speed) + turning_gap;
    std::uint64_t met = 0;
    for (const SpeedMark& mark : chart.speed_marks) {
        if (mark.value >= lowest && mark.value <= highest) {
            met |= mark.derived_bit;
        }
    }
    return met != 0 && (met & watched_facts(chart, runner)) != 0;
}

/// Integral of sqrt(1 + x^2) from 0 for |x| <= 0.05: the Taylor series, to 1e-16.
double short_integral(double x) {
    const double z = x * x;
    return x * (1.0 + z * (1.0 / 6.0 - z * (1.0 / 40.0 - z * (1.0 / 112.0 - z * (5.0 / 1152.0)))));
}

/// Length of a ramp's path from its begin by way of `turn` to `end` (components along its line), of which
/// each part has its own rate and takes the seconds given. Gentle turns take one division and no root.
double path_of(const Ramp& ramp, double turn, double end, const GainRate& down, const GainRate& up,
               double first, double second) {
    const double p = ramp.across, begin = ramp.begin.w;
    const auto speed_at = [&](double w) { return std::sqrt(w * w + p * p); };
    if (std::fabs(begin) <= 0.05 * p && std::fabs(end) <= 0.05 * p) {
        const double inverse = 1.0 / p;
        const double middle = short_integral(turn * inverse);
        return p * p *
               ((middle - short_integral(begin * inverse)) * down.inverse +
                (short_integral(end * inverse) - middle) * up.inverse);
    }
    const double speed = speed_at(turn);
    if (p <= straight_limit) {
        return 0.5 * ((ramp.begin.r + speed) * first + (speed + speed_at(end)) * second);
    }
    return (first > 0.0 ? ramp_path(ramp.begin, {turn, speed}, p, down.inverse) : 0.0) +
           (second > 0.0 ? ramp_path({turn, speed}, {end, speed_at(end)}, p, up.inverse) : 0.0);
}

}  // namespace

bool follow_ramp(const ChartData& chart, RunnerState& runner, double dt) {
    const CompiledState& state = chart.states[runner.state];
    if (state.kind != StateKind::ground || !runner.around.grounded || state.gain.law != GainLaw::ramp ||
        runner.by_distance != 0 || runner.carried || on_slope(runner.around) ||
        runner.around.barrier_count != 0 || chart.has_strides) {  // steps are timed leg by leg
        return false;
    }
    const glm::dvec2 target = runner.facing * runner.wanted.x + right_of(runner) * runner.wanted.y;
    const glm::dvec2 velocity = flat(runner.velocity);
    const double target_speed = length_of(target);
    const Ramp ramp = ramp_between(velocity, runner.speed, target);
    if (ramp.size <= arrival_gap || meets_mark(chart, runner, ramp, target_speed)) {
        return false;
    }
    const GainRate down = modified_rate(chart, runner, runner.idle ? state.gain.idle : state.gain.down);
    const GainRate up = runner.idle ? down : modified_rate(chart, runner, state.gain.up);
    const double braking = ramp.slowed * down.inverse;
    const double speeding = (ramp.size - ramp.slowed) * up.inverse;
    const double first = std::min(braking, dt);
    const double second = std::min(speeding, dt - first);
    const double steady = dt - first - second;

    const double begin = ramp.begin.w;
    const double turn = begin + first * down.value;
    const double end = turn + second * up.value;
    // The speed along the line is linear in time, so each part is walked at the mean of its ends.
    const double reach = 0.5 * ((begin + turn) * first + (turn + end) * second);
    const glm::dvec2 kept = velocity - ramp.direction * begin;
    const glm::dvec2 moved = kept * (first + second) + ramp.direction * reach + target * steady;
    runner.position.x += moved.x;
    runner.position.y += moved.y;
    runner.distance += target_speed * steady + path_of(ramp, turn, end, down, up, first, second);
    runner.clock += dt;
    runner.leg_end = LegEnd::replan;
    if (first == braking && second == speeding) {
        runner.velocity = {target.x, target.y, 0.0};
        runner.speed = target_speed;
        runner.leg = LegKind::steady;
        runner.trend = Trend::level;
        runner.straight = true;
        runner.acceleration = {0.0, 0.0, 0.0};
        runner.leg_due = never;
    } else {
        const bool falling = first < braking;
        const glm::dvec2 now = kept + ramp.direction * end;
        const glm::dvec2 acceleration = ramp.direction * (falling ? down.value : up.value);
        runner.velocity = {now.x, now.y, 0.0};
        runner.speed = length_of(now);
        runner.leg = LegKind::ramp;
        runner.trend = falling ? Trend::falling : Trend::rising;
        runner.straight = ramp.across <= straight_limit;
        runner.acceleration = {acceleration.x, acceleration.y, 0.0};
        runner.leg_end = falling && ramp.dips() ? LegEnd::replan : LegEnd::arrival;
        runner.leg_due = runner.clock + (falling ? braking - first : speeding - second);
    }
    return true;
}

}  // namespace cursimeter::detail
