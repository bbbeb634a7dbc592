#pragma once

#include <array>
#include <cmath>
#include <cursimeter/link/protocol.hpp>

#include "link/wire/replica_coding.hpp"
#include "link/wire/whole.hpp"

/// The parts of a snapshot. docs/netcode.md shows them in a row.
namespace cursimeter::link::wire {

/// Snapshots for which both ends keep replicas. A baseline is younger.
inline constexpr std::uint32_t replicas_kept = 64;
/// Events of one runner in one snapshot; more follow in the next.
inline constexpr std::uint32_t most_events_told = 24;
/// Bytes that the entry of one runner takes at most, with some to spare.
constexpr std::size_t most_entry_bytes(std::size_t events) {
    return 220 + 9 * events;
}

/// Steps that a replica, or what goes before and after it, takes at most, with some to spare.
inline constexpr std::size_t most_replica_steps = 2048;

/// Bytes that the head takes at most, whole runners apart.
inline constexpr std::size_t most_head_bytes = 64;

/// Of a tick, in which the time is told that intents had to wait.
inline constexpr double spare_steps = 16.0;

/// What a snapshot says of the runner of one of the client's players.
struct OwnHead {
    bool owned = false;  ///< it has one
    std::uint16_t place = 0, life = 0;
    bool exact = false;  ///< the runner's whole state follows, of the snapshot's tick
    std::uint32_t chart = 0;
    std::uint32_t agreed =
        0;  ///< otherwise: how many ticks ago prediction and truth were found equal; 0: never
};

struct SnapshotHead {
    std::uint16_t snapshot =
        0;  ///< low bits of its number: the tick divided by the ticks from one to the next
    bool any_intent = false;
    std::uint16_t newest = 0;  ///< low bits of the newest intent's tick that came
    bool heard = false;        ///< packets came since the last snapshot, of use or not
    std::int32_t beyond = 0;   ///< ticks from `newest` to the newest intent of those
    std::int32_t spare = 0;    ///< in 1/spare_steps: what intents had to wait at the worst moment since then
    std::size_t players = 1;   ///< of this client; both ends know
    std::array<OwnHead, most_players> own{};
    std::uint32_t base = 0;  ///< how many snapshots ago the usual baseline was; 0: none
};
struct HeadModels {
    Model any{0x1000}, heard{0x1000}, owned{0x1000}, exact{0xe000};
    NumberModel beyond, spare, agreed, base;
};
template <class Coder>
void code(Coder& coder, HeadModels& models, SnapshotHead& head) {
    coder.bits(head.snapshot, 16);
    coder.bit(models.any, head.any_intent);
    if (head.any_intent) {
        coder.bits(head.newest, 16);
    }
    coder.bit(models.heard, head.heard);
    if (head.heard) {
        number(coder, models.beyond, head.beyond);
        number(coder, models.spare, head.spare);
    }
    for (std::size_t i = 0; i < head.players; ++i) {
        OwnHead& own = head.own[i];
        coder.bit(models.owned, own.owned);
        if (!own.owned) {
            continue;
        }
        coder.bits(own.place, 10);
        coder.bits(own.life, 16);
        coder.bit(models.exact, own.exact);
        if (own.exact) {
            coder.bits(own.chart, 4);
        } else {
            count(coder, models.agreed, own.agreed);
        }
    }
    count(coder, models.base, head.base);
}

/// What an entry says of a runner.
enum class EntryKind : std::uint8_t { by_usual_base, by_other_base, whole, gone };

struct Entry {
    std::uint16_t place = 0;
    EntryKind kind = EntryKind::by_usual_base;
    std::uint32_t base = 0;        ///< of by_other_base: how many snapshots ago
    std::uint16_t life = 0;        ///< of whole
    std::uint32_t chart = 0;       ///< of whole
    std::uint16_t next_event = 0;  ///< of whole: low bits of the number of the first event it will be told
};
struct EntryModels {
    Model more{0x0800}, usual{0xf800}, whole, gone{0xa000}, eventful{0xc800}, several{0xc000},
        all_events{0x2000}, entered{0xc800}, elsewhere{0xd800}, rising;
    NumberModel skipped{0xf000}, base, ago{0x2800, 0x6000, 0xe800, 0xe800}, off{0x3800, 0xc000, 0xf000},
        value;
    NumberModel kind{0x1000, 0x1000, 0x2000, 0xe000};
    Model told{0x1000};
    NumberModel age{0xd800, 0xd800, 0xe800};
    ReplicaModels replica;
};
/// As a packet begins. Copy it: where a compiler sees the values, it sets each of the 2,300 instead.
extern const EntryModels fresh_entry_models;
/// `from` is the first place that the entry can be about.
template <class Coder>
void code(Coder& coder, EntryModels& models, Entry& entry, std::uint16_t from) {
    std::uint32_t skipped = static_cast<std::uint32_t>(entry.place) - from;
    count(coder, models.skipped, skipped);
    entry.place = static_cast<std::uint16_t>(from + (skipped & 0x3ffU));
    bool other = entry.kind != EntryKind::by_usual_base;
    coder.bit(models.usual, other);
    if (!other) {
        entry.kind = EntryKind::by_usual_base;
        return;
    }
    bool without_base = entry.kind != EntryKind::by_other_base;
    coder.bit(models.whole, without_base);
    if (!without_base) {
        entry.kind = EntryKind::by_other_base;
        count(coder, models.base, entry.base);
        return;
    }
    bool gone = entry.kind == EntryKind::gone;
    coder.bit(models.gone, gone);
    entry.kind = gone ? EntryKind::gone : EntryKind::whole;
    if (!gone) {
        coder.bits(entry.life, 16);
        coder.bits(entry.chart, 4);
        coder.bits(entry.next_event, 16);
    }
}

/// An event on its way.
struct ToldEvent {
    FineTime time = 0;
    EventKind kind = EventKind::entered;
    std::uint8_t subject = 0, which = 0;
    bool rising = false;
    std::int32_t value = 0;  ///< in 1/10
};
/// Whether the kind's value is worth telling.
[[nodiscard]] inline bool tells_value(EventKind kind) {
    return kind != EventKind::left && kind != EventKind::entered;
}

/// What both ends know of when a state was entered: by the entry's replica.
struct Entered {
    std::uint8_t state = 0;
    FineTime at = 0;  ///< as well as the replica's age tells it
};
/// Of a replica at FineTime `at`.
[[nodiscard]] inline Entered entered_by(const Replica& replica, FineTime at, double tick_seconds) {
    const double ago = replica.age * replica_age / tick_seconds * fine_per_tick;
    return {replica.state, at - static_cast<FineTime>(whole(ago, 0, 1e6))};
}

/// `now` is the snapshot's time; events lie before it. Most tell that the replica's state was entered.
template <class Coder>
void code(Coder& coder, EntryModels& models, ToldEvent& event, FineTime now, const Entered& known) {
    bool other = event.kind != EventKind::entered;
    coder.bit(models.entered, other);
    if (other) {
        auto kind = static_cast<std::uint32_t>(event.kind);
        count(coder, models.kind, kind);
        event.kind = static_cast<EventKind>(kind <= 63 ? kind : 63);
    } else {
        event.kind = EventKind::entered;
    }
    // Not where it was left since, or entered again: the time would be a long way off.
    constexpr std::int32_t near = 4 * fine_per_tick;
    auto off = static_cast<std::int32_t>(event.time - known.at);
    bool elsewhere =
        event.kind != EventKind::entered || event.subject != known.state || off < -near || off > near;
    if (event.kind == EventKind::entered) {
        coder.bit(models.elsewhere, elsewhere);
    }
    if (elsewhere) {
        std::uint32_t ago = now - event.time;
        std::uint32_t ticks_ago = ago / fine_per_tick, part = ago % fine_per_tick;
        count(coder, models.ago, ticks_ago);
        coder.bits(part, 4);
        event.time = now - (ticks_ago * fine_per_tick + part);
        coder.bits(event.subject, 6);
    } else {
        number(coder, models.off, off);
        event.time = known.at + static_cast<FineTime>(off);
        event.subject = known.state;
    }
    if (event.kind == EventKind::crossed) {
        coder.bits(event.which, 4);
        coder.bit(models.rising, event.rising);
    }
    if (tells_value(event.kind)) {
        number(coder, models.value, event.value);
    }
}

}  // namespace cursimeter::link::wire
