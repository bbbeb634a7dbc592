#pragma once

#include "core/chart/chart_data.hpp"

/// What could bring a change about from now on.
namespace cursimeter::detail {

/// Presses that wait for a state that they can bring about, as fact::press_bit.
[[nodiscard]] std::uint64_t waiting_presses(const ChartData& chart, const RunnerState& runner);
[[nodiscard]] inline std::uint64_t buffered_presses(const ChartData& chart, const RunnerState& runner) {
    return chart.buffered_count != 0 ? waiting_presses(chart, runner) : 0;
}
/// The derived facts that could bring a change about if they changed now: those of clauses whose other terms hold, as
/// far as these can only change at an instant. Whatever else crosses a mark meanwhile is noted at the next instant.
[[nodiscard]] DerivedFacts watched_facts(const ChartData& chart, const RunnerState& runner);

}  // namespace cursimeter::detail
