/* Cursimeter for C, and for every language that can call C. C99.
 *
 * A chart is loaded once; a runner is a plain value, copied and kept like any struct; each tick takes an intent and
 * returns a report. Units: metres, seconds, radians. Up is +z; a game with other axes converts by `cursimeter_convention`.
 *
 * Every function checks its arguments and returns a status. No exception and no signal crosses this boundary. What went
 * wrong in words is kept in an error object, if one is given: `error` may be null everywhere.
 *
 * Structs that begin with `size` may grow in later versions. Set `size` to sizeof the struct (the _INIT macros do); a
 * library that is newer or older than the program then reads and writes only what both know.
 *
 * A chart and a terrain made from a course may be used by several threads at once; any other object by one at a time.
 * Strings are UTF-8 and end with 0. What is returned by pointer belongs to the object that it was asked of, and lives
 * until that object is changed or freed.
 */
#ifndef CURSIMETER_CURSIMETER_H
#define CURSIMETER_CURSIMETER_H

#include <stddef.h>
#include <stdint.h>

#if defined(_WIN32) && defined(CURSIMETER_SHARED)
#ifdef CURSIMETER_BUILDING
#define CURSIMETER_API __declspec(dllexport)
#else
#define CURSIMETER_API __declspec(dllimport)
#endif
#elif defined(__GNUC__)
#define CURSIMETER_API __attribute__((visibility("default")))
#else
#define CURSIMETER_API
#endif

#ifdef __cplusplus
extern "C" {
#endif

/* ---- Status and errors ------------------------------------------------------------------------------------------ */

typedef enum cursimeter_status {
    CURSIMETER_OK = 0,
    CURSIMETER_NO = 1,           /* asked, and the answer is no: not enough in the meter, nothing to read */
    CURSIMETER_BAD_ARGUMENT = 2, /* a null pointer, an index out of range, a struct without its size */
    CURSIMETER_BAD_INPUT = 3,    /* a chart, take or value is wrong: the error says where */
    CURSIMETER_NO_MEMORY = 4,
    CURSIMETER_FAILED = 5 /* anything else; the error says what */
} cursimeter_status;

typedef struct cursimeter_error cursimeter_error;

/* An object that keeps what went wrong last. Null if there is no memory. */
CURSIMETER_API cursimeter_error* cursimeter_error_new(void);
CURSIMETER_API void cursimeter_error_free(cursimeter_error* error);
/* All of it, a line for each mistake: "bearer.toml:12:9: what is wrong; what would be right". Empty after a success. */
CURSIMETER_API const char* cursimeter_error_text(const cursimeter_error* error);
CURSIMETER_API size_t cursimeter_error_count(const cursimeter_error* error);

/* One mistake. */
typedef struct cursimeter_mistake {
    size_t size;
    const char* file; /* empty: of no file */
    int line, column; /* from 1; 0: of no line */
    const char* path; /* "states.sprint.enter[2]" */
    const char* what;
    const char* mend; /* what would be right */
} cursimeter_mistake;
#define CURSIMETER_MISTAKE_INIT \
    { sizeof(cursimeter_mistake), 0, 0, 0, 0, 0, 0 }
CURSIMETER_API cursimeter_status cursimeter_error_at(const cursimeter_error* error, size_t index,
                                                     cursimeter_mistake* out);

/* "0.1.0" */
CURSIMETER_API const char* cursimeter_version(void);
/* Whether this machine and build compute as they must: once at start-up. */
CURSIMETER_API cursimeter_status cursimeter_self_test(cursimeter_error* error);

/* ---- Charts ----------------------------------------------------------------------------------------------------- */

typedef struct cursimeter_chart cursimeter_chart;

CURSIMETER_API cursimeter_status cursimeter_chart_load(const char* file, cursimeter_chart** out,
                                                       cursimeter_error* error);
/* From text of `length` bytes. `name` stands for the file in messages; it may be null. */
CURSIMETER_API cursimeter_status cursimeter_chart_parse(const char* text, size_t length, const char* name,
                                                        cursimeter_chart** out, cursimeter_error* error);
CURSIMETER_API void cursimeter_chart_free(cursimeter_chart* chart);
CURSIMETER_API const char* cursimeter_chart_name(const cursimeter_chart* chart);
/* Two charts with one digest give the same runs. 0 for null. */
CURSIMETER_API uint64_t cursimeter_chart_digest(const cursimeter_chart* chart);

/* The chart of a file that is tuned while the game runs. For one thread. */
typedef struct cursimeter_live_chart cursimeter_live_chart;
/* `chart` is the file's, yours to free. */
CURSIMETER_API cursimeter_status cursimeter_live_chart_new(const char* file, cursimeter_live_chart** out,
                                                           cursimeter_chart** chart, cursimeter_error* error);
CURSIMETER_API void cursimeter_live_chart_free(cursimeter_live_chart* live);
/* Between two ticks: one question to the file system. CURSIMETER_OK: the file was saved, and `next` is its chart, yours to
 * free, which cursimeter_carry_over and cursimeter_controls_carry_over go on with. CURSIMETER_NO: go on with the chart that you
 * have, and `next` is null; if the file has mistakes, they stand in the error. */
CURSIMETER_API cursimeter_status cursimeter_live_chart_take_in(cursimeter_live_chart* live,
                                                               cursimeter_chart** next,
                                                               cursimeter_error* error);

/* Lists of a chart's named things: what functions take as `list`. An index is good for one chart. */
typedef enum cursimeter_list {
    CURSIMETER_STATES = 0,
    CURSIMETER_ACTIONS = 1,
    CURSIMETER_METERS = 2,
    CURSIMETER_COOLDOWNS = 3,
    CURSIMETER_MODIFIERS = 4,
    CURSIMETER_BLOCKS = 5,
    CURSIMETER_ZONES = 6
} cursimeter_list;
CURSIMETER_API size_t cursimeter_count(const cursimeter_chart* chart, int list);
/* Null if there is no such thing. */
CURSIMETER_API const char* cursimeter_name(const cursimeter_chart* chart, int list, size_t index);
/* The index of a name, or -1; the error then names the nearest. */
CURSIMETER_API int cursimeter_find(const cursimeter_chart* chart, int list, const char* name,
                                   cursimeter_error* error);

/* ---- Runners ---------------------------------------------------------------------------------------------------- */

/* One character's live state. Copy it to save a moment, assign it to go back. An address that is a multiple of 128 spares
 * two copies a tick. */
typedef struct cursimeter_runner {
    uint64_t words[160];
} cursimeter_runner;

typedef struct cursimeter_placement {
    double position[3]; /* m, of the feet */
    double yaw;         /* rad; 0 looks along +x, and it grows towards +y */
} cursimeter_placement;
/* `placement` may be null: the origin. */
CURSIMETER_API cursimeter_status cursimeter_spawn(const cursimeter_chart* chart,
                                                  const cursimeter_placement* placement,
                                                  cursimeter_runner* out, cursimeter_error* error);
/* Puts it elsewhere at once. */
CURSIMETER_API cursimeter_status cursimeter_place(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                  const cursimeter_placement* placement,
                                                  cursimeter_error* error);

typedef struct cursimeter_reading {
    size_t size;
    double position[3];   /* m */
    double velocity[3];   /* m/s, its own; pushes and moving ground are added to it */
    double speed;         /* m/s */
    double speed_target;  /* m/s */
    double distance;      /* m walked since spawning */
    double yaw, pitch;    /* rad */
    double clock;         /* s since spawning */
    double time_in_state; /* s */
    int state;            /* index among CURSIMETER_STATES */
    int jumps;            /* since the ground was left */
    int grounded, headroom, by_wall, crushed, locked; /* 0 or 1 */
    uint32_t on;                                      /* bit i: action i is on */
    uint32_t zones;                                   /* bit i: it is in zone i of the chart */
} cursimeter_reading;
#define CURSIMETER_READING_INIT \
    { sizeof(cursimeter_reading), {0, 0, 0}, {0, 0, 0}, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }
CURSIMETER_API cursimeter_status cursimeter_read(const cursimeter_chart* chart,
                                                 const cursimeter_runner* runner, cursimeter_reading* out);
/* 64-bit digest of the whole state: the same on every machine for the same run. 0 for null. */
CURSIMETER_API uint64_t cursimeter_digest(const cursimeter_runner* runner);

/* For animation and sound. */
typedef struct cursimeter_presentation {
    size_t size;
    double pace;          /* speed over walking speed */
    double heading;       /* rad from the facing to the way it goes */
    double rise;          /* m/s upward */
    double slope;         /* rad that the ground rises ahead */
    double lean_forward;  /* m/s^2 */
    double lean_side;     /* m/s^2, to the right */
    double stride;        /* 0 to 1, of two steps; the left foot comes down at 0 */
    double cadence;       /* steps per second */
    double time_in_state; /* s */
} cursimeter_presentation;
#define CURSIMETER_PRESENTATION_INIT \
    { sizeof(cursimeter_presentation), 0, 0, 0, 0, 0, 0, 0, 0, 0 }
CURSIMETER_API cursimeter_status cursimeter_present(const cursimeter_chart* chart,
                                                    const cursimeter_runner* runner,
                                                    cursimeter_presentation* out, cursimeter_error* error);

/* ---- Intents ---------------------------------------------------------------------------------------------------- */

typedef enum cursimeter_change_kind {
    CURSIMETER_PRESS = 0,
    CURSIMETER_RELEASE = 1,
    CURSIMETER_MOVE = 2,
    CURSIMETER_LOOK = 3
} cursimeter_change_kind;

/* Something that changes inside a tick. */
typedef struct cursimeter_change {
    double at;      /* s after the tick's start; changes stand in order of time */
    int32_t kind;   /* cursimeter_change_kind */
    int32_t action; /* of press and release */
    double x, y;    /* forward and side of a move; yaw and pitch of a look */
} cursimeter_change;

/* A point to look at. */
typedef struct cursimeter_focus {
    double position[3]; /* m */
    double velocity[3]; /* m/s */
    double eye_height;  /* m above the feet */
} cursimeter_focus;

typedef struct cursimeter_intent {
    size_t size;
    double forward, side;             /* the stick: 1 is full, ahead and to the right */
    double yaw, pitch;                /* rad; where the player looks */
    uint32_t held;                    /* bit i: the key of action i is down at the tick's start */
    int32_t facing;                   /* 0: faces where it looks; 1: where it goes */
    const cursimeter_change* changes; /* may be null */
    size_t change_count;
    const cursimeter_focus* focus; /* null: none */
} cursimeter_intent;
#define CURSIMETER_INTENT_INIT \
    { sizeof(cursimeter_intent), 0, 0, 0, 0, 0, 0, 0, 0, 0 }

/* ---- The world -------------------------------------------------------------------------------------------------- */

typedef struct cursimeter_push_spec {
    size_t size;
    double direction[3]; /* of any length */
    double strength;     /* m/s */
    double lift;         /* 0 to 1: the part that goes upward */
    double seconds;      /* in which the rest fades; 0: at once */
    int32_t locks;       /* moves are ignored meanwhile */
    int32_t replaces;    /* it ends other pushes first */
} cursimeter_push_spec;
#define CURSIMETER_PUSH_INIT \
    { sizeof(cursimeter_push_spec), {1, 0, 0}, 0, 0, 0, 0, 0 }

typedef struct cursimeter_sweep {
    double radius, height; /* m; an upright capsule */
    double from[3];        /* m; its lowest point */
    double motion[3];      /* m */
    double at;             /* s after the tick's start */
} cursimeter_sweep;
typedef struct cursimeter_hit {
    double fraction;  /* of the motion, 0 to 1 */
    double normal[3]; /* unit, from the obstacle to the body */
    double face[3];   /* unit normal of the surface; on an edge, of the one that faces up most */
    uint32_t surface; /* the same wall has the same number; 0: unknown */
} cursimeter_hit;
typedef struct cursimeter_overlap {
    double depth;     /* m */
    double normal[3]; /* unit; the shortest way out */
} cursimeter_overlap;
typedef struct cursimeter_zone_reading {
    uint32_t zones; /* bit i: zone i of the chart */
    double pace;    /* factor of speed targets */
    double wind[3]; /* m/s */
    /* Null: none. Pushes once as a zone of `zones` is entered, unless a push acts already. It must live as long as the tick,
     * or, in contacts, as the call. */
    const cursimeter_push_spec* push;
} cursimeter_zone_reading;

/* A game's own world. `advance` calls its functions on its own thread: in a tick in which nothing is met it asks for two
 * sweeps, and for zones and motion once; where much is met for some dozens of sweeps, seldom for 200. Each must return (no
 * exception, no longjmp) and must not call back into the runner. */
typedef struct cursimeter_world {
    size_t size;
    void* user; /* handed to every function */
    /* The first solid that the capsule touches on its way: 1 and *out, or 0. One that it overlaps at the start counts only
     * if the motion leads deeper into it, with fraction 0. */
    int (*sweep)(void* user, const cursimeter_sweep* sweep, cursimeter_hit* out);
    /* The solid in which it is deepest: 1 and *out, or 0. `sweep->motion` means nothing. */
    int (*overlap)(void* user, const cursimeter_sweep* body, cursimeter_overlap* out);
    /* May be null: no zones. *out is set to "none" before. */
    void (*zones)(void* user, const double point[3], double at, cursimeter_zone_reading* out);
    /* May be null: nothing moves. 1 if anything that moves may come into the upright box from `low` to `high` during this
     * tick, else 0. Asked once or twice a tick. */
    int (*moves)(void* user, const double low[3], const double high[3]);
    /* Null where `moves` is. How far, m, a surface moves in `seconds` from `at` on: what stands on it goes along. *out is 0
     * before. */
    void (*surface_motion)(void* user, uint32_t surface, double at, double seconds, double out[3]);
    /* May be null: never open. 1 if in this tick nothing that moves comes into the upright box from `low` to `high`, no zone
     * reaches into it, and it holds nothing solid but, at most, a level floor from side to side and what lies below that;
     * else 0. Sets *height and *surface if there is such a floor, else leaves them. Asked first, once in most ticks: where it
     * is open nothing else is asked. Leave it out if it would take longer than two sweeps. */
    int (*is_open)(void* user, const double low[3], const double high[3], double* height, uint32_t* surface);
} cursimeter_world;
#define CURSIMETER_WORLD_INIT \
    { sizeof(cursimeter_world), 0, 0, 0, 0, 0, 0, 0 }

typedef struct cursimeter_terrain cursimeter_terrain;
CURSIMETER_API cursimeter_status cursimeter_terrain_new(const cursimeter_world* world,
                                                        cursimeter_terrain** out, cursimeter_error* error);
/* A course file as a world for the runners of one chart. */
CURSIMETER_API cursimeter_status cursimeter_terrain_load(const char* course_file,
                                                         const cursimeter_chart* chart,
                                                         cursimeter_terrain** out, cursimeter_error* error);
/* The same from text of `length` bytes. `name` stands for the file in messages; it may be null. */
CURSIMETER_API cursimeter_status cursimeter_terrain_parse(const char* text, size_t length, const char* name,
                                                          const cursimeter_chart* chart,
                                                          cursimeter_terrain** out, cursimeter_error* error);
/* Asks a terrain what a runner asks it, so that a game's own world can be made of several: CURSIMETER_OK and *out, or
 * CURSIMETER_NO. */
CURSIMETER_API cursimeter_status cursimeter_terrain_sweep(const cursimeter_terrain* terrain,
                                                          const cursimeter_sweep* sweep, cursimeter_hit* out);
CURSIMETER_API cursimeter_status cursimeter_terrain_overlap(const cursimeter_terrain* terrain,
                                                            const cursimeter_sweep* body,
                                                            cursimeter_overlap* out);
/* s: where a course's platforms stand at the start of the next tick. */
CURSIMETER_API cursimeter_status cursimeter_terrain_set_time(cursimeter_terrain* terrain, double seconds);
CURSIMETER_API void cursimeter_terrain_free(cursimeter_terrain* terrain);

/* ---- The tick --------------------------------------------------------------------------------------------------- */

/* Kinds of events, and what they are about. */
typedef enum cursimeter_event_kind {
    CURSIMETER_LEFT = 0,       /* a state was left */
    CURSIMETER_ENTERED = 1,    /* a state was entered; it has a cause */
    CURSIMETER_PRESSED = 2,    /* a key went down */
    CURSIMETER_RELEASED = 3,   /* a key went up */
    CURSIMETER_DRAINING = 4,   /* a meter begins to drain */
    CURSIMETER_RESTED = 5,     /* a meter drains no longer */
    CURSIMETER_EMPTIED = 6,    /* a meter reached 0 */
    CURSIMETER_FILLED = 7,     /* a meter reached its capacity */
    CURSIMETER_SPENT = 8,      /* a meter's latch closed */
    CURSIMETER_RECOVERED = 9,  /* the latch opened again */
    CURSIMETER_READY = 10,     /* a cooldown is over */
    CURSIMETER_JUMPED = 11,    /* a launch; value: upward speed, m/s */
    CURSIMETER_LIFTED = 12,    /* the ground was left otherwise */
    CURSIMETER_LANDED = 13,    /* the ground was reached; value: speed against it, m/s */
    CURSIMETER_BUMPED = 14,    /* it ran into something; value: speed against it, m/s */
    CURSIMETER_PUSHED = 15,    /* a push began; value: its speed, m/s */
    CURSIMETER_BEGAN = 16,     /* a modifier is at work; value: its stacks */
    CURSIMETER_STACKED = 17,   /* its stacks have changed; value: how many */
    CURSIMETER_ENDED = 18,     /* it is over */
    CURSIMETER_CROWDED = 19,   /* a modifier found no place */
    CURSIMETER_REFUSED = 20,   /* a press could not bring a state about; it has a cause */
    CURSIMETER_CROSSED = 21,   /* a meter passed a named threshold; value: level */
    CURSIMETER_FOOTSTEP = 22,  /* a foot comes down; which: 0 left, 1 right */
    CURSIMETER_HELD_BACK = 23, /* states undo each other's conditions: one waits */
    CURSIMETER_CRUSHED = 24    /* solids leave the body no room; value: how deep it is in one, m */
} cursimeter_event_kind;

typedef struct cursimeter_event {
    double at;       /* s after the tick's start */
    double value;    /* by kind: m, m/s, a meter's level */
    int32_t kind;    /* cursimeter_event_kind */
    int32_t subject; /* index of the thing it is about */
    int32_t list;    /* cursimeter_list of that thing */
    int32_t cause;   /* kind of the cause, of "entered" and "refused" */
    int32_t term;    /* term of the cause */
    int32_t which;   /* threshold of "crossed"; foot of "footstep" */
    int32_t rising;  /* of "crossed" */
    int32_t reserved;
} cursimeter_event;
#define CURSIMETER_MOST_EVENTS 128

typedef struct cursimeter_report {
    size_t size;            /* sizeof(cursimeter_report): the rest need not be set */
    double seconds;         /* simulated */
    double displacement[3]; /* m */
    int32_t refusal;        /* 0: none; see cursimeter_refusal_name */
    int32_t intent_mended, dt_shortened, instants_capped; /* 0 or 1 */
    uint32_t instants, event_count, events_lost, reserved;
    cursimeter_event events[CURSIMETER_MOST_EVENTS]; /* the first event_count are written */
} cursimeter_report;

/* "entered"; null for a kind that there is not. */
CURSIMETER_API const char* cursimeter_event_name(int32_t kind);
/* "bad dt"; null for one that there is not. */
CURSIMETER_API const char* cursimeter_refusal_name(int32_t refusal);
/* Writes "enter: sprint on" into `buffer`, cut to `size` bytes with its 0. Returns the length of the whole text. */
CURSIMETER_API size_t cursimeter_describe_cause(const cursimeter_chart* chart, int32_t cause, int32_t term,
                                                char* buffer, size_t size);

/* Moves a runner on by one tick of `seconds`, 0 to 0.1. `terrain` null: open flat ground at the height where it was
 * spawned. `out` may be null; otherwise its size must be set. Allocates nothing. A tick that was refused is
 * CURSIMETER_BAD_INPUT, and the report says why. */
CURSIMETER_API cursimeter_status cursimeter_advance(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                    const cursimeter_intent* intent,
                                                    const cursimeter_terrain* terrain, double seconds,
                                                    cursimeter_report* out);

/* The other form: the game moves the body by its own collision. */
typedef struct cursimeter_contacts {
    size_t size;
    int32_t grounded;          /* 0 or 1 */
    int32_t headroom;          /* the full body fits here */
    double ground_normal[3];   /* unit */
    double ground_velocity[3]; /* m/s */
    double barriers[2][3];     /* unit normals of what stopped it */
    int32_t barrier_count;     /* 0 to 2 */
    int32_t by_wall;           /* a wall is within reach */
    double wall_normal[3];     /* unit */
    uint32_t wall_surface;
    uint32_t reserved;
    cursimeter_zone_reading zones;
} cursimeter_contacts;
#define CURSIMETER_CONTACTS_INIT                                                                             \
    {                                                                                                        \
        sizeof(cursimeter_contacts), 1, 1, {0, 0, 1}, {0, 0, 0}, {{0, 0, 0}, {0, 0, 0}}, 0, 0, {0, 0, 0}, 0, \
            0, {                                                                                             \
            0, 1, {0, 0, 0}, 0                                                                               \
        }                                                                                                    \
    }

typedef struct cursimeter_plan cursimeter_plan;
typedef struct cursimeter_plan_reading {
    size_t size;
    double displacement[3];          /* m; it includes `lean` */
    double lean[3];                  /* m; into barriers that it leans against */
    double carry[3];                 /* m; how far the ground moves meanwhile */
    double radius, height;           /* m; the body at the end of the tick */
    double full_radius, full_height; /* m; for `headroom` */
    double reach;                    /* m; how far off a wall counts as at hand; 0: walls are of no use */
    double step_height;              /* m */
    double slope_cosine;             /* of the steepest ground to stand on */
    int32_t keeps_to_ground;         /* let it down onto steps and slopes */
    int32_t refusal;                 /* as in a report */
    int32_t sticks;                  /* slow enough to keep to ground that falls away from its way */
    int32_t reserved;
} cursimeter_plan_reading;
#define CURSIMETER_PLAN_READING_INIT \
    { sizeof(cursimeter_plan_reading), {0, 0, 0}, {0, 0, 0}, {0, 0, 0}, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }
/* A plan is reused from tick to tick. */
CURSIMETER_API cursimeter_plan* cursimeter_plan_new(void);
CURSIMETER_API void cursimeter_plan_free(cursimeter_plan* plan);
CURSIMETER_API cursimeter_status cursimeter_propose(const cursimeter_chart* chart,
                                                    const cursimeter_runner* runner,
                                                    const cursimeter_intent* intent,
                                                    const cursimeter_contacts* contacts, double seconds,
                                                    cursimeter_plan* plan, cursimeter_plan_reading* out);
CURSIMETER_API cursimeter_status cursimeter_settle(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                   const cursimeter_plan* plan, const double moved[3],
                                                   const cursimeter_contacts* contacts,
                                                   cursimeter_report* out);

/* ---- What a game does to a runner ------------------------------------------------------------------------------- */

typedef struct cursimeter_meter {
    double level; /* 0 to the capacity */
    double capacity;
    double fraction; /* level over capacity */
    int32_t spent;   /* the latch */
    int32_t reserved;
} cursimeter_meter;
CURSIMETER_API cursimeter_status cursimeter_read_meter(const cursimeter_chart* chart,
                                                       const cursimeter_runner* runner, int meter,
                                                       cursimeter_meter* out, cursimeter_error* error);
/* Takes an amount if the meter holds as much; CURSIMETER_NO if not, and nothing has changed. */
CURSIMETER_API cursimeter_status cursimeter_spend(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                  int meter, double amount, cursimeter_error* error);
/* Adds to a meter, up to its capacity. `fitted` may be null. */
CURSIMETER_API cursimeter_status cursimeter_fill(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                 int meter, double amount, double* fitted,
                                                 cursimeter_error* error);

typedef struct cursimeter_cooldown {
    int32_t ready, charges;
    double left;     /* s until the next charge comes back */
    double fraction; /* of the wait that is over */
} cursimeter_cooldown;
CURSIMETER_API cursimeter_status cursimeter_read_cooldown(const cursimeter_chart* chart,
                                                          const cursimeter_runner* runner, int cooldown,
                                                          cursimeter_cooldown* out, cursimeter_error* error);
/* Uses a charge; CURSIMETER_NO if none was ready. */
CURSIMETER_API cursimeter_status cursimeter_use(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                int cooldown, cursimeter_error* error);
CURSIMETER_API cursimeter_status cursimeter_refund(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                   int cooldown, int charges, cursimeter_error* error);

typedef struct cursimeter_modifier {
    int32_t active, stacks;
    double strength;
    double left; /* s; negative: it has no time of its own */
} cursimeter_modifier;
CURSIMETER_API cursimeter_status cursimeter_read_modifier(const cursimeter_chart* chart,
                                                          const cursimeter_runner* runner, int modifier,
                                                          cursimeter_modifier* out, cursimeter_error* error);
/* `source` (0 to 250) says who grants; each removes only its own. `strength` 1: as the chart says.
 * CURSIMETER_NO if there is no place left. */
CURSIMETER_API cursimeter_status cursimeter_grant(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                  int modifier, int source, double strength,
                                                  cursimeter_error* error);
/* CURSIMETER_NO if there was none. `at_once` 0: it fades as the chart says. */
CURSIMETER_API cursimeter_status cursimeter_remove(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                   int modifier, int source, int at_once,
                                                   cursimeter_error* error);

/* Counted bans. `count` may be null: how often it is in force afterwards. */
CURSIMETER_API cursimeter_status cursimeter_block(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                  int block, int* count, cursimeter_error* error);
CURSIMETER_API cursimeter_status cursimeter_unblock(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                    int block, int* count, cursimeter_error* error);
/* Holds an action on, whatever its key says, until `on` is 0. */
CURSIMETER_API cursimeter_status cursimeter_hold(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                 int action, int on, cursimeter_error* error);
/* A player's choice: 0 hold, 1 toggle. */
CURSIMETER_API cursimeter_status cursimeter_set_press_mode(const cursimeter_chart* chart,
                                                           cursimeter_runner* runner, int action, int toggle,
                                                           cursimeter_error* error);
/* Whether a state could be entered if its key went down now: CURSIMETER_OK or CURSIMETER_NO. `cause` and `term`, which may
 * be null, name what keeps it out. */
CURSIMETER_API cursimeter_status cursimeter_could_enter(const cursimeter_chart* chart,
                                                        const cursimeter_runner* runner, int state,
                                                        int32_t* cause, int32_t* term,
                                                        cursimeter_error* error);
CURSIMETER_API cursimeter_status cursimeter_force_state(const cursimeter_chart* chart,
                                                        cursimeter_runner* runner, int state,
                                                        cursimeter_error* error);

CURSIMETER_API cursimeter_status cursimeter_push(const cursimeter_chart* chart, cursimeter_runner* runner,
                                                 const cursimeter_push_spec* push, cursimeter_error* error);

/* Takes a runner over into another version of its chart, by names. CURSIMETER_OK: all of it; CURSIMETER_NO: it is taken over,
 * and what could not be stands in the error, a line each. `out` may be `runner`. For between two ticks. */
CURSIMETER_API cursimeter_status cursimeter_carry_over(const cursimeter_chart* from,
                                                       const cursimeter_runner* runner,
                                                       const cursimeter_chart* to, cursimeter_runner* out,
                                                       cursimeter_error* error);

/* A runner as text, for save games: one line of letters and digits, the same on every machine. CURSIMETER_NO: it does not fit
 * into `size` bytes with its 0, and nothing is written. `length`, which may be null, gets its length without the 0 in both cases; ask with a
 * null `buffer`, or have 2,000 bytes at hand, which are enough for most charts. */
CURSIMETER_API cursimeter_status cursimeter_save_runner(const cursimeter_chart* chart,
                                                        const cursimeter_runner* runner, char* buffer,
                                                        size_t size, size_t* length, cursimeter_error* error);
/* A runner of the chart from such a text, to the bit; with another chart than it was saved with, as cursimeter_carry_over takes
 * it over: CURSIMETER_NO if not all of it could be, and what could not stands in the error. */
CURSIMETER_API cursimeter_status cursimeter_restore_runner(const cursimeter_chart* chart, const char* text,
                                                           cursimeter_runner* out, cursimeter_error* error);

/* ---- Takes ------------------------------------------------------------------------------------------------------ */

typedef struct cursimeter_recorder cursimeter_recorder;
/* `chart_text` is kept in the take so that it can be played alone; it may be null, like `note`. */
CURSIMETER_API cursimeter_status cursimeter_recorder_new(const cursimeter_chart* chart,
                                                         const cursimeter_runner* runner,
                                                         const char* chart_text, const char* note,
                                                         cursimeter_recorder** out, cursimeter_error* error);
CURSIMETER_API void cursimeter_recorder_free(cursimeter_recorder* recorder);
/* Before and after each `advance`. CURSIMETER_NO: there is no room; the take ends at the tick before. */
CURSIMETER_API cursimeter_status cursimeter_record_begin(cursimeter_recorder* recorder,
                                                         const cursimeter_runner* runner,
                                                         const cursimeter_intent* intent, double seconds);
CURSIMETER_API cursimeter_status cursimeter_record_end(cursimeter_recorder* recorder,
                                                       const cursimeter_runner* runner);
/* What was recorded since the last `clear`: append it to a file. */
CURSIMETER_API const void* cursimeter_recorder_bytes(const cursimeter_recorder* recorder, size_t* length);
CURSIMETER_API void cursimeter_recorder_clear(cursimeter_recorder* recorder);

typedef struct cursimeter_replay {
    size_t size;
    size_t ticks, differing;
    double seconds;
    uint64_t digest; /* of the last tick */
} cursimeter_replay;
#define CURSIMETER_REPLAY_INIT \
    { sizeof(cursimeter_replay), 0, 0, 0, 0 }
/* Plays a take that holds its own chart. CURSIMETER_NO if it came out otherwise; the error says where. */
CURSIMETER_API cursimeter_status cursimeter_replay_take(const void* bytes, size_t length,
                                                        cursimeter_replay* out, cursimeter_error* error);

/* ---- Whole runs and figures ------------------------------------------------------------------------------------- */

/* A chart driven through a drill, tick by tick: a table of numbers. */
typedef struct cursimeter_table cursimeter_table;
/* Files; `course_file` null: open ground. `rate` is in ticks per second, 10 to 100,000. Columns are those of the program's
 * trace but the state, which is its index: time_s, state, x_m, y_m, z_m, vx_mps, vy_mps, vz_mps, speed_mps,
 * speed_target_mps, distance_m, then meter_NAME of each meter. */
CURSIMETER_API cursimeter_status cursimeter_run_files(const char* chart_file, const char* drill_file,
                                                      const char* course_file, double rate,
                                                      cursimeter_table** out, cursimeter_error* error);
/* The states of the same run, one after another: at_s, seconds, state, distance_m. */
CURSIMETER_API cursimeter_status cursimeter_visits_files(const char* chart_file, const char* drill_file,
                                                         const char* course_file, double rate,
                                                         cursimeter_table** out, cursimeter_error* error);
/* Figures of a chart for each of `count` values of one of its numbers: a column for the value, then one for each name.
 * NaN where a chart is not valid. */
CURSIMETER_API cursimeter_status cursimeter_sweep_file(const char* chart_file, const char* path,
                                                       const double* values, size_t count,
                                                       const char* const* figures, size_t figure_count,
                                                       cursimeter_table** out, cursimeter_error* error);
/* All figures of a chart file: one row; the names of the columns are the figures'. */
CURSIMETER_API cursimeter_status cursimeter_figures_file(const char* chart_file, cursimeter_table** out,
                                                         cursimeter_error* error);
CURSIMETER_API void cursimeter_table_free(cursimeter_table* table);
CURSIMETER_API size_t cursimeter_table_rows(const cursimeter_table* table);
CURSIMETER_API size_t cursimeter_table_columns(const cursimeter_table* table);
CURSIMETER_API const char* cursimeter_table_column_name(const cursimeter_table* table, size_t column);
/* Row after row; null if the table is empty. */
CURSIMETER_API const double* cursimeter_table_numbers(const cursimeter_table* table);

/* ---- Other conventions ------------------------------------------------------------------------------------------ */

/* How a game's own vectors and angles lie. An axis is 1, 2, 3 for +x, +y, +z and -1, -2, -3 for the other way. */
typedef struct cursimeter_convention {
    size_t size;
    int32_t forward, up;   /* the axes that a character with yaw 0 looks along, and that leads up */
    int32_t left_handed;   /* 0 or 1 */
    int32_t clockwise_yaw; /* 1: yaw grows to the right, seen from above */
    double metres;         /* of one unit of the game's length: 0.01 where it counts centimetres */
    double yaw_at_forward; /* the game's yaw, in its own unit, of a character that looks along `forward` */
    double radians;        /* of one unit of the game's angles: pi / 180 where it counts degrees */
} cursimeter_convention;
/* The library's own. */
#define CURSIMETER_CONVENTION_INIT \
    { sizeof(cursimeter_convention), 1, 3, 0, 0, 1, 0, 1 }
typedef enum cursimeter_quantity {
    CURSIMETER_LENGTH = 0,   /* places, velocities, accelerations: with the unit of length */
    CURSIMETER_DIRECTION = 1 /* normals: turned only */
} cursimeter_quantity;
/* `in` and `out` may be the same. The _f functions are for games of floats. */
CURSIMETER_API cursimeter_status cursimeter_from_game(const cursimeter_convention* convention, int quantity,
                                                      const double in[3], double out[3]);
CURSIMETER_API cursimeter_status cursimeter_to_game(const cursimeter_convention* convention, int quantity,
                                                    const double in[3], double out[3]);
CURSIMETER_API cursimeter_status cursimeter_from_game_f(const cursimeter_convention* convention, int quantity,
                                                        const float in[3], double out[3]);
CURSIMETER_API cursimeter_status cursimeter_to_game_f(const cursimeter_convention* convention, int quantity,
                                                      const double in[3], float out[3]);
CURSIMETER_API double cursimeter_yaw_from_game(const cursimeter_convention* convention, double yaw);
CURSIMETER_API double cursimeter_yaw_to_game(const cursimeter_convention* convention, double yaw);

/* For what a game computes itself and must come out the same on every machine, where the system's own functions differ in the
 * last bits: a server's AI, a step's aim. */
/* rad, -pi to pi, of the direction (x, y). */
CURSIMETER_API double cursimeter_arc_tangent(double y, double x);
/* Of an angle in rad. Both pointers may be null. */
CURSIMETER_API void cursimeter_sine_cosine(double angle, double* sine, double* cosine);

#ifdef __cplusplus
}
#endif

#endif
