#pragma once

#include "core/chart/chart_data.hpp"

/// Gathering the facts about a runner.
namespace cursimeter::detail {

/// The facts about meters, which change only where a mark is reached: levels compared, latches.
[[nodiscard]] DerivedFacts meter_facts(const ChartData& chart, const RunnerState& runner);
/// All facts, those about meters given.
[[nodiscard]] Facts gather(const ChartData& chart, const RunnerState& runner, std::uint64_t momentary,
                           const DerivedFacts& meter_bits);

}  // namespace cursimeter::detail
