#pragma once

#include <compare>
#include <cstddef>
#include <cstdint>

namespace cursimeter {

/// Index of a named thing of one chart. Indices follow the order of the chart's lists; they are
/// stable for one chart and mean nothing in another. The tag keeps a meter from being passed as a
/// state.
template <class Tag>
struct Id {
    std::uint8_t index = 0;
    friend constexpr auto operator<=>(Id, Id) = default;
};

using StateId = Id<struct StateTag>;
using ActionId = Id<struct ActionTag>;
using MeterId = Id<struct MeterTag>;
using CooldownId = Id<struct CooldownTag>;
using ModifierId = Id<struct ModifierTag>;
using BlockId = Id<struct BlockTag>;

/// The action's bit in a mask of keys; none for an index that no chart has.
[[nodiscard]] constexpr std::uint32_t key_bit(ActionId action) {
    return action.index < 32 ? std::uint32_t{1} << action.index : 0;
}

/// The bits of the first `count` actions.
[[nodiscard]] constexpr std::uint32_t actions_below(std::size_t count) {
    return count < 32 ? (std::uint32_t{1} << count) - 1 : ~std::uint32_t{0};
}

/// What one chart can hold. `compile` refuses more, by name. Raising a limit grows `Runner`
/// (meters), the fact words (actions, comparisons) or the masks (states).
namespace limits {
inline constexpr std::size_t states = 64;
inline constexpr std::size_t actions = 32;
inline constexpr std::size_t meters = 12;
inline constexpr std::size_t cooldowns = 16;
/// Actions with a press buffer.
inline constexpr std::size_t buffers = 4;
/// Kinds of zones that one chart tells apart.
inline constexpr std::size_t zones = 6;
/// Named thresholds of one meter.
inline constexpr std::size_t thresholds = 16;
/// Jumps of one launch table.
inline constexpr std::size_t jumps = 8;
/// Pushes that act on a runner at once; a further one is joined to the one that ends first.
inline constexpr std::size_t pushes = 2;
/// Kinds of modifiers of one chart.
inline constexpr std::size_t modifier_kinds = 32;
/// Modifiers at work on a runner at once; a further one is refused (see `grant`).
inline constexpr std::size_t modifiers = 16;
/// Further granters of modifiers whose stacking is `refresh`, which several may keep at work together; see `grant`.
inline constexpr std::size_t holders = 12;
/// Stacks of one modifier.
inline constexpr std::size_t stacks = 15;
/// Kinds of blocks of one chart.
inline constexpr std::size_t blocks = 16;
/// Waits that a runner keeps at once: one after leaving the ground, one after reaching it, one of a state that
/// was held back, one of zones, and one for each push, buffer, cooldown and meter's refill.
inline constexpr std::size_t timers = 4 + pushes + buffers + cooldowns + meters;
/// Different comparisons and latches that all conditions of a chart read together.
inline constexpr std::size_t derived_facts = 256;
/// Key points of one gain curve.
inline constexpr std::size_t curve_points = 16;
/// Terms of all conditions together, after `like` has been resolved.
inline constexpr std::size_t terms = 4096;
/// Instants at which one tick can be cut; see `Report::instants_capped`.
inline constexpr std::size_t instants_per_tick = 128;
/// Events that one report can hold; see `Report::events_lost`.
inline constexpr std::size_t events_per_report = 128;
/// Changes that one `IntentBuilder` can hold.
inline constexpr std::size_t changes_per_intent = 32;
}  // namespace limits

}  // namespace cursimeter
