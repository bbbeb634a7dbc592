#pragma once

#include <compare>
#include <cstdint>

namespace cursimeter::link {

/// Number of a simulation tick, counted by the server from 0. Wraps round after 207 days at 240 ticks a second:
/// restart a server before.
struct Tick {
    std::uint32_t value = 0;
    friend constexpr auto operator<=>(Tick, Tick) = default;
    friend constexpr Tick operator+(Tick tick, std::uint32_t ticks) { return {tick.value + ticks}; }
    friend constexpr Tick operator-(Tick tick, std::uint32_t ticks) { return {tick.value - ticks}; }
    /// How many ticks `a` is after `b`; negative if it is before.
    friend constexpr std::int32_t operator-(Tick a, Tick b) {
        return static_cast<std::int32_t>(a.value - b.value);
    }
};

/// The number near `near` that has these low 16 bits: packets carry no more. Right within 32,767 either way.
[[nodiscard]] constexpr std::uint32_t expand(std::uint16_t low, std::uint32_t near) {
    const auto ahead =
        static_cast<std::int16_t>(static_cast<std::uint16_t>(low - static_cast<std::uint16_t>(near)));
    return near + static_cast<std::uint32_t>(static_cast<std::int32_t>(ahead));
}

}  // namespace cursimeter::link
