#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <cursimeter/link/protocol.hpp>
#include <optional>

#include "link/guard/guard.hpp"
#include "link/wire/packet.hpp"
#include "link/wire/stated_intent.hpp"

/// The bodies of all packets but snapshots, each described once for both directions.
namespace cursimeter::link::wire {

inline constexpr std::size_t most_charts = 16;

template <class Coder>
void code_word(Coder& coder, std::uint64_t& value) {
    auto upper = static_cast<std::uint32_t>(value >> 32U);
    auto lower = static_cast<std::uint32_t>(value);
    coder.bits(upper, 32);
    coder.bits(lower, 32);
    value = std::uint64_t{upper} << 32U | lower;
}

/// Bytes whose number varies, up to `Most`: texts, tickets.
template <std::size_t Most, unsigned SizeBits>
struct SizedBytes {
    static constexpr std::size_t most = Most;
    std::uint32_t size = 0;
    std::array<std::byte, Most> bytes{};

    /// Keeps what there is room for.
    void keep(std::span<const std::byte> given) {
        size = static_cast<std::uint32_t>(std::min(given.size(), Most));
        std::copy_n(given.begin(), size, bytes.begin());
    }
    [[nodiscard]] std::span<const std::byte> kept() const { return std::span(bytes).first(size); }
};
template <class Coder, std::size_t Most, unsigned SizeBits>
void code(Coder& coder, SizedBytes<Most, SizeBits>& text) {
    coder.bits(text.size, SizeBits);
    text.size = std::min<std::uint32_t>(text.size, Most);
    for (std::uint32_t i = 0; i < text.size; ++i) {
        auto byte = std::to_integer<std::uint32_t>(text.bytes[i]);
        coder.bits(byte, 8);
        text.bytes[i] = static_cast<std::byte>(byte);
    }
}
/// What a server says to a person.
using Words = SizedBytes<100, 7>;

/// Who wants to join, and what it has.
struct HelloBody {
    std::uint64_t identity = 0, attempt = 0;
    std::uint64_t game = 0, world = 0;
    std::uint32_t rate = 0;     ///< ticks per 1,000 s
    std::uint32_t players = 1;  ///< at this client, 1 to most_players
    std::uint32_t chart_count = 0;
    std::array<std::uint32_t, most_charts> charts{};  ///< lower halves of their digests
    SizedBytes<longest_ticket, 9> ticket;
};
template <class Coder>
void code(Coder& coder, HelloBody& body) {
    code_word(coder, body.identity);
    code_word(coder, body.attempt);
    code_word(coder, body.game);
    code_word(coder, body.world);
    coder.bits(body.rate, 32);
    std::uint32_t players_less = body.players - 1;
    coder.bits(players_less, 2);
    body.players = players_less + 1;
    coder.bits(body.chart_count, 5);
    for (std::uint32_t& digest : body.charts) {
        coder.bits(digest, 32);
    }
    code(coder, body.ticket);
}

/// What can be sealed before there is a session: a message of fixed length, in a letter.
template <class Message>
inline constexpr std::size_t letter_room = 0;  ///< bytes
template <>
inline constexpr std::size_t letter_room<HelloBody> = 368;
template <class Message>
using Letter = std::array<std::uint8_t, letter_room<Message> + guard::letter_overhead>;

template <class Coder, std::size_t Size>
void code_bytes(Coder& coder, std::array<std::uint8_t, Size>& bytes) {
    for (std::uint8_t& byte : bytes) {
        coder.bits(byte, 8);
    }
}

struct Hello {
    std::uint16_t version = protocol_version;
    std::uint64_t token = 0;   ///< by which the client knows the answer
    std::uint64_t cookie = 0;  ///< that the server gave to this address; 0: none yet
    std::uint32_t sent = 0;    ///< ms of the client's clock
    bool sealed = false;
    HelloBody body;                      ///< unless it is sealed
    std::array<std::uint8_t, 32> key{};  ///< of the client for this session, if it is
    Letter<HelloBody> letter{};          ///< the body, bound to the cookie; empty without one
};
template <class Coder>
void code(Coder& coder, Hello& hello) {
    coder.bits(hello.version, 16);
    code_word(coder, hello.token);
    code_word(coder, hello.cookie);
    coder.bits(hello.sent, 32);
    std::uint32_t sealed = hello.sealed ? 1 : 0;
    coder.bits(sealed, 1);
    hello.sealed = sealed != 0;
    if (hello.sealed) {
        code_bytes(coder, hello.key);
        code_bytes(coder, hello.letter);
    } else {
        code(coder, hello.body);
    }
}

struct Challenge {
    std::uint64_t token = 0, cookie = 0;
};
template <class Coder>
void code(Coder& coder, Challenge& challenge) {
    code_word(coder, challenge.token);
    code_word(coder, challenge.cookie);
}

struct Welcome {
    std::uint64_t token = 0;
    std::uint64_t key = 0;   ///< of a plain session
    std::uint32_t sent = 0;  ///< as the hello said, which this answers
    std::uint16_t seat = 0;
    std::uint32_t tick = 0;
    std::uint32_t snapshot_every = 1;
    std::uint32_t runners = 0;  ///< that the server has places for
};
template <class Coder>
void code(Coder& coder, Welcome& welcome) {
    code_word(coder, welcome.token);
    code_word(coder, welcome.key);
    coder.bits(welcome.sent, 32);
    coder.bits(welcome.seat, 16);
    coder.bits(welcome.tick, 32);
    coder.bits(welcome.snapshot_every, 8);
    coder.bits(welcome.runners, 16);
}

struct Refused {
    std::uint64_t token = 0;
    Farewell why = Farewell::full;
    std::uint32_t detail = 0;
    Words words{};
};
template <class Coder>
void code(Coder& coder, Refused& refused) {
    code_word(coder, refused.token);
    auto why = static_cast<std::uint32_t>(refused.why);
    coder.bits(why, 4);
    refused.why = static_cast<Farewell>(why);
    coder.bits(refused.detail, 32);
    code(coder, refused.words);
}

template <>
inline constexpr std::size_t letter_room<Welcome> = 40;
template <>
inline constexpr std::size_t letter_room<Refused> = 120;
template <>
inline constexpr std::size_t letter_room<Challenge> = 24;

/// Says all by its kind.
struct Unknown {};
template <class Coder>
void code(Coder&, Unknown&) {}

struct Goodbye {
    Farewell why = Farewell::left;
    Words words{};
};
template <class Coder>
void code(Coder& coder, Goodbye& goodbye) {
    auto why = static_cast<std::uint32_t>(goodbye.why);
    coder.bits(why, 4);
    goodbye.why = static_cast<Farewell>(why);
    code(coder, goodbye.words);
}

/// Intents in one packet at most: as many as may still come in time, newest last.
inline constexpr std::uint32_t most_intents = 48;
/// Of the digest of a runner: two that differ look alike once in 16 million times, and not again a tick later.
inline constexpr unsigned digest_bits = 24;
[[nodiscard]] constexpr std::uint32_t told_digest(std::uint64_t digest) {
    return static_cast<std::uint32_t>(digest & ((1U << digest_bits) - 1U));
}
/// Snapshots before the newest that are acknowledged bit by bit.
inline constexpr unsigned acked_before = 16;

/// Ticks that an intent by which another is told may lie before it.
inline constexpr std::uint32_t most_gap = 128;

/// What goes before the intents of a packet.
struct IntentsHead {
    std::size_t players = 1;   ///< of this client; both ends know
    std::uint16_t newest = 0;  ///< low bits of the newest intent's tick
    std::uint32_t count = 1;   ///< 1 to most_intents
    /// The first intent is told by one that the server has said that it has.
    bool based = false;
    std::uint32_t gap = 1;  ///< ticks from that one to the first, 1 to most_gap
    bool any_snapshot = false;
    std::uint16_t snapshot = 0;  ///< low bits of the newest that came
    std::array<bool, acked_before>
        before{};  ///< whether those before it came: the first is the one just before
    struct Prediction {
        bool predicted = false;
        std::uint32_t digest = 0;  ///< of the player's runner after the newest tick, lowest bits
    };
    std::array<Prediction, most_players> predictions{};
};
template <class Coder>
void code(Coder& coder, IntentsHead& head) {
    coder.bits(head.newest, 16);
    std::uint32_t count_less = head.count - 1, gap_less = head.gap - 1;
    coder.bits(count_less, 6);
    head.count = count_less + 1;
    Model based{0x1000}, seen{0x1000}, predicted, came{0x1800};
    coder.bit(based, head.based);
    if (head.based) {
        coder.bits(gap_less, 7);
        head.gap = gap_less + 1;
    }
    coder.bit(seen, head.any_snapshot);
    if (head.any_snapshot) {
        coder.bits(head.snapshot, 16);
        for (bool& before : head.before) {
            coder.bit(came, before);
        }
    }
    for (std::size_t i = 0; i < head.players; ++i) {
        IntentsHead::Prediction& one = head.predictions[i];
        coder.bit(predicted, one.predicted);
        if (one.predicted) {
            coder.bits(one.digest, digest_bits);
        }
    }
}

/// Bytes of the game's own messages that go into one packet, at most.
inline constexpr std::size_t most_message_bytes = 256;
/// Goodbyes said, since any may be lost.
inline constexpr int goodbyes = 3;

/// Whether there can have been such a packet.
[[nodiscard]] inline bool makes_sense(const IntentsHead& head) {
    return head.count <= most_intents;
}

/// Stamps a message from before there is a session; returns its whole length, which depends on the kind alone.
template <class Message>
std::size_t write_message(std::span<std::byte> packet, Kind kind, Message message, std::uint64_t key) {
    Writer writer(packet.subspan(envelope_bytes));
    code(writer, message);
    const std::size_t least = kind == Kind::hello ? hello_bytes : envelope_bytes + letter_room<Message>;
    std::size_t size = envelope_bytes + writer.finish();
    for (; size < least; ++size) {
        packet[size] = std::byte{0};
    }
    stamp(packet.first(size), kind, key);
    return size;
}
template <class Message>
[[nodiscard]] Message read_body(std::span<const std::byte> body) {
    Message message;
    Reader reader(body);
    code(reader, message);
    return message;
}
template <class Message>
[[nodiscard]] Message read_message(std::span<const std::byte> packet) {
    return read_body<Message>(packet.subspan(envelope_bytes));
}

/// A packet of a session; returns its whole length.
template <class Channel, class Message>
std::size_t write_in(Channel& channel, std::span<std::byte> packet, Kind kind, Message message) {
    Writer writer(packet.subspan(channel.before_body()));
    code(writer, message);
    const std::size_t size = channel.before_body() + writer.finish();
    channel.close(packet.first(size), kind);
    return size;
}

/// The same in a letter, for whoever has the key of that direction.
template <class Message>
[[nodiscard]] Letter<Message> write_letter(Message message, const std::array<std::uint8_t, 32>& key,
                                           std::uint64_t bound) {
    std::array<std::byte, letter_room<Message>> body{};
    Writer writer(body);
    code(writer, message);
    static_cast<void>(writer.finish());
    Letter<Message> letter{};
    guard::close_letter(key, bound, body, std::as_writable_bytes(std::span(letter)));
    return letter;
}
template <class Message>
[[nodiscard]] std::optional<Message> read_letter(std::span<const std::byte> letter,
                                                 const std::array<std::uint8_t, 32>& key,
                                                 std::uint64_t bound) {
    std::array<std::byte, letter_room<Message>> body{};
    if (letter.size() != body.size() + guard::letter_overhead ||
        !guard::open_letter(key, bound, letter, body)) {
        return std::nullopt;
    }
    return read_body<Message>(body);
}

/// A tick rate as both ends compare it: ticks per 1,000 s.
[[nodiscard]] inline std::uint32_t rate_of(double tick_rate) {
    return static_cast<std::uint32_t>(tick_rate * 1000.0 + 0.5);
}

}  // namespace cursimeter::link::wire
