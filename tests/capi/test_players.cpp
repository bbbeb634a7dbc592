#include <catch2/catch.hpp>
#include <cstring>

#include "capi/link_games.hpp"

using namespace support;

namespace {

/// A server and one client with two players, in the same process, without delay.
struct Couch {
    Couch() {
        REQUIRE(cursimeter_chart_load((demo + "charts/bearer.toml").c_str(), &chart, error) == CURSIMETER_OK);
        cursimeter_server_config host = CURSIMETER_SERVER_CONFIG_INIT;
        host.secret = 77;
        host.players = 2;
        REQUIRE(cursimeter_server_new(&chart, 1, &host, &server, error) == CURSIMETER_OK);
        cursimeter_client_config guest = CURSIMETER_CLIENT_CONFIG_INIT;
        guest.identity = guest.attempt = 1;
        guest.players = 2;
        REQUIRE(cursimeter_client_new(&chart, 1, &guest, &client, error) == CURSIMETER_OK);
    }
    Couch(const Couch&) = delete;
    Couch& operator=(const Couch&) = delete;
    ~Couch() {
        cursimeter_client_free(client);
        cursimeter_server_free(server);
        cursimeter_chart_free(chart);
        cursimeter_error_free(error);
    }
    void ticks(int count) {
        for (int i = 0; i < count; ++i) {
            tick();
        }
    }
    void tick() {
        time += 1.0 / 60.0;
        const void* bytes = nullptr;
        std::size_t length = 0;
        std::uint64_t peer = 0;
        cursimeter_server_tell_time(server, time);
        cursimeter_client_tell_time(client, time);
        while (cursimeter_client_due(client) == 1) {
            const cursimeter_player_intent wants[] = {{&intents[0], nullptr, 0}, {&intents[1], "x", 1}};
            REQUIRE(cursimeter_client_tick_players(client, wants, 2, nullptr) == CURSIMETER_OK);
        }
        while (cursimeter_client_next_packet(client, &bytes, &length) == CURSIMETER_OK) {
            cursimeter_server_receive(server, 5, bytes, length);
        }
        cursimeter_server_event event = CURSIMETER_SERVER_EVENT_INIT;
        while (cursimeter_server_next_event(server, &event) == CURSIMETER_OK) {
            for (std::size_t player = 0; player < 2; ++player) {
                const cursimeter_placement start = {{0, 2.0 * static_cast<double>(player), 0}, 0};
                REQUIRE(cursimeter_server_spawn_for(server, 0, &start, event.seat, player, &keys[player],
                                                    error) == CURSIMETER_OK);
            }
        }
        cursimeter_server_tick(server, nullptr);
        while (cursimeter_server_next_packet(server, &peer, &bytes, &length) == CURSIMETER_OK) {
            cursimeter_client_receive(client, bytes, length, nullptr);
        }
    }

    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart = nullptr;
    cursimeter_server* server = nullptr;
    cursimeter_client* client = nullptr;
    cursimeter_intent intents[2] = {CURSIMETER_INTENT_INIT, CURSIMETER_INTENT_INIT};
    cursimeter_runner_key keys[2] = {CURSIMETER_NO_RUNNER, CURSIMETER_NO_RUNNER};
    double time = 0.0;
};

}  // namespace

TEST_CASE("two players at one client, in C", "[capi]") {
    Couch couch;
    couch.intents[0].forward = 1.0;
    couch.intents[1].side = 1.0;
    couch.ticks(180);
    std::uint64_t digests[2] = {0, 0};
    for (std::size_t player = 0; player < 2; ++player) {
        REQUIRE(cursimeter_client_choose_player(couch.client, player) == CURSIMETER_OK);
        CHECK(cursimeter_client_own_key(couch.client) == couch.keys[player]);
        CHECK(cursimeter_server_runner_of(couch.server, 0, player) == couch.keys[player]);
        double at[3];
        REQUIRE(cursimeter_client_own_shown(couch.client, at) == CURSIMETER_OK);
        CHECK((player == 0 ? at[0] : at[1]) != Approx(0.0).margin(3.0));
        CHECK((player == 0 ? at[1] : at[0]) == Approx(0.0).margin(1e-9));
        cursimeter_runner own;
        static cursimeter_report report;
        report.size = sizeof(report);
        CHECK(cursimeter_client_own(couch.client, &own, nullptr) == CURSIMETER_OK);
        CHECK(cursimeter_client_report(couch.client, &report) == CURSIMETER_OK);
        std::uint32_t tick = 0;
        REQUIRE(cursimeter_client_acknowledged(couch.client, &tick) == CURSIMETER_OK);
        REQUIRE(cursimeter_client_digest_at(couch.client, tick, &digests[player]) == CURSIMETER_OK);
    }
    CHECK(digests[0] != digests[1]);
    CHECK(cursimeter_client_others(couch.client, nullptr, 0) == 0);
    cursimeter_seat_reading reading = CURSIMETER_SEAT_READING_INIT;
    REQUIRE(cursimeter_server_read_seat(couch.server, 0, &reading) == CURSIMETER_OK);
    CHECK(reading.players == 2);
    CHECK(reading.runner == couch.keys[0]);

    // What the server does to the second is told of the second, to an older caller without the field as well.
    const cursimeter_placement elsewhere = {{40, 2, 0}, 0};
    REQUIRE(cursimeter_server_teleport(couch.server, couch.keys[1], &elsewhere, couch.error) ==
            CURSIMETER_OK);
    couch.ticks(20);
    cursimeter_correction correction = CURSIMETER_CORRECTION_INIT;
    REQUIRE(cursimeter_client_next_correction(couch.client, &correction) == CURSIMETER_OK);
    CHECK(correction.player == 1);
    CHECK(correction.distance > 30.0);
    REQUIRE(cursimeter_server_teleport(couch.server, couch.keys[1], &elsewhere, couch.error) ==
            CURSIMETER_OK);
    couch.ticks(20);
    correction = {offsetof(cursimeter_correction, player), 0, 0, 0, 99, 99};
    REQUIRE(cursimeter_client_next_correction(couch.client, &correction) == CURSIMETER_OK);
    CHECK(correction.replayed > 0);
    CHECK(correction.player == 99);
}

TEST_CASE("mistakes with players in C are refused", "[capi]") {
    Couch couch;
    couch.ticks(60);
    const cursimeter_placement start = {{0, 0, 0}, 0};
    cursimeter_runner_key key = 0;
    CHECK(cursimeter_server_spawn_for(couch.server, 0, &start, 0, 2, &key, couch.error) ==
          CURSIMETER_BAD_ARGUMENT);
    CHECK(std::string(cursimeter_error_text(couch.error)).find("player") != std::string::npos);
    CHECK(cursimeter_server_spawn_for(couch.server, 0, &start, 0, 1, &key, couch.error) == CURSIMETER_NO);
    CHECK(cursimeter_server_runner_of(couch.server, 0, 2) == CURSIMETER_NO_RUNNER);
    CHECK(cursimeter_server_runner_of(couch.server, 0, 99) == CURSIMETER_NO_RUNNER);
    CHECK(cursimeter_server_runner_of(couch.server, 99, 0) == CURSIMETER_NO_RUNNER);
    CHECK(cursimeter_server_runner_of(nullptr, 0, 0) == CURSIMETER_NO_RUNNER);
    CHECK(cursimeter_client_choose_player(couch.client, 2) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_client_choose_player(nullptr, 0) == CURSIMETER_BAD_ARGUMENT);
    cursimeter_player_intent wants[5] = {};
    wants[0].intent = &couch.intents[0];
    CHECK(cursimeter_client_tick_players(nullptr, wants, 2, nullptr) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_client_tick_players(couch.client, nullptr, 1, nullptr) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_client_tick_players(couch.client, wants, 5, nullptr) == CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_client_tick_players(couch.client, wants, 1, nullptr) == CURSIMETER_OK);
    CHECK(cursimeter_client_tick_players(couch.client, nullptr, 0, nullptr) == CURSIMETER_OK);
    wants[1] = {nullptr, nullptr, 4};
    CHECK(cursimeter_client_tick_players(couch.client, wants, 2, nullptr) == CURSIMETER_BAD_ARGUMENT);
    wants[1] = {nullptr, "seventeen letters", 17};
    CHECK(cursimeter_client_tick_players(couch.client, wants, 2, nullptr) == CURSIMETER_BAD_ARGUMENT);
    cursimeter_intent shapeless = CURSIMETER_INTENT_INIT;
    shapeless.size = 1;
    wants[1] = {&shapeless, nullptr, 0};
    CHECK(cursimeter_client_tick_players(couch.client, wants, 2, nullptr) == CURSIMETER_BAD_ARGUMENT);

    cursimeter_client_config guest = CURSIMETER_CLIENT_CONFIG_INIT;
    guest.identity = guest.attempt = 1;
    guest.players = 5;
    cursimeter_client* client = nullptr;
    CHECK(cursimeter_client_new(&couch.chart, 1, &guest, &client, couch.error) == CURSIMETER_BAD_INPUT);
    CHECK(std::string(cursimeter_error_text(couch.error)).find("players") != std::string::npos);
    guest.players = 0;  // of a caller from before there were any
    REQUIRE(cursimeter_client_new(&couch.chart, 1, &guest, &client, couch.error) == CURSIMETER_OK);
    CHECK(cursimeter_client_choose_player(client, 0) == CURSIMETER_OK);
    CHECK(cursimeter_client_choose_player(client, 1) == CURSIMETER_BAD_ARGUMENT);
    cursimeter_client_free(client);
}
