/* A game of two to four players without a server, in C: everybody plays everybody, and plays again what turned out otherwise.
 * C99.
 *
 * Only what players want goes over the network, so all ends come to the same to the bit, if their advancers do the same: digests
 * are compared once a second. Bytes in, bytes out, and the time; all memory is taken when a game is made. One thread at a time.
 * The loop, at any frame rate:
 *
 *     cursimeter_peers_tell_time(game, seconds);
 *     while (packet came)
 *         cursimeter_peers_receive(game, bytes, length, &advancer);
 *     while (cursimeter_peers_due(game))
 *         cursimeter_peers_tick(game, &intent, &advancer, NULL, 0);
 *     while (cursimeter_peers_next_packet(game, &player, &bytes, &length) == CURSIMETER_OK)
 *         ... send ...
 *     for (player = 0; player < players; ++player)
 *         cursimeter_peers_shown(game, player, at);
 *
 * Connections are plain: anybody who can read the traffic can forge it. Players see all of the game.
 */
#ifndef CURSIMETER_CURSIMETER_PEERS_H
#define CURSIMETER_CURSIMETER_PEERS_H

#include <cursimeter/cursimeter_link.h>

#ifdef __cplusplus
extern "C" {
#endif

#define CURSIMETER_MOST_PEERS 4

typedef struct cursimeter_peers cursimeter_peers;

/* One of the players, the same at all of them. */
typedef struct cursimeter_peer_player {
    size_t chart; /* index of its chart */
    cursimeter_placement start;
} cursimeter_peer_player;

typedef struct cursimeter_peers_config {
    size_t size;
    double tick_rate;                      /* per second, 10 to 240 */
    const cursimeter_peer_player* players; /* 2 to CURSIMETER_MOST_PEERS, in the same order at all */
    uint32_t player_count;
    uint32_t own;          /* which of them is here */
    uint64_t session;      /* of this game: cursimeter_random_number() of its host, the same at all; not 0 */
    uint64_t game, world;  /* numbers of this version of the game and of the world: all have the same */
    double input_delay;    /* s by which the own intents are played later than wanted, 0 to 0.2 */
    double most_predicted; /* s for which others' intents may be missing; then the game waits. Up to 0.5 */
    double silence;        /* s after which a player counts as gone, 0.5 to 60 */
    double half_life;      /* s in which half of a visible change by playing again has faded, 0 to 1 */
    double visible_limit;  /* m; a change that is larger shows at once */
} cursimeter_peers_config;
#define CURSIMETER_PEERS_CONFIG_INIT \
    { sizeof(cursimeter_peers_config), 60, 0, 0, 0, 0, 0, 0, 0.034, 0.25, 3, 0.08, 2 }

/* For runners of `count` charts, which may be freed afterwards, as may the config. */
CURSIMETER_API cursimeter_status cursimeter_peers_new(cursimeter_chart* const* charts, size_t count,
                                                      const cursimeter_peers_config* config,
                                                      cursimeter_peers** out, cursimeter_error* error);
CURSIMETER_API void cursimeter_peers_free(cursimeter_peers* game);

/* s, by a clock that never goes back. */
CURSIMETER_API void cursimeter_peers_tell_time(cursimeter_peers* game, double seconds);
/* Takes anything, from anybody. What has turned out otherwise is played again in this call. `advancer` null: open ground. */
CURSIMETER_API cursimeter_status cursimeter_peers_receive(cursimeter_peers* game, const void* bytes,
                                                          size_t length, const cursimeter_advancer* advancer);
/* 1 if the next tick is to be played by now. */
CURSIMETER_API int cursimeter_peers_due(const cursimeter_peers* game);
/* When it will be at the earliest, by the same clock. */
CURSIMETER_API double cursimeter_peers_due_at(const cursimeter_peers* game);
/* Goes on by one tick; does nothing unless one is due. The intent counts `input_delay` later. `extra`, which may be null: up
 * to CURSIMETER_EXTRA_BYTES that ride on it. */
CURSIMETER_API cursimeter_status cursimeter_peers_tick(cursimeter_peers* game,
                                                       const cursimeter_intent* intent,
                                                       const cursimeter_advancer* advancer, const void* extra,
                                                       size_t extra_length);
/* The part of a tick that has passed since the last one was due, 0 to 1. */
CURSIMETER_API double cursimeter_peers_tick_part(const cursimeter_peers* game);
/* The packets to send, one by one, and to which player; CURSIMETER_NO after the last. The bytes are valid until the next call. */
CURSIMETER_API cursimeter_status cursimeter_peers_next_packet(cursimeter_peers* game, size_t* player,
                                                              const void** bytes, size_t* length);
/* Says goodbye to all. The packets that say so are the next ones. */
CURSIMETER_API void cursimeter_peers_leave(cursimeter_peers* game);

typedef enum cursimeter_peers_phase {
    CURSIMETER_PEERS_JOINING = 0, /* not all have been heard of */
    CURSIMETER_PEERS_PLAYING = 1,
    CURSIMETER_PEERS_REFUSED = 2, /* another player has something else, see the farewell */
    CURSIMETER_PEERS_SPLIT =
        3, /* this end has come to another state than another, see cursimeter_peers_read_split */
    CURSIMETER_PEERS_ENDED = 4 /* it has left, or the others go on without it; also for null */
} cursimeter_peers_phase;
CURSIMETER_API int cursimeter_peers_phase_of(const cursimeter_peers* game);
/* Why the game was refused: cursimeter_farewell; `detail` may be null. cursimeter_describe_farewell says it. */
CURSIMETER_API int cursimeter_peers_farewell(const cursimeter_peers* game, uint32_t* detail);

/* Where two ends have come apart: their worlds, charts or builds are not the same after all. */
typedef struct cursimeter_peers_split {
    size_t size;
    uint32_t tick;   /* after which they were compared; up to a second before they were the same */
    uint32_t player; /* whose runner differs */
    uint32_t with;   /* the other end */
    uint32_t reserved;
    const char* field; /* the first that differs, "position.x"; empty until the other has told it */
    const char* own;   /* its value here */
    const char* other; /* and there */
} cursimeter_peers_split;
#define CURSIMETER_PEERS_SPLIT_INIT \
    { sizeof(cursimeter_peers_split), 0, 0, 0, 0, 0, 0, 0 }
/* CURSIMETER_NO while they are the same. The texts live until the next call for this game. */
CURSIMETER_API cursimeter_status cursimeter_peers_read_split(const cursimeter_peers* game,
                                                             cursimeter_peers_split* out);

/* The tick that was played last; 0 before the first. */
CURSIMETER_API uint32_t cursimeter_peers_now(const cursimeter_peers* game);
/* The newest tick that will not change any more: everybody's intents up to there are known. */
CURSIMETER_API uint32_t cursimeter_peers_confirmed(const cursimeter_peers* game);
CURSIMETER_API size_t cursimeter_peers_players(const cursimeter_peers* game);
/* 1 if a player has left or was not heard of for too long. Functions that take a player return CURSIMETER_BAD_ARGUMENT for one
 * that there is not; this one 0. */
CURSIMETER_API int cursimeter_peers_is_gone(const cursimeter_peers* game, size_t player);
/* CURSIMETER_NO_RUNNER for a player that there is not. */
CURSIMETER_API cursimeter_runner_key cursimeter_peers_key(const cursimeter_peers* game, size_t player);
/* A runner after the last tick, as far as is known. `chart`, which may be null: which of the charts it has. */
CURSIMETER_API cursimeter_status cursimeter_peers_get(const cursimeter_peers* game, size_t player,
                                                      cursimeter_runner* out, int* chart);
/* Where to draw it, m: between the last two ticks; what playing again has changed fades. */
CURSIMETER_API cursimeter_status cursimeter_peers_shown(const cursimeter_peers* game, size_t player,
                                                        double at[3]);
/* What the last tick did when it was played first; may turn out otherwise. */
CURSIMETER_API cursimeter_status cursimeter_peers_report(const cursimeter_peers* game, size_t player,
                                                         cursimeter_report* out);
/* Digest of all runners after a tick of the last four seconds, as it stands now. CURSIMETER_NO if it is not kept. */
CURSIMETER_API cursimeter_status cursimeter_peers_digest_at(const cursimeter_peers* game, uint32_t tick,
                                                            uint64_t* digest);
/* Where a runner was after a tick, m; the same time back. CURSIMETER_NO if it is not kept. */
CURSIMETER_API cursimeter_status cursimeter_peers_place_at(const cursimeter_peers* game, size_t player,
                                                           uint32_t tick, double at[3]);
/* What happened to runners, each once, when it cannot change any more; CURSIMETER_NO after the last. */
CURSIMETER_API cursimeter_status cursimeter_peers_next_event(cursimeter_peers* game,
                                                             cursimeter_remote_event* out);

typedef enum cursimeter_peer_event_kind {
    CURSIMETER_PEERS_BEGAN = 0,     /* all are there */
    CURSIMETER_PEERS_GONE = 1,      /* a player: its runner wants nothing any more */
    CURSIMETER_PEERS_CAME_APART = 2 /* see cursimeter_peers_read_split */
} cursimeter_peer_event_kind;
typedef struct cursimeter_peer_event {
    size_t size;
    int32_t kind; /* cursimeter_peer_event_kind */
    uint32_t player;
    uint32_t tick;
    uint32_t reserved;
} cursimeter_peer_event;
#define CURSIMETER_PEER_EVENT_INIT \
    { sizeof(cursimeter_peer_event), 0, 0, 0, 0 }
/* What happened to players; CURSIMETER_NO after the last. */
CURSIMETER_API cursimeter_status cursimeter_peers_next_peer_event(cursimeter_peers* game,
                                                                  cursimeter_peer_event* out);

typedef struct cursimeter_peers_statistics {
    size_t size;
    uint64_t packets_in, bytes_in, packets_out, bytes_out;
    uint64_t damaged, malformed; /* packets that were of no use */
    uint64_t rollbacks;          /* times that something was played again */
    uint64_t replayed;           /* ticks played again, all together */
    uint64_t deepest;            /* ticks played again at once, at most */
    uint64_t waits;              /* ticks that came late because others' intents were missing for too long */
    uint64_t compared;           /* digests that were the same */
    uint64_t events_lost;
    double ahead;      /* ticks by which this end is ahead of the one furthest behind */
    double round_trip; /* s, to the furthest of the others, about */
} cursimeter_peers_statistics;
#define CURSIMETER_PEERS_STATISTICS_INIT \
    { sizeof(cursimeter_peers_statistics), 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }
CURSIMETER_API cursimeter_status cursimeter_peers_read_statistics(const cursimeter_peers* game,
                                                                  cursimeter_peers_statistics* out);

#ifdef __cplusplus
}
#endif

#endif
