#include "core/leg.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/aim.hpp"
#include "core/meters.hpp"
#include "core/plane.hpp"

namespace cursimeter::detail {
namespace {

constexpr double ln_two = 0.6931471805599453;

/// Velocities this near to the target count as arrived, m/s; an ease would otherwise never end. It is
/// far above rounding, and well inside the 1e-9 m/s by which a speed that a condition reads is set off
/// from the chart's number (compile_conditions.cpp), so arriving never crosses such a speed unseen.
constexpr double arrival_gap = 1e-11;

/// A speed that falls by less than this, m/s, has come to its turning point.
constexpr double turning_gap = 1e-9;

/// Below this component across its line (m/s) a leg counts as straight; its path is then as long as
/// its displacement.
constexpr double straight_limit = 1e-10;

/// One end of a path: the component along the line and the speed.
struct PathEnd {
    double w = 0.0, r = 0.0;
};

/// asinh(w1/p) - asinh(w0/p) = ln[(w1 + r1)/(w0 + r0)]; for w < 0, w + r = p^2/(r - w) keeps its digits.
double sine_difference(PathEnd from, PathEnd to, double p) {
    const auto sum = [p](PathEnd end) { return end.w >= 0.0 ? end.w + end.r : p * p / (end.r - end.w); };
    return detmath::log_natural(sum(to) / sum(from));
}

/// Integral of sqrt(1 + x^2) from 0 for |x| <= 0.05: the Taylor series, to 1e-16.
double short_integral(double x) {
    const double z = x * x;
    return x * (1.0 + z * (1.0 / 6.0 - z * (1.0 / 40.0 - z * (1.0 / 112.0 - z * (5.0 / 1152.0)))));
}

/// Path of a ramp: integral of sqrt(w^2 + p^2) dw over the acceleration. Gentle turns, such as a look
/// that follows a mouse makes in every tick, take the series, which is quicker and loses no digits.
double ramp_path(PathEnd from, PathEnd to, double p, double acceleration) {
    if (std::fabs(from.w) <= 0.05 * p && std::fabs(to.w) <= 0.05 * p) {
        return p * p * (short_integral(to.w / p) - short_integral(from.w / p)) / acceleration;
    }
    return 0.5 * ((to.w * to.r - from.w * from.r) + p * p * sine_difference(from, to, p)) / acceleration;
}

/// ln(p^2 + c w + q r) with q = sqrt(p^2 + c^2), r = sqrt(p^2 + w^2), up to a constant. Where c and w
/// have opposite signs the sum cancels; there the product with its conjugate, p^2 (c - w)^2, is
/// divided by the other factor, and the constant ln p^2 is left out; so both ends of a path must use
/// the same form.
double ease_logarithm(double w, double c, double p, double q, double r, bool opposite) {
    if (!opposite) {
        return detmath::log_natural(p * p + c * w + q * r);
    }
    return 2.0 * detmath::log_natural(std::fabs(c - w)) -
           detmath::log_natural(q * r - p * p - c * w);
}

/// Path of an ease: with w(t) = c + (w0 - c) 2^(-t/h), dt = -(h/ln 2) dw/(w - c), and
/// integral sqrt(w^2+p^2)/(w-c) dw = r + c asinh(w/p) - q ln[(p^2 + c w + q r)/|w - c|].
/// The part with ln|w - c| is linear in time: q t.
double ease_path(const LegShape& leg, double t) {
    const double p = leg.across, c = leg.target;
    const double w0 = leg.along, w1 = along_after(leg, t);
    const double q = std::sqrt(p * p + c * c);
    const double r0 = std::sqrt(p * p + w0 * w0), r1 = std::sqrt(p * p + w1 * w1);
    const bool opposite = c * (w0 + w1) < 0.0;  // neither end by itself: one of them may be about 0
    const double rest =
        (r1 - r0) + c * sine_difference({w0, r0}, {w1, r1}, p) -
        q * (ease_logarithm(w1, c, p, q, r1, opposite) - ease_logarithm(w0, c, p, q, r0, opposite));
    return q * t - leg.half_life / ln_two * rest;
}

/// The gain law's numbers for the present leg.
const GainRate& rate_of(const ChartData& chart, const RunnerState& runner) {
    const CompiledGain& gain = chart.states[runner.state].gain;
    return runner.idle ? gain.idle : runner.trend == Trend::falling ? gain.down : gain.up;
}

/// What limits a leg besides its target: the component along its line at which to plan anew, and the
/// rate until then.
struct Stretch {
    double until = 0.0;
    double rate = 0.0;
};

/// The piece of a gain curve that holds `speed`, and where along the line the leg leaves it.
Stretch curve_stretch(const ChartData& chart, const GainRate& rate, const RunnerState& runner,
                      const LegShape& leg, bool slowing, double until) {
    const double full = full_speed_of(chart, runner);
    // Half a step in the direction of travel decides which piece a border belongs to.
    const double fraction = runner.speed / full + (slowing ? -turning_gap : turning_gap);
    const CurvePiece* first = chart.pieces.data() + rate.first_piece;
    const CurvePiece* last = first + rate.piece_count - 1;
    const CurvePiece* piece = first;
    while (piece != last && fraction > piece->to_fraction) {
        ++piece;
    }
    const double border = (slowing ? piece->from_fraction : piece->to_fraction) * full;
    const bool open_ended = slowing ? piece == first : piece == last;
    const double squared = border * border - leg.across * leg.across;
    if (!open_ended && squared > 0.0) {
        const double along = slowing ? -std::sqrt(squared) : std::sqrt(squared);
        until = std::min(until, std::max(along, leg.along));
    }
    return {until, piece->slope * full};
}

}  // namespace

LegShape shape_of(const ChartData& chart, const RunnerState& runner) {
    LegShape leg;
    leg.kind = runner.leg;
    const glm::dvec2 velocity(runner.velocity.x, runner.velocity.y);
    if (runner.leg == LegKind::steady) {
        leg.across = runner.speed;
        return leg;
    }
    const glm::dvec2 target = target_of(runner);
    const glm::dvec2 line = runner.leg == LegKind::ramp ? runner.acceleration : target - velocity;
    const double size = length_of(line);
    if (size <= 0.0) {
        leg.kind = LegKind::steady;
        leg.across = runner.speed;
        return leg;
    }
    const glm::dvec2 direction = line * (1.0 / size);
    leg.along = inner(velocity, direction);
    leg.across = runner.straight ? 0.0 : std::fabs(outer(velocity, direction));
    leg.target = inner(target, direction);
    leg.acceleration = size;
    leg.half_life = rate_of(chart, runner).value;
    return leg;
}

double along_after(const LegShape& leg, double t) {
    switch (leg.kind) {
        case LegKind::ramp:
            return leg.along + leg.acceleration * t;
        case LegKind::ease:
            return leg.target +
                   (leg.along - leg.target) * detmath::power_of_two(-t / leg.half_life);
        case LegKind::steady:
            break;
    }
    return leg.along;
}

double speed_after(const LegShape& leg, double t) {
    const double along = along_after(leg, t);
    return std::sqrt(along * along + leg.across * leg.across);
}

double path_length(const LegShape& leg, double t) {
    if (leg.kind == LegKind::steady) {
        return leg.across * t;
    }
    if (leg.across > straight_limit) {
        if (leg.kind == LegKind::ramp) {
            return ramp_path({leg.along, speed_after(leg, 0.0)}, {along_after(leg, t), speed_after(leg, t)},
                             leg.across, leg.acceleration);
        }
        return ease_path(leg, t);
    }
    if (leg.kind == LegKind::ramp) {
        return std::fabs(leg.along * t + 0.5 * leg.acceleration * t * t);
    }
    const double left = 1.0 - detmath::power_of_two(-t / leg.half_life);
    return std::fabs(leg.target * t + (leg.along - leg.target) * left * (leg.half_life / ln_two));
}

double time_to_speed(const LegShape& leg, Trend trend, double speed) {
    const double squared = speed * speed - leg.across * leg.across;
    if (trend == Trend::level || squared < 0.0) {
        return never;
    }
    const double along = trend == Trend::rising ? std::sqrt(squared) : -std::sqrt(squared);
    if (leg.kind == LegKind::ramp) {
        return std::max(0.0, (along - leg.along) / leg.acceleration);
    }
    const double left = (along - leg.target) / (leg.along - leg.target);
    return left > 0.0 ? std::max(0.0, -leg.half_life * detmath::log_two(left)) : never;
}

double steepest_change(const ChartData& chart, const RunnerState& runner) {
    switch (runner.leg) {
        case LegKind::ramp:
            return length_of(runner.acceleration);
        case LegKind::ease: {
            const glm::dvec2 velocity(runner.velocity.x, runner.velocity.y);
            return length_of(target_of(runner) - velocity) * (ln_two / rate_of(chart, runner).value);
        }
        case LegKind::steady:
            break;
    }
    return 0.0;
}

void arrive(RunnerState& runner) {
    const glm::dvec2 target = target_of(runner);
    runner.velocity.x = target.x;
    runner.velocity.y = target.y;
    runner.speed = runner.target_speed;
    runner.leg = LegKind::steady;
    runner.trend = Trend::level;
    runner.straight = true;
    runner.acceleration = {0.0, 0.0};
    runner.leg_due = never;
    runner.crossing_due = never;
}

void plan_leg(const ChartData& chart, RunnerState& runner) {
    const CompiledGain& gain = chart.states[runner.state].gain;
    const glm::dvec2 velocity(runner.velocity.x, runner.velocity.y);
    const glm::dvec2 gap = target_of(runner) - velocity;
    const double size = length_of(gap);
    if (gain.law == GainLaw::instant || size <= arrival_gap) {
        arrive(runner);
        return;
    }
    const glm::dvec2 direction = gap * (1.0 / size);
    LegShape leg;
    leg.along = inner(velocity, direction);
    leg.across = std::fabs(outer(velocity, direction));
    leg.target = leg.along + size;

    // The line of velocities comes nearest to standing still where `along` is 0: the speed falls
    // before and rises after it, so braking and turning round use the rate for slowing down until
    // there and the rate for speeding up from there.
    const bool slowing = leg.along < -turning_gap;
    runner.trend = slowing ? Trend::falling : Trend::rising;
    const GainRate& rate = rate_of(chart, runner);
    Stretch stretch{slowing && leg.target > 0.0 ? 0.0 : leg.target, rate.value};
    if (gain.law == GainLaw::curve) {
        stretch = curve_stretch(chart, rate, runner, leg, slowing, stretch.until);
    }

    runner.straight = leg.across <= straight_limit;
    runner.leg_arrives = stretch.until == leg.target;
    if (gain.law == GainLaw::ease) {
        runner.leg = LegKind::ease;
        const double rest = std::max(leg.target - stretch.until, arrival_gap);
        runner.leg_due = runner.clock + rate.value * detmath::log_two(std::max(size / rest, 1.0));
    } else {
        if (size <= stretch.rate * instant_width.value) {
            arrive(runner);
            return;
        }
        runner.leg = LegKind::ramp;
        runner.acceleration = direction * stretch.rate;
        runner.leg_due = runner.clock + (stretch.until - leg.along) / stretch.rate;
    }
    runner.leg_last_squared = stretch.until * stretch.until + leg.across * leg.across;
}

void plan_crossing(const ChartData& chart, RunnerState& runner) {
    runner.crossing_due = never;
    if (runner.trend == Trend::level) {
        return;
    }
    for (const SpeedMark& mark : chart.speed_marks) {
        const bool is_above = (runner.facts.derived & mark.derived_bit) != 0;
        const double squared = mark.value * mark.value;
        const bool crosses = runner.trend == Trend::rising ? !is_above && runner.leg_last_squared > squared
                                                           : is_above && runner.leg_last_squared < squared;
        if (crosses) {
            const double seconds = time_to_speed(shape_of(chart, runner), runner.trend, mark.value);
            runner.crossing_due = std::min(runner.crossing_due, runner.clock + seconds);
        }
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

}  // namespace cursimeter::detail
