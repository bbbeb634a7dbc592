#pragma once

#include "core/chart/chart_data.hpp"

/// Runners that come from outside: off the wire, or out of a file.
namespace cursimeter::detail {

/// Whether the state can be one of the chart's, so far as indices and limits go. Whatever else it says is
/// harmless: undefined numbers are stopped here, and times that have passed are caught up with.
[[nodiscard]] bool plausible(const ChartData& chart, const RunnerState& state);

}  // namespace cursimeter::detail
