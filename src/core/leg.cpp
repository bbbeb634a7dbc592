#include "core/leg.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

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

double inverse_hyperbolic_sine(double x) {
    const double magnitude = std::fabs(x);
    const double value = detmath::log_natural(magnitude + std::sqrt(magnitude * magnitude + 1.0));
    return x < 0.0 ? -value : value;
}

/// Antiderivative of sqrt(w^2 + p^2) dw.
double ramp_integral(double w, double p) {
    return 0.5 * (w * std::sqrt(w * w + p * p) + p * p * inverse_hyperbolic_sine(w / p));
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
        (r1 - r0) + c * (inverse_hyperbolic_sine(w1 / p) - inverse_hyperbolic_sine(w0 / p)) -
        q * (ease_logarithm(w1, c, p, q, r1, opposite) - ease_logarithm(w0, c, p, q, r0, opposite));
    return q * t - leg.half_life / ln_two * rest;
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
    const double full = runner.full_speed;
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

LegShape shape_of(const RunnerState& runner) {
    LegShape leg;
    leg.kind = runner.leg;
    const glm::dvec2 velocity(runner.velocity.x, runner.velocity.y);
    if (runner.leg == LegKind::steady) {
        leg.across = runner.speed;
        return leg;
    }
    const glm::dvec2 line =
        runner.leg == LegKind::ramp ? runner.acceleration : runner.target - velocity;
    const double size = length_of(line);
    if (size <= 0.0) {
        leg.kind = LegKind::steady;
        leg.across = runner.speed;
        return leg;
    }
    const glm::dvec2 direction = line * (1.0 / size);
    leg.along = inner(velocity, direction);
    leg.across = runner.straight ? 0.0 : std::fabs(outer(velocity, direction));
    leg.target = inner(runner.target, direction);
    leg.acceleration = size;
    leg.half_life = runner.half_life;
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
            return (ramp_integral(along_after(leg, t), leg.across) -
                    ramp_integral(leg.along, leg.across)) /
                   leg.acceleration;
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

double steepest_change(const RunnerState& runner) {
    switch (runner.leg) {
        case LegKind::ramp:
            return length_of(runner.acceleration);
        case LegKind::ease: {
            const glm::dvec2 velocity(runner.velocity.x, runner.velocity.y);
            return length_of(runner.target - velocity) * (ln_two / runner.half_life);
        }
        case LegKind::steady:
            break;
    }
    return 0.0;
}

void arrive(RunnerState& runner) {
    runner.velocity.x = runner.target.x;
    runner.velocity.y = runner.target.y;
    runner.speed = runner.target_speed;
    runner.leg = LegKind::steady;
    runner.trend = Trend::level;
    runner.straight = true;
    runner.acceleration = {0.0, 0.0};
    runner.leg_due = never;
}

void plan_leg(const ChartData& chart, RunnerState& runner) {
    const CompiledGain& gain = chart.states[runner.state].gain;
    const glm::dvec2 velocity(runner.velocity.x, runner.velocity.y);
    const glm::dvec2 gap = runner.target - velocity;
    const double size = length_of(gap);
    if (gain.law == GainLaw::instant || size <= arrival_gap) {
        arrive(runner);
        return;
    }
    const glm::dvec2 direction = gap * (1.0 / size);
    LegShape leg;
    leg.along = inner(velocity, direction);
    leg.across = std::fabs(outer(velocity, direction));
    leg.target = inner(runner.target, direction);

    // The line of velocities comes nearest to standing still where `along` is 0: the speed falls
    // before and rises after it, so braking and turning round use the rate for slowing down until
    // there and the rate for speeding up from there.
    const bool slowing = leg.along < -turning_gap;
    const GainRate& rate = runner.idle ? gain.idle : slowing ? gain.down : gain.up;
    Stretch stretch{slowing && leg.target > 0.0 ? 0.0 : leg.target, rate.value};
    if (gain.law == GainLaw::curve) {
        stretch = curve_stretch(chart, rate, runner, leg, slowing, stretch.until);
    }

    runner.trend = slowing ? Trend::falling : Trend::rising;
    runner.straight = leg.across <= straight_limit;
    if (gain.law == GainLaw::ease) {
        runner.leg = LegKind::ease;
        runner.half_life = rate.value;
        const double rest = std::max(leg.target - stretch.until, arrival_gap);
        runner.leg_due = runner.clock + rate.value * detmath::log_two(std::max(size / rest, 1.0));
        return;
    }
    if (size <= stretch.rate * instant_width.value) {
        arrive(runner);
        return;
    }
    runner.leg = LegKind::ramp;
    runner.acceleration = direction * stretch.rate;
    runner.leg_due = runner.clock + (stretch.until - leg.along) / stretch.rate;
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
            const LegShape leg = runner.straight ? LegShape{} : shape_of(runner);
            runner.position.x += runner.velocity.x * dt + runner.acceleration.x * half;
            runner.position.y += runner.velocity.y * dt + runner.acceleration.y * half;
            runner.velocity.x += runner.acceleration.x * dt;
            runner.velocity.y += runner.acceleration.y * dt;
            runner.speed = length_of({runner.velocity.x, runner.velocity.y});
            // On a straight ramp the speed is linear in time, so its mean is that of its ends.
            travelled = runner.straight ? 0.5 * (before + runner.speed) * dt : path_length(leg, dt);
            break;
        }
        case LegKind::ease: {
            const LegShape leg = runner.straight ? LegShape{} : shape_of(runner);
            const glm::dvec2 gap =
                glm::dvec2(runner.velocity.x, runner.velocity.y) - runner.target;
            const double left = detmath::power_of_two(-dt / runner.half_life);
            const double reach = (1.0 - left) * (runner.half_life / ln_two);
            const glm::dvec2 moved = runner.target * dt + gap * reach;
            runner.position.x += moved.x;
            runner.position.y += moved.y;
            runner.velocity.x = runner.target.x + gap.x * left;
            runner.velocity.y = runner.target.y + gap.y * left;
            runner.speed = length_of({runner.velocity.x, runner.velocity.y});
            travelled = runner.straight ? length_of(moved) : path_length(leg, dt);
            break;
        }
    }
    runner.distance += travelled;
    runner.clock += dt;
    if (runner.metered) {
        flow_meters(chart, runner, dt, travelled);
    }
}

}  // namespace cursimeter::detail
