#pragma once

#include <array>
#include <cursimeter/link/peer_game.hpp>

#include "link/wire/messages.hpp"

/// The packets of players without a server, each described once for both directions.
namespace cursimeter::link::wire {

struct PeerHello {
    std::uint16_t version = protocol_version;
    std::uint32_t player = 0;
    std::uint32_t rate = 0;  ///< ticks per 1,000 s
    std::uint64_t game = 0, world = 0;
    std::uint64_t setup = 0;  ///< digest of charts and players
    std::uint32_t heard = 0;  ///< bit per player
};
template <class Coder>
void code(Coder& coder, PeerHello& hello) {
    coder.bits(hello.version, 16);
    coder.bits(hello.player, 2);
    coder.bits(hello.rate, 32);
    code_word(coder, hello.game);
    code_word(coder, hello.world);
    code_word(coder, hello.setup);
    coder.bits(hello.heard, most_peers);
}

/// Parts of a tick in which clocks are told.
inline constexpr double peer_clock_steps = 16.0;

/// What goes before the rows of intents.
struct PeerHead {
    std::uint32_t player = 0;
    std::uint32_t now = 0;   ///< tick that it played last
    std::uint32_t part = 0;  ///< of the next one that has passed, in 1/16
    std::int32_t ahead = 0;  ///< of the sender over the receiver, as it seems there, in 1/16 ticks
    std::uint32_t gone = 0;  ///< bit per player
    std::array<std::uint32_t, most_peers> known{};    ///< newest tick of which it has a player's intents
    std::uint32_t compared = 0;                       ///< tick of the digests; 0: none yet
    std::array<std::uint32_t, most_peers> digests{};  ///< of each runner after it, lower halves
};
template <class Coder>
void code(Coder& coder, PeerHead& head, std::size_t players) {
    coder.bits(head.player, 2);
    coder.bits(head.now, 32);
    coder.bits(head.part, 4);
    NumberModel ahead, behind;
    number(coder, ahead, head.ahead);
    Model gone{0xf000}, compares{0x4000};
    std::uint32_t mask = 0;
    for (std::size_t i = 0; i < players; ++i) {
        bool one = (head.gone >> i & 1U) != 0;
        coder.bit(gone, one);
        mask |= std::uint32_t{one} << i;
        against(coder, behind, head.known[i], head.now);
    }
    head.gone = mask;
    bool any = head.compared != 0;
    coder.bit(compares, any);
    if (any) {
        NumberModel ago;
        against(coder, ago, head.compared, head.now);
        for (std::size_t i = 0; i < players; ++i) {
            coder.bits(head.digests[i], 32);
        }
    } else {
        head.compared = 0;
    }
}

/// Intents of one player that follow: its own, or those of somebody who is gone.
struct PeerRow {
    std::uint32_t player = 0;
    std::uint32_t first = 1;  ///< tick; as a difference from the one before it
    std::uint32_t count = 0;  ///< 1 to 128
};
inline constexpr std::uint32_t most_row = 128;
template <class Coder>
void code(Coder& coder, PeerRow& row, std::uint32_t now) {
    coder.bits(row.player, 2);
    NumberModel from;
    against(coder, from, row.first, now);
    std::uint32_t less = row.count - 1;
    coder.bits(less, 7);
    row.count = less + 1;
}

struct PeerStateHead {
    std::uint32_t from = 0, player = 0, tick = 0;
};
template <class Coder>
void code(Coder& coder, PeerStateHead& head) {
    coder.bits(head.from, 2);
    coder.bits(head.player, 2);
    coder.bits(head.tick, 32);
}

struct PeerGoodbye {
    std::uint32_t player = 0;
};
template <class Coder>
void code(Coder& coder, PeerGoodbye& goodbye) {
    coder.bits(goodbye.player, 2);
}

}  // namespace cursimeter::link::wire
