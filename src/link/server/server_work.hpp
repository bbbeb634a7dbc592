#pragma once

#include <algorithm>
#include <cursimeter/link/server.hpp>
#include <deque>
#include <optional>
#include <stdexcept>
#include <vector>

#include "link/clock.hpp"
#include "link/server/outbox.hpp"
#include "link/server/peer_table.hpp"
#include "link/server/seat.hpp"
#include "link/server/snapshot_writer.hpp"

namespace cursimeter::link {

/// Hellos in one tick, from addresses that have shown to be right, that are looked into; each may cost a key
/// exchange.
inline constexpr std::size_t most_proven = 64;

/// All that a server holds: its seats, its runners, what is to be sent and told.
struct Server::Work {
    Work(std::vector<Chart> given, const ServerConfig& c)
        : charts(std::move(given)),
          config(c),
          crowd(charts, c),
          seats(c.seats),
          peers(c.seats, c.secret),
          outbox(c.seats + most_proven) {
        for (Seat& seat : seats) {
            seat.reserve(config);
        }
        make_writers(1);
        events.reserve(4 * c.seats + 16);
        writings.reserve(c.seats);
        silence_ticks = static_cast<std::uint32_t>(config.silence.value * config.tick_rate);
        keep_ticks = static_cast<std::uint32_t>(config.keep.value * config.tick_rate);
    }

    std::vector<Chart> charts;
    ServerConfig config;
    Crowd crowd;
    std::deque<SnapshotWriter> writers;  ///< one for each piece of work; none can be moved
    struct Writing {
        std::size_t seat, packet;  ///< index, place in the outbox
    };
    std::vector<Writing> writings;  ///< of the snapshot at hand
    Workers* workers = nullptr;
    std::vector<Seat> seats;
    PeerTable peers;  ///< of those seats that are connected
    Outbox outbox;
    std::vector<ServerEvent> events;
    std::size_t events_next = 0;
    std::size_t message_seat = 0;  ///< where the next message is looked for
    Statistics statistics;
    Admission* admission = nullptr;
    Interest* interest = nullptr;
    MatchRecorder* recorder = nullptr;
    Clock clock;
    double due_at = 0.0;  ///< on `clock`
    Tick now;
    std::uint64_t sessions = 0;
    std::uint32_t silence_ticks = 0, keep_ticks = 0;
    std::uint32_t proven = 0;  ///< hellos in this tick of which the address was right

    [[nodiscard]] double tick_seconds() const { return 1.0 / config.tick_rate; }
    /// Ticks from now until the next one is played, 0 to 1. A game that does not tell the time hands packets over
    /// just before.
    [[nodiscard]] double to_next_tick() const {
        return clock.told() ? std::clamp((due_at - clock.now()) * config.tick_rate, 0.0, 1.0) : 0.0;
    }

    /// Says something that any address may ask for.
    template <class Message>
    void note(PeerId peer, wire::Kind kind, const Message& message) {
        if (const std::span<std::byte> packet = outbox.notes.room(peer); !packet.empty()) {
            outbox.notes.send(wire::write_message(packet, kind, message, 0));
        }
    }
    /// Answers whoever has shown to be where it says; sealed if there are keys.
    template <class Message>
    void answer(PeerId peer, wire::Kind kind, const Message& message,
                const std::optional<guard::SessionKeys>& session) {
        const std::span<std::byte> packet = outbox.packets.room(peer);
        if (packet.empty()) {
            return;
        }
        if (!session) {
            outbox.packets.send(wire::write_message(packet, kind, message, 0));
            return;
        }
        const auto letter = wire::write_letter(message, session->out, message.token);
        const auto bytes = std::as_bytes(std::span(letter));
        std::copy(bytes.begin(), bytes.end(), packet.begin() + wire::envelope_bytes);
        const std::size_t size = wire::envelope_bytes + bytes.size();
        wire::stamp(packet.first(size), kind, 0);
        outbox.packets.send(size);
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

    /// Throws std::out_of_range if this client has no such player.
    SeatPlayer& player(SeatId id, std::size_t index) {
        Seat& there = seat(id);
        if (index >= there.player_count) {
            throw std::out_of_range("there is no such player on this seat");
        }
        return there.players[index];
    }

    void hello(PeerId peer, std::span<const std::byte> bytes);
    void take_in(PeerId peer, const wire::Hello& hello, const std::optional<guard::SessionKeys>& session);
    void refuse(PeerId peer, const wire::Refused& why, const std::optional<guard::SessionKeys>& session);
    void admit(PeerId peer, const wire::Hello& hello, const std::optional<guard::SessionKeys>& session);
    /// Whether a client that acknowledges nothing is to be sent this snapshot.
    [[nodiscard]] bool hears(const Seat& seat, SnapshotNumber number) const;
    void welcome(Seat& seat, const wire::Hello& hello, const std::optional<guard::SessionKeys>& session);
    void disconnect(Seat& seat, Farewell why, bool say, std::string_view words = {});
    void forget(Seat& seat);
    [[nodiscard]] std::uint64_t cookie(PeerId peer, const wire::Hello& hello, std::uint32_t epoch) const {
        const std::array<std::uint64_t, 3> words{peer.value, hello.token, epoch};
        return guard::keyed_hash(config.secret, words) | 1U;  // 0 is none
    }
    [[nodiscard]] std::optional<wire::Refused> refusal(const wire::Hello& hello) const;
    /// Asks the game. Whoever is turned away is told so here.
    [[nodiscard]] bool may_join(PeerId peer, const wire::Hello& hello, const Seat& place,
                                const std::optional<guard::SessionKeys>& session);
    [[nodiscard]] ActionsOfPlayers actions_of(const Seat& seat) const {
        ActionsOfPlayers actions{};
        for (std::size_t i = 0; i < seat.players.size(); ++i) {
            const auto& runner = seat.players[i].runner;
            actions[i] = runner && crowd.exists(*runner)
                             ? actions_below(charts[crowd.actors()[runner->place].chart].action_count())
                             : ~std::uint32_t{0};
        }
        return actions;
    }
    void advance_at(std::size_t place, Advancer& advancer);
    void make_writers(std::size_t count) {
        writers.clear();
        for (std::size_t i = 0; i < count; ++i) {  // each for itself: a copy would leave its room behind
            writers.emplace_back(config).set_interest(interest);
        }
    }
    void send_snapshots();
    /// Those of every writers.size()-th client, by the writer with this index.
    void write_part(std::size_t writer, SnapshotNumber number);
};

}  // namespace cursimeter::link
