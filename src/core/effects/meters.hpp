#pragma once

#include <cursimeter/report.hpp>

#include "core/chart/chart_data.hpp"
#include "core/runner/timers.hpp"

/// Meters between and at instants: levels flow at constant rates, marks are reached exactly.
namespace cursimeter::detail {

/// The level now. What flows by the second is written at instants only: between two of them it follows
/// from the clock.
[[nodiscard]] inline double level_now(const ChartData& chart, const RunnerState& runner, std::size_t meter) {
    const MeterState& state = runner.meters[meter];
    const double level = state.level + state.rate * (runner.clock - runner.metered_at);
    const double capacity = chart.meters[meter].capacity;
    return level < 0.0 ? 0.0 : level > capacity ? capacity : level;
}

/// Writes all levels as they are now; needed before a rate or a level is changed.
inline void write_levels(const ChartData& chart, RunnerState& runner) {
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        runner.meters[i].level = level_now(chart, runner, i);
    }
    runner.metered_at = runner.clock;
}

/// Takes what the way costs from the meters that drain by the metre.
void lose_by_distance(const ChartData& chart, RunnerState& runner, double travelled);

/// When the meter reaches a mark that lies ahead, on the runner's clock.
[[nodiscard]] double mark_due(const ChartData& chart, const RunnerState& runner, std::size_t meter,
                              std::size_t index);
/// The earliest of those that are told of or `watched`; `never` if there is none.
[[nodiscard]] double next_mark_due(const ChartData& chart, const RunnerState& runner, std::uint64_t watched);

/// Called with each event of a meter.
struct MeterEvent {
    EventKind kind{};
    std::uint8_t meter = 0;
    std::uint8_t which = 0;  ///< threshold
    bool rising = false;
};

/// Puts a meter exactly on a mark.
template <class Emit>
void reach_mark(RunnerState& runner, std::size_t index, const Mark& mark, Emit&& emit) {
    MeterState& meter = runner.meters[index];
    const auto number = static_cast<std::uint8_t>(index);
    const auto spent_mask = static_cast<std::uint8_t>(1U << index);
    const bool rises = meter.rate > 0.0;
    meter.level = rises ? mark.from : mark.below;
    if (mark.threshold != no_threshold) {
        emit(MeterEvent{EventKind::crossed, number, mark.threshold, rises});
    }
    if (rises) {
        if (mark.release && (runner.spent & spent_mask) != 0) {
            runner.spent = static_cast<std::uint8_t>(runner.spent & ~spent_mask);
            emit(MeterEvent{EventKind::recovered, number});
        }
        if (mark.top) {
            emit(MeterEvent{EventKind::filled, number});
        }
        return;
    }
    if (mark.bottom) {
        emit(MeterEvent{EventKind::emptied, number});
    }
    if (mark.latch && (runner.spent & spent_mask) == 0) {
        runner.spent = static_cast<std::uint8_t>(runner.spent | spent_mask);
        emit(MeterEvent{EventKind::spent, number});
    }
}

/// Puts every meter whose mark is due now exactly on it and passes the events to `emit`; marks that it has passed
/// unwatched are left behind. Returns whether there was any.
template <class Emit>
bool reach_marks(const ChartData& chart, RunnerState& runner, Emit&& emit) {
    bool any = false;
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        const bool rises = runner.meters[i].rate > 0.0;
        while (runner.mark[i] != no_mark) {
            const double due = mark_due(chart, runner, i, runner.mark[i]);
            if (due > runner.clock + instant_width.value) {
                break;
            }
            any = true;
            const Mark& mark = chart.meters[i].marks[runner.mark[i]];
            if (due < runner.clock - instant_width.value && !mark.is_told()) {
                const std::size_t next = rises ? runner.mark[i] + 1U : runner.mark[i] - 1U;
                runner.mark[i] =
                    next < chart.meters[i].marks.size() ? static_cast<std::uint8_t>(next) : no_mark;
                continue;
            }
            runner.mark[i] = no_mark;  // found anew once the rates are known
            reach_mark(runner, i, mark, emit);
        }
    }
    return any;
}

/// The meters that the present state drains at the present speed, a bit each.
[[nodiscard]] std::uint8_t drained_meters(const ChartData& chart, const RunnerState& runner);
/// Sets the rates of all meters, given which of them are drained.
void set_rates(const ChartData& chart, RunnerState& runner, std::uint8_t drained);

/// Sets the rates that hold from now on, by state, real speed and waits.
/// `emit` hears of each meter that begins or ceases to drain.
template <class Emit>
void refresh_rates(const ChartData& chart, RunnerState& runner, Emit&& emit) {
    const std::uint8_t drained = drained_meters(chart, runner);
    const std::uint8_t changed = drained ^ runner.draining;
    set_rates(chart, runner, drained);
    for (std::uint8_t i = 0; changed >> i != 0; ++i) {
        if ((changed >> i & 1U) != 0) {
            emit(MeterEvent{(drained >> i & 1U) != 0 ? EventKind::draining : EventKind::rested, i});
        }
    }
}
/// Finds the mark that each meter reaches next, for the rates now set.
void plan_meters(const ChartData& chart, RunnerState& runner);
/// When factors that other meters set are read again; `never` if none changes.
[[nodiscard]] double next_scale_due(const ChartData& chart, const RunnerState& runner);
/// Lets the refill wait from now on, after a drain or a cost.
void hold_refill(const ChartData& chart, RunnerState& runner, std::size_t meter);

}  // namespace cursimeter::detail
