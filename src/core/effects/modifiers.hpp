#pragma once

#include "core/runner/amounts.hpp"
#include "core/runner/instant.hpp"

/// The life of modifiers at work: they stack, fade and end, follow conditions and one another. How they come to work:
/// effects/grants.hpp. What they make of numbers: runner/amounts.hpp.
namespace cursimeter::detail {

/// Grants a modifier at an instant, at full strength, by the chart itself; tells where there is no room for it.
void begin_modifier(Instant& instant, std::uint8_t modifier, std::uint8_t source);

/// When a modifier next changes; `never` if none does.
[[nodiscard]] double next_modifier_due(const ChartData& chart, const RunnerState& runner);
/// Works the changes that are due and tells of new ones, some being at work. Returns whether there were any.
bool advance_present_modifiers(Instant& instant);
/// The same where there may be none.
inline bool advance_modifiers(Instant& instant) {
    return instant.runner.modifier_count != 0 && advance_present_modifiers(instant);
}
/// Begins and ends what holds while a condition does. Returns whether anything changed.
bool follow_conditions(Instant& instant, const Facts& facts);

}  // namespace cursimeter::detail
