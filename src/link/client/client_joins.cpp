#include <algorithm>
#include <cmath>

#include "link/client/client_work.hpp"

/// How a client gets in, and back in.
namespace cursimeter::link {
namespace {

/// s between two hellos.
constexpr double hello_every = 0.25;
/// s for which it says hello beside its session after it was told to be unknown.
constexpr double ask_for = 2.0;
/// s of the way there and back that are believed.
constexpr double longest_round_trip = 4.0;

}  // namespace

Farewell known(Farewell why) {
    return why == Farewell::none || why > Farewell::turned_away ? Farewell::removed : why;
}

void Client::Work::prepare() {
    token = random_number();
    cookie = 0;
    if (config.server) {
        own_keys = make_key_pair();
        session = guard::client_keys(own_keys, *config.server);
    }
}

std::size_t Client::Work::write_hello() {
    wire::Hello hello;
    hello.token = token;
    hello.cookie = cookie;
    hello.sent = milliseconds();
    hello.body.identity = config.identity;
    hello.body.attempt = config.attempt;
    hello.body.game = config.game;
    hello.body.world = config.world;
    hello.body.ticket.keep(config.ticket);
    hello.body.players = static_cast<std::uint32_t>(players.size());
    hello.body.rate = wire::rate_of(config.tick_rate);
    hello.body.chart_count = static_cast<std::uint32_t>(charts.size());
    for (std::size_t i = 0; i < charts.size(); ++i) {
        hello.body.charts[i] = static_cast<std::uint32_t>(charts[i].digest());
    }
    hello.sealed = config.server.has_value();
    if (hello.sealed && session && cookie != 0) {
        hello.key = own_keys.open.bytes;
        hello.letter = wire::write_letter(hello.body, session->out, cookie);
    }
    return wire::write_message(packet, wire::Kind::hello, hello, 0);
}

template <class Message>
std::optional<Message> Client::Work::opened(std::span<const std::byte> bytes) const {
    auto message = session
                       ? wire::read_letter<Message>(bytes.subspan(wire::envelope_bytes), session->in, token)
                       : std::optional(wire::read_message<Message>(bytes));
    return message && message->token == token ? message : std::nullopt;
}

void Client::Work::take_greeting(wire::Kind kind, std::span<const std::byte> bytes) {
    if (kind == wire::Kind::unknown) {
        take_unknown();
    } else if (!greets()) {
        ++statistics.repeated;  // late, or from nobody
    } else if (kind == wire::Kind::challenge) {
        take_challenge(bytes);
    } else if (kind == wire::Kind::refusal) {
        take_refusal(bytes);
    } else if (const auto welcome = opened<wire::Welcome>(bytes)) {
        take_welcome(*welcome);
    }
}

/// Anybody can say that the server has forgotten this client. So it asks, and goes on meanwhile: only a server that
/// knows it no longer lets it in again.
void Client::Work::take_unknown() {
    if (phase == Phase::joined && clock.now() >= asks_until) {
        asks_until = clock.now() + ask_for;
        prepare();
        hello_due = clock.now();
    }
}

void Client::Work::take_challenge(std::span<const std::byte> bytes) {
    const auto challenge = wire::read_message<wire::Challenge>(bytes);
    if (challenge.token == token && challenge.cookie != cookie) {
        cookie = challenge.cookie;
        hello_due = clock.now();  // at once
    }
}

void Client::Work::take_refusal(std::span<const std::byte> bytes) {
    if (phase == Phase::joined) {
        return;  // the server knows it after all
    }
    if (const auto refused = opened<wire::Refused>(bytes)) {
        words = refused->words;
        finish(known(refused->why), refused->detail, Phase::refused);
    } else if (session) {
        hint = known(wire::read_message<wire::Refused>(bytes).why);
    }
}

void Client::Work::take_welcome(const wire::Welcome& welcome) {
    if (welcome.snapshot_every == 0) {
        return;
    }
    if (welcome.runners > config.runners) {
        finish(Farewell::too_many, welcome.runners, Phase::refused);
        return;
    }
    statistics.rejoins += phase == Phase::joined ? 1 : 0;
    phase = Phase::joined;
    asks_until = -1.0;
    seat = SeatId{welcome.seat};
    session ? channel.start(*session) : channel.start(welcome.key);
    snapshot_every = welcome.snapshot_every;
    heard = clock.now();
    // When the first intent comes there, the server will be further by the way there and back, and by the part of a
    // tick that it had begun; the lead finds its size by itself then.
    const double there_and_back =
        std::min(static_cast<std::uint32_t>(milliseconds() - welcome.sent) / 1000.0, longest_round_trip);
    const double ahead =
        (there_and_back + Lead::at_first(config.spare.value, tick_seconds())) * config.tick_rate;
    for (Prediction& player : players) {
        player.start(Tick{welcome.tick} + static_cast<std::uint32_t>(std::ceil(ahead)) + 1);
    }
    lead.start(now().value + 1, clock.now());
    behind.fill(0);
    messages.start();
    shown_time.start();
    others.start(snapshot_every);
    newest.reset();
    acked.reset();
    to_send = ToSend::nothing;
    sent_at = clock.now();
}

void Client::Work::say_hello() {
    if (clock.now() >= hello_due) {
        hello_due = clock.now() + hello_every;
        hello_waits = true;
    }
}

}  // namespace cursimeter::link
