#include "core/motion/segment.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/contact/surroundings.hpp"
#include "core/motion/aim.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/amounts.hpp"

namespace cursimeter::detail {
namespace {

/// What limits a segment besides its target: the component along its line at which to plan anew, and the
/// rate until then.
struct Stretch {
    double until = 0.0;
    double rate = 0.0;
};

/// The piece of a gain curve that holds `speed`, and where along the line the segment leaves it.
Stretch curve_stretch(const ChartData& chart, const GainRate& rate, const RunnerState& runner,
                      const SegmentShape& segment, bool slowing, double until) {
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
    const double squared = border * border - segment.across * segment.across;
    if (!open_ended && squared > 0.0) {
        const double along = slowing ? -std::sqrt(squared) : std::sqrt(squared);
        until = std::min(until, std::max(along, segment.along));
    }
    return {until, piece->slope * full * rate.factor};
}

}  // namespace

double gain_factor(const ChartData& chart, const RunnerState& runner) {
    // A gain that modifiers stop altogether would never arrive.
    return is_modified(chart, runner, measure::gain)
               ? std::max(1e-3, modified(chart, runner, measure::gain, 1.0))
               : 1.0;
}

GainRate changed_rate(const GainRate& rate, GainLaw law, double factor) {
    if (factor == 1.0) {
        return rate;
    }
    GainRate changed = rate;
    changed.value = law == GainLaw::ease ? rate.value / factor : rate.value * factor;
    changed.inverse = changed.value > 0.0 ? 1.0 / changed.value : 0.0;
    changed.factor = factor;
    return changed;
}

GainRate rate_of(const ChartData& chart, const RunnerState& runner) {
    const CompiledGain& gain = chart.states[runner.state].gain;
    const GainRate& rate = runner.idle ? gain.idle : runner.trend == Trend::falling ? gain.down : gain.up;
    return changed_rate(rate, gain.law, gain_factor(chart, runner));
}

SegmentShape shape_of(const ChartData& chart, const RunnerState& runner) {
    SegmentShape segment;
    segment.kind = runner.segment;
    if (runner.segment == SegmentKind::steady) {
        segment.across = runner.speed;
        return segment;
    }
    const glm::dvec3 target =
        runner.segment == SegmentKind::ease ? target_of(chart, runner) : glm::dvec3(0.0);
    const glm::dvec3 line =
        runner.segment == SegmentKind::ramp ? runner.acceleration : target - runner.velocity;
    const double size = length_of(line);
    if (size <= 0.0) {
        segment.kind = SegmentKind::steady;
        segment.across = runner.speed;
        return segment;
    }
    const glm::dvec3 direction = line * (1.0 / size);
    segment.along = inner(runner.velocity, direction);
    segment.across = runner.straight ? 0.0 : across_of(runner.velocity, direction);
    segment.target = inner(target, direction);
    segment.acceleration = size;
    segment.half_life = rate_of(chart, runner).value;
    return segment;
}

glm::dvec3 acceleration_now(const ChartData& chart, const RunnerState& runner) {
    switch (runner.segment) {
        case SegmentKind::ramp:
            return runner.acceleration;
        case SegmentKind::ease:
            return (target_of(chart, runner) - runner.velocity) * (ln_two / rate_of(chart, runner).value);
        case SegmentKind::steady:
            break;
    }
    return {0.0, 0.0, 0.0};
}

void arrive(const ChartData& chart, RunnerState& runner) {
    set_velocity(runner, target_of(chart, runner));
    keep_velocity(runner);
}

void turn_at_once(const CompiledGain& gain, RunnerState& runner, const glm::dvec3& target) {
    const double size = length_of(target);
    if (gain.turns_at_once && !runner.idle && size > turning_gap) {
        runner.velocity = target * (runner.speed / size);
    }
}

void plan_steered(const ChartData& chart, RunnerState& runner) {
    const CompiledGain& gain = chart.states[runner.state].gain;
    const glm::dvec3 target = target_of(chart, runner);
    turn_at_once(gain, runner, target);
    const glm::dvec3 gap = target - runner.velocity;
    const double size = length_of(gap);
    const double near_enough = gain.law == GainLaw::ease ? ease_gap : arrival_gap;
    if (gain.law == GainLaw::instant || size <= near_enough) {
        arrive(chart, runner);
        return;
    }
    const glm::dvec3 direction = gap * (1.0 / size);
    SegmentShape segment;
    segment.along = inner(runner.velocity, direction);
    segment.across = across_of(runner.velocity, direction);
    segment.target = segment.along + size;

    // The line of velocities comes nearest to standing still where `along` is 0: the speed falls
    // before and rises after it, so braking and turning round use the rate for slowing down until
    // there and the rate for speeding up from there.
    const bool slowing = segment.along < -turning_gap;
    runner.trend = slowing ? Trend::falling : Trend::rising;
    const GainRate rate = rate_of(chart, runner);
    Stretch stretch{slowing && segment.target > 0.0 ? 0.0 : segment.target, rate.value};
    if (gain.law == GainLaw::curve) {
        stretch = curve_stretch(chart, rate, runner, segment, slowing, stretch.until);
    }

    runner.straight = segment.across <= straight_limit;
    runner.segment_end = stretch.until == segment.target ? SegmentEnd::arrival : SegmentEnd::replan;
    if (gain.law == GainLaw::ease) {
        runner.segment = SegmentKind::ease;
        const double rest = std::max(segment.target - stretch.until, ease_gap);
        runner.segment_due = runner.clock + rate.value * detmath::log_two(std::max(size / rest, 1.0));
    } else {
        if (size <= stretch.rate * instant_width.value) {
            arrive(chart, runner);
            return;
        }
        runner.segment = SegmentKind::ramp;
        runner.acceleration = direction * stretch.rate;
        runner.segment_due = runner.clock + (stretch.until - segment.along) / stretch.rate;
    }
}

void plan_free(RunnerState& runner, const glm::dvec3& acceleration, double seconds) {
    keep_velocity(runner);
    if (runner.around.barrier_count != 0 && !runner.around.grounded && !runner.carried) {
        leave_barriers(runner);
    }
    const glm::dvec3 open = without_barred(runner.around, acceleration);
    const double size = length_of(open);
    if (size > 1e-12) {
        const glm::dvec3 direction = open * (1.0 / size);
        const double along = inner(runner.velocity, direction);
        runner.segment = SegmentKind::ramp;
        runner.acceleration = open;
        runner.straight = across_of(runner.velocity, direction) <= straight_limit;
        runner.trend = along < -turning_gap ? Trend::falling : Trend::rising;
        seconds = along < -turning_gap ? std::min(seconds, -along / size) : seconds;
    }
    runner.segment_due = runner.clock + seconds;
}

void plan_landing(const ChartData& chart, RunnerState& runner) {
    const double height = runner.position.z - runner.floor;
    if (runner.around.grounded || runner.in_world) {
        return;
    }
    const bool sinks =
        runner.velocity.z < 0.0 || (runner.velocity.z == 0.0 && acceleration_now(chart, runner).z <= 0.0);
    if (height <= 0.0 && sinks) {
        runner.segment_end = SegmentEnd::landing;
        runner.segment_due = runner.clock;
        return;
    }
    const double end = runner.segment_due - runner.clock;
    const auto below = [&](double t) { return height + displacement_after(chart, runner, t).z < 0.0; };
    double seconds = never;
    if (runner.segment == SegmentKind::ease) {
        // The vertical speed changes its sense once at most: one that turns upward is lowest then, and may rise before the segment
        // ends; otherwise the end is lowest.
        const double v = runner.velocity.z, target = target_of(chart, runner).z;
        const double turns = v < 0.0 && target > 0.0
                                 ? -rate_of(chart, runner).value * detmath::log_two(target / (target - v))
                                 : never;
        const double until = std::min({end, turns, 1e4});
        if (below(until)) {
            double low = 0.0, high = until;
            for (int halving = 0; halving < 64 && high - low > 0.0; ++halving) {
                const double middle = 0.5 * (low + high);
                (below(middle) ? high : low) = middle;
            }
            seconds = high;
        }
    } else {
        // height + v t + a t^2 / 2 = 0, by the form of the quadratic formula that does not cancel.
        const double v = runner.velocity.z, a = runner.acceleration.z;
        const double root = v * v - 2.0 * a * height;
        if (root >= 0.0 && v <= 0.0) {
            const double sum = -v + std::sqrt(root);
            seconds = sum > 0.0 ? 2.0 * height / sum : never;
        } else if (root >= 0.0 && a < 0.0) {
            seconds = (v + std::sqrt(root)) / -a;
        }
    }
    if (seconds <= end) {
        runner.segment_due = runner.clock + seconds;
        runner.segment_end = SegmentEnd::landing;
    }
}

}  // namespace cursimeter::detail
