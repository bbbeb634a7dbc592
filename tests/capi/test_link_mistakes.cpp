#include <cmath>

#include "capi/pair.hpp"

using namespace support;

/// What a game in C does wrong with a server and its clients.

namespace {

/// An advancer that says things that cannot be.
void lies(void*, const cursimeter_advance_context* told, cursimeter_runner* runner, cursimeter_report* out) {
    static_cast<void>(cursimeter_advance(told->chart, runner, told->intent, nullptr, told->seconds, out));
    out->event_count = 4000;
    for (int i = 0; i < CURSIMETER_MOST_EVENTS; ++i) {
        out->events[i] = {0.001 * i, 1e300, i - 20, i % 40 - 30, 99, -4, 70000, 300, 2, 0};
    }
}

}  // namespace

TEST_CASE("what an advancer in C says wrong harms nobody", "[capi]") {
    Pair pair;
    cursimeter_advancer advancer = CURSIMETER_ADVANCER_INIT;
    advancer.advance = lies;
    pair.advancer = &advancer;
    pair.open();
    pair.play(120);
    CHECK(cursimeter_client_phase(pair.client) == CURSIMETER_PHASE_JOINED);
    cursimeter_report report;
    report.size = sizeof(report);
    CHECK(pair.key != CURSIMETER_NO_RUNNER);
    REQUIRE(cursimeter_server_report(pair.server, pair.key, &report) == CURSIMETER_OK);
    CHECK(report.event_count > 0);
    CHECK(report.event_count < CURSIMETER_MOST_EVENTS);
    for (std::uint32_t i = 0; i < report.event_count; ++i) {
        const cursimeter_event& event = report.events[i];
        CHECK(cursimeter_name(pair.bearer.chart, event.list, static_cast<std::size_t>(event.subject)) !=
              nullptr);
    }
}

TEST_CASE("mistakes of a game in C are refused", "[capi]") {
    Pair pair;
    cursimeter_server* server = nullptr;
    cursimeter_client* client = nullptr;
    cursimeter_error* error = pair.bearer.error;
    SECTION("configurations") {
        pair.host.secret = 0;
        CHECK(cursimeter_server_new(&pair.bearer.chart, 1, &pair.host, &server, error) ==
              CURSIMETER_BAD_INPUT);
        CHECK(std::string(cursimeter_error_text(error)).find("secret") != std::string::npos);
        pair.host.secret = 1;
        pair.host.seats = 0;
        CHECK(cursimeter_server_new(&pair.bearer.chart, 1, &pair.host, &server, error) ==
              CURSIMETER_BAD_INPUT);
        pair.host.seats = 2;
        pair.host.threads = 0;
        CHECK(cursimeter_server_new(&pair.bearer.chart, 1, &pair.host, &server, error) ==
              CURSIMETER_BAD_ARGUMENT);
        pair.host.threads = 1;
        CHECK(cursimeter_server_new(nullptr, 1, &pair.host, &server, error) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_new(&pair.bearer.chart, 0, &pair.host, &server, error) ==
              CURSIMETER_BAD_ARGUMENT);
        pair.host.size = 3;
        CHECK(cursimeter_server_new(&pair.bearer.chart, 1, &pair.host, &server, error) ==
              CURSIMETER_BAD_ARGUMENT);
        pair.guest.identity = 0;
        CHECK(cursimeter_client_new(&pair.bearer.chart, 1, &pair.guest, &client, error) ==
              CURSIMETER_BAD_INPUT);
        CHECK(std::string(cursimeter_error_text(error)).find("identity") != std::string::npos);
        pair.guest.identity = 1;
        const std::string long_ticket(CURSIMETER_LONGEST_TICKET + 1, 'x');
        pair.guest.ticket = long_ticket.data();
        pair.guest.ticket_length = long_ticket.size();
        CHECK(cursimeter_client_new(&pair.bearer.chart, 1, &pair.guest, &client, error) ==
              CURSIMETER_BAD_INPUT);
        pair.guest.ticket = nullptr;
        CHECK(cursimeter_client_new(&pair.bearer.chart, 1, &pair.guest, &client, error) ==
              CURSIMETER_BAD_ARGUMENT);
        CHECK(server == nullptr);
        CHECK(client == nullptr);
    }
    SECTION("arguments") {
        pair.open();
        pair.play(30);
        cursimeter_runner_key key = 0;
        CHECK(cursimeter_server_spawn(pair.server, 1, nullptr, -1, &key, error) == CURSIMETER_BAD_ARGUMENT);
        CHECK(std::string(cursimeter_error_text(error)).find("chart") == 0);
        CHECK(key == CURSIMETER_NO_RUNNER);
        CHECK(cursimeter_server_spawn(pair.server, 0, nullptr, 16, &key, error) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_spawn(pair.server, 0, nullptr, -2, &key, error) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_spawn(pair.server, 0, nullptr, 0, &key, error) == CURSIMETER_NO);
        const cursimeter_placement nowhere{{NAN, 0.0, 0.0}, 0.0};
        CHECK(cursimeter_server_spawn(pair.server, 0, &nowhere, -1, &key, error) == CURSIMETER_BAD_INPUT);
        CHECK(cursimeter_server_teleport(pair.server, pair.key, &nowhere, error) == CURSIMETER_BAD_INPUT);
        CHECK(cursimeter_server_send_message(pair.server, 16, "a", 1) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_send_message(pair.server, 3, "a", 1) == CURSIMETER_NO);
        CHECK(cursimeter_server_remove(pair.server, -1, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_forget(pair.server, 99) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_set_viewpoint(pair.server, 99, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_set_viewpoint(pair.server, 0, nullptr) == CURSIMETER_OK);
        // Whoever had the seat may be gone by now.
        CHECK(cursimeter_server_remove(pair.server, 3, "late") == CURSIMETER_NO);
        CHECK(cursimeter_server_forget(pair.server, 3) == CURSIMETER_NO);
        CHECK(cursimeter_server_set_viewpoint(pair.server, 3, nullptr) == CURSIMETER_NO);
        CHECK(cursimeter_server_ticket(pair.server, 3, nullptr) == nullptr);
        CHECK(cursimeter_client_tick(pair.client, nullptr, nullptr, nullptr, 0) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_client_tick(pair.client, &pair.intent, nullptr, "0123456789abcdefg", 17) ==
              CURSIMETER_BAD_ARGUMENT);
        cursimeter_advancer small = CURSIMETER_ADVANCER_INIT;
        small.size = 8;
        CHECK(cursimeter_client_tick(pair.client, &pair.intent, &small, nullptr, 0) ==
              CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_client_receive(pair.client, "x", 1, &small) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_client_play_again(pair.client, 1, &small) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_tick(pair.server, &small) == CURSIMETER_BAD_ARGUMENT);
    }
    SECTION("null everywhere") {
        const void* bytes = nullptr;
        std::size_t length = 0;
        std::uint64_t number = 0;
        cursimeter_seat seat = 0;
        CHECK(cursimeter_server_next_packet(nullptr, &number, &bytes, &length) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_next_event(nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_next_message(nullptr, &seat, &bytes, &length) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_get(nullptr, 0, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_tick(nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_set_rules(nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_server_due(nullptr) == 0);
        cursimeter_server_tell_time(nullptr, 1.0);
        cursimeter_server_receive(nullptr, 1, "x", 1);
        cursimeter_server_free(nullptr);
        CHECK(cursimeter_client_next_packet(nullptr, &bytes, &length) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_client_next_event(nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_client_own(nullptr, nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_client_phase(nullptr) == CURSIMETER_PHASE_ENDED);
        CHECK(std::string(cursimeter_client_farewell_words(nullptr)).empty());
        CHECK(cursimeter_client_others(nullptr, nullptr, 5) == 0);
        cursimeter_client_set_view_world(nullptr, nullptr);
        cursimeter_client_leave(nullptr);
        cursimeter_client_free(nullptr);
        CHECK(cursimeter_make_keys(nullptr, nullptr, error) == CURSIMETER_BAD_ARGUMENT);
    }
}
