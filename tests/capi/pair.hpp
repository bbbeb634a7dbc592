#pragma once

#include <cursimeter/cursimeter_link.h>

#include "capi/loaded.hpp"

namespace support {

/// One client on a server over a wire without faults, through C.
struct Pair {
    Loaded bearer{"bearer"};
    cursimeter_server* server = nullptr;
    cursimeter_client* client = nullptr;
    cursimeter_server_config host = CURSIMETER_SERVER_CONFIG_INIT;
    cursimeter_client_config guest = CURSIMETER_CLIENT_CONFIG_INIT;
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    const cursimeter_advancer* advancer = nullptr;
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
                REQUIRE(cursimeter_client_tick(client, &intent, advancer, "ab", 2) == CURSIMETER_OK);
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
                REQUIRE(cursimeter_server_tick(server, advancer) == CURSIMETER_OK);
            }
            while (cursimeter_server_next_packet(server, &peer, &bytes, &length) == CURSIMETER_OK) {
                CHECK(peer == 77);
                REQUIRE(cursimeter_client_receive(client, bytes, length, advancer) == CURSIMETER_OK);
            }
        }
    }
};

}  // namespace support
