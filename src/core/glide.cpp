#include "core/leg.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/aim.hpp"
#include "core/meters.hpp"
#include "core/plane.hpp"

/// Letting time pass on a leg.
namespace cursimeter::detail {

void glide(const ChartData& chart, RunnerState& runner, double dt) {
    double travelled = 0.0;
    switch (runner.leg) {
        case LegKind::steady:
            runner.position.x += runner.velocity.x * dt;
            runner.position.y += runner.velocity.y * dt;
            travelled = runner.speed * dt;
            break;
        case LegKind::ramp: {
            const double half = 0.5 * dt * dt;
            const double before = runner.speed;
            const glm::dvec2 velocity(runner.velocity.x, runner.velocity.y);
            runner.position.x += runner.velocity.x * dt + runner.acceleration.x * half;
            runner.position.y += runner.velocity.y * dt + runner.acceleration.y * half;
            runner.velocity.x += runner.acceleration.x * dt;
            runner.velocity.y += runner.acceleration.y * dt;
            runner.speed = length_of({runner.velocity.x, runner.velocity.y});
            if (runner.straight) {  // the speed is linear in time, so its mean is that of its ends
                travelled = 0.5 * (before + runner.speed) * dt;
            } else {
                const double size = length_of(runner.acceleration);
                const double along = inner(velocity, runner.acceleration) / size;
                const double across = std::fabs(outer(velocity, runner.acceleration)) / size;
                travelled = ramp_path({along, before}, {along + size * dt, runner.speed}, across, size);
            }
            break;
        }
        case LegKind::ease: {
            const LegShape leg = runner.straight ? LegShape{} : shape_of(chart, runner);
            const double half_life = rate_of(chart, runner).value;
            const glm::dvec2 target = target_of(runner);
            const glm::dvec2 gap = glm::dvec2(runner.velocity.x, runner.velocity.y) - target;
            const double left = detmath::power_of_two(-dt / half_life);
            const double reach = (1.0 - left) * (half_life / ln_two);
            const glm::dvec2 moved = target * dt + gap * reach;
            runner.position.x += moved.x;
            runner.position.y += moved.y;
            runner.velocity.x = target.x + gap.x * left;
            runner.velocity.y = target.y + gap.y * left;
            runner.speed = length_of({runner.velocity.x, runner.velocity.y});
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

bool follow_ramp(const ChartData& chart, RunnerState& runner, double dt) {
    const CompiledGain& gain = chart.states[runner.state].gain;
    if (gain.law != GainLaw::ramp || runner.by_distance != 0) {
        return false;
    }
    const glm::dvec2 velocity(runner.velocity.x, runner.velocity.y);
    const glm::dvec2 target = target_of(runner);
    const glm::dvec2 gap = target - velocity;
    const double size = length_of(gap);
    if (size <= arrival_gap) {
        return false;
    }
    const glm::dvec2 direction = gap * (1.0 / size);
    const double along = inner(velocity, direction);
    const double across = std::fabs(outer(velocity, direction));
    const double slowed = along < -turning_gap ? std::min(-along, size) : 0.0;
    const bool dips = slowed > 0.0 && slowed < size;
    const double lowest = dips ? across : std::min(runner.speed, runner.target_speed);
    const double highest = std::max(runner.speed, runner.target_speed);
    for (const SpeedMark& mark : chart.speed_marks) {
        if (mark.value >= lowest - turning_gap && mark.value <= highest + turning_gap) {
            return false;
        }
    }

    // Along the line, w rises from `along` at the rate `down` by `slowed`, then at the rate `up`.
    const double down = runner.idle ? gain.idle.value : gain.down.value;
    const double up = runner.idle ? gain.idle.value : gain.up.value;
    const double braking = slowed / down, speeding = (size - slowed) / up;
    const double first = std::min(braking, dt), second = std::min(speeding, dt - first);
    const double steady = dt - first - second;
    const auto end_at = [across](double w) { return PathEnd{w, std::sqrt(w * w + across * across)}; };
    const PathEnd begin{along, runner.speed};
    const PathEnd turn = first > 0.0 ? end_at(along + first * down) : begin;
    const PathEnd end = second > 0.0 ? end_at(turn.w + second * up) : turn;
    double travelled = runner.target_speed * steady;
    runner.straight = across <= straight_limit;
    if (runner.straight) {
        travelled += 0.5 * ((begin.r + turn.r) * first + (turn.r + end.r) * second);
    } else {
        travelled += first > 0.0 ? ramp_path(begin, turn, across, down) : 0.0;
        travelled += second > 0.0 ? ramp_path(turn, end, across, up) : 0.0;
    }
    // The speed along the line is linear in time, so each part is walked at the mean of its ends.
    const double reach = 0.5 * ((begin.w + turn.w) * first + (turn.w + end.w) * second);
    const glm::dvec2 kept = velocity - direction * along;
    const glm::dvec2 moved = kept * (first + second) + direction * reach + target * steady;
    runner.position.x += moved.x;
    runner.position.y += moved.y;
    runner.distance += travelled;
    runner.clock += dt;
    if (second == speeding && first == braking) {
        arrive(runner);
    } else {
        const bool falling = first < braking;
        const glm::dvec2 now = kept + direction * end.w;
        const double last = falling && dips ? 0.0 : along + size;
        runner.velocity.x = now.x;
        runner.velocity.y = now.y;
        runner.speed = end.r;
        runner.leg = LegKind::ramp;
        runner.trend = falling ? Trend::falling : Trend::rising;
        runner.acceleration = direction * (falling ? down : up);
        runner.leg_arrives = !(falling && dips);
        runner.leg_due = runner.clock + (falling ? braking - first : speeding - second);
        runner.leg_last_squared = last * last + across * across;
        runner.crossing_due = never;
    }
    if (runner.flowing != 0) {
        flow_meters(chart, runner, dt, travelled);
    }
    return true;
}

}  // namespace cursimeter::detail
