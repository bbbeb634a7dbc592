#include "core/motion/crossing.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>
#include <optional>

#include "core/motion/aim.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"

namespace cursimeter::detail {
namespace {

/// A ramp's speed: on it the square of the speed is a quadratic in time.
class RampSpeed {
  public:
    explicit RampSpeed(const RunnerState& runner)
        : speed_(runner.speed),
          rising_(runner.trend == Trend::rising),
          straight_(runner.straight),
          square_(inner(runner.acceleration, runner.acceleration)),
          along_(inner(runner.velocity, runner.acceleration)) {
        const double seconds = runner.segment_due - runner.clock;
        last_ = speed_ * speed_ + seconds * (2.0 * along_ + seconds * square_);
    }
    /// Seconds until it meets the value of a mark; `never` if it does not go beyond.
    [[nodiscard]] double time_to(const SpeedMark& mark) const {
        const double value = mark.value;
        const double beyond = std::max(0.0, value + (rising_ ? speed_band : -speed_band));
        if (rising_ ? last_ <= beyond * beyond : last_ >= beyond * beyond) {
            return never;  // a speed that comes to a value and no further keeps its side
        }
        if (rising_ ? value <= speed_ : value >= speed_) {
            return 0.0;
        }
        const double gap = std::fabs((value - speed_) * (value + speed_));
        const double root =
            straight_ ? std::sqrt(square_) * value
                      : std::sqrt(std::max(0.0, along_ * along_ + (rising_ ? square_ : -square_) * gap));
        return gap / (std::fabs(along_) + root);
    }

  private:
    double speed_;
    bool rising_, straight_;
    double square_, along_;  ///< of the acceleration; velocity times acceleration
    double last_ = 0.0;      ///< the square of the speed at the segment's end
};

/// An ease's speed. Its last stretch is walked on arriving (`ease_gap`).
class EaseSpeed {
  public:
    EaseSpeed(const ChartData& chart, const RunnerState& runner)
        : shape_(shape_of(chart, runner)), trend_(runner.trend), seconds_(runner.segment_due - runner.clock) {
        last_ = runner.segment_end == SegmentEnd::arrival ? length_of(target_of(chart, runner))
                                                          : speed_after(shape_, seconds_);
    }
    [[nodiscard]] double time_to(const SpeedMark& mark) const {
        const double value = mark.value;
        const bool crosses =
            trend_ == Trend::rising ? last_ > value + speed_band : last_ < value - speed_band;
        return crosses ? std::min(time_to_speed(shape_, trend_, value), seconds_) : never;
    }

  private:
    SegmentShape shape_;
    Trend trend_;
    double seconds_;  ///< to the segment's end
    double last_ = 0.0;
};

/// Calls `found` with each mark of the speed that the segment comes to from the side on which the runner is, and the seconds
/// until then.
template <class Speed, class Found>
void each_crossing(const Speed& speed, const ChartData& chart, const RunnerState& runner,
                   const DerivedFacts& facts, Found&& found) {
    for (const SpeedMark& mark : chart.speed_marks) {
        const bool above = runner.derived.test(mark.bit);
        if (facts.test(mark.bit) && above != (runner.trend == Trend::rising)) {
            const double seconds = speed.time_to(mark);
            if (seconds < never) {
                found(mark, seconds);
            }
        }
    }
}

template <class Found>
void each_speed_crossing(const ChartData& chart, const RunnerState& runner, const DerivedFacts& facts,
                         Found&& found) {
    if (chart.speed_marks.empty() || runner.trend == Trend::constant) {
        return;
    }
    if (runner.segment == SegmentKind::ramp) {
        each_crossing(RampSpeed(runner), chart, runner, facts, found);
    } else {
        each_crossing(EaseSpeed(chart, runner), chart, runner, facts, found);
    }
}

/// When the vertical speed, which is linear on a ramp and exponential on an ease, meets a value; `never` if the segment ends
/// before.
double time_to_rise(const ChartData& chart, const RunnerState& runner, const RiseMark& mark) {
    const bool above = runner.derived.test(mark.bit);
    const double a = acceleration_now(chart, runner).z;
    const double gap = mark.value - runner.velocity.z;
    if (a == 0.0 || (a > 0.0) == above) {
        return never;
    }
    const double rest = runner.segment_due - runner.clock;
    if (runner.segment == SegmentKind::ramp) {
        const double seconds = std::max(0.0, gap / a);
        return seconds <= rest ? seconds : never;
    }
    const double target = target_of(chart, runner).z;
    const double left = (mark.value - target) / (runner.velocity.z - target);
    if (left <= 0.0) {
        return never;
    }
    const double seconds = std::max(0.0, -rate_of(chart, runner).value * detmath::log_two(left));
    const bool on_arriving = runner.segment_end == SegmentEnd::arrival;
    return seconds <= rest || on_arriving ? std::min(seconds, rest) : never;
}

/// Gives the velocity another length, along itself or, from standing, along what drives it.
void set_speed(const ChartData& chart, RunnerState& runner, double speed) {
    const glm::dvec3 line = runner.speed > speed_band ? runner.velocity : acceleration_now(chart, runner);
    const double size = length_of(line);
    if (size > 0.0 && speed >= 0.0) {
        runner.velocity = line * (speed / size);
        runner.speed = speed;
    }
}

}  // namespace

double next_crossing(const ChartData& chart, const RunnerState& runner, const DerivedFacts& watched) {
    if (runner.segment == SegmentKind::steady || !(watched & chart.crossing_bits).any()) {
        return never;
    }
    double crossing = never;
    each_speed_crossing(chart, runner, watched, [&](const SpeedMark&, double seconds) {
        crossing = std::min(crossing, runner.clock + seconds);
    });
    for (const RiseMark& mark : chart.rise_marks) {
        if (watched.test(mark.bit)) {
            crossing = std::min(crossing, runner.clock + time_to_rise(chart, runner, mark));
        }
    }
    return crossing;
}

DerivedFacts reach_speeds(const ChartData& chart, RunnerState& runner) {
    const DerivedFacts watched =
        runner.watched & chart.crossing_bits;  // the others are no news: compared as they are
    if (runner.segment == SegmentKind::steady || !watched.any()) {
        return {};
    }
    constexpr double width = instant_width.value;
    DerivedFacts facts;
    // What a speed can change by within an instant; one that was passed before nobody watched, and stays passed.
    const double reach = length_of(acceleration_now(chart, runner)) * width + speed_band;
    const auto is_near = [&](double value, double now) { return std::fabs(value - now) <= reach; };
    std::optional<double> speed, rise;
    each_speed_crossing(chart, runner, watched, [&](const SpeedMark& mark, double seconds) {
        if (seconds > width) {
            return;
        }
        facts.set(mark.bit);
        if (is_near(mark.value, runner.speed)) {
            const double before = speed.value_or(mark.value);
            speed =
                runner.trend == Trend::rising ? std::max(before, mark.value) : std::min(before, mark.value);
        }
    });
    for (const RiseMark& mark : chart.rise_marks) {
        if (!watched.test(mark.bit) || time_to_rise(chart, runner, mark) > width) {
            continue;
        }
        facts.set(mark.bit);
        if (is_near(mark.value, runner.velocity.z)) {
            const bool rising = !runner.derived.test(mark.bit);
            const double before = rise.value_or(mark.value);
            rise = rising ? std::max(before, mark.value) : std::min(before, mark.value);
        }
    }
    if (!facts.any()) {
        return {};
    }
    if (runner.segment == SegmentKind::ease && runner.segment_end == SegmentEnd::arrival &&
        runner.segment_due <= runner.clock + width) {
        arrive(chart, runner);
    } else if (speed) {
        set_speed(chart, runner, *speed);
    } else if (rise) {
        runner.velocity.z = *rise;
        runner.speed = length_of(runner.velocity);
    }
    if (runner.segment_end != SegmentEnd::landing) {
        runner.segment_due = runner.clock;  // from the speed as it is now
        runner.segment_end = SegmentEnd::replan;
    }
    return facts;
}

}  // namespace cursimeter::detail
