#include "link/server/server_work.hpp"

/// How clients come and go.
namespace cursimeter::link {
namespace {

/// s; a cookie is good for one to two of these.
constexpr double cookie_seconds = 10.0;

}  // namespace

std::optional<wire::Refused> Server::Work::refusal(const wire::Hello& hello) const {
    if (hello.version != protocol_version) {
        return wire::Refused{hello.attempt, Farewell::other_version, protocol_version};
    }
    if (hello.rate != wire::rate_of(config.tick_rate)) {
        return wire::Refused{hello.attempt, Farewell::other_tick_rate, wire::rate_of(config.tick_rate)};
    }
    for (std::size_t i = 0; i < charts.size(); ++i) {
        if (i >= hello.chart_count || hello.charts[i] != static_cast<std::uint32_t>(charts[i].digest())) {
            return wire::Refused{hello.attempt, Farewell::other_charts, static_cast<std::uint32_t>(i)};
        }
    }
    if (hello.chart_count != charts.size()) {
        return wire::Refused{hello.attempt, Farewell::other_charts,
                             static_cast<std::uint32_t>(charts.size())};
    }
    return std::nullopt;
}

void Server::Work::hello(PeerId peer, std::span<const std::byte> bytes) {
    if (bytes.size() < wire::hello_bytes) {
        ++statistics.malformed;
        return;
    }
    const auto hello = wire::read_message<wire::Hello>(bytes);
    if (hello.identity == 0 || hello.attempt == 0) {
        ++statistics.malformed;  // nobody: a client that was not told who it is
        return;
    }
    // First whether it can hear us at all: nothing is kept for whoever cannot.
    const auto epoch = static_cast<std::uint32_t>(now.value / (cookie_seconds * config.tick_rate));
    if (hello.cookie != cookie(peer, hello, epoch) && hello.cookie != cookie(peer, hello, epoch - 1)) {
        ++statistics.challenges;
        answer(peer, wire::Kind::challenge, wire::Challenge{hello.attempt, cookie(peer, hello, epoch)});
        return;
    }
    if (const auto refused = refusal(hello)) {
        refuse(peer, *refused);
        return;
    }
    admit(peer, hello);
}

void Server::Work::refuse(PeerId peer, const wire::Refused& why) {
    ++statistics.refused_joins;
    answer(peer, wire::Kind::refusal, why);
}

void Server::Work::admit(PeerId peer, const wire::Hello& hello) {
    Seat* place = nullptr;
    for (Seat& seat : seats) {
        if (seat.used && seat.identity == hello.identity) {
            place = &seat;
            break;
        }
        place = place == nullptr && !seat.used ? &seat : place;
    }
    const bool again = place != nullptr && place->used;
    if (again && hello.attempt <= place->attempt) {
        const bool waits = place->connected && place->peer == peer && !place->newest;
        if (waits && hello.attempt == place->attempt) {
            welcome(*place, hello.sent);  // the last one was lost
        } else {
            // Recorded by somebody, or sent by a client that was started again and does not know what it played.
            refuse(peer, {hello.attempt, Farewell::outdated, 0});
        }
        return;
    }
    if (place == nullptr) {
        refuse(peer, {hello.attempt, Farewell::full, static_cast<std::uint32_t>(seats.size())});
        return;
    }
    if (!has_room_to_tell()) {
        return;
    }
    if (Seat* seat = seat_of(peer); seat != nullptr && seat != place) {
        disconnect(*seat, Farewell::moved, false);
    }
    disconnect(*place, Farewell::moved, true);
    const std::uint64_t key =
        wire::mix(config.secret, wire::mix(hello.identity, hello.attempt, ++sessions), ~0ULL);
    place->connect(peer, hello.identity, hello.attempt, key, now);
    peers.take(seats);
    tell(again ? ServerEventKind::rejoined : ServerEventKind::joined, *place);
    welcome(*place, hello.sent);
}

void Server::Work::welcome(Seat& seat, std::uint32_t sent) {
    const auto index = static_cast<std::uint16_t>(&seat - seats.data());
    answer(seat.peer, wire::Kind::welcome,
           wire::Welcome{seat.attempt, seat.key, sent, index, now.value, config.snapshot_every,
                         static_cast<std::uint32_t>(config.runners)});
}

void Server::Work::disconnect(Seat& seat, Farewell why, bool say) {
    if (!seat.connected) {
        return;
    }
    if (say) {
        answer(seat.peer, wire::Kind::goodbye, wire::Goodbye{why}, seat.key);
    }
    seat.connected = seat.reading.connected = false;
    peers.take(seats);
    seat.heard = now.value;
    tell(ServerEventKind::left, seat, why);
}

void Server::Work::forget(Seat& seat) {
    disconnect(seat, Farewell::removed, true);
    if (seat.own && crowd.exists(*seat.own)) {
        crowd.despawn(seat.own->place);
    }
    seat.own.reset();
    tell(ServerEventKind::forgotten, seat);
    seat.used = false;
}

}  // namespace cursimeter::link
