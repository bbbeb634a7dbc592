#include "core/effects/meters.hpp"

#include <algorithm>

#include "core/effects/modifiers.hpp"
#include "core/motion/segment.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {
namespace {

/// Seconds until a meter that drains by the metre has lost `amount`, on a segment whose speed changes;
/// `never` if that is not before the segment's end. The loss is monotone and has a closed form, so bisection
/// finds the time to the last bit in a bounded number of steps.
double time_to_lose(double amount, const Drain& drain, const SegmentShape& segment, double end) {
    const auto lost = [&](double t) {
        return drain.per_second * t + drain.per_metre * path_length(segment, t);
    };
    if (!(end < never) || lost(end) < amount) {
        return never;
    }
    double low = 0.0, high = end;
    for (int halving = 0; halving < 64; ++halving) {
        const double middle = 0.5 * (low + high);
        if (middle <= low || middle >= high) {
            break;
        }
        (lost(middle) < amount ? low : high) = middle;
    }
    return high;
}

double time_to_drain(const ChartData& chart, const RunnerState& runner, const Drain& drain, double amount) {
    if (drain.per_metre == 0.0) {
        return amount / drain.per_second;
    }
    if (runner.segment == SegmentKind::steady) {
        const double rate = drain.per_second + drain.per_metre * runner.speed;
        return rate > 0.0 ? amount / rate : never;
    }
    return time_to_lose(amount, drain, shape_of(chart, runner), runner.segment_due - runner.clock);
}

}  // namespace

double mark_due(const ChartData& chart, const RunnerState& runner, std::size_t meter, std::size_t index) {
    const Mark& mark = chart.meters[meter].marks[index];
    const MeterState& state = runner.meters[meter];
    if ((runner.by_distance >> meter & 1U) == 0) {
        return runner.metered_at + (mark.level - state.level) / state.rate;
    }
    Drain drain = chart.states[runner.state].drains[meter];
    drain.per_second = -state.rate;
    return runner.clock + time_to_drain(chart, runner, drain, std::max(0.0, state.level - mark.level));
}

namespace {

/// The next mark in the direction in which the meter flows; none: past the last.
constexpr std::size_t no_mark = static_cast<std::size_t>(-1);
std::size_t next_mark(const ChartData& chart, const RunnerState& runner, std::size_t meter) {
    const std::vector<Mark>& marks = chart.meters[meter].marks;
    const std::size_t above = runner.above[meter];
    if (runner.meters[meter].rate > 0.0) {
        return above < marks.size() ? above : no_mark;
    }
    const bool falls = (runner.flowing >> meter & 1U) != 0;
    return falls && above > 0 && marks[above - 1].from > 0.0 ? above - 1 : no_mark;
}

/// Tells what a level does as it passes a mark, upward or downward.
void pass_mark(Instant& instant, std::size_t meter, const Mark& mark, bool rises) {
    RunnerState& runner = instant.runner;
    const auto number = static_cast<std::uint8_t>(meter);
    const auto mask = static_cast<MeterMask>(1U << meter);
    const double level = mark.level;
    runner.above[meter] =
        static_cast<std::uint8_t>(rises ? runner.above[meter] + 1 : runner.above[meter] - 1);
    if (mark.threshold != no_threshold) {
        instant.emit_crossed(number, mark.threshold, rises, level);
    }
    const bool spent = (runner.spent & mask) != 0;
    if (rises && mark.release && spent) {
        runner.spent = static_cast<MeterMask>(runner.spent & ~mask);
        instant.emit(EventKind::recovered, number, level);
    }
    if (rises && mark.top) {
        instant.emit(EventKind::filled, number, level);
    }
    if (!rises && mark.bottom) {
        instant.emit(EventKind::emptied, number, level);
    }
    if (!rises && mark.latch && !spent) {
        runner.spent = static_cast<MeterMask>(runner.spent | mask);
        instant.emit(EventKind::spent, number, level);
        if (instant.chart.meters[meter].grants != no_modifier) {
            begin_modifier(instant, instant.chart.meters[meter].grants, meter_source);
        }
    }
}

/// Passes every mark between where the level was and where it is.
void pass_marks(Instant& instant, std::size_t meter, double level) {
    const std::vector<Mark>& marks = instant.chart.meters[meter].marks;
    std::uint8_t& above = instant.runner.above[meter];
    while (above < marks.size() && marks[above].from <= level) {
        pass_mark(instant, meter, marks[above], true);
    }
    while (above > 0 && marks[above - 1U].from > level) {
        pass_mark(instant, meter, marks[above - 1U], false);
    }
}

}  // namespace

double next_mark_due(const ChartData& chart, const RunnerState& runner, const DerivedFacts& watched) {
    double due = never;
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        const std::vector<Mark>& marks = chart.meters[i].marks;
        const std::size_t step = runner.meters[i].rate > 0.0 ? 1 : static_cast<std::size_t>(-1);
        const bool all =
            (runner.by_distance >> i & 1U) != 0;  // where they lie on the way is found one by one
        for (std::size_t k = next_mark(chart, runner, i); k < marks.size() && marks[k].from > 0.0;
             k += step) {
            if (all || marks[k].is_told() || (marks[k].bit && watched.test(*marks[k].bit))) {
                due = std::min(due, mark_due(chart, runner, i, k));
                break;
            }
        }
    }
    return due;
}

void move_level(Instant& instant, std::size_t meter, double to) {
    const CompiledMeter& compiled = instant.chart.meters[meter];
    const double level = level_beside_marks(compiled, to);
    instant.runner.meters[meter].level = level;
    forget_scales(instant.chart, instant.runner);
    instant.dirty.note(Changed::level);
    pass_marks(instant, meter, level);
}

void take_levels(Instant& instant) {
    RunnerState& runner = instant.runner;
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        if ((runner.levels_moved >> i & 1U) != 0) {
            pass_marks(instant, i, runner.meters[i].level);
        }
    }
    forget_scales(instant.chart, runner);
    runner.levels_moved = 0;
}

bool reach_marks(Instant& instant) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    bool any = false;
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        const bool rises = runner.meters[i].rate > 0.0;
        for (std::size_t k = next_mark(chart, runner, i); k != no_mark; k = next_mark(chart, runner, i)) {
            const double due = mark_due(chart, runner, i, k);
            if (due > runner.clock + instant_width.value) {
                break;
            }
            any = true;
            const Mark& mark = chart.meters[i].marks[k];
            const bool passed_before = due < runner.clock - instant_width.value && !mark.is_told();
            if (!passed_before) {
                runner.meters[i].level = mark.level;
            }
            pass_mark(instant, i, mark, rises);
        }
    }
    return any;
}

void hold_refill(const ChartData& chart, RunnerState& runner, std::size_t meter) {
    const CompiledMeter& compiled = chart.meters[meter];
    if (compiled.refill_rate > 0.0 && compiled.refill_wait > 0.0) {
        start_timer(runner, timer::refill_first + static_cast<unsigned>(meter), compiled.refill_wait);
    }
}

}  // namespace cursimeter::detail
