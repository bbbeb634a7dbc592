#include <cstring>

#include "capi/pair.hpp"

using namespace support;

/// What a game in C does with a server and its clients.

TEST_CASE("a game in C changes, reads and ends what its server plays", "[capi]") {
    Pair pair;
    const char ticket[] = "lamp 12";
    pair.guest.ticket = ticket;
    pair.guest.ticket_length = sizeof(ticket);
    pair.intent.forward = 1.0;
    pair.open();
    CHECK(cursimeter_client_seat(pair.client) == -1);
    CHECK(cursimeter_client_phase(pair.client) == CURSIMETER_PHASE_JOINING);
    CHECK(cursimeter_client_own_key(pair.client) == CURSIMETER_NO_RUNNER);
    pair.play(120);
    REQUIRE(cursimeter_client_phase(pair.client) == CURSIMETER_PHASE_JOINED);
    const cursimeter_seat seat = cursimeter_client_seat(pair.client);
    REQUIRE(seat == 0);
    CHECK(cursimeter_client_own_key(pair.client) == pair.key);
    std::size_t length = 0;
    const void* told = cursimeter_server_ticket(pair.server, seat, &length);
    REQUIRE(length == sizeof(ticket));
    CHECK(std::memcmp(told, ticket, length) == 0);

    SECTION("its runner is taken, given stamina, put back; one of another chart is refused") {
        cursimeter_runner runner;
        const int stamina = cursimeter_find(pair.bearer.chart, CURSIMETER_METERS, "stamina", nullptr);
        REQUIRE(cursimeter_server_get(pair.server, pair.key, &runner) == CURSIMETER_OK);
        REQUIRE(cursimeter_spend(pair.bearer.chart, &runner, stamina, 30.0, nullptr) == CURSIMETER_OK);
        REQUIRE(cursimeter_server_set(pair.server, pair.key, &runner) == CURSIMETER_OK);
        pair.play(30);
        cursimeter_meter meter;
        cursimeter_runner own;
        REQUIRE(cursimeter_client_own(pair.client, &own, nullptr) == CURSIMETER_OK);
        REQUIRE(cursimeter_read_meter(pair.bearer.chart, &own, stamina, &meter, nullptr) == CURSIMETER_OK);
        CHECK(meter.level < meter.capacity - 10.0);
        const Loaded eel("eel");
        cursimeter_runner other;
        REQUIRE(cursimeter_spawn(eel.chart, nullptr, &other, nullptr) == CURSIMETER_OK);
        CHECK(cursimeter_server_set(pair.server, pair.key, &other) == CURSIMETER_BAD_INPUT);
        CHECK(cursimeter_server_set(pair.server, 5, &runner) == CURSIMETER_NO);
        CHECK(cursimeter_server_set(pair.server, pair.key + 0x10000U, &runner) == CURSIMETER_NO);
        CHECK(cursimeter_server_chart_of(pair.server, pair.key) == 0);
        CHECK(cursimeter_server_chart_of(pair.server, 9) == -1);
    }
    SECTION("messages go both ways, once and in order") {
        REQUIRE(cursimeter_client_send_message(pair.client, "open", 4) == CURSIMETER_OK);
        REQUIRE(cursimeter_client_send_message(pair.client, "", 0) == CURSIMETER_OK);
        REQUIRE(cursimeter_server_send_message(pair.server, seat, "gate 3", 6) == CURSIMETER_OK);
        CHECK(cursimeter_client_send_message(pair.client,
                                             std::string(CURSIMETER_LONGEST_MESSAGE + 1, 'x').data(),
                                             CURSIMETER_LONGEST_MESSAGE + 1) == CURSIMETER_NO);
        pair.play(30);
        const void* bytes = nullptr;
        cursimeter_seat from = -1;
        REQUIRE(cursimeter_server_next_message(pair.server, &from, &bytes, &length) == CURSIMETER_OK);
        CHECK(from == seat);
        CHECK(std::string(static_cast<const char*>(bytes), length) == "open");
        REQUIRE(cursimeter_server_next_message(pair.server, &from, &bytes, &length) == CURSIMETER_OK);
        CHECK(length == 0);
        CHECK(cursimeter_server_next_message(pair.server, &from, &bytes, &length) == CURSIMETER_NO);
        CHECK(from == -1);
        REQUIRE(cursimeter_client_next_message(pair.client, &bytes, &length) == CURSIMETER_OK);
        CHECK(std::string(static_cast<const char*>(bytes), length) == "gate 3");
        CHECK(cursimeter_client_next_message(pair.client, &bytes, &length) == CURSIMETER_NO);
    }
    SECTION("a runner of nobody walks as it is told, is seen by the client, is moved and taken away") {
        cursimeter_runner_key crate = 0;
        const cursimeter_placement start{{0.0, 5.0, 0.0}, 0.0};
        REQUIRE(cursimeter_server_spawn(pair.server, 0, &start, -1, &crate, nullptr) == CURSIMETER_OK);
        cursimeter_runner_key keys[1]{};
        CHECK(cursimeter_server_runners(pair.server, keys, 1) == 2);
        CHECK(keys[0] == pair.key);
        CHECK(cursimeter_server_runners(pair.server, nullptr, 0) == 2);
        cursimeter_intent wish = CURSIMETER_INTENT_INIT;
        wish.forward = 1.0;
        REQUIRE(cursimeter_server_direct(pair.server, crate, &wish) == CURSIMETER_OK);
        pair.play(60);
        cursimeter_runner runner;
        cursimeter_reading reading = CURSIMETER_READING_INIT;
        REQUIRE(cursimeter_server_get(pair.server, crate, &runner) == CURSIMETER_OK);
        REQUIRE(cursimeter_read(pair.bearer.chart, &runner, &reading) == CURSIMETER_OK);
        CHECK(reading.position[0] > 1.0);
        cursimeter_seen seen = CURSIMETER_SEEN_INIT;
        const std::uint32_t tick = cursimeter_server_now(pair.server);
        REQUIRE(cursimeter_server_seen_by(pair.server, seat, crate, tick, &seen) == CURSIMETER_OK);
        CHECK(seen.at < tick);
        CHECK(seen.position[0] > 0.0);
        CHECK(seen.position[0] < reading.position[0]);
        CHECK(seen.height == Approx(1.8));
        CHECK(cursimeter_server_seen_by(pair.server, seat, crate, tick + 9, &seen) == CURSIMETER_NO);
        const cursimeter_placement there{{0.0, -50.0, 0.0}, 1.0};
        REQUIRE(cursimeter_server_teleport(pair.server, crate, &there, nullptr) == CURSIMETER_OK);
        cursimeter_report report;
        report.size = sizeof(report);
        REQUIRE(cursimeter_server_report(pair.server, crate, &report) == CURSIMETER_OK);
        CHECK(report.seconds == Approx(1.0 / 60.0));
        pair.play(30);
        cursimeter_shown shown;
        shown.size = sizeof(shown);
        REQUIRE(cursimeter_client_shown(pair.client, crate, &shown) == CURSIMETER_OK);
        CHECK(shown.position[1] < -49.0);
        REQUIRE(cursimeter_server_despawn(pair.server, crate) == CURSIMETER_OK);
        CHECK(cursimeter_server_despawn(pair.server, crate) == CURSIMETER_NO);
        pair.play(30);
        CHECK(cursimeter_client_shown(pair.client, crate, &shown) == CURSIMETER_NO);
        CHECK(cursimeter_client_others(pair.client, nullptr, 0) == 0);
    }
    SECTION(
        "how a client does is read; it is sent away with words, comes back to its seat, and is forgotten") {
        cursimeter_seat_reading reading = CURSIMETER_SEAT_READING_INIT;
        REQUIRE(cursimeter_server_read_seat(pair.server, seat, &reading) == CURSIMETER_OK);
        CHECK(reading.connected == 1);
        CHECK(reading.identity == pair.guest.identity);
        CHECK(reading.peer == 77);
        CHECK(reading.runner == pair.key);
        CHECK(reading.intents > 60);
        CHECK(reading.differing == 0);
        CHECK(cursimeter_server_read_seat(pair.server, 3, &reading) == CURSIMETER_NO);
        cursimeter_server_statistics all = CURSIMETER_SERVER_STATISTICS_INIT;
        cursimeter_server_receive(pair.server, 78, "nonsense", 8);
        REQUIRE(cursimeter_server_read_statistics(pair.server, &all) == CURSIMETER_OK);
        CHECK(all.strangers + all.damaged + all.malformed == 1);
        CHECK(all.packets > 60);

        REQUIRE(cursimeter_server_remove(pair.server, seat, "the tide is in") == CURSIMETER_OK);
        pair.play(10);
        CHECK(cursimeter_client_phase(pair.client) == CURSIMETER_PHASE_ENDED);
        std::uint32_t detail = 9;
        CHECK(cursimeter_client_farewell(pair.client, &detail) == CURSIMETER_FAREWELL_REMOVED);
        CHECK(std::string(cursimeter_client_farewell_words(pair.client)) == "the tide is in");
        char text[20];
        CHECK(cursimeter_describe_farewell(CURSIMETER_FAREWELL_FULL, 16, text, sizeof(text)) ==
              std::string("the server is full (16 seats)").size());
        CHECK(std::string(text) == "the server is full ");
        CHECK(cursimeter_describe_farewell(99, 0, text, sizeof(text)) == 0);
        pair.join();
        pair.play(60);
        REQUIRE(cursimeter_client_phase(pair.client) == CURSIMETER_PHASE_JOINED);
        CHECK(pair.events.back().kind == CURSIMETER_SEAT_REJOINED);
        CHECK(cursimeter_client_own_key(pair.client) == pair.key);
        cursimeter_client_leave(pair.client);
        pair.play(10);
        CHECK(pair.events.back().kind == CURSIMETER_SEAT_LEFT);
        CHECK(pair.events.back().why == CURSIMETER_FAREWELL_LEFT);
        REQUIRE(cursimeter_server_forget(pair.server, seat) == CURSIMETER_OK);
        pair.play(2);
        CHECK(pair.events.back().kind == CURSIMETER_SEAT_FORGOTTEN);
        CHECK(cursimeter_server_runners(pair.server, nullptr, 0) == 0);
    }
}

namespace {

struct Gatekeeper {
    int verdict = CURSIMETER_LET_IN;
    int asked = 0, concerned = 0;
    std::string ticket;
};
int look_at(void* user, const cursimeter_applicant* applicant, char words[101]) {
    Gatekeeper& keeper = *static_cast<Gatekeeper*>(user);
    ++keeper.asked;
    keeper.ticket.assign(static_cast<const char*>(applicant->ticket), applicant->ticket_length);
    std::strcpy(words, "members only");
    return keeper.verdict;
}
double concern(void* user, cursimeter_seat, cursimeter_runner_key key) {
    ++static_cast<Gatekeeper*>(user)->concerned;
    return (key & 0xffffU) == 1 ? 0.0 : 1.0;
}

}  // namespace

TEST_CASE("a game in C decides who joins and who is told of whom", "[capi]") {
    Pair pair;
    pair.guest.ticket = "rope";
    pair.guest.ticket_length = 4;
    pair.open();
    Gatekeeper keeper;
    cursimeter_rules rules = CURSIMETER_RULES_INIT;
    rules.user = &keeper;
    rules.look_at = look_at;
    rules.concern = concern;
    keeper.verdict = GENERATE(as<int>(), CURSIMETER_LET_IN, CURSIMETER_TURN_AWAY, CURSIMETER_WAIT, 17);
    REQUIRE(cursimeter_server_set_rules(pair.server, &rules) == CURSIMETER_OK);
    pair.play(60);
    CHECK(keeper.asked > 0);
    CHECK(keeper.ticket == "rope");
    if (keeper.verdict == CURSIMETER_LET_IN) {
        REQUIRE(cursimeter_client_phase(pair.client) == CURSIMETER_PHASE_JOINED);
        cursimeter_runner_key hidden = 0, open = 0;
        REQUIRE(cursimeter_server_spawn(pair.server, 0, nullptr, -1, &hidden, nullptr) == CURSIMETER_OK);
        REQUIRE(cursimeter_server_spawn(pair.server, 0, nullptr, -1, &open, nullptr) == CURSIMETER_OK);
        pair.play(60);
        cursimeter_runner_key shown[3]{};
        REQUIRE(cursimeter_client_others(pair.client, shown, 3) == 1);
        CHECK(shown[0] == open);
        REQUIRE(cursimeter_server_set_rules(pair.server, nullptr) == CURSIMETER_OK);
        pair.play(60);
        CHECK(cursimeter_client_others(pair.client, shown, 3) == 2);
    } else if (keeper.verdict == CURSIMETER_WAIT) {
        CHECK(cursimeter_client_phase(pair.client) == CURSIMETER_PHASE_JOINING);
        CHECK(keeper.asked > 1);
    } else {
        CHECK(cursimeter_client_phase(pair.client) == CURSIMETER_PHASE_REFUSED);
        CHECK(cursimeter_client_farewell(pair.client, nullptr) == CURSIMETER_FAREWELL_TURNED_AWAY);
        CHECK(std::string(cursimeter_client_farewell_words(pair.client)) == "members only");
    }
}

TEST_CASE("a game in C seals its connections", "[capi]") {
    Pair pair;
    std::uint8_t kept[CURSIMETER_KEY_BYTES], open[CURSIMETER_KEY_BYTES], again[CURSIMETER_KEY_BYTES];
    REQUIRE(cursimeter_make_keys(kept, open, nullptr) == CURSIMETER_OK);
    REQUIRE(cursimeter_public_key(kept, again, nullptr) == CURSIMETER_OK);
    CHECK(std::memcmp(open, again, sizeof(open)) == 0);
    pair.host.secret_key = kept;
    pair.host.threads = 2;
    const bool knows_it = GENERATE(true, false);
    if (knows_it) {
        pair.guest.server_key = open;
    }
    pair.open();
    pair.play(60);
    CHECK(cursimeter_client_phase(pair.client) ==
          (knows_it ? CURSIMETER_PHASE_JOINED : CURSIMETER_PHASE_REFUSED));
    if (!knows_it) {
        CHECK(cursimeter_client_farewell(pair.client, nullptr) == CURSIMETER_FAREWELL_SEALED_ONLY);
    }
}
