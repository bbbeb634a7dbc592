#include "core/tick/turning.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/contact/surroundings.hpp"
#include "core/effects/modifiers.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/leg.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/instant.hpp"
#include "core/want/move_and_look.hpp"

/// Ticks in which the wanted velocity turns. A look that follows a mouse turns it in every tick, so these ticks go the
/// whole way to the target in one go, without planning its legs.
///
/// The way from the velocity v to the target is v + s g with the gap g, s from 0 to 1. The speed falls up to
/// s = -(v.g) / g^2, where the line comes nearest to standing still, at the rate for slowing down, and rises from there
/// at the rate for speeding up. Everything is kept in parts of the gap, so that the root of g^2 and the division by it do
/// not wait for each other.
namespace cursimeter::detail {
namespace {

struct Way {
    glm::dvec2 gap{0.0};
    double along = 0.0;    ///< v.g, m^2/s^2
    double across = 0.0;   ///< |v x g|, m^2/s^2
    double squared = 0.0;  ///< g^2
    double inverse = 0.0;  ///< 1 / g^2
    double size = 0.0;     ///< |g|, m/s
    double slowed = 0.0;   ///< s up to which the speed falls

    /// Whether the speed falls and rises again on the way.
    [[nodiscard]] bool dips() const { return slowed > 0.0 && slowed < 1.0; }
};

Way way_between(const glm::dvec2& velocity, const glm::dvec2& target) {
    Way way;
    way.gap = target - velocity;
    way.squared = inner(way.gap, way.gap);
    way.along = inner(velocity, way.gap);
    way.across = std::fabs(velocity.x * way.gap.y - velocity.y * way.gap.x);
    way.size = std::sqrt(way.squared);
    way.inverse = 1.0 / way.squared;
    const double falls = -way.along;
    way.slowed = falls > turning_gap * way.size ? std::min(falls * way.inverse, 1.0) : 0.0;
    return way;
}

/// The target on level ground.
glm::dvec2 level_target(const RunnerState& runner) {
    return runner.facing * runner.wanted.x + right_of(runner) * runner.wanted.y;
}

/// Whether a speed that something compares lies from `low` to `high`, among the facts of `of` if that is given.
bool any_mark_between(const ChartData& chart, double low, double high, const DerivedFacts* of = nullptr) {
    for (const SpeedMark& mark : chart.speed_marks) {
        if (mark.value >= low - turning_gap && mark.value <= high + turning_gap &&
            (of == nullptr || of->test(mark.bit))) {
            return true;
        }
    }
    return false;
}

/// Whether the speed meets a value on the way that something reads.
bool meets_mark(const ChartData& chart, const RunnerState& runner, const Way& way, double target_speed) {
    const double low = std::min(runner.speed, target_speed), high = std::max(runner.speed, target_speed);
    if (!any_mark_between(chart, low - way.size, high)) {
        return false;  // as in most ticks, whether it dips or not
    }
    return any_mark_between(chart, way.dips() ? way.across / way.size : low, high, &runner.watched);
}

/// Integral of sqrt(1 + x^2) from 0 for |x| <= 0.05: the Taylor series, to 1e-16.
double short_integral(double x) {
    const double z = x * x;
    return x * (1.0 + z * (1.0 / 6.0 - z * (1.0 / 40.0 - z * (1.0 / 112.0 - z * (5.0 / 1152.0)))));
}

/// The gain law's rates on the way, m/s^2.
struct Rates {
    double down, down_inverse, up, up_inverse;
};

[[gnu::noinline]] Rates modified_rates(const ChartData& chart, const RunnerState& runner,
                                       const GainRate& down, const GainRate& up) {
    const GainLaw law = chart.states[runner.state].gain.law;
    const double factor = gain_factor(chart, runner);
    const GainRate changed_down = changed_rate(down, law, factor), changed_up = changed_rate(up, law, factor);
    return {changed_down.value, changed_down.inverse, changed_up.value, changed_up.inverse};
}

inline Rates rates_of(const ChartData& chart, const RunnerState& runner, const CompiledGain& gain) {
    const GainRate& down = runner.idle ? gain.idle : gain.down;
    const GainRate& up = runner.idle ? gain.idle : gain.up;
    if (runner.modifier_count != 0) [[unlikely]] {
        return modified_rates(chart, runner, down, up);
    }
    return {down.value, down.inverse, up.value, up.inverse};
}

/// A stretch of the way: s at its turn and at its end, and the seconds before and after the turn.
struct Stretch {
    double turn, end;
    double first, second;
};

/// Length of its path. Along its line the velocity has the component (along + s g^2) / |g|, across it the constant
/// across / |g|. Gentle turns take one division and no root.
double path_of(const Way& way, double speed, const Stretch& stretch, const Rates& rates) {
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
    Stretch stretch{way.slowed, 1.0, std::min(braking, dt), 0.0};
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

/// A stretch of an ease with one half-life: the rest of the gap, as a part of the whole, at its begin and at its end.
struct EasedStretch {
    double begin, end;
    double seconds, half_life;

    /// Integral of the rest over time, s.
    [[nodiscard]] double integral() const { return (begin - end) * (half_life / ln_two); }
};

/// Path of a stretch. Where it is short the mean of the speed by five points (Lobatto) does, whose error is 7e-10 times the
/// eighth derivative: below 1e-12 of the speed where the velocity changes by an eighth of it and the rest falls to 0.7 of what
/// it was. The rests between the ends follow from the first by one division and one root.
double path_of(const Way& way, const glm::dvec2& target, const EasedStretch& stretch) {
    constexpr double early_point = 0.17267316464601143;  // (1 - sqrt(3/7)) / 2
    const auto speed_at = [&](double rest) { return length_of(target - way.gap * rest); };
    const double before = speed_at(stretch.begin), after = speed_at(stretch.end);
    const double change = way.size * (stretch.begin - stretch.end);
    if (stretch.end < 0.7 * stretch.begin || !is_short(change * change, before, after)) {
        const double shrink = way.size * way.inverse;  // 1 / |g|
        const double along = (way.along + (1.0 - stretch.begin) * way.squared) * shrink;
        const double to_target = (way.along + way.squared) * shrink;
        return path_length({LegKind::ease, along, way.across * shrink, 0.0, to_target, stretch.half_life},
                           stretch.seconds);
    }
    const double early =
        stretch.begin * detmath::power_of_two(-stretch.seconds / stretch.half_life * early_point);
    return stretch.seconds *
           (9.0 * (before + after) +
            49.0 * (speed_at(early) + speed_at(stretch.begin * stretch.end / early)) +
            64.0 * speed_at(std::sqrt(stretch.begin * stretch.end))) *
           (1.0 / 180.0);
}

/// Under the ease law the gap shrinks by the same part in the same time, by one half-life while the speed falls and by
/// another from there. Its end is far, and finding it takes a logarithm: the leg is left to be planned anew when the look
/// comes to rest.
bool follow_ease(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt) {
    const glm::dvec2 target = level_target(runner);
    const glm::dvec2 velocity = flat(runner.velocity);
    const Way way = way_between(velocity, target);
    if (way.size <= 2.0 * ease_gap || meets_mark(chart, runner, way, length_of(target))) {
        return false;
    }
    const Rates rates = rates_of(chart, runner, state.gain);
    bool falling = way.slowed > 0.0;
    double half_life = falling ? rates.down : rates.up;
    EasedStretch last{1.0, detmath::power_of_two(-dt / half_life), dt, half_life};
    double integral = 0.0, path = 0.0;
    if (falling && way.dips() && 1.0 - last.end >= way.slowed) {
        const double least = 1.0 - way.slowed;
        const double seconds = -half_life * detmath::log_two(least);
        const EasedStretch first{1.0, least, seconds, half_life};
        integral = first.integral();
        path = way.across > straight_limit * way.size ? path_of(way, target, first) : 0.0;
        falling = false;
        half_life = rates.up;
        last = {least, least * detmath::power_of_two(-(dt - seconds) / half_life), dt - seconds, half_life};
    }
    if (last.end * way.size <= 2.0 * ease_gap || last.seconds <= 0.0) {
        return false;
    }
    const bool straight = way.across <= straight_limit * way.size;
    if (straight && last.begin < 1.0) {
        return false;  // through a standstill, where it turns round
    }
    integral += last.integral();
    const glm::dvec2 moved = target * dt - way.gap * integral;
    const glm::dvec2 now = target - way.gap * last.end;
    runner.distance += straight ? length_of(moved) : path + path_of(way, target, last);
    runner.position.x += moved.x;
    runner.position.y += moved.y;
    runner.clock += dt;
    runner.velocity = {now.x, now.y, 0.0};
    runner.speed = length_of(now);
    runner.leg = LegKind::ease;
    runner.trend = falling ? Trend::falling : Trend::rising;
    runner.straight = straight;
    runner.leg_end = LegEnd::replan;
    runner.leg_due = runner.clock;
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
    if (runner.idle || !state.traits.steered) {
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
