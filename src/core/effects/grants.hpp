#pragma once

#include "core/chart/chart_data.hpp"

/// How modifiers are put to work and taken away, by the game or by the chart.
namespace cursimeter::detail {

/// Puts a modifier to work, as its stacking says. Returns false if there is no place left.
bool grant_modifier(const ChartData& chart, RunnerState& runner, std::uint8_t modifier, std::uint8_t source,
                    std::uint8_t strength);
/// Lets what a source has granted fade out, or ends it at once. Returns whether there was any.
bool release_modifier(const ChartData& chart, RunnerState& runner, std::uint8_t modifier, std::uint8_t source,
                      bool at_once);

/// The place of a granter; of a shared modifier, the one that it has.
[[nodiscard]] ModifierState* granted_place(const ChartData& chart, RunnerState& runner, std::uint8_t modifier,
                                           std::uint8_t source);
/// Whether a grant finds room. `state` is the place that it would repeat, if there is one.
[[nodiscard]] bool has_room(const CompiledModifier& kind, const RunnerState& runner,
                            const ModifierState* state, std::uint8_t source);
/// Sorted by what can be told of each, so that equal sets lie equally.
void sort_modifiers(RunnerState& runner);

}  // namespace cursimeter::detail
