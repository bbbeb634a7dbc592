#pragma once

#include <array>
#include <cstdint>
#include <cursimeter/link/protocol.hpp>
#include <optional>

#include "link/wire/stated_intent.hpp"

/// What a tick of a match holds, described once for writing and reading.
namespace cursimeter::link::match {

inline constexpr std::array<char, 8> magic{'c', 'u', 'r', 'm', 'a', 't', 'c', 'h'};
inline constexpr std::uint32_t version = 1;
/// Bytes ahead of what a tick holds: its length, seven bits in each, the lowest first, the eighth set where more
/// follow; and a checksum of two.
inline constexpr std::size_t most_length_bytes = 4, checksum_bytes = 2;
/// s from one tick with all runners as a whole to the next.
inline constexpr double whole_every = 10.0;

/// What happened to a runner before the tick.
enum class What : std::uint8_t {
    begins,   ///< it is there from now on
    touched,  ///< the game changed it
    gone,
};
struct Change {
    std::uint32_t place = 0;
    What what = What::begins;
    std::uint16_t life = 0;
    std::uint8_t chart = 0;
    std::optional<SeatId> owner;
};

/// Learnt over the whole match.
struct Models {
    wire::Model leapt{0xf000}, more{0xf000}, whole{0xf000}, owned{0x4000};
    wire::NumberModel skipped;
};

/// The tick, which mostly follows the one before, and whether all runners follow as a whole.
template <class Coder>
void code_head(Coder& coder, Models& models, std::uint32_t& tick, std::uint32_t before, bool& whole) {
    bool leapt = tick != before + 1;
    coder.bit(models.leapt, leapt);
    if (leapt) {
        coder.bits(tick, 32);
    } else {
        tick = before + 1;
    }
    coder.bit(models.whole, whole);
}

/// `from` is the first place that it can be; a whole runner follows unless it is gone.
template <class Coder>
void code(Coder& coder, Models& models, Change& change, std::uint32_t from) {
    std::uint32_t skipped = change.place - from;
    wire::count(coder, models.skipped, skipped);
    change.place = from + skipped;
    auto what = static_cast<std::uint32_t>(change.what);
    coder.bits(what, 2);
    change.what = static_cast<What>(what);
    if (change.what != What::begins) {
        return;
    }
    coder.bits(change.life, 16);
    coder.bits(change.chart, 4);
    bool owned = change.owner.has_value();
    coder.bit(models.owned, owned);
    std::uint16_t seat = change.owner ? change.owner->index : std::uint16_t{0};
    if (owned) {
        coder.bits(seat, 16);
        change.owner = SeatId{seat};
    } else {
        change.owner.reset();
    }
}

/// Of the digest of each runner after the tick: a difference is seen at once, but for one time in 256.
inline constexpr unsigned told_digest_bits = 8;
[[nodiscard]] constexpr std::uint32_t short_digest(std::uint64_t digest) {
    return static_cast<std::uint32_t>(digest & ((1U << told_digest_bits) - 1U));
}

}  // namespace cursimeter::link::match
