#include <catch2/catch.hpp>
#include <cursimeter/link/peer_game.hpp>

#include "link/peers/peer_coding.hpp"
#include "link/peers/ring.hpp"
#include "link/wire/exact_runner.hpp"
#include "link/wire/packet.hpp"
#include "support/counting_new.hpp"

/// Games of peers: what does not fit, makes no sense, or is asked wrongly.
using namespace support;
using link::PeerPhase;

TEST_CASE("Packets of this game that make no sense are left out and counted") {
    Ring ring(2, {0.03});
    ring.run(3.0);
    PeerGame& game = *ring.ends[0].game;
    const auto send = [&](link::wire::Kind kind, const auto& fill) {
        std::vector<std::byte> bytes(link::wire::most_packet_bytes);
        const std::span<std::byte> room(bytes);
        link::wire::Writer writer(room.subspan(link::wire::envelope_bytes));
        fill(writer);
        bytes.resize(link::wire::envelope_bytes + writer.finish());
        link::wire::stamp(bytes, kind, link::wire::mix(99, link::protocol_version));
        const std::uint64_t before = game.statistics().malformed;
        game.receive(bytes, ring.ends[0].world);
        return game.statistics().malformed - before;
    };
    const auto intents = [&](std::uint32_t player, std::uint32_t now) {
        return send(link::wire::Kind::peer_intents, [&](link::wire::Writer& writer) {
            link::wire::PeerHead head;
            head.player = player;
            head.now = now;
            link::wire::code(writer, head, 2);
            link::wire::Model more{0x4000};
            bool any = false;
            writer.bit(more, any);
        });
    };
    CHECK(intents(0, game.now().value) == 1);  // itself
    CHECK(intents(2, game.now().value) == 1);  // nobody
    CHECK(intents(1, game.now().value + 100000) == 1);
    CHECK(intents(1, game.now().value + 0x80000000U) == 1);
    CHECK(intents(1, game.now().value) == 0);
    const auto state = [&](std::uint32_t from, std::uint32_t player, std::uint32_t tick) {
        return send(link::wire::Kind::peer_state, [&](link::wire::Writer& writer) {
            link::wire::PeerStateHead head{from, player, tick};
            link::wire::code(writer, head);
            link::wire::write_runner(writer, game.runner(0));
        });
    };
    CHECK(state(1, 0, 61) == 1);  // never compared
    CHECK(state(0, 0, 60) == 1);  // from itself
    CHECK(state(1, 3, 60) == 1);  // of nobody
    CHECK(send(link::wire::Kind::snapshot, [](link::wire::Writer&) {}) == 1);
    CHECK(game.phase() == PeerPhase::playing);
}

TEST_CASE("Who has another version, rate, chart, world or other players is refused by name") {
    PeerGameConfig config;
    config.session = 5;
    config.players = {{0, {}}, {0, {{2.0, 0.0, 0.0}, 0.0}}};
    const auto meet = [&](PeerGameConfig other, std::vector<Chart> charts) {
        other.own = 1;
        PeerGame a({bearer_chart()}, config), b(std::move(charts), other);
        Narrow world;
        for (int i = 0; i < 100; ++i) {
            for (auto* game : {&a, &b}) {
                game->tell_time(Seconds{i / 60.0});
                while (const auto packet = game->next_packet()) {
                    (game == &a ? b : a).receive(packet->bytes, world);
                }
            }
        }
        CHECK(a.phase() == b.phase());
        return std::pair(a.phase(), a.farewell());
    };
    CHECK(meet(config, {bearer_chart()}).first == PeerPhase::playing);
    PeerGameConfig other = config;
    other.tick_rate = 30.0;
    CHECK(meet(other, {bearer_chart()}) == std::pair(PeerPhase::refused, link::Farewell::other_tick_rate));
    other = config;
    other.world = 3;
    CHECK(meet(other, {bearer_chart()}) == std::pair(PeerPhase::refused, link::Farewell::other_game));
    other = config;
    other.players[0].start.yaw = 0.1;
    CHECK(meet(other, {bearer_chart()}) == std::pair(PeerPhase::refused, link::Farewell::other_charts));
    CHECK(meet(config, {load_chart(demo("charts/eel.toml")).chart}) ==
          std::pair(PeerPhase::refused, link::Farewell::other_charts));
    other = config;
    other.session = 6;  // another game: not heard at all
    CHECK(meet(other, {bearer_chart()}).first == PeerPhase::joining);
    for (const auto& [what, change] :
         std::vector<std::pair<std::string, std::function<void(PeerGameConfig&)>>>{
             {"session: is 0", [](PeerGameConfig& c) { c.session = 0; }},
             {"players: 1 is out of range; 2 to 4 players", [](PeerGameConfig& c) { c.players.resize(1); }},
             {"players: 5 is out of range", [](PeerGameConfig& c) { c.players.resize(5); }},
             {"own: 2 is out of range", [](PeerGameConfig& c) { c.own = 2; }},
             {"players.chart: 1 is out of range", [](PeerGameConfig& c) { c.players[1].chart = 1; }},
             {"tick_rate: 300 is out of range; 10 to 240", [](PeerGameConfig& c) { c.tick_rate = 300.0; }},
             {"tick_rate: 5 is out of range; 10 to 240", [](PeerGameConfig& c) { c.tick_rate = 5.0; }},
             {"silence: 0.05 is out of range", [](PeerGameConfig& c) { c.silence = Seconds{0.05}; }},
             {"silence: 0.2 is out of range; 0.5 to 60 s",
              [](PeerGameConfig& c) { c.silence = Seconds{0.2}; }}}) {
        other = config;
        change(other);
        CHECK_THROWS_WITH(PeerGame({bearer_chart()}, other),
                          Catch::StartsWith(what) && !Catch::Contains("\n"));
    }
}

TEST_CASE("Junk and packets that were turned over harm no game of peers") {
    Ring ring(2, {0.03});
    ring.run(3.0);
    rehearsal::Random random(4);
    PeerGame& game = *ring.ends[0].game;
    const std::uint64_t damaged = game.statistics().damaged;
    std::size_t allocated = 0;
    for (int i = 0; i < 3000; ++i) {
        std::vector<std::byte> bytes(random.below(200));
        for (std::byte& byte : bytes) {
            byte = static_cast<std::byte>(random.next());
        }
        if (!bytes.empty() && random.chance(0.5)) {
            bytes[0] = static_cast<std::byte>(0xc9 + random.below(5));
        }
        if (bytes.size() > 8 && random.chance(0.5)) {  // with a checksum that is right
            link::wire::stamp(bytes, static_cast<link::wire::Kind>(0xca + random.below(2)),
                              link::wire::mix(99, link::protocol_version));
        }
        const std::size_t before = allocations();
        game.receive(bytes, ring.ends[0].world);
        allocated += allocations() - before;
        if (i % 50 == 0) {
            ring.run(0.05);
        }
    }
    CHECK(game.statistics().damaged > damaged + 500);
    CHECK(std::isfinite(game.runner(1).position().x));
    CHECK(allocated < 2000);  // some say that ends came apart, and to name the field takes memory
}

TEST_CASE("Nothing is allocated while peers play") {
    Ring ring(2, {0.04});
    ring.run(3.0);
    std::size_t allocated = 0;
    Ring::End& end = ring.ends[0];
    PeerGame& game = *end.game;
    const std::vector<std::vector<std::byte>> inbox = end.inbox;
    for (int i = 0; i < 5; ++i) {
        const Intent intent = end.hands->next(Seconds{1.0 / 60.0});
        const std::size_t before = allocations();
        game.tell_time(Seconds{50.0 + ring.time + 0.02 * i});
        while (game.due()) {
            game.tick(intent, end.world);
        }
        while (game.next_packet()) {
        }
        while (game.next_event()) {
        }
        allocated += allocations() - before;
    }
    CHECK(allocated == 0);
}

TEST_CASE("An index that no player has is refused, whatever is asked for") {
    const Ring ring(2, {0.03});
    const PeerGame& game = *ring.ends[0].game;
    CHECK(game.players() == 2);
    for (const std::size_t player : std::vector<std::size_t>{2, 3, 1000}) {
        CHECK_THROWS_AS(game.is_gone(player), std::out_of_range);
        CHECK_THROWS_AS(game.key(player), std::out_of_range);
        CHECK_THROWS_AS(game.chart(player), std::out_of_range);
        CHECK_THROWS_AS(game.runner(player), std::out_of_range);
        CHECK_THROWS_AS(game.shown(player), std::out_of_range);
        CHECK_THROWS_AS(game.report(player), std::out_of_range);
        CHECK_THROWS_AS(game.place_at(player, Tick{0}), std::out_of_range);
    }
    CHECK(game.place_at(1, Tick{0}) == game.runner(1).position());
    CHECK_FALSE(game.place_at(1, Tick{1}));
}
