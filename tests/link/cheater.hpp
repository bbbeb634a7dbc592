#pragma once

#include <catch2/catch.hpp>

#include "link/scene.hpp"
#include "link/wire/message_stream.hpp"
#include "link/wire/messages.hpp"

/// A client with a seat whose key is known, and what it could send.
namespace support {

using link::wire::Kind;

inline Bytes stamped(Kind kind, std::uint64_t key, const Bytes& body) {
    Bytes packet(link::wire::envelope_bytes);
    packet.insert(packet.end(), body.begin(), body.end());
    link::wire::stamp(packet, kind, key);
    return packet;
}

/// What a cheating client with a seat of its own could send.
struct Cheat {
    link::wire::IntentsHead head;
    std::vector<link::StatedIntent> intents;
    std::uint32_t behind = 0;  ///< in 1/16 ticks

    [[nodiscard]] Bytes packet(std::uint64_t key) const {
        Bytes body(1100);
        link::wire::Writer writer(body);
        link::wire::IntentsHead said = head;
        link::wire::code(writer, said);
        link::wire::MessageStream::Piece piece;
        link::wire::code(writer, piece);
        link::wire::PlayersModels models(1);
        link::StatedIntent before;
        std::uint32_t behind_before = 0;
        for (link::StatedIntent intent : intents) {
            std::uint32_t told = behind;
            link::wire::code_intents(writer, models, {&intent, 1}, {&before, 1}, 1, told, behind_before);
            before = intent;
            behind_before = told;
        }
        body.resize(writer.finish());
        return stamped(Kind::intents, key, body);
    }
};

/// A server with one seat taken by hand, so that its key is known.
struct Cheater {
    explicit Cheater(std::uint32_t with = 1) : players(with), table(config_for(with)) {
        send(Kind::hello, hello());
        const auto challenge = link::wire::read_message<link::wire::Challenge>(answer());
        cookie = challenge.cookie;
        send(Kind::hello, hello());
        const auto welcome = link::wire::read_message<link::wire::Welcome>(answer());
        key = welcome.key;
        seat = link::SeatId{welcome.seat};
        while (table.server.next_event()) {
        }
        for (std::size_t i = 0; i < players; ++i) {
            runner = *table.server.spawn(0, {}, seat, i);
        }
    }
    static link::ServerConfig config_for(std::size_t players) {
        link::ServerConfig config = Table::usual_config();
        config.players = players;
        return config;
    }
    [[nodiscard]] link::wire::Hello hello() const {
        link::wire::Hello hello;
        hello.body.identity = 66;
        hello.body.attempt = 1;
        hello.cookie = cookie;
        hello.body.rate = 60000;
        hello.body.players = players;
        hello.body.chart_count = 1;
        hello.body.charts[0] = static_cast<std::uint32_t>(bearer_chart().digest());
        return hello;
    }
    void send(Kind kind, const link::wire::Hello& hello) {
        std::array<std::byte, link::wire::most_packet_bytes> packet{};
        const std::size_t size = link::wire::write_message(packet, kind, hello, 0);
        table.server.receive(peer, std::span(packet).first(size));
    }
    Bytes answer() {
        const auto packet = table.server.next_packet();
        REQUIRE(packet);
        return {packet->bytes.begin(), packet->bytes.end()};
    }
    void tick() {
        table.server.tick(table.ground);
        while (table.server.next_packet()) {
        }
    }

    std::uint32_t players;
    Table table;
    link::PeerId peer{50};
    std::uint64_t key = 0, cookie = 0;
    link::SeatId seat;
    link::RunnerKey runner;
};

inline link::StatedIntent going_ahead(std::uint16_t held = 0) {
    link::StatedIntent intent;
    intent.forward = 127;
    intent.held = held;
    return intent;
}

}  // namespace support
