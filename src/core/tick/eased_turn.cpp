#include <cursimeter/numbers/detmath.hpp>

#include "core/tick/way.hpp"

/// Ticks in which the look turns, under the ease law.
///
/// Under the ease law the gap shrinks by the same part in the same time, by one half-life while the speed falls and by
/// another from there. Its end is far, and finding it takes a logarithm: the segment is left to be planned anew when the look
/// comes to rest.
namespace cursimeter::detail {
namespace {

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
template <class Vector>
double path_of(const Way<Vector>& way, const Vector& target, const EasedStretch& stretch) {
    constexpr double early_point = 0.17267316464601143;  // (1 - sqrt(3/7)) / 2
    const auto speed_at = [&](double rest) { return length_of(target - way.gap * rest); };
    const double before = speed_at(stretch.begin), after = speed_at(stretch.end);
    const double change = way.size * (stretch.begin - stretch.end);
    if (stretch.end < 0.7 * stretch.begin || !is_short(change * change, before, after)) {
        const double shrink = way.size * way.inverse;  // 1 / |g|
        const double along = (way.along + (1.0 - stretch.begin) * way.squared) * shrink;
        const double to_target = (way.along + way.squared) * shrink;
        return path_length({SegmentKind::ease, along, way.across * shrink, 0.0, to_target, stretch.half_life},
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

}  // namespace

template <class Space>
bool follow_ease(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt) {
    using Vector = typename Space::Vector;
    const Vector target = Space::target(chart, runner);
    const Vector velocity = Space::velocity(runner);
    const Way<Vector> way = way_between(velocity, target);
    if (way.size <= 2.0 * ease_gap || meets_mark(chart, runner, way, length_of(target)) ||
        !Space::may_go(chart, runner, target, dt)) {
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
    const Vector moved = target * dt - way.gap * integral;
    const Vector now = target - way.gap * last.end;
    runner.distance += straight ? length_of(moved) : path + path_of(way, target, last);
    Space::move(runner, moved);
    runner.clock += dt;
    runner.velocity = Space::in_space(now);
    runner.speed = length_of(now);
    runner.segment = SegmentKind::ease;
    runner.trend = falling ? Trend::falling : Trend::rising;
    runner.straight = straight;
    runner.segment_end = SegmentEnd::replan;
    runner.segment_due = runner.clock;
    runner.next_due = std::min(runner.segment_due, runner.condition_due);
    return true;
}

template bool follow_ease<OnLevel>(const ChartData&, RunnerState&, const CompiledState&, double);
template bool follow_ease<InFlight>(const ChartData&, RunnerState&, const CompiledState&, double);

}  // namespace cursimeter::detail
