#include <fmt/format.h>

#include "link/server/server_work.hpp"

/// How clients come and go.
namespace cursimeter::link {
namespace {

/// s; a cookie is good for one to two of these.
constexpr double cookie_seconds = 10.0;

}  // namespace

std::optional<wire::Refused> Server::Work::refusal(const wire::Hello& given) const {
    const wire::HelloBody& hello = given.body;
    if (hello.game != config.game) {
        return wire::Refused{given.token, Farewell::other_game, 0};
    }
    if (hello.world != config.world) {
        return wire::Refused{given.token, Farewell::other_game, 1};
    }
    if (hello.rate != wire::rate_of(config.tick_rate)) {
        return wire::Refused{given.token, Farewell::other_tick_rate, wire::rate_of(config.tick_rate)};
    }
    for (std::size_t i = 0; i < charts.size(); ++i) {
        if (i >= hello.chart_count || hello.charts[i] != static_cast<std::uint32_t>(charts[i].digest())) {
            return wire::Refused{given.token, Farewell::other_charts, static_cast<std::uint32_t>(i)};
        }
    }
    if (hello.chart_count != charts.size()) {
        return wire::Refused{given.token, Farewell::other_charts, static_cast<std::uint32_t>(charts.size())};
    }
    if (hello.players > config.players) {
        wire::Refused refused{given.token, Farewell::turned_away, 0};
        const std::string words =
            fmt::format("{} players at one machine, and this server takes {}", hello.players, config.players);
        refused.words.keep(std::as_bytes(std::span(words)));
        return refused;
    }
    return std::nullopt;
}

void Server::Work::hello(PeerId peer, std::span<const std::byte> bytes) {
    if (bytes.size() < wire::hello_bytes) {
        ++statistics.malformed;
        return;
    }
    const auto hello = wire::read_message<wire::Hello>(bytes);
    if (hello.version != protocol_version) {  // which alone is the same in all of them
        ++statistics.refused_joins;
        note(peer, wire::Kind::refusal,
             wire::Refused{hello.token, Farewell::other_version, protocol_version});
        return;
    }
    // First whether it can hear us at all: nothing is kept for whoever cannot.
    const auto epoch = static_cast<std::uint32_t>(now.value / (cookie_seconds * config.tick_rate));
    if (hello.cookie != cookie(peer, hello, epoch) && hello.cookie != cookie(peer, hello, epoch - 1)) {
        ++statistics.challenges;
        note(peer, wire::Kind::challenge, wire::Challenge{hello.token, cookie(peer, hello, epoch)});
        return;
    }
    if (++proven > most_proven) {
        return;
    }
    if (hello.sealed != config.keys.has_value()) {
        refuse(peer, {hello.token, hello.sealed ? Farewell::unsealed : Farewell::sealed_only, 0},
               std::nullopt);
        return;
    }
    if (!hello.sealed) {
        take_in(peer, hello, std::nullopt);
        return;
    }
    const auto session = guard::server_keys(*config.keys, PublicKey{hello.key});
    const auto body = session ? wire::read_letter<wire::HelloBody>(std::as_bytes(std::span(hello.letter)),
                                                                   session->in, hello.cookie)
                              : std::nullopt;
    if (!body) {
        refuse(peer, {hello.token, Farewell::other_key, 0}, std::nullopt);
        return;
    }
    wire::Hello opened = hello;
    opened.body = *body;
    take_in(peer, opened, session);
}

void Server::Work::take_in(PeerId peer, const wire::Hello& hello,
                           const std::optional<guard::SessionKeys>& session) {
    if (hello.body.identity == 0 || hello.body.attempt == 0) {
        ++statistics.malformed;  // nobody: a client that was not told who it is
    } else if (const auto refused = refusal(hello)) {
        refuse(peer, *refused, session);
    } else {
        admit(peer, hello, session);
    }
}

void Server::Work::refuse(PeerId peer, const wire::Refused& why,
                          const std::optional<guard::SessionKeys>& session) {
    ++statistics.refused_joins;
    answer(peer, wire::Kind::refusal, why, session);
}

void Server::Work::admit(PeerId peer, const wire::Hello& hello,
                         const std::optional<guard::SessionKeys>& session) {
    const wire::HelloBody& who = hello.body;
    Seat* place = nullptr;
    for (Seat& seat : seats) {
        if (seat.used && seat.identity == who.identity) {
            place = &seat;
            break;
        }
        place = place == nullptr && !seat.used ? &seat : place;
    }
    const bool again = place != nullptr && place->used;
    if (again && who.attempt <= place->attempt) {
        const bool waits = place->connected && place->peer == peer && !place->newest;
        if (waits && who.attempt == place->attempt) {
            welcome(*place, hello, session);  // the last one was lost
        } else {
            // Recorded by somebody, or sent by a client that was started again and does not know what it played.
            refuse(peer, {hello.token, Farewell::outdated, 0}, session);
        }
        return;
    }
    if (place == nullptr) {
        refuse(peer, {hello.token, Farewell::full, static_cast<std::uint32_t>(seats.size())}, session);
        return;
    }
    if (!has_room_to_tell() || !may_join(peer, hello, *place, session)) {
        return;
    }
    if (Seat* seat = seat_of(peer); seat != nullptr && seat != place) {
        disconnect(*seat, Farewell::moved, false);
    }
    disconnect(*place, Farewell::moved, true);
    place->connect(peer, who, now);
    const std::array<std::uint64_t, 4> words{who.identity, who.attempt, ++sessions, ~std::uint64_t{0}};
    place->key = guard::keyed_hash(config.secret, words);
    session ? place->channel.start(*session) : place->channel.start(place->key);
    peers.take(seats);
    tell(again ? ServerEventKind::rejoined : ServerEventKind::joined, *place);
    welcome(*place, hello, session);
}

bool Server::Work::may_join(PeerId peer, const wire::Hello& hello, const Seat& place,
                            const std::optional<guard::SessionKeys>& session) {
    if (admission == nullptr) {
        return true;
    }
    Applicant applicant{peer, hello.body.identity, hello.body.ticket.kept(), {}, hello.body.players};
    if (place.used) {
        applicant.seat = SeatId{static_cast<std::uint16_t>(&place - seats.data())};
    }
    std::string_view words;
    const Admission::Verdict verdict = admission->look_at(applicant, words);
    if (verdict == Admission::Verdict::turn_away) {
        wire::Refused refused{hello.token, Farewell::turned_away, 0};
        refused.words.keep(std::as_bytes(std::span(words.data(), words.size())));
        refuse(peer, refused, session);
    }
    return verdict == Admission::Verdict::let_in;
}

void Server::Work::welcome(Seat& seat, const wire::Hello& hello,
                           const std::optional<guard::SessionKeys>& session) {
    const auto index = static_cast<std::uint16_t>(&seat - seats.data());
    answer(seat.peer, wire::Kind::welcome,
           wire::Welcome{hello.token, session ? 0 : seat.key, hello.sent, index, now.value,
                         config.snapshot_every, static_cast<std::uint32_t>(config.runners)},
           session);
}

void Server::Work::disconnect(Seat& seat, Farewell why, bool say, std::string_view words) {
    if (!seat.connected) {
        return;
    }
    if (const std::span<std::byte> packet = say ? outbox.packets.room(seat.peer) : std::span<std::byte>();
        !packet.empty()) {
        wire::Goodbye goodbye;
        goodbye.why = why;
        goodbye.words.keep(std::as_bytes(std::span(words.data(), words.size())));
        outbox.packets.send(wire::write_in(seat.channel, packet, wire::Kind::goodbye, goodbye));
    }
    seat.connected = seat.reading.connected = false;
    peers.take(seats);
    seat.heard = now.value;
    tell(ServerEventKind::left, seat, why);
}

void Server::Work::forget(Seat& seat) {
    disconnect(seat, Farewell::removed, true);
    for (SeatPlayer& player : seat.players) {
        if (player.runner && crowd.exists(*player.runner)) {
            crowd.despawn(player.runner->place);
        }
        player.runner.reset();
    }
    tell(ServerEventKind::forgotten, seat);
    seat.used = false;
}

}  // namespace cursimeter::link
