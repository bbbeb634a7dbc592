#pragma once

#include <cstdint>
#include <cursimeter/detail/runner_state.hpp>
#include <cursimeter/ids.hpp>

/// The layout of Facts::fixed, the same for every chart: input and contacts, known without looking
/// anything up. Everything that a chart's own terms compare has a bit in Facts::derived instead.
namespace cursimeter::detail::fact {

inline constexpr unsigned on_first = 0;         // one bit per action: on
inline constexpr unsigned pressed_first = 16;   // one bit per action: pressed at this very instant
inline constexpr unsigned released_first = 32;  // one bit per action: released at this very instant
inline constexpr unsigned moving = 48;
inline constexpr unsigned moving_forward = 49;
inline constexpr unsigned moving_sideways = 50;
inline constexpr unsigned moving_backward = 51;
inline constexpr unsigned grounded = 52;
inline constexpr unsigned headroom = 53;
inline constexpr unsigned wall = 54;
inline constexpr unsigned footing = 55;
inline constexpr unsigned pushed = 56;
inline constexpr unsigned locked = 57;
inline constexpr unsigned zone_first = 58;  // one bit per kind of zone

static_assert(zone_first + limits::zones <= 64);
static_assert(limits::actions <= 16, "each group of action bits has 16 places");

constexpr std::uint64_t bit(unsigned index) {
    return std::uint64_t{1} << index;
}

/// What a runner remembers of the fixed facts: all but those of one instant, 32 bits.
[[nodiscard]] constexpr std::uint32_t lasting_of(std::uint64_t fixed) {
    return static_cast<std::uint32_t>((fixed & 0xffffU) | (fixed >> 32U & 0xffff'0000U));
}
[[nodiscard]] constexpr std::uint64_t fixed_of(std::uint32_t lasting) {
    return std::uint64_t{lasting & 0xffffU} | std::uint64_t{lasting & 0xffff'0000U} << 32U;
}

/// Facts that hold for one instant only.
inline constexpr std::uint64_t momentary = std::uint64_t{0xffff'ffff} << pressed_first;

/// Facts that come from outside: keys, moves, zones, pushes. Contacts are none: a chart can lose and find the ground by
/// itself.
inline constexpr std::uint64_t from_outside = ~(momentary | bit(grounded) | bit(footing) | bit(wall));

/// The facts about the move, from fact::moving on.
inline constexpr std::uint8_t moving_ahead = 0b0011;
inline constexpr std::uint8_t moving_aside = 0b0101;
inline constexpr std::uint8_t moving_back = 0b1001;
static_assert(moving_forward == moving + 1 && moving_sideways == moving + 2 && moving_backward == moving + 3);

}  // namespace cursimeter::detail::fact
