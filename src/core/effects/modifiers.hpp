#pragma once

#include "core/runner/amounts.hpp"
#include "core/runner/instant.hpp"

/// The life of modifiers: granted, stacked, fading, over. What they make of numbers: runner/amounts.hpp.
namespace cursimeter::detail {

/// Puts a modifier to work, as its stacking says. Returns false if there is no place left.
bool grant_modifier(const ChartData& chart, RunnerState& runner, std::uint8_t modifier, std::uint8_t source,
                    std::uint8_t strength);
/// Lets what a source has granted fade out, or ends it at once. Returns whether there was any.
bool release_modifier(const ChartData& chart, RunnerState& runner, std::uint8_t modifier, std::uint8_t source,
                      bool at_once);

/// The same at an instant, at full strength, by the chart itself.
void begin_modifier(Instant& instant, std::uint8_t modifier, std::uint8_t source);

/// When a modifier next changes; `never` if none does.
[[nodiscard]] double next_modifier_due(const ChartData& chart, const RunnerState& runner);
/// Works the changes that are due and tells of new ones. Returns whether there were any.
bool advance_modifiers(Instant& instant);
/// Begins and ends what holds while a condition does. Returns whether anything changed.
bool follow_conditions(Instant& instant, const Facts& facts);

}  // namespace cursimeter::detail
