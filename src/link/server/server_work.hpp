#pragma once

#include <algorithm>
#include <cursimeter/link/server.hpp>
#include <optional>
#include <stdexcept>
#include <vector>

#include "link/clock.hpp"
#include "link/server/peer_table.hpp"
#include "link/server/seat.hpp"
#include "link/server/snapshot_writer.hpp"

namespace cursimeter::link {

/// Answers to joins in one tick; further hellos in it go unanswered.
inline constexpr std::size_t most_answers = 64;

/// All that a server holds: its seats, its runners, what is to be sent and told.
struct Server::Work {
    Work(std::vector<Chart> given, const ServerConfig& c)
        : charts(std::move(given)),
          config(c),
          crowd(charts, c),
          writer(c),
          seats(c.seats),
          peers(c.seats, c.secret),
          outgoing(c.seats + most_answers) {
        for (Seat& seat : seats) {
            seat.reserve(config.runners, config.snapshot_every);
        }
        for (Outgoing& packet : outgoing) {
            packet.bytes.resize(packet_bytes);
        }
        events.reserve(4 * c.seats + 16);
        silence_ticks = static_cast<std::uint32_t>(config.silence.value * config.tick_rate);
        keep_ticks = static_cast<std::uint32_t>(config.keep.value * config.tick_rate);
    }

    struct Outgoing {
        PeerId peer;
        std::size_t size = 0;
        std::vector<std::byte> bytes;
    };

    std::vector<Chart> charts;
    ServerConfig config;
    Crowd crowd;
    SnapshotWriter writer;
    std::vector<Seat> seats;
    PeerTable peers;                 ///< of those seats that are connected
    std::vector<Outgoing> outgoing;  ///< the first `outgoing_count` are to be sent, from `outgoing_next` on
    std::size_t outgoing_count = 0, outgoing_next = 0;
    std::vector<ServerEvent> events;
    std::size_t events_next = 0;
    Statistics statistics;
    Clock clock;
    double due_at = 0.0;  ///< on `clock`
    Tick now;
    std::uint64_t sessions = 0;
    std::uint32_t silence_ticks = 0, keep_ticks = 0;
    std::uint32_t answers = 0;  ///< in this tick

    [[nodiscard]] double tick_seconds() const { return 1.0 / config.tick_rate; }
    /// Ticks from now until the next one is played, 0 to 1. A game that does not tell the time hands packets over just before.
    [[nodiscard]] double to_next_tick() const {
        return clock.told() ? std::clamp((due_at - clock.now()) * config.tick_rate, 0.0, 1.0) : 0.0;
    }

    /// Room for a packet, unless too many wait already.
    std::span<std::byte> room(PeerId peer) {
        if (outgoing_next == outgoing_count) {
            outgoing_next = outgoing_count = 0;
        }
        if (outgoing_count == outgoing.size()) {
            return {};
        }
        Outgoing& packet = outgoing[outgoing_count];
        packet.peer = peer;
        return packet.bytes;
    }
    void send(std::size_t size) { outgoing[outgoing_count++].size = size; }
    template <class Message>
    void answer(PeerId peer, wire::Kind kind, const Message& message, std::uint64_t key = 0) {
        if (answers >= most_answers) {
            return;
        }
        if (const std::span<std::byte> packet = room(peer); !packet.empty()) {
            ++answers;
            send(wire::write_message(packet, kind, message, key));
        }
    }

    void tell(ServerEventKind kind, const Seat& seat, Farewell why = Farewell::none) {
        if (events_next == events.size()) {
            events.clear();
            events_next = 0;
        }
        const auto index = static_cast<std::uint16_t>(&seat - seats.data());
        if (events.size() < events.capacity()) {
            events.push_back({kind, SeatId{index}, seat.identity, why});
        }
    }
    /// New connections wait while the game has not asked what happened to older ones.
    [[nodiscard]] bool has_room_to_tell() const {
        return events.size() + 2 * seats.size() <= events.capacity() || events_next == events.size();
    }

    Seat* seat_of(PeerId peer) {
        const auto seat = peers.find(peer);
        return seat ? &seats[*seat] : nullptr;
    }
    Seat& seat(SeatId id) {
        if (id.index >= seats.size() || !seats[id.index].used) {
            throw std::out_of_range("there is nobody on this seat");
        }
        return seats[id.index];
    }

    void hello(PeerId peer, std::span<const std::byte> bytes);
    void refuse(PeerId peer, const wire::Refused& why);
    void admit(PeerId peer, const wire::Hello& hello);
    void welcome(Seat& seat, std::uint32_t sent);
    void disconnect(Seat& seat, Farewell why, bool say);
    void forget(Seat& seat);
    [[nodiscard]] std::uint64_t cookie(PeerId peer, const wire::Hello& hello, std::uint32_t epoch) const {
        return wire::mix(config.secret, wire::mix(peer.value, hello.identity, hello.attempt), epoch + 1ULL);
    }
    [[nodiscard]] std::optional<wire::Refused> refusal(const wire::Hello& hello) const;
    [[nodiscard]] std::uint32_t actions_of(const Seat& seat) const {
        if (!seat.own || !crowd.exists(*seat.own)) {
            return ~std::uint32_t{0};
        }
        return actions_below(charts[crowd.actors()[seat.own->place].chart].action_count());
    }
    void step(std::size_t place, Stepper& stepper);
};

}  // namespace cursimeter::link
