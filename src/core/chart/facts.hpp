#pragma once

#include <cstdint>
#include <cursimeter/detail/runner_state.hpp>
#include <cursimeter/ids.hpp>

/// The layout of Facts::fixed, the same for every chart: input and contacts, known without looking
/// anything up. Everything that a chart's own terms compare has a bit in Facts::derived instead.
namespace cursimeter::detail::fact {

// The first word holds what lasts and is common, the second what one instant holds, the third what lasts and is rarer.
inline constexpr unsigned on_first = 0;  // one bit per action: on
inline constexpr unsigned moving = 32;
inline constexpr unsigned moving_forward = 33;
inline constexpr unsigned moving_sideways = 34;
inline constexpr unsigned moving_backward = 35;
inline constexpr unsigned grounded = 36;
inline constexpr unsigned headroom = 37;
inline constexpr unsigned wall = 38;
inline constexpr unsigned footing = 39;
inline constexpr unsigned pushed = 40;
inline constexpr unsigned locked = 41;
inline constexpr unsigned pressed_first = 64;   // one bit per action: pressed at this very instant
inline constexpr unsigned released_first = 96;  // one bit per action: released at this very instant
inline constexpr unsigned zone_first = 128;     // one bit per kind of zone
inline constexpr unsigned count = 192;

static_assert(on_first + limits::actions <= moving && pressed_first + limits::actions <= released_first &&
              released_first + limits::actions <= zone_first && zone_first + limits::zones <= count);

[[nodiscard]] constexpr FixedFacts bit(unsigned index) {
    return FixedFacts::of(index);
}

/// A press or a release among those of an instant: the second word.
[[nodiscard]] constexpr std::uint64_t press_bit(unsigned action) {
    return std::uint64_t{1} << action;
}
[[nodiscard]] constexpr std::uint64_t release_bit(unsigned action) {
    return std::uint64_t{1} << (released_first - pressed_first + action);
}
[[nodiscard]] constexpr ActionMask on_of(const FixedFacts& fixed) {
    return static_cast<ActionMask>(fixed.words[0]);
}
[[nodiscard]] constexpr ActionMask pressed_of(const FixedFacts& fixed) {
    return static_cast<ActionMask>(fixed.words[1]);
}
[[nodiscard]] constexpr ActionMask released_of(const FixedFacts& fixed) {
    return static_cast<ActionMask>(fixed.words[1] >> (released_first - pressed_first));
}
[[nodiscard]] constexpr bool any_zone(const FixedFacts& fixed) {
    constexpr std::uint64_t zones = ((std::uint64_t{1} << limits::zones) - 1) << (zone_first % 64);
    return (fixed.words[zone_first / 64] & zones) != 0;
}
[[nodiscard]] constexpr bool is_momentary(unsigned index) {
    return index / 64 == 1;
}

/// What a runner remembers of the fixed facts: all but those of one instant.
[[nodiscard]] constexpr LastingFacts lasting_of(const FixedFacts& fixed) {
    return {{fixed.words[0], fixed.words[2]}};
}
[[nodiscard]] constexpr FixedFacts fixed_of(const LastingFacts& lasting, std::uint64_t momentary = 0) {
    return {{lasting.words[0], momentary, lasting.words[1]}};
}

/// Facts that come from outside: keys, moves, zones, pushes. Contacts are none: a chart can lose and find the ground by
/// itself.
inline constexpr FixedFacts from_outside =
    ~(FixedFacts{{0, ~std::uint64_t{0}, 0}} | bit(grounded) | bit(footing) | bit(wall));

/// The facts about the move, from fact::moving on.
inline constexpr std::uint8_t moving_ahead = 0b0011;
inline constexpr std::uint8_t moving_aside = 0b0101;
inline constexpr std::uint8_t moving_back = 0b1001;
static_assert(moving_forward == moving + 1 && moving_sideways == moving + 2 && moving_backward == moving + 3);

}  // namespace cursimeter::detail::fact
