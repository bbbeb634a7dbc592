#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "link/players.hpp"
#include "support/share.hpp"

/// Several players at one client: each has intents and a runner, all share the connection.
using namespace support;

TEST_CASE("One to four players at each client: nothing is corrected and all see what happened") {
    Share share;
    for (const std::size_t players : {1U, 2U, 3U, 4U}) {
        for (const double loss : {0.0, 0.05, 0.3}) {
            if (!share.takes()) {
                continue;
            }
            CAPTURE(players, loss);
            rehearsal::Plan plan = usual_plan(3, 20.0);
            plan.seed = 10 * players;
            plan.up.loss = plan.down.loss = loss;
            plan.client.players = players;
            // Calm hands where much is lost, of which held keys tell all that matters: some intents and news are late
            // then, whoever plays.
            rehearsal::Scene scene = hands_scene(3 * players, plan.seconds, plan.seed);
            scene.human_hands = loss < 0.3;
            rehearsal::Rehearsal rehearsal(scene, plan);
            rehearsal.run_until(plan.seconds);
            for (std::size_t i = 0; i < 3; ++i) {
                CHECK(rehearsal.client(i).others().size() == 2 * players);
            }
            const rehearsal::Result result = rehearsal.finish();
            for (const rehearsal::ClientResult& client : result.clients) {
                CHECK(client.corrections == 0);
                CHECK((client.missing_after_first_second == 0 || loss == 0.3));
                CHECK(client.digests_compared > 200 * players);
                CHECK(client.digests_differing == 0);
                CHECK(client.events_shown > 20 * players);
                CHECK(client.events_out_of_order == 0);
                CHECK((client.events_missing == 0 || loss == 0.3));
                CHECK(client.statistics.malformed == 0);
                CHECK(client.seat.players == players);
            }
            CHECK(result.server.malformed == 0);
        }
    }
}

TEST_CASE("A client's players stall together, and count again together") {
    rehearsal::Plan plan = usual_plan(2, 40.0);
    plan.client.players = 2;
    plan.stall = Seconds{1.0};
    rehearsal::Scene scene = quay_scene();
    scene.human_hands = true;
    const rehearsal::Result result = rehearsal::rehearse(scene, plan);
    for (const rehearsal::ClientResult& client : result.clients) {
        CHECK(client.corrections <= 2 * 4 * 3);  // players, stalls, and what one stall may cost
        CHECK(client.digests_differing == 0);
        CHECK(client.digests_compared > 1000);
    }
}

TEST_CASE("A server that takes fewer players says so") {
    Table table(server_for(2));
    const link::Client& three = table.sit(client_with(3, 1), {bearer_chart()});
    const link::Client& two = table.sit(client_with(2, 2), {bearer_chart()});
    table.ticks(60);
    CHECK(three.phase() == link::Phase::refused);
    CHECK(three.farewell() == link::Farewell::turned_away);
    CHECK(three.farewell_words() == "3 players at one machine, and this server takes 2");
    CHECK(two.phase() == link::Phase::joined);

    link::ServerConfig five = Table::usual_config();
    five.players = 5;
    CHECK_THROWS_WITH(link::Server({bearer_chart()}, five), Catch::Contains("players"));
    link::ClientConfig none = client_with(0, 1);
    CHECK_THROWS_WITH(link::Client({bearer_chart()}, none), Catch::Contains("1 to 4"));
}

TEST_CASE("Runners of a client come and go one by one") {
    Table table(server_for(2));
    link::Client& client = table.sit(client_with(2, 1), {bearer_chart()});
    const link::Client& other = table.sit(2);
    table.ticks(60);
    link::Server& server = table.server;
    const link::SeatId seat = client.seat();
    REQUIRE(client.own_key(0) == table.keys[1]);
    CHECK_FALSE(client.own_key(1));
    CHECK_THROWS_AS(client.own_key(2), std::out_of_range);
    CHECK_THROWS_AS(server.spawn(0, {}, seat, 2), std::out_of_range);
    CHECK_THROWS_AS(server.spawn(0, {}, other.seat(), 1), std::out_of_range);
    CHECK_FALSE(server.spawn(0, {}, seat, 0));
    const auto second = server.spawn(0, {{0.0, -3.0, 0.0}, 0.0}, seat, 1);
    REQUIRE(second);
    CHECK_FALSE(server.spawn(0, {}, seat, 1));
    table.ticks(60);
    REQUIRE(client.own_key(1) == second);
    CHECK(client.others().size() == 1);  // not its own
    CHECK(other.others().size() == 2);
    CHECK(server.read_seat(seat).runners[0] == table.keys[1]);
    CHECK(server.read_seat(seat).runners[1] == second);

    // The intent of one player steers the first; the other stands.
    table.intents[0].move.forward = 1.0;
    table.ticks(60);
    CHECK(client.own(0).position().x > 2.0);
    CHECK(client.own(1).position().x == 0.0);
    CHECK(client.report(1).event_count == 0);

    server.despawn(table.keys[1]);
    table.ticks(30);
    CHECK_FALSE(client.own_key(0));
    CHECK(client.own_key(1) == second);
    CHECK(other.others().size() == 1);
    REQUIRE(server.spawn(0, {{0.0, 9.0, 0.0}, 0.0}, seat, 0));
    table.ticks(30);
    CHECK(client.own_key(0) == server.read_seat(seat).runners[0]);
    CHECK(client.own(0).position().y == 9.0);

    server.forget(seat);
    CHECK(server.runners().size() == 1);
    CHECK(client.statistics().corrections == 0);
}

TEST_CASE("A player who does not come back leaves a runner that stands, and is shown to the other") {
    Table table(server_for(3));
    table.spawns = false;
    link::Client& pair = table.sit(client_with(2, 1), {bearer_chart()});
    table.ticks(30);
    const link::SeatId seat = pair.seat();
    const auto first = table.server.spawn(0, {}, seat, 0);
    const auto second = table.server.spawn(0, {{0.0, 2.0, 0.0}, 0.0}, seat, 1);
    table.ticks(60);
    REQUIRE(pair.own_key(1) == second);

    link::Client& alone = table.sit(client_with(1, 1, 2), {bearer_chart()});
    table.intents.back().move.forward = 1.0;
    table.ticks(60);
    REQUIRE(alone.phase() == link::Phase::joined);
    CHECK(alone.own_key() == first);
    CHECK(alone.own().position().x > 2.0);
    CHECK(table.server.runner(*second).position().x == 0.0);
    REQUIRE(alone.others().size() == 1);
    CHECK(alone.others()[0] == second);
    CHECK(table.server.read_seat(seat).players == 1);
    CHECK(table.server.read_seat(seat).runners[1] == second);

    const link::Client& three = table.sit(client_with(3, 1, 3), {bearer_chart()});
    table.ticks(60);
    CHECK(three.own_key(0) == first);
    CHECK(three.own_key(1) == second);
    CHECK_FALSE(three.own_key(2));
    CHECK(three.others().empty());
}

TEST_CASE("What the server does to one runner of a client corrects that one alone") {
    Table table(server_for(2));
    link::Client& client = table.sit(client_with(2, 1), {bearer_chart()});
    table.ticks(60);
    const auto second = table.server.spawn(0, {{0.0, 9.0, 0.0}, 0.0}, client.seat(), 1);
    REQUIRE(second);
    table.ticks(60);
    push(table.server.runner(*second), {.direction = {1.0, 0.0, 0.0}, .strength = 5.0, .seconds = 0.3});
    table.ticks(60);
    const auto correction = client.next_correction();
    REQUIRE(correction);
    CHECK(correction->player == 1);
    CHECK_FALSE(client.next_correction());
    push(table.server.runner(*second), {.direction = {1.0, 0.0, 0.0}, .strength = 5.0, .seconds = 0.3});
    table.ticks(30);
    push(table.server.runner(table.keys[1]), {.direction = {1.0, 0.0, 0.0}, .strength = 5.0, .seconds = 0.3});
    table.ticks(30);
    const auto earlier = client.next_correction(), later = client.next_correction();
    REQUIRE(later);
    CHECK(earlier->player == 1);
    CHECK(later->player == 0);
    for (std::size_t player = 0; player < 2; ++player) {
        const auto tick = client.acknowledged(player);
        REQUIRE(tick);
        CHECK(client.own(player).position() ==
              table.server.runner(*table.server.read_seat(client.seat()).runners[player]).position());
    }
}

TEST_CASE("A client sees what is near any of its runners") {
    link::ServerConfig config = server_for(2);
    config.interest = 20.0;
    Table table(config);
    link::Client& client = table.sit(client_with(2, 1), {bearer_chart()});
    table.ticks(30);
    REQUIRE(table.server.spawn(0, {{1000.0, 0.0, 0.0}, 0.0}, client.seat(), 1));
    const auto near_first = table.server.spawn(0, {{10.0, 3.0, 0.0}, 0.0});
    const auto near_second = table.server.spawn(0, {{990.0, 0.0, 0.0}, 0.0});
    const auto between = table.server.spawn(0, {{500.0, 0.0, 0.0}, 0.0});
    table.ticks(60);
    CHECK(client.shown(*near_first));
    CHECK(client.shown(*near_second));
    CHECK_FALSE(client.shown(*between));
}
