#pragma once

#include "core/chart/chart_data.hpp"

/// The charges of cooldowns.
namespace cursimeter::detail {

[[nodiscard]] inline unsigned charges_used(const RunnerState& runner, std::size_t cooldown) {
    return static_cast<unsigned>(runner.used >> (4 * cooldown) & 15U);
}
[[nodiscard]] inline bool is_ready(const ChartData& chart, const RunnerState& runner, std::size_t cooldown) {
    return charges_used(runner, cooldown) < chart.cooldowns[cooldown].charges;
}

}  // namespace cursimeter::detail
