#pragma once

#include "core/chart/chart_data.hpp"

/// The charges of cooldowns.
namespace cursimeter::detail {

// RunnerState::used has four bits for each cooldown.
[[nodiscard]] inline unsigned charges_in(std::uint64_t used, std::size_t cooldown) {
    return static_cast<unsigned>(used >> (4 * cooldown) & 15U);
}
[[nodiscard]] inline std::uint64_t with_charges(std::uint64_t used, std::size_t cooldown, unsigned charges) {
    return (used & ~(std::uint64_t{15} << (4 * cooldown))) | std::uint64_t{charges} << (4 * cooldown);
}
[[nodiscard]] inline unsigned charges_used(const RunnerState& runner, std::size_t cooldown) {
    return charges_in(runner.used, cooldown);
}
[[nodiscard]] inline bool is_ready(const ChartData& chart, const RunnerState& runner, std::size_t cooldown) {
    return charges_used(runner, cooldown) < chart.cooldowns[cooldown].charges;
}

}  // namespace cursimeter::detail
