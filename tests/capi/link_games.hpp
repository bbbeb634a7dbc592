#pragma once

#include <cursimeter/cursimeter_link.h>

#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/link/client.hpp>
#include <cursimeter/link/server.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <deque>
#include <random>

#include "capi/loaded.hpp"

/// One game through the C interface and through the C++ one.
namespace support {

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

/// The same through the C interface. With an advancer of its own, or the usual one.
struct Called {
    Loaded bearer{"bearer"};
    cursimeter_terrain* course = nullptr;
    cursimeter_server* server = nullptr;
    cursimeter_client* clients[2]{};
    cursimeter_advancer advancer = CURSIMETER_ADVANCER_INIT;
    std::size_t most_others = 0, extras = 0, again = 0;

    explicit Called(bool own_step) {
        REQUIRE(cursimeter_terrain_load((demo + "courses/relay.toml").c_str(), bearer.chart, &course,
                                        bearer.error) == CURSIMETER_OK);
        advancer.terrain = course;
        if (own_step) {
            advancer.user = this;
            advancer.wants_others = 1;
            advancer.advance = advance;
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
    static void advance(void* user, const cursimeter_advance_context* told, cursimeter_runner* runner,
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
            REQUIRE(cursimeter_client_tick(clients[i], &intent, &advancer, &held, sizeof(held)) ==
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
            REQUIRE(cursimeter_server_tick(server, &advancer) == CURSIMETER_OK);
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
        REQUIRE(cursimeter_client_receive(clients[i], bytes.data(), bytes.size(), &advancer) ==
                CURSIMETER_OK);
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

}  // namespace support
