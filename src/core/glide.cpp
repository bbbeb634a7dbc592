#include "core/leg.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/aim.hpp"
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

void glide(const ChartData& chart, RunnerState& runner, double dt) {
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
                const double size = length_of(runner.acceleration);
                const double inverse = 1.0 / size;
                const glm::dvec3 direction = runner.acceleration * inverse;
                const double along = inner(velocity, direction);
                const double across = length_of(velocity - direction * along);
                travelled = ramp_path({along, before}, {along + size * dt, runner.speed}, across, inverse);
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
    if (runner.flowing != 0) {
        flow_meters(chart, runner, dt, travelled);
    }
}

namespace {

/// A ramp to the target, seen along its line: w rises from `begin` by `slowed` at the rate for slowing
/// down, then at the rate for speeding up until it is there.
struct Ramp {
    glm::dvec3 direction{0.0};
    double size = 0.0;    ///< m/s from the velocity to the target
    double across = 0.0;  ///< m/s
    double slowed = 0.0;  ///< m/s
    PathEnd begin;
    const GainRate* down = nullptr;
    const GainRate* up = nullptr;

    /// Whether the speed falls and rises again on the way.
    [[nodiscard]] bool dips() const { return slowed > 0.0 && slowed < size; }
};

Ramp ramp_to_target(const ChartData& chart, const RunnerState& runner, const glm::dvec3& target) {
    const CompiledGain& gain = chart.states[runner.state].gain;
    const glm::dvec3& velocity = runner.velocity;
    const glm::dvec3 gap = target - velocity;
    Ramp ramp;
    ramp.size = length_of(gap);
    if (ramp.size <= arrival_gap) {
        return ramp;
    }
    ramp.direction = gap * (1.0 / ramp.size);
    ramp.across = across_of(velocity, ramp.direction);
    ramp.begin = {inner(velocity, ramp.direction), runner.speed};
    ramp.slowed = ramp.begin.w < -turning_gap ? std::min(-ramp.begin.w, ramp.size) : 0.0;
    ramp.down = runner.idle ? &gain.idle : &gain.down;
    ramp.up = runner.idle ? &gain.idle : &gain.up;
    return ramp;
}

/// Whether the speed meets a value on the ramp that something reads.
bool meets_mark(const ChartData& chart, const RunnerState& runner, const Ramp& ramp, double target_speed) {
    const double lowest = ramp.dips() ? ramp.across : std::min(runner.speed, target_speed);
    const double highest = std::max(runner.speed, target_speed);
    return std::any_of(chart.speed_marks.begin(), chart.speed_marks.end(), [&](const SpeedMark& mark) {
        return mark.value >= lowest - turning_gap && mark.value <= highest + turning_gap;
    });
}

/// Length of the part of a ramp between two ends, which takes `seconds`.
double part_length(const Ramp& ramp, PathEnd from, PathEnd to, const GainRate& rate, double seconds) {
    if (seconds <= 0.0) {
        return 0.0;
    }
    return ramp.across <= straight_limit ? 0.5 * (from.r + to.r) * seconds
                                         : ramp_path(from, to, ramp.across, rate.inverse);
}

}  // namespace

bool follow_ramp(const ChartData& chart, RunnerState& runner, double dt) {
    const CompiledState& state = chart.states[runner.state];
    if (state.kind != StateKind::ground || !runner.around.grounded || state.gain.law != GainLaw::ramp ||
        runner.by_distance != 0 || runner.carried || on_slope(runner.around)) {
        return false;
    }
    const glm::dvec3 target = target_of(chart, runner);
    const double target_speed = length_of(target);
    const Ramp ramp = ramp_to_target(chart, runner, target);
    if (ramp.size <= arrival_gap || meets_mark(chart, runner, ramp, target_speed)) {
        return false;
    }
    const double braking = ramp.slowed * ramp.down->inverse;
    const double speeding = (ramp.size - ramp.slowed) * ramp.up->inverse;
    const double first = std::min(braking, dt);
    const double second = std::min(speeding, dt - first);
    const double steady = dt - first - second;

    const auto end_at = [&](double w) { return PathEnd{w, std::sqrt(w * w + ramp.across * ramp.across)}; };
    const PathEnd turn = first > 0.0 ? end_at(ramp.begin.w + first * ramp.down->value) : ramp.begin;
    const PathEnd end = second > 0.0 ? end_at(turn.w + second * ramp.up->value) : turn;
    const double travelled = part_length(ramp, ramp.begin, turn, *ramp.down, first) +
                             part_length(ramp, turn, end, *ramp.up, second) + target_speed * steady;
    // The speed along the line is linear in time, so each part is walked at the mean of its ends.
    const double reach = 0.5 * ((ramp.begin.w + turn.w) * first + (turn.w + end.w) * second);
    const glm::dvec3 kept = runner.velocity - ramp.direction * ramp.begin.w;
    runner.position += kept * (first + second) + ramp.direction * reach + target * steady;
    runner.distance += travelled;
    runner.clock += dt;
    if (first == braking && second == speeding) {
        arrive(chart, runner);
    } else {
        const bool falling = first < braking;
        runner.velocity = kept + ramp.direction * end.w;
        runner.speed = end.r;
        runner.leg = LegKind::ramp;
        runner.trend = falling ? Trend::falling : Trend::rising;
        runner.straight = ramp.across <= straight_limit;
        runner.acceleration = ramp.direction * (falling ? ramp.down->value : ramp.up->value);
        runner.leg_end = falling && ramp.dips() ? LegEnd::replan : LegEnd::arrival;
        runner.leg_due = runner.clock + (falling ? braking - first : speeding - second);
        runner.crossing_due = never;
    }
    if (runner.flowing != 0) {
        flow_meters(chart, runner, dt, travelled);
    }
    return true;
}

}  // namespace cursimeter::detail
