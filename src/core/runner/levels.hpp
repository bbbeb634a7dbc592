#pragma once

#include "core/chart/chart_data.hpp"

/// The levels of meters between instants.
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

/// A level within its meter, put on one that the chart names if it lies within rounding of it.
[[nodiscard]] double level_beside_marks(const CompiledMeter& meter, double level);
/// How many of the meter's marks lie at a level or below it, as RunnerState::above counts them.
[[nodiscard]] std::uint8_t marks_at_or_below(const CompiledMeter& meter, double level);

/// For readings between instants: levels as they are now, and the marks that they have passed unwatched.
void catch_up_levels(const ChartData& chart, RunnerState& runner);

}  // namespace cursimeter::detail
