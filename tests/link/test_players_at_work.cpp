#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "link/players.hpp"

/// Players of one client who meet each other, and fill their packets.
using namespace support;

TEST_CASE("Both ends see the same others around each runner, in one order") {
    Wires wires(server_for(3));
    const link::Client& three = wires.sit(client_with(3, 1));
    wires.sit(client_with(1, 2));
    const link::Client& two = wires.sit(client_with(2, 3));
    wires.run(90);
    REQUIRE(three.own_key(2));
    REQUIRE(two.own_key(1));
    wires.world.around.clear();
    wires.run(120);
    std::size_t compared = 0;
    for (const Wires::End& end : wires.ends) {
        for (const auto& [when, there] : wires.world.around) {
            const auto here = end.world.around.find(when);
            if (here != end.world.around.end()) {
                CHECK(there.size() == 5);
                CHECK(here->second == there);
                ++compared;
            }
        }
    }
    CHECK(compared > 600);
}

TEST_CASE("Players of one client who jostle each other are predicted") {
    Wires wires(server_for(4));
    wires.apart = 0.75;
    const link::Client& four = wires.sit(client_with(4, 1));
    wires.run(90);
    REQUIRE(four.own_key(3));
    rehearsal::Random random(8);
    wires.loss = 0.1;
    for (int i = 0; i < 60; ++i) {
        for (Intent& intent : wires.ends[0].intents) {
            intent.move.forward = random.part() * 2.0 - 1.0;
            intent.look.yaw = random.part() * 6.28;
        }
        wires.run(10);
    }
    CHECK(four.statistics().corrections == 0);
    CHECK(four.statistics().confirmed > 400);
    // What the game does to one of them meets the rest here as well.
    std::uint64_t pushed = 0;
    wires.before_tick = [&] {
        if (wires.ticks % 60 == 0) {
            ++pushed;
            push(wires.server.runner(wires.keys[{1, wires.ticks / 60 % 4}]),
                 {.direction = {0.0, 1.0, 0.0}, .strength = 6.0, .seconds = 0.2});
        }
    };
    wires.run(600);
    CHECK(pushed == 10);
    CHECK(four.statistics().corrections >= 10);
    CHECK(four.statistics().corrections <= 40);
}

TEST_CASE(
    "Players who stand in each other's way while their program stands still are where the server has them") {
    Wires wires(server_for(3));
    wires.apart = 0.75;
    const link::Client& three = wires.sit(client_with(3, 1));
    wires.run(90);
    REQUIRE(three.own_key(2));
    for (std::size_t player = 0; player < 3; ++player) {  // towards the middle one
        wires.ends[0].intents[player].look.yaw = player == 0 ? 1.5 : -1.5;
        wires.ends[0].intents[player].move.forward = player == 1 ? 0.0 : 1.0;
    }
    wires.run(20);
    for (int i = 0; i < 5; ++i) {
        wires.ends[0].stands_until = wires.ticks + 40;
        wires.run(180);
    }
    CHECK(three.statistics().corrections == 0);
    CHECK(three.statistics().confirmed > 300);
}

TEST_CASE("What rides on an intent comes with the runner of its player") {
    Wires wires(server_for(2));
    const link::Client& client = wires.sit(client_with(2, 1));
    wires.run(60);
    REQUIRE(client.own_key(1));
    for (std::size_t player = 0; player < 2; ++player) {
        const std::byte bytes[] = {static_cast<std::byte>(20 + player)};
        wires.ends[0].extras[player].add(bytes);
    }
    wires.run(30);
    for (std::size_t player = 0; player < 2; ++player) {
        const RunnerKey key = wires.keys[{1, player}];
        CHECK(wires.world.extras[key] == 20 + static_cast<int>(player));
        CHECK(wires.ends[0].world.extras[key] == 20 + static_cast<int>(player));
    }
}

TEST_CASE("Four players who change as much as can be said, with messages: all comes through") {
    Wires wires(server_for(4));
    link::Client& four = wires.sit(client_with(4, 1));
    wires.run(90);
    REQUIRE(four.own_key(3));
    const link::SeatId seat = four.seat();
    const std::uint64_t before = wires.server.read_seat(seat).missing;
    rehearsal::Random random(3);
    std::array<std::array<Change, 16>, 4> changes{};
    std::array<Focus, 4> focuses{};
    std::vector<std::byte> message(link::longest_message, std::byte{0xa5});
    std::size_t said = 0, heard = 0;
    for (int i = 0; i < 300; ++i) {
        for (std::size_t p = 0; p < 4; ++p) {
            Intent& intent = wires.ends[0].intents[p];
            for (std::size_t k = 0; k < 16; ++k) {
                changes[p][k] = Change::look_to(Look{random.part() * 6.0, random.part() - 0.5},
                                                (static_cast<double>(k) + random.part()) / 16.0 / 60.0);
            }
            intent.changes = changes[p];
            intent.move = {random.part() * 2.0 - 1.0, random.part() * 2.0 - 1.0};
            intent.look = {random.part() * 6.0, random.part() * 2.0 - 1.0};
            intent.held = static_cast<std::uint32_t>(random.next());
            focuses[p].position = {random.part() * 1e5, random.part() * 1e5, random.part() * 1e5};
            focuses[p].velocity = {random.part() * 1e3, random.part() * 1e3, random.part() * 1e3};
            intent.focus = &focuses[p];
            link::ExtraBytes& extra = wires.ends[0].extras[p];
            extra = {};
            for (std::size_t k = 0; k < link::ExtraBytes::most; ++k) {
                const auto byte = static_cast<std::byte>(random.next());
                extra.add({&byte, 1});
            }
        }
        said += four.send_message(message) ? 1 : 0;
        wires.tick();
        while (const auto came = wires.server.next_message()) {
            heard += std::ranges::equal(came->bytes, message) ? 1 : 0;
        }
    }
    for (Intent& intent : wires.ends[0].intents) {
        intent = {};
    }
    for (int i = 0; i < 600; ++i) {
        wires.tick();
        while (const auto came = wires.server.next_message()) {
            heard += std::ranges::equal(came->bytes, message) ? 1 : 0;
        }
    }
    CHECK(wires.longest <= link::packet_bytes);
    CHECK(wires.longest > 700);
    CHECK(wires.server.read_seat(seat).missing == before);
    CHECK(four.statistics().corrections == 0);
    CHECK(said > 10);
    CHECK(heard == said);
}

TEST_CASE("Whole runners that do not fit one snapshot come in turn") {
    link::ServerConfig config = server_for(4);
    config.budget = 700;
    Wires wires(config);
    const link::Client& four = wires.sit(client_with(4, 1));
    wires.run(90);
    REQUIRE(four.own_key(3));
    // All are touched in every tick, so that all are wanted as a whole in every snapshot.
    std::array<int, 4> longest{};
    wires.before_tick = [&] {
        for (std::size_t p = 0; p < 4; ++p) {
            push(wires.server.runner(wires.keys[{1, p}]),
                 {.direction = {0.0, 1.0, 0.0}, .strength = 0.5, .seconds = 0.1});
        }
    };
    for (int i = 0; i < 300; ++i) {
        wires.tick();
        for (std::size_t p = 0; p < 4; ++p) {
            const auto tick = four.acknowledged(p);
            REQUIRE(tick);
            longest[p] = std::max(longest[p], wires.server.now() - *tick);
        }
    }
    for (const int ticks : longest) {
        CHECK(ticks <= 4 * 3 + 3 + 3);  // four snapshots, and the way
    }
    CHECK(four.statistics().malformed == 0);
}
