/* Two players and no server: each end plays both runners, and plays again what turns out otherwise. */
#include <cursimeter/cursimeter_peers.h>
#include <stdio.h>
#include <string.h>

enum { delay = 10, most_packets = 64 }; /* a packet takes ten frames, 83 ms */

/* What is on its way to one end, in a ring. */
static struct {
    int due;
    size_t length;
    unsigned char bytes[CURSIMETER_PACKET_BYTES];
} wires[2][most_packets];
static size_t sent[2], taken[2];

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart;
    cursimeter_peers* ends[2];
    const cursimeter_peer_player players[2] = {{0, {{0, 0, 0}, 0}}, {0, {{0, 2, 0}, 0}}};
    cursimeter_peers_config config = CURSIMETER_PEERS_CONFIG_INIT;
    config.session =
        4711; /* a real one: cursimeter_random_number() of whoever opens the game, told to the other */
    config.players = players;
    config.player_count = 2;
    if (cursimeter_chart_load("demo/charts/bearer.toml", &chart, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    for (uint32_t i = 0; i < 2; ++i) {
        config.own = i;
        if (cursimeter_peers_new(&chart, 1, &config, &ends[i], error) != CURSIMETER_OK) {
            fprintf(stderr, "%s\n", cursimeter_error_text(error));
            return 1;
        }
    }
    const uint32_t sprint = 1u << cursimeter_find(chart, CURSIMETER_ACTIONS, "sprint", error);
    for (int frame = 0; frame < 600; ++frame) {
        for (int i = 0; i < 2; ++i) {
            cursimeter_peers* game = ends[i];
            cursimeter_intent intent = CURSIMETER_INTENT_INIT;
            cursimeter_remote_event event = CURSIMETER_REMOTE_EVENT_INIT;
            const void* bytes;
            size_t player, length;
            cursimeter_peers_tell_time(game, frame / 120.0); /* your steady clock */
            for (; taken[i] < sent[i] && wires[i][taken[i] % most_packets].due <= frame; ++taken[i]) {
                cursimeter_peers_receive(game, wires[i][taken[i] % most_packets].bytes,
                                         wires[i][taken[i] % most_packets].length, NULL);
            }
            intent.forward = i == 0 && frame > 120 ? 1 : 0;
            intent.held = i == 0 && frame > 240 ? sprint : 0;
            while (cursimeter_peers_due(game)) {
                cursimeter_peers_tick(game, &intent, NULL, NULL, 0);
            }
            while (cursimeter_peers_next_packet(game, &player, &bytes, &length) == CURSIMETER_OK) {
                const size_t place = sent[player]++ % most_packets;
                wires[player][place].due = frame + delay;
                wires[player][place].length = length;
                memcpy(wires[player][place].bytes, bytes, length);
            }
            while (cursimeter_peers_next_event(game, &event) == CURSIMETER_OK) {
                if (event.kind == CURSIMETER_ENTERED) {
                    printf("end %d: runner %d enters %s\n", i + 1,
                           event.key == cursimeter_peers_key(game, 0) ? 1 : 2,
                           cursimeter_name(chart, CURSIMETER_STATES, (size_t)event.subject));
                }
            }
        }
    }
    cursimeter_peers_statistics statistics = CURSIMETER_PEERS_STATISTICS_INIT;
    uint64_t digests[2];
    const uint32_t known[2] = {cursimeter_peers_confirmed(ends[0]), cursimeter_peers_confirmed(ends[1])};
    for (int i = 0; i < 2; ++i) {
        cursimeter_peers_digest_at(ends[i], known[0] < known[1] ? known[0] : known[1], &digests[i]);
    }
    cursimeter_peers_read_statistics(ends[1], &statistics);
    printf("the same to the bit: %s; played again: %d times at the second end, %d ticks deep\n",
           digests[0] == digests[1] ? "yes" : "no", (int)statistics.rollbacks, (int)statistics.deepest);
    cursimeter_peers_free(ends[0]);
    cursimeter_peers_free(ends[1]);
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
end 1: runner 1 enters sprint
end 2: runner 1 enters sprint
the same to the bit: yes; played again: 2 times at the second end, 3 ticks deep
*/
