/* Two players at one machine, each with half of the screen, and a third elsewhere: one connection for the two. */
#include <cursimeter/cursimeter_link.h>
#include <stdio.h>

static cursimeter_chart* chart;
static cursimeter_server* server;
static cursimeter_client* clients[2]; /* the couch, and elsewhere */

static int made_all(cursimeter_error* error) {
    cursimeter_server_config host = CURSIMETER_SERVER_CONFIG_INIT;
    if (cursimeter_chart_load("demo/charts/bearer.toml", &chart, error) != CURSIMETER_OK) {
        return 0;
    }
    host.seats = 2;
    host.players = 2;
    host.secret = cursimeter_random_number();
    if (cursimeter_server_new(&chart, 1, &host, &server, error) != CURSIMETER_OK) {
        return 0;
    }
    for (uint32_t i = 0; i < 2; ++i) {
        cursimeter_client_config guest = CURSIMETER_CLIENT_CONFIG_INIT;
        guest.identity = i + 1;
        guest.attempt = 1;
        guest.players = 2 - i;
        if (cursimeter_client_new(&chart, 1, &guest, &clients[i], error) != CURSIMETER_OK) {
            return 0;
        }
    }
    return 1;
}

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    if (!made_all(error)) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    cursimeter_intent first = CURSIMETER_INTENT_INIT, second = CURSIMETER_INTENT_INIT;
    first.forward = 1; /* of two gamepads */
    second.side = 1;
    const cursimeter_player_intent pads[] = {{&first, NULL, 0}, {&second, NULL, 0}};
    for (int frame = 0; frame < 600; ++frame) {
        const double now = frame / 120.0;
        const void* bytes;
        size_t length;
        uint64_t peer;
        cursimeter_server_tell_time(server, now);
        for (int i = 0; i < 2; ++i) {
            cursimeter_client_tell_time(clients[i], now);
            while (cursimeter_client_due(clients[i])) {
                cursimeter_client_tick_players(clients[i], pads, i == 0 ? 2 : 0, NULL);
            }
            while (cursimeter_client_next_packet(clients[i], &bytes, &length) == CURSIMETER_OK) {
                cursimeter_server_receive(server, (uint64_t)i, bytes, length);
            }
        }
        cursimeter_server_event event = CURSIMETER_SERVER_EVENT_INIT;
        while (cursimeter_server_next_event(server, &event) == CURSIMETER_OK) {
            cursimeter_seat_reading seat = CURSIMETER_SEAT_READING_INIT;
            cursimeter_server_read_seat(server, event.seat, &seat);
            for (uint32_t player = 0; event.kind == CURSIMETER_SEAT_JOINED && player < seat.players;
                 ++player) {
                const cursimeter_placement start = {{0, 2.0 * player, 0}, 0};
                cursimeter_runner_key key;
                cursimeter_server_spawn_for(server, 0, &start, event.seat, player, &key, error);
            }
        }
        while (cursimeter_server_due(server)) {
            cursimeter_server_tick(server, NULL);
        }
        while (cursimeter_server_next_packet(server, &peer, &bytes, &length) == CURSIMETER_OK) {
            cursimeter_client_receive(clients[peer], bytes, length, NULL);
        }
    }
    for (uint32_t player = 0; player < 2; ++player) {
        double at[3] = {0, 0, 0};
        cursimeter_client_choose_player(clients[0], player);
        cursimeter_client_own_shown(clients[0], at);
        printf("player %u is shown at %.1f, %.1f\n", player + 1, at[0], at[1]);
    }
    printf("this machine shows %d other, the other %d\n", (int)cursimeter_client_others(clients[0], NULL, 0),
           (int)cursimeter_client_others(clients[1], NULL, 0));
    for (int i = 0; i < 2; ++i) {
        cursimeter_client_free(clients[i]);
    }
    cursimeter_server_free(server);
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
player 1 is shown at 11.6, 0.0
player 2 is shown at 0.0, -8.2
this machine shows 1 other, the other 2
*/
