/* A networked game in C: a server that plays every runner, and clients whose own runner answers at once. C99.
 *
 * Bytes in, bytes out, and the time: sockets, clocks and threads are the game's. Memory is taken when an object is made,
 * not later. A server or a client is used by one thread at a time. The loops, at any frame rate:
 *
 *     cursimeter_server_tell_time(server, seconds);           cursimeter_client_tell_time(client, seconds);
 *     while (packet came)                                     while (packet came)
 *         cursimeter_server_receive(server, peer, ...);           cursimeter_client_receive(client, ..., &advancer);
 *     while (cursimeter_server_next_event(server, &e) == OK)  while (cursimeter_client_due(client))
 *         ... spawn a runner for who joined ...                   cursimeter_client_tick(client, &intent, &advancer, ...);
 *     while (cursimeter_server_due(server))                   while (cursimeter_client_next_packet(client, ...) == OK)
 *         cursimeter_server_tick(server, &advancer);               ... send ...
 *     while (cursimeter_server_next_packet(server, ...) == OK)
 *         ... send ...
 *
 * docs/netcode.md explains it. Functions that return a status and take no error object return CURSIMETER_BAD_ARGUMENT for a
 * null pointer or a number out of range, and CURSIMETER_NO where there is nothing to hand out.
 */
#ifndef CURSIMETER_CURSIMETER_LINK_H
#define CURSIMETER_CURSIMETER_LINK_H

#include <cursimeter/cursimeter.h>

#ifdef __cplusplus
extern "C" {
#endif

#define CURSIMETER_PACKET_BYTES 1200    /* no packet is longer */
#define CURSIMETER_LONGEST_MESSAGE 1024 /* bytes */
#define CURSIMETER_LONGEST_TICKET 256   /* bytes */
#define CURSIMETER_EXTRA_BYTES 16       /* that ride on an intent, at most */
#define CURSIMETER_KEY_BYTES 32         /* of a secret or a public key */
#define CURSIMETER_MOST_PLAYERS 4       /* at one client */

/* A runner of the game: the same number at the server and at every client. */
typedef uint32_t cursimeter_runner_key;
#define CURSIMETER_NO_RUNNER 0xffffffffu
/* A client's place at the server, from 0; -1: none. */
typedef int32_t cursimeter_seat;

/* ---- Numbers and keys ------------------------------------------------------------------------------------------- */

/* A number that nobody can guess, never 0: for `secret` and `identity`. */
CURSIMETER_API uint64_t cursimeter_random_number(void);
/* A pair of keys for sealed connections: the server keeps `secret`, its clients are given `open`.
 * CURSIMETER_BAD_INPUT if this build cannot seal. */
CURSIMETER_API cursimeter_status cursimeter_make_keys(uint8_t secret[CURSIMETER_KEY_BYTES],
                                                      uint8_t open[CURSIMETER_KEY_BYTES],
                                                      cursimeter_error* error);
/* The public key of a secret one that was kept. */
CURSIMETER_API cursimeter_status cursimeter_public_key(const uint8_t secret[CURSIMETER_KEY_BYTES],
                                                       uint8_t open[CURSIMETER_KEY_BYTES],
                                                       cursimeter_error* error);

/* ---- The advancer --------------------------------------------------------------------------------------------------- */

/* Another runner while one is moved on. */
typedef struct cursimeter_neighbour {
    cursimeter_runner_key key;
    uint32_t reserved;
    double position[3];    /* m */
    double velocity[3];    /* m/s */
    double yaw, pitch;     /* rad */
    double radius, height; /* m */
} cursimeter_neighbour;

/* One tick of one runner, as an advancer gets it. */
typedef struct cursimeter_advance_context {
    size_t size;
    const cursimeter_chart* chart;   /* one of those that the server or client was made with */
    const cursimeter_intent* intent; /* what its player wants; the server's advancer may play another */
    double seconds;                  /* the tick's length */
    uint32_t tick;
    cursimeter_runner_key key;
    int32_t again; /* 1: a client plays it again after a correction; nothing outside is to happen twice */
    uint32_t reserved;
    const void* extra; /* bytes that came with the intent */
    size_t extra_length;
    const cursimeter_neighbour* others; /* as they were after the tick before, if `wants_others` */
    size_t other_count;
} cursimeter_advance_context;

/* How runners are moved on, at the server and at its clients. With the same chart, runner, intent and tick it must do the
 * same to the bit at both. */
typedef struct cursimeter_advancer {
    size_t size;
    void* user; /* handed to `advance` */
    /* Null: `cursimeter_advance` in `terrain`. Otherwise it moves the runner on by cursimeter_advance, or by
     * cursimeter_propose and cursimeter_settle, and hands `out` on to it. It must return (no exception, no longjmp). */
    void (*advance)(void* user, const cursimeter_advance_context* context, cursimeter_runner* runner,
                    cursimeter_report* out);
    /* Null: open flat ground. The platforms of a course are put where they stand at the tick; a course is for the runners of
     * one chart, so with several charts write an `advance`. */
    cursimeter_terrain* terrain;
    int32_t wants_others; /* 1: `advance` gets the places of the others */
    int32_t reserved;
} cursimeter_advancer;
#define CURSIMETER_ADVANCER_INIT \
    { sizeof(cursimeter_advancer), 0, 0, 0, 0, 0 }

/* ---- Why somebody is not let in, or a connection has ended ------------------------------------------------------- */

typedef enum cursimeter_farewell {
    CURSIMETER_FAREWELL_NONE = 0,
    CURSIMETER_FAREWELL_OTHER_VERSION = 1,   /* another version of the protocol */
    CURSIMETER_FAREWELL_OTHER_TICK_RATE = 2, /* detail: the server's, in thousandths per second */
    CURSIMETER_FAREWELL_OTHER_CHARTS = 3,    /* detail: the first chart that differs, or how many there are */
    CURSIMETER_FAREWELL_FULL = 4,            /* detail: how many seats there are */
    CURSIMETER_FAREWELL_TOO_MANY = 5,        /* more runners than the client was made for; detail: how many */
    CURSIMETER_FAREWELL_LEFT = 6,            /* the client said goodbye */
    CURSIMETER_FAREWELL_REMOVED = 7,         /* the server said goodbye */
    CURSIMETER_FAREWELL_SILENT = 8,          /* nothing was heard for too long */
    CURSIMETER_FAREWELL_MOVED = 9,           /* the same identity joined from elsewhere */
    CURSIMETER_FAREWELL_OUTDATED =
        10, /* the identity has joined with this attempt before, or with a later one */
    CURSIMETER_FAREWELL_SEALED_ONLY = 11, /* the server seals, and the client has no key of it */
    CURSIMETER_FAREWELL_UNSEALED = 12,    /* the client has a key, and the server does not seal */
    CURSIMETER_FAREWELL_OTHER_KEY = 13,   /* the server's key is another one */
    CURSIMETER_FAREWELL_OTHER_GAME = 14,  /* detail 0: another version of the game; 1: another world */
    CURSIMETER_FAREWELL_TURNED_AWAY = 15  /* by the game at the server */
} cursimeter_farewell;
/* Writes "the server is full (16 seats)" into `buffer`, cut to `size` bytes with its 0. Returns the length of the whole. */
CURSIMETER_API size_t cursimeter_describe_farewell(int32_t farewell, uint32_t detail, char* buffer,
                                                   size_t size);

/* ---- The server ------------------------------------------------------------------------------------------------- */

typedef struct cursimeter_server cursimeter_server;

typedef struct cursimeter_server_config {
    size_t size;
    double tick_rate;          /* per second, 10 to 1,000 */
    uint32_t snapshot_every;   /* ticks, 1 to 100 and at most 0.1 s */
    uint32_t seats, runners;   /* 1 to 1,024 */
    uint32_t budget;           /* bytes of one snapshot to one client, 700 to CURSIMETER_PACKET_BYTES */
    uint64_t secret;           /* cursimeter_random_number(), another at each start; not 0 */
    const uint8_t* secret_key; /* CURSIMETER_KEY_BYTES: connections are sealed; null: they are not */
    uint64_t game, world; /* numbers of this version of the game and of the world: clients have the same */
    double silence;       /* s after which a client counts as gone */
    double keep;          /* s for which seat and runners wait for it, 0 to a day */
    double history;       /* s of lag compensation, up to 2 */
    double interest;      /* m; runners further than this from all of a client's own are not told */
    uint32_t threads;     /* that write snapshots, with the caller's; 1 to 64 */
    uint32_t players;     /* at one client, each with a runner, up to CURSIMETER_MOST_PLAYERS; 0 is 1 */
} cursimeter_server_config;
#define CURSIMETER_SERVER_CONFIG_INIT                                                                        \
    {                                                                                                        \
        sizeof(cursimeter_server_config), 60, 3, 16, 64, CURSIMETER_PACKET_BYTES, 0, 0, 0, 0, 5, 60, 1, 1e9, \
            1, 1                                                                                             \
    }

/* For runners of `count` charts, which may be freed afterwards. */
CURSIMETER_API cursimeter_status cursimeter_server_new(cursimeter_chart* const* charts, size_t count,
                                                       const cursimeter_server_config* config,
                                                       cursimeter_server** out, cursimeter_error* error);
CURSIMETER_API void cursimeter_server_free(cursimeter_server* server);

/* s, by a clock that never goes back. */
CURSIMETER_API void cursimeter_server_tell_time(cursimeter_server* server, double seconds);
/* 1 if the next tick is to be played by now. */
CURSIMETER_API int cursimeter_server_due(const cursimeter_server* server);
/* When it will be, by the same clock. */
CURSIMETER_API double cursimeter_server_due_at(const cursimeter_server* server);
/* `peer` is a number that the game's transport gives an address. Takes anything, from anybody. */
CURSIMETER_API void cursimeter_server_receive(cursimeter_server* server, uint64_t peer, const void* bytes,
                                              size_t length);
/* The transport knows that a peer is gone. Without it, silence tells. */
CURSIMETER_API void cursimeter_server_disconnected(cursimeter_server* server, uint64_t peer);
/* `advancer` null: open flat ground. */
CURSIMETER_API cursimeter_status cursimeter_server_tick(cursimeter_server* server,
                                                        const cursimeter_advancer* advancer);
/* The packets to send, one by one; CURSIMETER_NO after the last. The bytes are valid until the next call. */
CURSIMETER_API cursimeter_status cursimeter_server_next_packet(cursimeter_server* server, uint64_t* peer,
                                                               const void** bytes, size_t* length);
/* The tick that was played last. */
CURSIMETER_API uint32_t cursimeter_server_now(const cursimeter_server* server);

typedef enum cursimeter_server_event_kind {
    CURSIMETER_SEAT_JOINED = 0,   /* a client has taken a seat; it has no runner yet */
    CURSIMETER_SEAT_REJOINED = 1, /* a client is back on its seat, with the runner that it had */
    CURSIMETER_SEAT_LEFT = 2,     /* its connection has ended; seat and runners stay for `keep` */
    CURSIMETER_SEAT_FORGOTTEN = 3 /* its seat is free again, and its runners gone */
} cursimeter_server_event_kind;
typedef struct cursimeter_server_event {
    size_t size;
    int32_t kind; /* cursimeter_server_event_kind */
    cursimeter_seat seat;
    uint64_t identity;
    int32_t why; /* cursimeter_farewell, of CURSIMETER_SEAT_LEFT */
    int32_t reserved;
} cursimeter_server_event;
#define CURSIMETER_SERVER_EVENT_INIT \
    { sizeof(cursimeter_server_event), 0, 0, 0, 0, 0 }
/* What happened to clients, oldest first; CURSIMETER_NO after the last. Ask at least once a tick. */
CURSIMETER_API cursimeter_status cursimeter_server_next_event(cursimeter_server* server,
                                                              cursimeter_server_event* out);
/* What a client handed over as it joined; null if it was nothing. */
CURSIMETER_API const void* cursimeter_server_ticket(const cursimeter_server* server, cursimeter_seat seat,
                                                    size_t* length);

/* A message arrives once and in order, whatever is lost. CURSIMETER_NO, and nothing is sent: too long, too many wait, or
 * nobody is on the seat. */
CURSIMETER_API cursimeter_status cursimeter_server_send_message(cursimeter_server* server,
                                                                cursimeter_seat seat, const void* bytes,
                                                                size_t length);
/* CURSIMETER_NO after the last. The bytes are valid until the next call. */
CURSIMETER_API cursimeter_status cursimeter_server_next_message(cursimeter_server* server,
                                                                cursimeter_seat* seat, const void** bytes,
                                                                size_t* length);

/* Records all ticks from now on as a match, which `cursimeter replay` and cursimeter_replay_match play again to the bit
 * (docs/match-format.md); what was recorded before is given up. `course_text` is the course's TOML, kept so that the match can be
 * played alone; null on open ground and in worlds of your own. `note` may be null. */
CURSIMETER_API cursimeter_status cursimeter_server_record(cursimeter_server* server, const char* course_text,
                                                          const char* note, cursimeter_error* error);
/* What was recorded since the last `clear`: append it to a file. Null where there is nothing. Valid until the next tick. */
CURSIMETER_API const void* cursimeter_server_recorded(const cursimeter_server* server, size_t* length);
CURSIMETER_API void cursimeter_server_clear_recorded(cursimeter_server* server);
/* 1: there was no room for a tick (1 MB waits for `clear`), and the match ended before it. */
CURSIMETER_API int cursimeter_server_record_over(const cursimeter_server* server);

typedef struct cursimeter_match_replay {
    size_t size;
    size_t ticks;
    size_t runners;   /* at most at once */
    size_t differing; /* ticks of runners that came out otherwise */
    double seconds;
} cursimeter_match_replay;
#define CURSIMETER_MATCH_REPLAY_INIT \
    { sizeof(cursimeter_match_replay), 0, 0, 0, 0 }
/* Plays a match that holds its own charts. `advancer` null: in its course, or on open ground. CURSIMETER_NO if it came out otherwise; the
 * error says where. */
CURSIMETER_API cursimeter_status cursimeter_replay_match(const void* bytes, size_t length,
                                                         const cursimeter_advancer* advancer,
                                                         cursimeter_match_replay* out,
                                                         cursimeter_error* error);

/* Puts a runner into the game, owned by a client (`seat` >= 0) or by nobody (-1). CURSIMETER_NO if there is no place left
 * or the client has one. `placement` may be null: the origin. */
CURSIMETER_API cursimeter_status cursimeter_server_spawn(cursimeter_server* server, size_t chart,
                                                         const cursimeter_placement* placement,
                                                         cursimeter_seat seat, cursimeter_runner_key* out,
                                                         cursimeter_error* error);
/* The same for another of the client's players, from 0. CURSIMETER_BAD_ARGUMENT if it has no such player. */
CURSIMETER_API cursimeter_status cursimeter_server_spawn_for(cursimeter_server* server, size_t chart,
                                                             const cursimeter_placement* placement,
                                                             cursimeter_seat seat, size_t player,
                                                             cursimeter_runner_key* out,
                                                             cursimeter_error* error);
/* CURSIMETER_NO if there is no such runner; so with all that follow. */
CURSIMETER_API cursimeter_status cursimeter_server_despawn(cursimeter_server* server,
                                                           cursimeter_runner_key key);
/* Writes up to `room` keys, in a fixed order; `keys` may be null with 0. Returns how many runners there are. */
CURSIMETER_API size_t cursimeter_server_runners(const cursimeter_server* server, cursimeter_runner_key* keys,
                                                size_t room);
/* A copy of a runner; and back again after effects were given to it. `set` refuses one of another chart. */
CURSIMETER_API cursimeter_status cursimeter_server_get(const cursimeter_server* server,
                                                       cursimeter_runner_key key, cursimeter_runner* out);
CURSIMETER_API cursimeter_status cursimeter_server_set(cursimeter_server* server, cursimeter_runner_key key,
                                                       const cursimeter_runner* runner);
/* Which of the server's charts it has, from 0; -1: there is no such runner. */
CURSIMETER_API int cursimeter_server_chart_of(const cursimeter_server* server, cursimeter_runner_key key);
/* What the last tick did to it. */
CURSIMETER_API cursimeter_status cursimeter_server_report(const cursimeter_server* server,
                                                          cursimeter_runner_key key, cursimeter_report* out);
/* Puts it elsewhere at once; others see it jump. */
CURSIMETER_API cursimeter_status cursimeter_server_teleport(cursimeter_server* server,
                                                            cursimeter_runner_key key,
                                                            const cursimeter_placement* placement,
                                                            cursimeter_error* error);
/* What a runner without an owner wants from the next tick on. Changes and focus are not kept. */
CURSIMETER_API cursimeter_status cursimeter_server_direct(cursimeter_server* server,
                                                          cursimeter_runner_key key,
                                                          const cursimeter_intent* intent);

/* A runner as a client saw it: for hit tests. */
typedef struct cursimeter_seen {
    size_t size;
    double at;             /* in ticks */
    double position[3];    /* m */
    double velocity[3];    /* m/s */
    double yaw, pitch;     /* rad */
    double radius, height; /* m */
    int32_t state;
    int32_t reserved;
} cursimeter_seen;
#define CURSIMETER_SEEN_INIT \
    { sizeof(cursimeter_seen), 0, {0, 0, 0}, {0, 0, 0}, 0, 0, 0, 0, 0, 0 }
/* As the client on `seat` saw it when it wanted its intent of `tick`. CURSIMETER_NO: that is not known. */
CURSIMETER_API cursimeter_status cursimeter_server_seen_by(const cursimeter_server* server,
                                                           cursimeter_seat seat, cursimeter_runner_key key,
                                                           uint32_t tick, cursimeter_seen* out);

/* How a client does. */
typedef struct cursimeter_seat_reading {
    size_t size;
    int32_t connected, buffered; /* 0 or 1; ticks of intents that wait now */
    uint64_t identity, peer;
    uint64_t intents;   /* played as they came */
    uint64_t missing;   /* ticks for which none had come in time */
    uint64_t late;      /* intents that came after their tick */
    uint64_t differing; /* ticks after which the client's prediction differed */
    uint64_t packets_up, bytes_up, packets_down, bytes_down;
    double round_trip;            /* s */
    double loss;                  /* part of the snapshots of the last seconds that it could not use */
    cursimeter_runner_key runner; /* of the first player; CURSIMETER_NO_RUNNER: none */
    uint32_t players;             /* that the client has */
} cursimeter_seat_reading;
#define CURSIMETER_SEAT_READING_INIT \
    { sizeof(cursimeter_seat_reading), 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }
/* CURSIMETER_NO if nobody has the seat. */
CURSIMETER_API cursimeter_status cursimeter_server_read_seat(const cursimeter_server* server,
                                                             cursimeter_seat seat,
                                                             cursimeter_seat_reading* out);
/* The runner of one of a client's players; CURSIMETER_NO_RUNNER: none. */
CURSIMETER_API cursimeter_runner_key cursimeter_server_runner_of(const cursimeter_server* server,
                                                                 cursimeter_seat seat, size_t player);
/* Ends a connection; `words`, up to 100 bytes or null, say why. The seat waits as after any goodbye. This and the next two
 * return CURSIMETER_NO if nobody has the seat. */
CURSIMETER_API cursimeter_status cursimeter_server_remove(cursimeter_server* server, cursimeter_seat seat,
                                                          const char* words);
/* Frees a seat and despawns its runners at once. */
CURSIMETER_API cursimeter_status cursimeter_server_forget(cursimeter_server* server, cursimeter_seat seat);
/* From where a client without a runner looks, m; null: it sees all. */
CURSIMETER_API cursimeter_status cursimeter_server_set_viewpoint(cursimeter_server* server,
                                                                 cursimeter_seat seat, const double at[3]);

/* What a server decides by what the game knows. */
typedef enum cursimeter_verdict {
    CURSIMETER_LET_IN = 0,
    CURSIMETER_TURN_AWAY = 1,
    CURSIMETER_WAIT = 2 /* not known yet: it asks again within 0.3 s */
} cursimeter_verdict;
typedef struct cursimeter_applicant {
    size_t size;
    uint64_t peer, identity;
    const void* ticket; /* nothing vouches for it but what it says */
    size_t ticket_length;
    cursimeter_seat seat; /* that waits for this identity; -1: none */
    uint32_t players;     /* that it has */
} cursimeter_applicant;
typedef struct cursimeter_rules {
    size_t size;
    void* user; /* handed to both */
    /* A cursimeter_verdict; null: everybody is let in. `words`, of 100 bytes and a 0, may be set to say why not. */
    int (*look_at)(void* user, const cursimeter_applicant* applicant, char words[101]);
    /* How much a runner concerns a client: 0 it is not sent, 1 as usual, more: it comes first. Null: 1.
     * Called from all threads that write snapshots. */
    double (*concern)(void* user, cursimeter_seat seat, cursimeter_runner_key key);
} cursimeter_rules;
#define CURSIMETER_RULES_INIT \
    { sizeof(cursimeter_rules), 0, 0, 0 }
/* `rules` null: none. */
CURSIMETER_API cursimeter_status cursimeter_server_set_rules(cursimeter_server* server,
                                                             const cursimeter_rules* rules);

/* Packets that came in, and what was refused of them. */
typedef struct cursimeter_server_statistics {
    size_t size;
    uint64_t packets, bytes;
    uint64_t damaged, malformed, strangers, repeated, far_off, false_acks, baseless, refused_joins,
        challenges;
} cursimeter_server_statistics;
#define CURSIMETER_SERVER_STATISTICS_INIT \
    { sizeof(cursimeter_server_statistics), 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }
CURSIMETER_API cursimeter_status cursimeter_server_read_statistics(const cursimeter_server* server,
                                                                   cursimeter_server_statistics* out);

/* ---- The client ------------------------------------------------------------------------------------------------- */

typedef struct cursimeter_client cursimeter_client;

typedef struct cursimeter_client_config {
    size_t size;
    double tick_rate;          /* per second; the server's */
    uint64_t identity;         /* who this is, to come back to the same seat; not 0, and kept secret */
    uint64_t attempt;          /* a larger number for each attempt to join, such as the time in ms; not 0 */
    const uint8_t* server_key; /* CURSIMETER_KEY_BYTES of the server's public key: sealed; null: not */
    uint64_t game, world;      /* as the server's */
    const void* ticket;        /* of the game's own, up to CURSIMETER_LONGEST_TICKET bytes; may be null */
    size_t ticket_length;
    double silence;       /* s after which the server counts as gone */
    double spare;         /* s, 0 to 1, for which the server has intents in hand at its worst moment */
    double extrapolate;   /* s for which others go on without news, up to 1 */
    double half_life;     /* s in which half of a visible correction has faded, 0 to 1 */
    double visible_limit; /* m; a correction of the own runner that is larger shows at once */
    uint32_t runners;     /* that the server may have at most, 1 to 1,024 */
    uint32_t players;     /* at this machine, each with a runner, up to CURSIMETER_MOST_PLAYERS; 0 is 1 */
} cursimeter_client_config;
#define CURSIMETER_CLIENT_CONFIG_INIT \
    { sizeof(cursimeter_client_config), 60, 0, 0, 0, 0, 0, 0, 0, 5, 0.01, 0.25, 0.08, 2, 256, 1 }

/* With the charts of the server, in its order. They may be freed afterwards. */
CURSIMETER_API cursimeter_status cursimeter_client_new(cursimeter_chart* const* charts, size_t count,
                                                       const cursimeter_client_config* config,
                                                       cursimeter_client** out, cursimeter_error* error);
CURSIMETER_API void cursimeter_client_free(cursimeter_client* client);

/* s, by a clock that never goes back; once a frame, before all else. */
CURSIMETER_API void cursimeter_client_tell_time(cursimeter_client* client, double seconds);
/* Takes a packet in; a correction is played through in this call. `advancer` null: open flat ground. */
CURSIMETER_API cursimeter_status cursimeter_client_receive(cursimeter_client* client, const void* bytes,
                                                           size_t length,
                                                           const cursimeter_advancer* advancer);
/* 1 if the next tick is to be played by now. */
CURSIMETER_API int cursimeter_client_due(const cursimeter_client* client);
CURSIMETER_API double cursimeter_client_due_at(const cursimeter_client* client);
/* Goes on by one tick, if one is due. `extra`, up to CURSIMETER_EXTRA_BYTES or null, goes with the intent. */
CURSIMETER_API cursimeter_status cursimeter_client_tick(cursimeter_client* client,
                                                        const cursimeter_intent* intent,
                                                        const cursimeter_advancer* advancer,
                                                        const void* extra, size_t extra_length);
/* What one of several players wants. */
typedef struct cursimeter_player_intent {
    const cursimeter_intent* intent; /* null: nothing */
    const void* extra;               /* up to CURSIMETER_EXTRA_BYTES, or null */
    size_t extra_length;
} cursimeter_player_intent;
/* The same for all players of this client, the first one first; one for whom there is none wants nothing. */
CURSIMETER_API cursimeter_status cursimeter_client_tick_players(cursimeter_client* client,
                                                                const cursimeter_player_intent* players,
                                                                size_t count,
                                                                const cursimeter_advancer* advancer);
/* The part of a tick that has passed since the last one, 0 to 1. */
CURSIMETER_API double cursimeter_client_tick_part(const cursimeter_client* client);
/* As with the server. */
CURSIMETER_API cursimeter_status cursimeter_client_next_packet(cursimeter_client* client, const void** bytes,
                                                               size_t* length);
CURSIMETER_API cursimeter_status cursimeter_client_send_message(cursimeter_client* client, const void* bytes,
                                                                size_t length);
CURSIMETER_API cursimeter_status cursimeter_client_next_message(cursimeter_client* client, const void** bytes,
                                                                size_t* length);
/* The advancer does something else in this tick than when it was played: plays the own runner again from there. */
CURSIMETER_API cursimeter_status cursimeter_client_play_again(cursimeter_client* client, uint32_t since,
                                                              const cursimeter_advancer* advancer);
/* Says goodbye: the next packets say so. */
CURSIMETER_API void cursimeter_client_leave(cursimeter_client* client);

typedef enum cursimeter_phase {
    CURSIMETER_PHASE_JOINING = 0,
    CURSIMETER_PHASE_JOINED = 1,
    CURSIMETER_PHASE_REFUSED = 2,
    CURSIMETER_PHASE_ENDED = 3
} cursimeter_phase;
CURSIMETER_API int cursimeter_client_phase(const cursimeter_client* client);
/* A cursimeter_farewell. `detail` may be null. */
CURSIMETER_API int cursimeter_client_farewell(const cursimeter_client* client, uint32_t* detail);
/* What the game at the server said with it; empty if nothing. */
CURSIMETER_API const char* cursimeter_client_farewell_words(cursimeter_client* client);
/* -1 until it has joined. */
CURSIMETER_API cursimeter_seat cursimeter_client_seat(const cursimeter_client* client);

/* The tick that was played last, ahead of the server's. */
CURSIMETER_API uint32_t cursimeter_client_now(const cursimeter_client* client);
/* Of whom the functions below tell, from own_key to digest_at: one of this client's players, from 0, which is chosen at
 * first. */
CURSIMETER_API cursimeter_status cursimeter_client_choose_player(cursimeter_client* client, size_t player);
/* CURSIMETER_NO_RUNNER if it has none. */
CURSIMETER_API cursimeter_runner_key cursimeter_client_own_key(const cursimeter_client* client);
/* The own runner as predicted. CURSIMETER_NO if there is none; so below. `chart`, which may be null: which it has. */
CURSIMETER_API cursimeter_status cursimeter_client_own(const cursimeter_client* client,
                                                       cursimeter_runner* out, int* chart);
/* Where to draw it now, m: between the last two ticks; a correction fades. */
CURSIMETER_API cursimeter_status cursimeter_client_own_shown(const cursimeter_client* client, double at[3]);
/* What the last tick did to it, for sounds and effects. */
CURSIMETER_API cursimeter_status cursimeter_client_report(const cursimeter_client* client,
                                                          cursimeter_report* out);
/* The newest tick whose state the server has sent. */
CURSIMETER_API cursimeter_status cursimeter_client_acknowledged(const cursimeter_client* client,
                                                                uint32_t* tick);
/* Digest of the own runner after a tick of the last seconds: at an acknowledged tick it is the server's. */
CURSIMETER_API cursimeter_status cursimeter_client_digest_at(const cursimeter_client* client, uint32_t tick,
                                                             uint64_t* digest);
typedef struct cursimeter_correction {
    size_t size;
    double distance; /* m by which the predicted place was wrong */
    uint32_t tick;
    int32_t replayed; /* ticks */
    uint32_t player;  /* whose runner it was */
    uint32_t reserved;
} cursimeter_correction;
#define CURSIMETER_CORRECTION_INIT \
    { sizeof(cursimeter_correction), 0, 0, 0, 0, 0 }
/* What the server changed, oldest first; CURSIMETER_NO after the last. */
CURSIMETER_API cursimeter_status cursimeter_client_next_correction(cursimeter_client* client,
                                                                   cursimeter_correction* out);

/* What is solid for views of others whose news are late; null: nothing. It must live as long. */
CURSIMETER_API void cursimeter_client_set_view_world(cursimeter_client* client,
                                                     const cursimeter_terrain* terrain);
/* The server's time that is shown for others, in ticks. */
CURSIMETER_API double cursimeter_client_shown_time(const cursimeter_client* client);
/* As cursimeter_server_runners, of the others that are there now. */
CURSIMETER_API size_t cursimeter_client_others(const cursimeter_client* client, cursimeter_runner_key* keys,
                                               size_t room);

#define CURSIMETER_SHOWN_MODIFIERS 16
/* Another runner as it is shown now. */
typedef struct cursimeter_shown {
    size_t size;
    cursimeter_runner_key key;
    int32_t chart;      /* which of the charts it has */
    double position[3]; /* m */
    double yaw, pitch;  /* rad; where it looks */
    int32_t state;      /* by the events told so far */
    int32_t waiting;    /* 1: news are overdue */
    uint32_t blocks;    /* bit i: block i is in force */
    uint32_t modifier_count;
    struct {
        int32_t modifier, stacks;
        double strength;
    } modifiers[CURSIMETER_SHOWN_MODIFIERS]; /* the first modifier_count */
    cursimeter_runner
        runner; /* what cursimeter_present and cursimeter_read take; its position is the shown one */
} cursimeter_shown;
/* CURSIMETER_NO if there is no such runner. Of `out`, the size must be set. */
CURSIMETER_API cursimeter_status cursimeter_client_shown(const cursimeter_client* client,
                                                         cursimeter_runner_key key, cursimeter_shown* out);

/* Something that happened to another runner. */
typedef struct cursimeter_remote_event {
    size_t size;
    double at;    /* in ticks: 12.5 is half way through tick 13 */
    double value; /* as in cursimeter_event, to 0.1 */
    cursimeter_runner_key key;
    int32_t kind;    /* cursimeter_event_kind */
    int32_t subject; /* index of the thing it is about */
    int32_t list;    /* cursimeter_list of that thing */
    int32_t which, rising;
} cursimeter_remote_event;
#define CURSIMETER_REMOTE_EVENT_INIT \
    { sizeof(cursimeter_remote_event), 0, 0, 0, 0, 0, 0, 0, 0 }
/* Events of others as their time is shown, each once; CURSIMETER_NO after the last. */
CURSIMETER_API cursimeter_status cursimeter_client_next_event(cursimeter_client* client,
                                                              cursimeter_remote_event* out);

typedef struct cursimeter_client_statistics {
    size_t size;
    uint64_t packets_in, bytes_in, packets_out, bytes_out;
    uint64_t damaged, malformed, repeated, baseless; /* packets that were of no use */
    uint64_t corrections, replayed;                  /* states that differed; ticks played again */
    uint64_t confirmed;                              /* snapshots that agreed */
    double largest_correction;                       /* m */
    double input_delay, view_delay;                  /* ticks */
    double round_trip, in_hand, jitter;              /* s */
    double loss;                                     /* part of the last 64 snapshots */
} cursimeter_client_statistics;
#define CURSIMETER_CLIENT_STATISTICS_INIT \
    { sizeof(cursimeter_client_statistics), 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }
CURSIMETER_API cursimeter_status cursimeter_client_read_statistics(const cursimeter_client* client,
                                                                   cursimeter_client_statistics* out);

#ifdef __cplusplus
}
#endif

#endif
