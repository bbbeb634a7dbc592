#pragma once

#include <cstddef>
#include <cstdint>
#include <span>

/// The envelope of every packet: a byte for its kind, four bytes of checksum, the body.
namespace cursimeter::link::wire {

/// What a packet is. The numbers are part of the protocol.
enum class Kind : std::uint8_t {
    hello = 0xc1,      ///< client: may I join?
    challenge = 0xc2,  ///< server: say so again with this cookie
    welcome = 0xc3,    ///< server: you are in
    refusal = 0xc4,    ///< server: no, because
    intents = 0xc5,    ///< client: what the player wants
    snapshot = 0xc6,   ///< server: how things are
    goodbye = 0xc7,    ///< either: I am off
    unknown = 0xc8,    ///< server: I have no session with you
    // Among players without a server:
    peer_hello = 0xc9,    ///< I am this player, and have heard these
    peer_intents = 0xca,  ///< what I want, and what I know
    peer_state = 0xcb,    ///< my runner where we came apart
    peer_goodbye = 0xcc,  ///< I am off
};

/// Whether it is said before there is a session.
[[nodiscard]] constexpr bool is_greeting(Kind kind) {
    return kind == Kind::challenge || kind == Kind::welcome || kind == Kind::refusal || kind == Kind::unknown;
}

inline constexpr std::size_t envelope_bytes = 5;
/// Fits into one datagram on every usual path.
inline constexpr std::size_t most_packet_bytes = 1200;
/// A hello is padded to this, so that no answer is longer than its question.
inline constexpr std::size_t hello_bytes = 480;

/// Writes kind and checksum into the envelope in front of a body that is already in place. The key is the
/// session's; 0 before there is one. It keeps out damage and strays, and guessing it takes 2^32 packets;
/// it is no cryptography: whoever reads the traffic can forge it.
void stamp(std::span<std::byte> packet, Kind kind, std::uint64_t key);
/// Whether the packet is whole and of this session.
[[nodiscard]] bool is_stamped(std::span<const std::byte> packet, std::uint64_t key);
/// 64 bits of a keyed digest of bytes, the same on every machine.
[[nodiscard]] std::uint64_t digest_of(std::span<const std::byte> bytes, std::uint64_t key);
/// The same of a few words.
[[nodiscard]] std::uint64_t mix(std::uint64_t a, std::uint64_t b, std::uint64_t c = 0);

}  // namespace cursimeter::link::wire
