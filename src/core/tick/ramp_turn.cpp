#include <algorithm>
#include <cmath>

#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/tick/way.hpp"

/// Ticks in which the look turns, under the ramp law.
namespace cursimeter::detail {
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
template <class Vector>
double path_of(const Way<Vector>& way, double speed, const TurnStretch& stretch, const Rates& rates) {
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

}  // namespace

template <class Space>
bool follow_ramp(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt) {
    using Vector = typename Space::Vector;
    const Vector target = Space::target(chart, runner);
    const Vector velocity = Space::velocity(runner);
    const Way<Vector> way = way_between(velocity, target);
    const double target_speed = length_of(target);
    if (way.size <= arrival_gap || meets_mark(chart, runner, way, target_speed) ||
        !Space::may_go(chart, runner, target, dt)) {
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
    Space::move(runner, velocity * (stretch.first + stretch.second) + way.gap * reach + target * steady);
    runner.distance += target_speed * steady + path_of(way, runner.speed, stretch, rates);
    runner.clock += dt;
    runner.segment_end = SegmentEnd::replan;
    if (arrives) {
        keep_target<Space>(chart, runner, target, target_speed);
    } else {
        const bool falling = stretch.first < braking;
        const Vector now = velocity + way.gap * stretch.end;
        const double rate = (falling ? rates.down : rates.up) * (way.size * way.inverse);
        runner.velocity = Space::in_space(now);
        runner.speed = length_of(now);
        runner.segment = SegmentKind::ramp;
        runner.trend = falling ? Trend::falling : Trend::rising;
        runner.straight = way.across <= straight_limit * way.size;
        runner.acceleration = Space::in_space(way.gap) * rate;
        runner.segment_end = falling && way.dips() ? SegmentEnd::replan : SegmentEnd::arrival;
        runner.segment_due = runner.clock + (falling ? braking - stretch.first : speeding - stretch.second);
        Space::plan_end(chart, runner);
    }
    runner.next_due = std::min(runner.segment_due, runner.condition_due);
    return true;
}

template bool follow_ramp<OnLevel>(const ChartData&, RunnerState&, const CompiledState&, double);
template bool follow_ramp<InFlight>(const ChartData&, RunnerState&, const CompiledState&, double);

}  // namespace cursimeter::detail
