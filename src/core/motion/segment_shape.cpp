#include "core/motion/segment_shape.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/numbers/space.hpp"

namespace cursimeter::detail {
namespace {

/// asinh(w1/p) - asinh(w0/p) = ln[(w1 + r1)/(w0 + r0)]; for w < 0, w + r = p^2/(r - w) keeps its digits.
double sine_difference(PathEnd from, PathEnd to, double p) {
    const auto sum = [p](PathEnd end) { return end.w >= 0.0 ? end.w + end.r : p * p / (end.r - end.w); };
    return detmath::log_natural(sum(to) / sum(from));
}

/// ln(p^2 + c w + q r) with q = sqrt(p^2 + c^2), r = sqrt(p^2 + w^2). p^2 + c w is q r times the cosine of the angle between the
/// two velocities: where they point apart the sum cancels, and follows from its product with its conjugate, p^2 (c - w)^2.
double ease_logarithm(double w, double c, double p, double q, double r) {
    const double aligned = p * p + c * w;
    if (aligned >= 0.0) {
        return detmath::log_natural(aligned + q * r);
    }
    return 2.0 * detmath::log_natural(p * std::fabs(c - w)) - detmath::log_natural(q * r - aligned);
}

/// Path of an ease: with w(t) = c + (w0 - c) 2^(-t/h), dt = -(h/ln 2) dw/(w - c), and
/// integral sqrt(w^2+p^2)/(w-c) dw = r + c asinh(w/p) - q ln[(p^2 + c w + q r)/|w - c|].
/// The part with ln|w - c| is linear in time: q t.
double ease_path(const SegmentShape& segment, double t) {
    const double p = segment.across, c = segment.target;
    const double w0 = segment.along, w1 = along_after(segment, t);
    const double q = std::sqrt(p * p + c * c);
    const double r0 = std::sqrt(p * p + w0 * w0), r1 = std::sqrt(p * p + w1 * w1);
    const double rest = (r1 - r0) + c * sine_difference({w0, r0}, {w1, r1}, p) -
                        q * (ease_logarithm(w1, c, p, q, r1) - ease_logarithm(w0, c, p, q, r0));
    return q * t - segment.half_life / ln_two * rest;
}

}  // namespace

double exact_ramp_path(PathEnd from, PathEnd to, double p, double inverse_acceleration) {
    const double twice = (to.w * to.r - from.w * from.r) + p * p * sine_difference(from, to, p);
    return 0.5 * twice * inverse_acceleration;
}

double exact_ramp_path(const glm::dvec3& velocity, const glm::dvec3& acceleration, double before,
                       double after, double dt) {
    const double size = length_of(acceleration);
    const double inverse = 1.0 / size;
    const glm::dvec3 direction = acceleration * inverse;
    const double along = inner(velocity, direction);
    return exact_ramp_path({along, before}, {along + size * dt, after}, across_of(velocity, direction),
                           inverse);
}

double along_after(const SegmentShape& segment, double t) {
    switch (segment.kind) {
        case SegmentKind::ramp:
            return segment.along + segment.acceleration * t;
        case SegmentKind::ease:
            return segment.target +
                   (segment.along - segment.target) * detmath::power_of_two(-t / segment.half_life);
        case SegmentKind::steady:
            break;
    }
    return segment.along;
}

double speed_after(const SegmentShape& segment, double t) {
    const double along = along_after(segment, t);
    return std::sqrt(along * along + segment.across * segment.across);
}

double path_length(const SegmentShape& segment, double t) {
    if (segment.kind == SegmentKind::steady) {
        return segment.across * t;
    }
    if (segment.across > straight_limit) {
        if (segment.kind == SegmentKind::ramp) {
            return ramp_path({segment.along, speed_after(segment, 0.0)},
                             {along_after(segment, t), speed_after(segment, t)}, segment.across,
                             1.0 / segment.acceleration);
        }
        return ease_path(segment, t);
    }
    if (segment.kind == SegmentKind::ramp) {
        return std::fabs(segment.along * t + 0.5 * segment.acceleration * t * t);
    }
    const double left = 1.0 - detmath::power_of_two(-t / segment.half_life);
    return std::fabs(segment.target * t +
                     (segment.along - segment.target) * left * (segment.half_life / ln_two));
}

double time_to_speed(const SegmentShape& segment, Trend trend, double speed) {
    const double squared = speed * speed - segment.across * segment.across;
    if (trend == Trend::constant || squared < 0.0) {
        return never;
    }
    const double along = trend == Trend::rising ? std::sqrt(squared) : -std::sqrt(squared);
    if (segment.kind == SegmentKind::ramp) {
        return std::max(0.0, (along - segment.along) / segment.acceleration);
    }
    const double left = (along - segment.target) / (segment.along - segment.target);
    return left > 0.0 ? std::max(0.0, -segment.half_life * detmath::log_two(left)) : never;
}

}  // namespace cursimeter::detail
