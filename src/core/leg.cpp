#include "core/leg.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/aim.hpp"
#include "core/plane.hpp"

namespace cursimeter::detail {
namespace {

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

const GainRate& rate_of(const ChartData& chart, const RunnerState& runner) {
    const CompiledGain& gain = chart.states[runner.state].gain;
    return runner.idle ? gain.idle : runner.trend == Trend::falling ? gain.down : gain.up;
}

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

}  // namespace cursimeter::detail
