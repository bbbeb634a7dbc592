#include <cursimeter/cursimeter_link.h>

#include <catch2/catch.hpp>
#include <cstring>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/link/client.hpp>
#include <cursimeter/link/server.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <deque>
#include <random>

#include "capi/loaded.hpp"

using namespace support;

/// The link through the C interface against the C++ one: the same match. Packets are not the same to the byte, since each
/// client draws a number as it joins, but of one length; and what they do is the same to the bit.
namespace {

using Packet = std::vector<std::byte>;
constexpr std::uint64_t secret = 4711;

/// A server and two clients through the C++ interface.
struct Plain {
    cursimeter::Chart chart = cursimeter::load_chart(demo + "charts/bearer.toml").chart;
    cursimeter::Course course = cursimeter::load_course(demo + "courses/relay.toml");
    cursimeter::rehearsal::OnCourse world{course, chart, 60.0};
    cursimeter::link::Server server{{chart}, {.seats = 2, .runners = 4, .secret = secret}};
    cursimeter::link::Client clients[2]{{{chart}, {.identity = 1, .attempt = 1}},
                                        {{chart}, {.identity = 2, .attempt = 1}}};
    void tell_time(double now) {
        server.tell_time(cursimeter::Seconds{now});
        for (auto& client : clients) {
            client.tell_time(cursimeter::Seconds{now});
        }
    }
    void tick_client(std::size_t i, double forward, double yaw, std::uint32_t held) {
        cursimeter::Intent intent;
        intent.move.forward = forward;
        intent.look.yaw = yaw;
        intent.held = held;
        const cursimeter::Change change = cursimeter::Change::look_to({yaw + 0.01, 0.1}, 0.004);
        intent.changes = {&change, 1};
        cursimeter::link::ExtraBytes extra;
        REQUIRE(extra.add(std::as_bytes(std::span(&held, 1))));
        while (clients[i].due()) {
            clients[i].tick(intent, world, extra);
        }
    }
    void tick_server() {
        while (const auto event = server.next_event()) {
            if (event->kind == cursimeter::link::ServerEventKind::joined) {
                REQUIRE(
                    server.spawn(0, {{2.0, static_cast<double>(event->identity), 0.0}, 0.0}, event->seat));
            }
        }
        while (server.due()) {
            server.tick(world);
        }
    }
    std::optional<Packet> from_client(std::size_t i) {
        const auto bytes = clients[i].next_packet();
        return bytes ? std::optional(Packet(bytes->begin(), bytes->end())) : std::nullopt;
    }
    std::optional<std::pair<std::size_t, Packet>> from_server() {
        const auto packet = server.next_packet();
        return packet ? std::optional(std::pair(static_cast<std::size_t>(packet->peer.value),
                                                Packet(packet->bytes.begin(), packet->bytes.end())))
                      : std::nullopt;
    }
    void to_server(std::size_t i, const Packet& bytes) { server.receive({i}, bytes); }
    void to_client(std::size_t i, const Packet& bytes) { clients[i].receive(bytes, world); }
    std::uint64_t corrections() {
        return clients[0].statistics().corrections + clients[1].statistics().corrections;
    }
    void shove() {
        REQUIRE(
            push(server.runner(server.runners().front()), {.direction = {0.0, 1.0, 0.0}, .strength = 5.0}));
    }
    std::vector<std::uint64_t> digests() {
        std::vector<std::uint64_t> all;
        for (const auto key : server.runners()) {
            all.push_back(digest(server.runner(key)));
        }
        return all;
    }
};

/// The same through the C interface. With a step of its own, or the usual one.
struct Called {
    Loaded bearer{"bearer"};
    cursimeter_terrain* course = nullptr;
    cursimeter_server* server = nullptr;
    cursimeter_client* clients[2]{};
    cursimeter_stepper stepper = CURSIMETER_STEPPER_INIT;
    std::size_t most_others = 0, extras = 0, again = 0;

    explicit Called(bool own_step) {
        REQUIRE(cursimeter_terrain_load((demo + "courses/relay.toml").c_str(), bearer.chart, &course,
                                        bearer.error) == CURSIMETER_OK);
        stepper.terrain = course;
        if (own_step) {
            stepper.user = this;
            stepper.wants_others = 1;
            stepper.step = step;
        }
        cursimeter_server_config host = CURSIMETER_SERVER_CONFIG_INIT;
        host.seats = 2;
        host.runners = 4;
        host.secret = secret;
        REQUIRE(cursimeter_server_new(&bearer.chart, 1, &host, &server, bearer.error) == CURSIMETER_OK);
        for (std::size_t i = 0; i < 2; ++i) {
            cursimeter_client_config guest = CURSIMETER_CLIENT_CONFIG_INIT;
            guest.identity = i + 1;
            guest.attempt = 1;
            REQUIRE(cursimeter_client_new(&bearer.chart, 1, &guest, &clients[i], bearer.error) ==
                    CURSIMETER_OK);
        }
    }
    Called(const Called&) = delete;
    Called& operator=(const Called&) = delete;
    ~Called() {
        cursimeter_server_free(server);
        cursimeter_client_free(clients[0]);
        cursimeter_client_free(clients[1]);
        cursimeter_terrain_free(course);
    }
    static void step(void* user, const cursimeter_step* told, cursimeter_runner* runner,
                     cursimeter_report* out) {
        Called& self = *static_cast<Called*>(user);
        self.most_others = std::max(self.most_others, told->other_count);
        self.extras += told->extra_length;
        self.again += static_cast<std::size_t>(told->again);
        static_cast<void>(cursimeter_terrain_set_time(self.course, (told->tick - 1.0) * told->seconds));
        static_cast<void>(
            cursimeter_advance(told->chart, runner, told->intent, self.course, told->seconds, out));
    }
    void tell_time(double now) {
        cursimeter_server_tell_time(server, now);
        cursimeter_client_tell_time(clients[0], now);
        cursimeter_client_tell_time(clients[1], now);
    }
    void tick_client(std::size_t i, double forward, double yaw, std::uint32_t held) {
        cursimeter_intent intent = CURSIMETER_INTENT_INIT;
        intent.forward = forward;
        intent.yaw = yaw;
        intent.held = held;
        const cursimeter_change change{0.004, CURSIMETER_LOOK, 0, yaw + 0.01, 0.1};
        intent.changes = &change;
        intent.change_count = 1;
        while (cursimeter_client_due(clients[i]) != 0) {
            REQUIRE(cursimeter_client_tick(clients[i], &intent, &stepper, &held, sizeof(held)) ==
                    CURSIMETER_OK);
        }
    }
    void tick_server() {
        cursimeter_server_event event = CURSIMETER_SERVER_EVENT_INIT;
        while (cursimeter_server_next_event(server, &event) == CURSIMETER_OK) {
            if (event.kind == CURSIMETER_SEAT_JOINED) {
                const cursimeter_placement start{{2.0, static_cast<double>(event.identity), 0.0}, 0.0};
                cursimeter_runner_key key = 0;
                REQUIRE(cursimeter_server_spawn(server, 0, &start, event.seat, &key, nullptr) ==
                        CURSIMETER_OK);
            }
        }
        while (cursimeter_server_due(server) != 0) {
            REQUIRE(cursimeter_server_tick(server, &stepper) == CURSIMETER_OK);
        }
    }
    static Packet copied(const void* bytes, std::size_t length) {
        const auto* first = static_cast<const std::byte*>(bytes);
        return {first, first + length};
    }
    std::optional<Packet> from_client(std::size_t i) {
        const void* bytes = nullptr;
        std::size_t length = 0;
        return cursimeter_client_next_packet(clients[i], &bytes, &length) == CURSIMETER_OK
                   ? std::optional(copied(bytes, length))
                   : std::nullopt;
    }
    std::optional<std::pair<std::size_t, Packet>> from_server() {
        const void* bytes = nullptr;
        std::size_t length = 0;
        std::uint64_t peer = 0;
        return cursimeter_server_next_packet(server, &peer, &bytes, &length) == CURSIMETER_OK
                   ? std::optional(std::pair(static_cast<std::size_t>(peer), copied(bytes, length)))
                   : std::nullopt;
    }
    void to_server(std::size_t i, const Packet& bytes) {
        cursimeter_server_receive(server, i, bytes.data(), bytes.size());
    }
    void to_client(std::size_t i, const Packet& bytes) {
        REQUIRE(cursimeter_client_receive(clients[i], bytes.data(), bytes.size(), &stepper) == CURSIMETER_OK);
    }
    std::uint64_t corrections() {
        std::uint64_t all = 0;
        for (const cursimeter_client* client : clients) {
            cursimeter_client_statistics now = CURSIMETER_CLIENT_STATISTICS_INIT;
            REQUIRE(cursimeter_client_read_statistics(client, &now) == CURSIMETER_OK);
            all += now.corrections;
        }
        return all;
    }
    void shove() {
        cursimeter_runner_key key = 0;
        cursimeter_runner runner;
        cursimeter_push_spec push = CURSIMETER_PUSH_INIT;
        push.direction[0] = 0.0;
        push.direction[1] = 1.0;
        push.strength = 5.0;
        REQUIRE(cursimeter_server_runners(server, &key, 1) == 2);
        REQUIRE(cursimeter_server_get(server, key, &runner) == CURSIMETER_OK);
        REQUIRE(cursimeter_push(bearer.chart, &runner, &push, nullptr) == CURSIMETER_OK);
        REQUIRE(cursimeter_server_set(server, key, &runner) == CURSIMETER_OK);
    }
    std::vector<std::uint64_t> digests() {
        cursimeter_runner_key keys[4]{};
        std::vector<std::uint64_t> all;
        const std::size_t count = cursimeter_server_runners(server, keys, 4);
        for (std::size_t i = 0; i < count; ++i) {
            cursimeter_runner runner;
            REQUIRE(cursimeter_server_get(server, keys[i], &runner) == CURSIMETER_OK);
            all.push_back(cursimeter_digest(&runner));
        }
        return all;
    }
};

/// What a match came to: the lengths of all packets that went, in order, and the server's runners after each frame.
struct Match {
    std::vector<std::size_t> packets;
    std::vector<std::uint64_t> digests;
};

/// Plays for so many frames of 1/120 s: 5 % of the packets are lost, the others take 6 frames, and the first client stands
/// still for 0.4 s once. The server pushes the first runner, of which its client does not know.
template <class Game>
Match play(Game& game, int frames) {
    Match match;
    std::mt19937 random(3), hands(5);
    struct OnItsWay {
        int due;
        std::size_t client;
        Packet bytes;
    };
    std::deque<OnItsWay> up, down;
    const auto send = [&](std::deque<OnItsWay>& wire, int frame, std::size_t client, Packet bytes) {
        match.packets.push_back(bytes.size());
        if (random() % 20 != 0) {
            wire.push_back({frame + 6, client, std::move(bytes)});
        }
    };
    std::uint32_t held[2]{};
    double yaw[2]{};
    for (int frame = 0; frame < frames; ++frame) {
        game.tell_time(frame / 120.0);
        for (; !up.empty() && up.front().due <= frame; up.pop_front()) {
            game.to_server(up.front().client, up.front().bytes);
        }
        for (; !down.empty() && down.front().due <= frame; down.pop_front()) {
            game.to_client(down.front().client, down.front().bytes);
        }
        for (std::size_t i = 0; i < 2; ++i) {
            yaw[i] += static_cast<double>(hands() % 100) / 2000.0 - 0.02;
            if (hands() % 30 == 0) {
                held[i] = static_cast<std::uint32_t>(hands()) & 0xfU;
            }
            if (i != 0 || frame < 300 || frame > 348) {
                game.tick_client(i, 1.0, yaw[i], held[i]);
            }
            while (const auto bytes = game.from_client(i)) {
                send(up, frame, i, *bytes);
            }
        }
        game.tick_server();
        if (frame == 700) {
            game.shove();
        }
        while (const auto packet = game.from_server()) {
            send(down, frame, packet->first, packet->second);
        }
        const std::vector<std::uint64_t> now = game.digests();
        match.digests.insert(match.digests.end(), now.begin(), now.end());
    }
    return match;
}

/// One client on a server over a wire without faults, through C.
struct Pair {
    Loaded bearer{"bearer"};
    cursimeter_server* server = nullptr;
    cursimeter_client* client = nullptr;
    cursimeter_server_config host = CURSIMETER_SERVER_CONFIG_INIT;
    cursimeter_client_config guest = CURSIMETER_CLIENT_CONFIG_INIT;
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    const cursimeter_stepper* stepper = nullptr;
    cursimeter_runner_key key = CURSIMETER_NO_RUNNER;
    std::vector<cursimeter_server_event> events;
    int frame = 0;
    Pair() {
        host.secret = cursimeter_random_number();
        guest.identity = cursimeter_random_number();
        guest.attempt = 1;
    }
    Pair(const Pair&) = delete;
    Pair& operator=(const Pair&) = delete;
    ~Pair() {
        cursimeter_server_free(server);
        cursimeter_client_free(client);
    }
    void open() {
        REQUIRE(cursimeter_server_new(&bearer.chart, 1, &host, &server, bearer.error) == CURSIMETER_OK);
        join();
    }
    void join() {
        cursimeter_client_free(client);
        REQUIRE(cursimeter_client_new(&bearer.chart, 1, &guest, &client, bearer.error) == CURSIMETER_OK);
        ++guest.attempt;
    }
    void play(int frames) {
        for (const int end = frame + frames; frame < end; ++frame) {
            cursimeter_server_tell_time(server, frame / 60.0);
            cursimeter_client_tell_time(client, frame / 60.0);
            while (cursimeter_client_due(client) != 0) {
                REQUIRE(cursimeter_client_tick(client, &intent, stepper, "ab", 2) == CURSIMETER_OK);
            }
            const void* bytes = nullptr;
            std::size_t length = 0;
            std::uint64_t peer = 0;
            while (cursimeter_client_next_packet(client, &bytes, &length) == CURSIMETER_OK) {
                CHECK(length <= CURSIMETER_PACKET_BYTES);
                cursimeter_server_receive(server, 77, bytes, length);
            }
            cursimeter_server_event event = CURSIMETER_SERVER_EVENT_INIT;
            while (cursimeter_server_next_event(server, &event) == CURSIMETER_OK) {
                events.push_back(event);
                if (event.kind == CURSIMETER_SEAT_JOINED) {
                    REQUIRE(cursimeter_server_spawn(server, 0, nullptr, event.seat, &key, nullptr) ==
                            CURSIMETER_OK);
                }
            }
            while (cursimeter_server_due(server) != 0) {
                REQUIRE(cursimeter_server_tick(server, stepper) == CURSIMETER_OK);
            }
            while (cursimeter_server_next_packet(server, &peer, &bytes, &length) == CURSIMETER_OK) {
                CHECK(peer == 77);
                REQUIRE(cursimeter_client_receive(client, bytes, length, stepper) == CURSIMETER_OK);
            }
        }
    }
};

}  // namespace

TEST_CASE("a match through the C interface is that through the C++ interface", "[capi]") {
    const bool own_step = GENERATE(false, true);
    Plain plain;
    Called called(own_step);
    const Match expected = play(plain, 1200);
    const Match got = play(called, 1200);
    REQUIRE(expected.packets.size() > 1000);
    REQUIRE(expected.digests.size() > 2000);
    CHECK(got.packets == expected.packets);
    CHECK(got.digests == expected.digests);
    CHECK(plain.corrections() > 0);
    CHECK(called.corrections() == plain.corrections());
    if (own_step) {
        CHECK(called.most_others == 1);
        CHECK(called.extras >= 4U * 2U * 600U);
        CHECK(called.again > 0);  // the push
    }

    // What the one shows the other shows, and the events of the other.
    cursimeter_runner_key others[4]{};
    REQUIRE(cursimeter_client_others(called.clients[1], others, 4) == 1);
    const auto there = plain.clients[1].others();
    REQUIRE(there.size() == 1);
    const auto expected_shown = *plain.clients[1].shown(there[0]);
    cursimeter_shown shown;
    shown.size = sizeof(shown);
    REQUIRE(cursimeter_client_shown(called.clients[1], others[0], &shown) == CURSIMETER_OK);
    CHECK(shown.position[0] == expected_shown.position.x);
    CHECK(shown.yaw == expected_shown.look.yaw);
    CHECK(shown.state == expected_shown.state.index);
    CHECK(cursimeter_digest(&shown.runner) == digest(expected_shown.runner));
    CHECK(cursimeter_client_shown_time(called.clients[1]) == plain.clients[1].shown_time());
    int events = 0;
    cursimeter_remote_event event = CURSIMETER_REMOTE_EVENT_INIT;
    while (const auto expected_event = plain.clients[1].next_event()) {
        REQUIRE(cursimeter_client_next_event(called.clients[1], &event) == CURSIMETER_OK);
        CHECK(event.at == expected_event->at);
        CHECK(event.kind == static_cast<int>(expected_event->kind));
        CHECK(event.subject == expected_event->subject);
        CHECK(event.value == expected_event->value);
        ++events;
    }
    CHECK(cursimeter_client_next_event(called.clients[1], &event) == CURSIMETER_NO);
    CHECK(events > 3);

    // Both ends agree at the tick that the server has told.
    std::uint32_t tick = 0;
    std::uint64_t mine = 0;
    REQUIRE(cursimeter_client_acknowledged(called.clients[0], &tick) == CURSIMETER_OK);
    REQUIRE(cursimeter_client_digest_at(called.clients[0], tick, &mine) == CURSIMETER_OK);
    CHECK(mine == plain.clients[0].digest_at({tick}));
    cursimeter_runner own;
    int chart = -1;
    REQUIRE(cursimeter_client_own(called.clients[0], &own, &chart) == CURSIMETER_OK);
    CHECK(cursimeter_digest(&own) == digest(plain.clients[0].own()));
    CHECK(chart == 0);
    double at[3]{};
    REQUIRE(cursimeter_client_own_shown(called.clients[0], at) == CURSIMETER_OK);
    CHECK(at[0] == plain.clients[0].own_shown().x);
    std::uint64_t told = 0;
    for (std::size_t i = 0; i < 2; ++i) {
        cursimeter_correction correction = CURSIMETER_CORRECTION_INIT;
        for (; cursimeter_client_next_correction(called.clients[i], &correction) == CURSIMETER_OK; ++told) {
            const auto same = plain.clients[i].next_correction();
            REQUIRE(same);
            CHECK(correction.tick == same->tick.value);
            CHECK(correction.distance == same->distance);
            CHECK(correction.replayed == same->replayed);
        }
    }
    CHECK(told == plain.corrections());
}

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

namespace {

/// A step that says things that cannot be.
void lies(void*, const cursimeter_step* told, cursimeter_runner* runner, cursimeter_report* out) {
    static_cast<void>(cursimeter_advance(told->chart, runner, told->intent, nullptr, told->seconds, out));
    out->event_count = 4000;
    for (int i = 0; i < CURSIMETER_MOST_EVENTS; ++i) {
        out->events[i] = {0.001 * i, 1e300, i - 20, i % 40 - 30, 99, -4, 70000, 300, 2, 0};
    }
}

}  // namespace

TEST_CASE("what a step in C says wrong harms nobody", "[capi]") {
    Pair pair;
    cursimeter_stepper stepper = CURSIMETER_STEPPER_INIT;
    stepper.step = lies;
    pair.stepper = &stepper;
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
        CHECK(cursimeter_client_tick(pair.client, nullptr, nullptr, nullptr, 0) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_client_tick(pair.client, &pair.intent, nullptr, "0123456789abcdefg", 17) ==
              CURSIMETER_BAD_ARGUMENT);
        cursimeter_stepper small = CURSIMETER_STEPPER_INIT;
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
