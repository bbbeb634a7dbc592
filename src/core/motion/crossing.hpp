#pragma once

#include "core/chart/chart_data.hpp"

/// Speeds, and vertical speeds, that cross values which conditions read.
///
/// On which side of each value a speed lies is decided once, when the segment crosses it: the speed is put on the value then,
/// and the fact says the side that it came to. From there on only a speed that is clearly on the other side changes the
/// fact (`speed_band`), so a state that keeps the speed at which it was entered keeps the fact, too.
namespace cursimeter::detail {

/// Speeds this near to a value, m/s, are on the side on which they were. Above rounding, and well inside the 1e-11 m/s
/// by which values are set off from the chart's numbers (term_reader.hpp), at which targets lie.
inline constexpr double speed_band = 1e-12;

/// Whether a quantity is at a value or above it, given on which side it was.
[[nodiscard]] inline bool is_above(double quantity, double value, bool was_above) {
    const bool well_above = quantity > value + speed_band, at_least = quantity >= value - speed_band;
    return well_above | (was_above & at_least);  // without branches: speeds are on either side as they like
}

/// When a value of the `watched` facts is next crossed; the runner's facts say on which side it is now.
[[nodiscard]] double next_crossing(const ChartData& chart, const RunnerState& runner,
                                   const DerivedFacts& watched);

/// Puts the speed on each value that the segment crosses at this instant. Returns the facts that change by that.
[[nodiscard]] DerivedFacts reach_speeds(const ChartData& chart, RunnerState& runner);

}  // namespace cursimeter::detail
