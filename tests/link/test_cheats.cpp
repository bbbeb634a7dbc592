#include <catch2/catch.hpp>

#include "link/cheater.hpp"

/// Clients that have a seat and do not play by the rules.
using namespace support;

TEST_CASE("A client that claims to have seen the past is believed no further than its news go") {
    Cheater cheater;
    Cheat cheat;
    const auto target = cheater.table.server.spawn(0, {{0.0, 20.0, 0.0}, 0.0});
    cheat.head.any_snapshot = true;
    cheat.intents = {going_ahead()};
    // It has each snapshot at once, and plays three ticks ahead: those before the newest are 6 to 8 ticks old.
    const auto seen_at = [&](std::uint32_t behind) {
        const std::uint32_t now = cheater.table.server.now().value, every = 3;
        cheat.head.newest = static_cast<std::uint16_t>(now + 3);
        cheat.head.snapshot = static_cast<std::uint16_t>(now / every);
        cheat.behind = behind;
        cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
        for (int i = 0; i < 3; ++i) {
            cheater.tick();
        }
        const link::Tick played = cheater.table.server.now();
        const auto seen = cheater.table.server.seen_by(cheater.seat, *target, played);
        REQUIRE(seen);
        return played.value - seen->at;
    };
    for (int i = 0; i < 10; ++i) {
        cheater.tick();
    }
    static_cast<void>(seen_at(0));
    for (int i = 0; i < 100; ++i) {
        CHECK(seen_at(8 * 16) == 8.0);  // what an honest one would say
    }
    for (int i = 0; i < 20; ++i) {
        // Three ticks ahead, the snapshot before the newest at most 4 old, and 3: not 512, nor the 60 of the history.
        CHECK(seen_at(8191) <= 10.0);
        CHECK(seen_at(16 * 59) <= 10.0);
    }
    // Nor after it has said that it plays a second ahead.
    Cheat far = cheat;
    far.head.newest = static_cast<std::uint16_t>(cheater.table.server.now().value + 60);
    far.head.snapshot = static_cast<std::uint16_t>(cheater.table.server.now().value / 3);
    far.behind = 8191;
    cheater.table.server.receive(cheater.peer, far.packet(cheater.key));
    for (int i = 0; i < 12; ++i) {
        CHECK(seen_at(16 * 59) <= 10.0);
    }
    // Silence is seen by the server as well: after it as much is believed as it took.
    for (int i = 0; i < 24; ++i) {
        cheater.tick();
    }
    CHECK(seen_at(8191) >= 30.0);
    CHECK(seen_at(8191) <= 45.0);
}

TEST_CASE("Nonsense under the right key, of one to four players, steers nothing but their own runners") {
    for (const std::uint32_t players : {1U, 2U, 4U}) {
        CAPTURE(players);
        Cheater cheater(players);
        link::Server& server = cheater.table.server;
        const auto bystander = server.spawn(0, {{0.0, 500.0, 0.0}, 0.0});
        rehearsal::Random random(players);
        for (int tick = 0; tick < 600; ++tick) {
            for (int k = 0; k < 20; ++k) {
                Bytes body(1 + random.below(random.chance(0.5) ? 40 : 1100));
                for (std::byte& byte : body) {
                    byte = static_cast<std::byte>(random.next());
                }
                const auto newest = static_cast<std::uint16_t>(server.now().value + random.below(12));
                body[0] = static_cast<std::byte>(newest >> 8U);  // a tick that is let in
                if (body.size() > 1) {
                    body[1] = static_cast<std::byte>(newest);
                }
                server.receive(cheater.peer, stamped(Kind::intents, cheater.key, body));
            }
            cheater.tick();
        }
        const link::SeatReading seat = server.read_seat(cheater.seat);
        CHECK(seat.players == players);
        CHECK(seat.intents > 300);
        bool moved = false;
        for (std::size_t i = 0; i < players; ++i) {
            const glm::dvec3 place = server.runner(*seat.runners[i]).position();
            CHECK(std::isfinite(place.x + place.y + place.z));
            moved = moved || place.x != 0.0 || place.y != 0.0;
        }
        CHECK(moved);
        CHECK(server.runner(*bystander).position() == glm::dvec3(0.0, 500.0, 0.0));
    }
}

TEST_CASE("However many intents a client sends, one is played in a tick, and each only once") {
    Cheater cheater;
    Cheat cheat;
    for (std::uint32_t tick = 1; tick <= 60; ++tick) {
        // Ten packets a tick, each with other wishes for the same and the next ticks.
        for (int k = 0; k < 10; ++k) {
            cheat.head.newest = static_cast<std::uint16_t>(tick + static_cast<std::uint32_t>(k));
            cheat.head.count = 1;
            cheat.intents = {going_ahead(static_cast<std::uint16_t>(k))};
            cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
        }
        cheater.tick();
    }
    // One second at walking speed: 2.4 m, less the 0.24 m that speeding up costs; sprinting would be 6.5 m at most.
    const Runner& runner = cheater.table.server.runner(cheater.runner);
    CHECK(runner.position().x <= 6.5);
    CHECK(runner.clock().value == Approx(1.0).margin(1e-9));
    CHECK(cheater.table.server.read_seat(cheater.seat).intents == 60);
}

TEST_CASE(
    "Ticks far off, false acknowledgements, absent bases and senseless counts are left out and counted") {
    Cheater cheater;
    cheater.tick();
    const auto& statistics = cheater.table.server.statistics();
    Cheat cheat;
    cheat.intents = {going_ahead()};
    cheat.head.newest = 5000;
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.far_off == 1);
    cheat.head.newest = static_cast<std::uint16_t>(-500);
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.far_off == 2);
    cheat.head.newest = 4;
    cheat.head.based = true;
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.baseless == 1);
    cheat.head.based = false;
    cheat.head.any_snapshot = true;
    cheat.head.snapshot = 700;
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.false_acks == 1);
    cheat.head.count = 60;
    cheat.head.newest = 9;
    cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    CHECK(statistics.malformed == 1);
    cheater.table.server.receive(cheater.peer, stamped(Kind::welcome, cheater.key, Bytes(10)));
    CHECK(statistics.malformed == 2);
    for (int i = 0; i < 5; ++i) {
        cheater.tick();
    }
    CHECK(cheater.table.server.read_seat(cheater.seat).connected);
}

TEST_CASE("An acknowledgement that comes long after its time is late, not false") {
    Cheater cheater;
    const auto& statistics = cheater.table.server.statistics();
    Cheat cheat;
    cheat.head.count = 1;
    cheat.intents = {going_ahead()};
    cheat.head.any_snapshot = true;
    // A snapshot in every third tick: 120, of which the last 64 are kept.
    for (std::uint32_t tick = 1; tick <= 360; ++tick) {
        cheater.tick();
        cheat.head.newest = static_cast<std::uint16_t>(tick + 2);
        cheat.head.snapshot = static_cast<std::uint16_t>(tick / 3);
        cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
    }
    const std::uint64_t before = statistics.false_acks;
    const auto acknowledge = [&](std::uint16_t snapshot) {
        ++cheat.head.newest;
        cheat.head.snapshot = snapshot;
        cheater.table.server.receive(cheater.peer, cheat.packet(cheater.key));
        return statistics.false_acks - before;
    };
    CHECK(acknowledge(20) == 0);
    CHECK(acknowledge(119) == 0);
    CHECK(acknowledge(150) == 1);
    CHECK(acknowledge(20) == 1);
}
