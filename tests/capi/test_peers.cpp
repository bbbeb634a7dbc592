#include <cursimeter/cursimeter_peers.h>

#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/link/peer_game.hpp>
#include <deque>
#include <random>

#include "capi/loaded.hpp"

using namespace support;

/// Games of peers through the C interface: one end in C, the other in C++.
namespace {

using OnItsWay = std::pair<int, std::vector<std::byte>>;

/// Two ends and a wire of six frames at 60 a second, which loses every ninth packet.
struct Ends {
    Loaded keeper{"keeper"};
    cursimeter::Chart chart = cursimeter::load_chart(demo + "charts/keeper.toml").chart;
    cursimeter_peers* mine = nullptr;
    std::optional<cursimeter::link::PeerGame> theirs;
    cursimeter_peer_player players[2] = {{0, {{0, 0, 0}, 0}}, {0, {{0, 2, 0}, 0}}};
    cursimeter_peers_config config = CURSIMETER_PEERS_CONFIG_INIT;
    cursimeter::link::PeerGameConfig other;
    const cursimeter_advancer* advancer = nullptr;
    cursimeter::link::OpenGround ground;
    std::deque<OnItsWay> to_me, to_them;
    std::mt19937 random{4};
    cursimeter_intent my_intent = CURSIMETER_INTENT_INIT;
    cursimeter::Intent their_intent;
    int frame = 0, sent = 0;
    Ends() {
        config.session = other.session = 77;
        config.players = players;
        config.player_count = 2;
        other.players = {{0, {{0.0, 0.0, 0.0}, 0.0}}, {0, {{0.0, 2.0, 0.0}, 0.0}}};
        other.own = 1;
    }
    Ends(const Ends&) = delete;
    Ends& operator=(const Ends&) = delete;
    ~Ends() { cursimeter_peers_free(mine); }
    void open() {
        REQUIRE(cursimeter_peers_new(&keeper.chart, 1, &config, &mine, keeper.error) == CURSIMETER_OK);
        theirs.emplace(std::vector{chart}, other);
    }
    void change_wishes() {
        my_intent.forward = static_cast<double>(random() % 3) - 1.0;
        my_intent.yaw += static_cast<double>(random() % 100) * 0.01;
        my_intent.held = random() % 16;
        their_intent.move.side = static_cast<double>(random() % 3) - 1.0;
        their_intent.held = random() % 16;
    }
    void play(int frames) {
        for (const int end = frame + frames; frame < end; ++frame) {
            if (frame % 11 == 0) {
                change_wishes();
            }
            cursimeter_peers_tell_time(mine, frame / 60.0);
            theirs->tell_time(cursimeter::Seconds{frame / 60.0});
            for (; !to_me.empty() && to_me.front().first <= frame; to_me.pop_front()) {
                REQUIRE(cursimeter_peers_receive(mine, to_me.front().second.data(),
                                                 to_me.front().second.size(), advancer) == CURSIMETER_OK);
            }
            for (; !to_them.empty() && to_them.front().first <= frame; to_them.pop_front()) {
                theirs->receive(to_them.front().second, ground);
            }
            while (cursimeter_peers_due(mine) != 0) {
                REQUIRE(cursimeter_peers_tick(mine, &my_intent, advancer, "x", 1) == CURSIMETER_OK);
            }
            while (theirs->due()) {
                theirs->tick(their_intent, ground);
            }
            std::size_t player = 9, length = 0;
            const void* bytes = nullptr;
            while (cursimeter_peers_next_packet(mine, &player, &bytes, &length) == CURSIMETER_OK) {
                CHECK(player == 1);
                const auto* first = static_cast<const std::byte*>(bytes);
                if (++sent % 9 != 0) {
                    to_them.emplace_back(frame + 6, std::vector(first, first + length));
                }
            }
            while (const auto packet = theirs->next_packet()) {
                if (++sent % 9 != 0) {
                    to_me.emplace_back(frame + 6, std::vector(packet->bytes.begin(), packet->bytes.end()));
                }
            }
        }
    }
};

/// At one end a player is pushed that is not pushed at the other.
void pushes(void*, const cursimeter_advance_context* told, cursimeter_runner* runner,
            cursimeter_report* out) {
    if (told->tick == 200 && (told->key & 0xffffU) == 1) {
        cursimeter_push_spec push = CURSIMETER_PUSH_INIT;
        push.strength = 3.0;
        push.seconds = 0.5;
        static_cast<void>(cursimeter_push(told->chart, runner, &push, nullptr));
    }
    static_cast<void>(cursimeter_advance(told->chart, runner, told->intent, nullptr, told->seconds, out));
}

}  // namespace

TEST_CASE("a peer in C and one in C++ play one game to the bit", "[capi]") {
    Ends ends;
    ends.open();
    CHECK(cursimeter_peers_phase_of(ends.mine) == CURSIMETER_PEERS_JOINING);
    std::vector<cursimeter_remote_event> events;
    std::vector<cursimeter::link::RemoteEvent> same;
    for (int second = 0; second < 20; ++second) {
        ends.play(60);
        cursimeter_remote_event event = CURSIMETER_REMOTE_EVENT_INIT;
        while (cursimeter_peers_next_event(ends.mine, &event) == CURSIMETER_OK) {
            events.push_back(event);
        }
        while (const auto told = ends.theirs->next_event()) {
            same.push_back(*told);
        }
    }
    REQUIRE(cursimeter_peers_phase_of(ends.mine) == CURSIMETER_PEERS_PLAYING);
    const std::uint32_t tick =
        std::min(cursimeter_peers_confirmed(ends.mine), ends.theirs->confirmed().value);
    CHECK(tick > 1100);
    CHECK(cursimeter_peers_now(ends.mine) >= cursimeter_peers_confirmed(ends.mine));
    std::uint64_t digest = 0;
    REQUIRE(cursimeter_peers_digest_at(ends.mine, tick, &digest) == CURSIMETER_OK);
    CHECK(digest == ends.theirs->digest_at({tick}));
    for (std::size_t player = 0; player < 2; ++player) {
        double at[3] = {0, 0, 0};
        REQUIRE(cursimeter_peers_place_at(ends.mine, player, tick, at) == CURSIMETER_OK);
        const auto place = ends.theirs->place_at(player, {tick});
        REQUIRE(place);
        CHECK(at[0] == place->x);
        CHECK(at[1] == place->y);
        cursimeter_runner runner;
        int which = -1;
        REQUIRE(cursimeter_peers_get(ends.mine, player, &runner, &which) == CURSIMETER_OK);
        CHECK(which == 0);
        cursimeter_reading reading = CURSIMETER_READING_INIT;
        REQUIRE(cursimeter_read(ends.keeper.chart, &runner, &reading) == CURSIMETER_OK);
        CHECK(reading.distance > 5.0);
        REQUIRE(cursimeter_peers_shown(ends.mine, player, at) == CURSIMETER_OK);
        CHECK(std::abs(at[0] - reading.position[0]) < 1.0);
        cursimeter_report report;
        report.size = sizeof(report);
        REQUIRE(cursimeter_peers_report(ends.mine, player, &report) == CURSIMETER_OK);
        CHECK(report.seconds == Approx(1.0 / 60.0));
        CHECK(cursimeter_peers_is_gone(ends.mine, player) == 0);
    }
    // The events are the same, as far as both have told them.
    CHECK(events.size() > 50);
    for (std::size_t i = 0; i < std::min(events.size(), same.size()); ++i) {
        CHECK(events[i].kind == static_cast<int>(same[i].kind));
        CHECK(events[i].at == same[i].at);
        CHECK((events[i].key & 0xffffU) == same[i].runner.place);
    }
    cursimeter_peer_event began = CURSIMETER_PEER_EVENT_INIT;
    REQUIRE(cursimeter_peers_next_peer_event(ends.mine, &began) == CURSIMETER_OK);
    CHECK(began.kind == CURSIMETER_PEERS_BEGAN);
    CHECK(cursimeter_peers_next_peer_event(ends.mine, &began) == CURSIMETER_NO);
    cursimeter_peers_statistics statistics = CURSIMETER_PEERS_STATISTICS_INIT;
    REQUIRE(cursimeter_peers_read_statistics(ends.mine, &statistics) == CURSIMETER_OK);
    CHECK(statistics.rollbacks > 10);
    CHECK(statistics.replayed >= statistics.rollbacks);
    CHECK(statistics.deepest >= 2);
    CHECK(statistics.compared > 10);
    CHECK(statistics.bytes_in > statistics.packets_in * 10);
    CHECK(statistics.round_trip == Approx(0.2).margin(0.05));
    CHECK(statistics.damaged + statistics.malformed == 0);
    const double due = cursimeter_peers_due_at(ends.mine);
    CHECK(due == Approx(ends.frame / 60.0).margin(0.1));
    CHECK(cursimeter_peers_tick_part(ends.mine) >= 0.0);
    CHECK(cursimeter_peers_tick_part(ends.mine) <= 1.0);
    cursimeter_peers_split split = CURSIMETER_PEERS_SPLIT_INIT;
    CHECK(cursimeter_peers_read_split(ends.mine, &split) == CURSIMETER_NO);

    SECTION("one says goodbye: the other goes on without it") {
        ends.theirs->leave();
        ends.play(60);
        REQUIRE(cursimeter_peers_next_peer_event(ends.mine, &began) == CURSIMETER_OK);
        CHECK(began.kind == CURSIMETER_PEERS_GONE);
        CHECK(began.player == 1);
        CHECK(cursimeter_peers_is_gone(ends.mine, 1) == 1);
    }
    SECTION("the end in C says goodbye") {
        cursimeter_peers_leave(ends.mine);
        CHECK(cursimeter_peers_phase_of(ends.mine) == CURSIMETER_PEERS_ENDED);
        ends.play(60);
        CHECK(ends.theirs->is_gone(0));
    }
}

TEST_CASE("a peer in C whose advancer does something else is told where it came apart", "[capi]") {
    Ends ends;
    cursimeter_advancer advancer = CURSIMETER_ADVANCER_INIT;
    advancer.advance = pushes;
    ends.advancer = &advancer;
    ends.open();
    ends.play(400);
    REQUIRE(cursimeter_peers_phase_of(ends.mine) == CURSIMETER_PEERS_SPLIT);
    cursimeter_peers_split split = CURSIMETER_PEERS_SPLIT_INIT;
    REQUIRE(cursimeter_peers_read_split(ends.mine, &split) == CURSIMETER_OK);
    REQUIRE(ends.theirs->split());
    CHECK(split.tick == ends.theirs->split()->tick.value);
    CHECK(split.player == 1);
    CHECK(split.with == 1);
    CHECK(std::string(split.field) == ends.theirs->split()->field);
    CHECK(std::string(split.field).size() > 2);
    CHECK(std::string(split.own) == ends.theirs->split()->other);
    CHECK(std::string(split.other) == ends.theirs->split()->own);
    cursimeter_peer_event event = CURSIMETER_PEER_EVENT_INIT;
    int last = -1;
    while (cursimeter_peers_next_peer_event(ends.mine, &event) == CURSIMETER_OK) {
        last = event.kind;
    }
    CHECK(last == CURSIMETER_PEERS_CAME_APART);
}

TEST_CASE("mistakes with a game of peers in C are refused", "[capi]") {
    Ends ends;
    cursimeter_peers* game = nullptr;
    const auto make = [&] {
        return cursimeter_peers_new(&ends.keeper.chart, 1, &ends.config, &game, ends.keeper.error);
    };
    const auto words = [&] { return std::string(cursimeter_error_text(ends.keeper.error)); };
    SECTION("configurations") {
        ends.config.session = 0;
        CHECK(make() == CURSIMETER_BAD_INPUT);
        CHECK(words().find("session") != std::string::npos);
        ends.config.session = 3;
        ends.config.own = 2;
        CHECK(make() == CURSIMETER_BAD_INPUT);
        ends.config.own = 0;
        ends.players[1].chart = 1;
        CHECK(make() == CURSIMETER_BAD_INPUT);
        ends.players[1].chart = 0;
        ends.config.player_count = 1;
        CHECK(make() == CURSIMETER_BAD_INPUT);
        ends.config.player_count = 5;
        CHECK(make() == CURSIMETER_BAD_ARGUMENT);
        ends.config.player_count = 2;
        ends.config.players = nullptr;
        CHECK(make() == CURSIMETER_BAD_ARGUMENT);
        ends.config.players = ends.players;
        ends.config.size = 8;
        CHECK(make() == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_new(nullptr, 0, &ends.config, &game, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_new(&ends.keeper.chart, 1, &ends.config, nullptr, nullptr) ==
              CURSIMETER_BAD_ARGUMENT);
        CHECK(game == nullptr);
    }
    SECTION("another version of the game") {
        ends.other.game = 5;
        ends.open();
        ends.play(60);
        CHECK(cursimeter_peers_phase_of(ends.mine) == CURSIMETER_PEERS_REFUSED);
        std::uint32_t detail = 9;
        CHECK(cursimeter_peers_farewell(ends.mine, &detail) == CURSIMETER_FAREWELL_OTHER_GAME);
        CHECK(detail == 0);
    }
    SECTION("calls") {
        REQUIRE(make() == CURSIMETER_OK);
        double at[3] = {0, 0, 0};
        cursimeter_runner runner;
        cursimeter_report report;
        report.size = sizeof(report);
        CHECK(cursimeter_peers_players(game) == 2);
        CHECK(cursimeter_peers_key(game, 2) == CURSIMETER_NO_RUNNER);
        CHECK(cursimeter_peers_is_gone(game, 2) == 0);
        CHECK(cursimeter_peers_get(game, 2, &runner, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_get(game, 0, nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_shown(game, 2, at) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_report(game, 2, &report) == CURSIMETER_BAD_ARGUMENT);
        report.size = 0;
        CHECK(cursimeter_peers_report(game, 0, &report) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_place_at(game, 2, 0, at) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_place_at(game, 0, 4000, at) == CURSIMETER_NO);
        std::uint64_t digest = 3;
        CHECK(cursimeter_peers_digest_at(game, 4000, &digest) == CURSIMETER_NO);
        CHECK(digest == 0);
        CHECK(cursimeter_peers_digest_at(game, 0, nullptr) == CURSIMETER_BAD_ARGUMENT);
        cursimeter_intent intent = CURSIMETER_INTENT_INIT;
        intent.size = 0;
        CHECK(cursimeter_peers_tick(game, &intent, nullptr, nullptr, 0) == CURSIMETER_BAD_ARGUMENT);
        intent = CURSIMETER_INTENT_INIT;
        CHECK(cursimeter_peers_tick(game, &intent, nullptr, nullptr, 1) == CURSIMETER_BAD_ARGUMENT);
        const char extra[CURSIMETER_EXTRA_BYTES + 1] = {};
        CHECK(cursimeter_peers_tick(game, &intent, nullptr, extra, sizeof(extra)) == CURSIMETER_BAD_ARGUMENT);
        cursimeter_advancer advancer{};
        CHECK(cursimeter_peers_tick(game, &intent, &advancer, nullptr, 0) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_receive(game, nullptr, 4, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_receive(game, "noise", 5, &advancer) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_receive(game, "noise", 5, nullptr) == CURSIMETER_OK);
        cursimeter_peers_statistics statistics = CURSIMETER_PEERS_STATISTICS_INIT;
        REQUIRE(cursimeter_peers_read_statistics(game, &statistics) == CURSIMETER_OK);
        CHECK(statistics.damaged == 1);
        CHECK(cursimeter_peers_next_packet(game, nullptr, nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        cursimeter_peers_free(game);
    }
    SECTION("null") {
        cursimeter_peers_tell_time(nullptr, 1.0);
        cursimeter_peers_leave(nullptr);
        cursimeter_peers_free(nullptr);
        CHECK(cursimeter_peers_due(nullptr) == 0);
        CHECK(cursimeter_peers_due_at(nullptr) == 0.0);
        CHECK(cursimeter_peers_tick_part(nullptr) == 0.0);
        CHECK(cursimeter_peers_phase_of(nullptr) == CURSIMETER_PEERS_ENDED);
        CHECK(cursimeter_peers_farewell(nullptr, nullptr) == CURSIMETER_FAREWELL_NONE);
        CHECK(cursimeter_peers_now(nullptr) == 0);
        CHECK(cursimeter_peers_confirmed(nullptr) == 0);
        CHECK(cursimeter_peers_players(nullptr) == 0);
        CHECK(cursimeter_peers_read_statistics(nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_next_event(nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_next_peer_event(nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_peers_read_split(nullptr, nullptr) == CURSIMETER_BAD_ARGUMENT);
    }
}
