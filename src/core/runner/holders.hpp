#pragma once

#include "core/chart/chart_data.hpp"

/// A modifier whose stacking is `refresh` is shared: all its granters have one place, at the strength of the strongest,
/// until the last of them lets go or its time is over. The place names one granter; here are the others.
namespace cursimeter::detail {

[[nodiscard]] inline bool is_shared(const CompiledModifier& kind) {
    return kind.stacking == Stacking::refresh;
}
/// Whether a granter is among those who keep it at work.
[[nodiscard]] bool is_holder(const RunnerState& runner, const ModifierState& state, std::uint8_t source);
/// Notes a granter, or its new strength; without effect if there is no room for it.
void add_holder(RunnerState& runner, ModifierState& state, std::uint8_t source, std::uint8_t strength);
enum class Hold : std::uint8_t { none, others, last };
/// Lets a granter go: it held nothing, others hold it still, or it was the last, whose place is left as it is.
Hold drop_holder(RunnerState& runner, ModifierState& state, std::uint8_t source);
/// Lets all go but the one that the place names.
void drop_others(RunnerState& runner, std::uint8_t modifier);
/// The strength of the strongest granter, percent.
[[nodiscard]] std::uint8_t strength_of(const RunnerState& runner, const ModifierState& state);

}  // namespace cursimeter::detail
