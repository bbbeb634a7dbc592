/* Two players on one quay: a server, two clients, and a wire that loses every seventh packet. */
#include <cursimeter/cursimeter_link.h>
#include <stdio.h>

static cursimeter_chart* chart;
static cursimeter_server* server;
static cursimeter_client* clients[2];

static const char* state_of(int state) {
    return cursimeter_name(chart, CURSIMETER_STATES, (size_t)state);
}

static int made_all(cursimeter_error* error) {
    cursimeter_server_config host = CURSIMETER_SERVER_CONFIG_INIT;
    if (cursimeter_chart_load("demo/charts/bearer.toml", &chart, error) != CURSIMETER_OK) {
        return 0;
    }
    host.seats = 2;
    host.secret = cursimeter_random_number();
    if (cursimeter_server_new(&chart, 1, &host, &server, error) != CURSIMETER_OK) {
        return 0;
    }
    for (int i = 0; i < 2; ++i) {
        cursimeter_client_config guest = CURSIMETER_CLIENT_CONFIG_INIT;
        guest.identity = (uint64_t)i + 1; /* a real one: kept, and known to nobody else */
        guest.attempt = 1;
        if (cursimeter_client_new(&chart, 1, &guest, &clients[i], error) != CURSIMETER_OK) {
            return 0;
        }
    }
    return 1;
}

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    int packets = 0;
    if (!made_all(error)) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    const uint32_t sprint = 1u << cursimeter_find(chart, CURSIMETER_ACTIONS, "sprint", error);
    for (int frame = 0; frame < 600; ++frame) {
        const double now = frame / 120.0; /* your steady clock */
        const void* bytes;
        size_t length;
        uint64_t peer;
        cursimeter_server_tell_time(server, now);
        for (int i = 0; i < 2; ++i) {
            cursimeter_intent intent = CURSIMETER_INTENT_INIT;
            intent.forward = i == 0 ? 1 : 0;
            intent.held = i == 0 && now > 2 ? sprint : 0;
            cursimeter_client_tell_time(clients[i], now);
            while (cursimeter_client_due(clients[i])) {
                cursimeter_client_tick(clients[i], &intent, NULL, NULL, 0);
            }
            while (cursimeter_client_next_packet(clients[i], &bytes, &length) == CURSIMETER_OK) {
                if (++packets % 7 != 0) {
                    cursimeter_server_receive(server, (uint64_t)i, bytes, length);
                }
            }
        }
        cursimeter_server_event event = CURSIMETER_SERVER_EVENT_INIT;
        while (cursimeter_server_next_event(server, &event) == CURSIMETER_OK) {
            if (event.kind == CURSIMETER_SEAT_JOINED) {
                const cursimeter_placement start = {{0, 2.0 * (double)event.identity, 0}, 0};
                cursimeter_runner_key key;
                cursimeter_server_spawn(server, 0, &start, event.seat, &key, error);
            }
        }
        while (cursimeter_server_due(server)) {
            cursimeter_server_tick(server, NULL);
        }
        while (cursimeter_server_next_packet(server, &peer, &bytes, &length) == CURSIMETER_OK) {
            if (++packets % 7 != 0) {
                cursimeter_client_receive(clients[peer], bytes, length, NULL);
            }
        }
        cursimeter_remote_event seen = CURSIMETER_REMOTE_EVENT_INIT;
        while (cursimeter_client_next_event(clients[1], &seen) == CURSIMETER_OK) {
            if (seen.kind == CURSIMETER_ENTERED) {
                printf("the second sees the first enter %s\n", state_of(seen.subject));
            }
        }
    }
    static cursimeter_shown shown;
    cursimeter_runner own;
    cursimeter_reading reading = CURSIMETER_READING_INIT;
    shown.size = sizeof shown;
    cursimeter_client_own(clients[0], &own, NULL);
    cursimeter_read(chart, &own, &reading);
    cursimeter_client_shown(clients[1], cursimeter_client_own_key(clients[0]), &shown);
    printf("the first is predicted in %s, the second shows %s\n", state_of(reading.state),
           state_of(shown.state));
    for (int i = 0; i < 2; ++i) {
        cursimeter_client_statistics statistics = CURSIMETER_CLIENT_STATISTICS_INIT;
        cursimeter_client_read_statistics(clients[i], &statistics);
        printf("corrections: %d\n", (int)statistics.corrections);
        cursimeter_client_free(clients[i]);
    }
    cursimeter_server_free(server);
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
the second sees the first enter sprint
the first is predicted in sprint, the second shows sprint
corrections: 0
corrections: 0
*/
