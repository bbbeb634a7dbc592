/* Hundreds to hundreds of thousands of runners, of one chart or of several, moved on by one call. C99.
 *
 * The run of each is that of `cursimeter_advance`, to the bit. The loop:
 *
 *     cursimeter_crowd_advance(crowd, 0, intents, count, NULL, 1.0 / 60, report, error);
 *     const cursimeter_crowd_event* events = cursimeter_crowd_events(report, &number);
 *     cursimeter_crowd_positions(crowd, 0, count, places);
 *
 * Several threads may advance parts of a crowd that do not overlap at the same time, each with a report of its own; a terrain
 * must then be one that several threads may ask. Everything else is for one thread at a time.
 */
#ifndef CURSIMETER_CURSIMETER_CROWD_H
#define CURSIMETER_CURSIMETER_CROWD_H

#include <cursimeter/cursimeter.h>

#ifdef __cplusplus
extern "C" {
#endif

typedef struct cursimeter_crowd cursimeter_crowd;

/* The chart may be freed afterwards. */
CURSIMETER_API cursimeter_status cursimeter_crowd_new(const cursimeter_chart* chart, cursimeter_crowd** out,
                                                      cursimeter_error* error);
CURSIMETER_API void cursimeter_crowd_free(cursimeter_crowd* crowd);
/* How many there are. */
CURSIMETER_API size_t cursimeter_crowd_size(const cursimeter_crowd* crowd);
/* Takes the memory for so many, about 1.4 kB each, so that adding takes none. */
CURSIMETER_API cursimeter_status cursimeter_crowd_reserve(cursimeter_crowd* crowd, size_t runners,
                                                          cursimeter_error* error);
/* Runners of this chart may be added from now on as well; it may be freed afterwards. One that the crowd knows is not taken twice. */
CURSIMETER_API cursimeter_status cursimeter_crowd_add_chart(cursimeter_crowd* crowd,
                                                            const cursimeter_chart* chart,
                                                            cursimeter_error* error);
/* Lets go of a chart. CURSIMETER_BAD_ARGUMENT, with nothing changed: a runner is of it, it is the only one, or none of the crowd's. */
CURSIMETER_API cursimeter_status cursimeter_crowd_remove_chart(cursimeter_crowd* crowd,
                                                               const cursimeter_chart* chart);
/* Whether a runner is of a chart: 0 or 1, also 0 for an index that none has. */
CURSIMETER_API int32_t cursimeter_crowd_is_of(const cursimeter_crowd* crowd, size_t index,
                                              const cursimeter_chart* chart);
/* Spawns one behind all others, of the first chart. `placement` null: the origin. `index`, which may be null: its index. */
CURSIMETER_API cursimeter_status cursimeter_crowd_spawn(cursimeter_crowd* crowd,
                                                        const cursimeter_placement* placement, size_t* index,
                                                        cursimeter_error* error);
/* The same, of a chart that the crowd knows. */
CURSIMETER_API cursimeter_status cursimeter_crowd_spawn_of(cursimeter_crowd* crowd,
                                                           const cursimeter_chart* chart,
                                                           const cursimeter_placement* placement,
                                                           size_t* index, cursimeter_error* error);
/* Adds a runner, of a chart that the crowd knows, behind all others. */
CURSIMETER_API cursimeter_status cursimeter_crowd_add(cursimeter_crowd* crowd,
                                                      const cursimeter_runner* runner, size_t* index,
                                                      cursimeter_error* error);
/* The last one takes its index. CURSIMETER_BAD_ARGUMENT for an index that none has; so below. */
CURSIMETER_API cursimeter_status cursimeter_crowd_remove(cursimeter_crowd* crowd, size_t index);

/* A copy of a whole runner; and back again after effects were given to it. `set` refuses one of a chart that the crowd
 * does not know. */
CURSIMETER_API cursimeter_status cursimeter_crowd_get(const cursimeter_crowd* crowd, size_t index,
                                                      cursimeter_runner* out);
CURSIMETER_API cursimeter_status cursimeter_crowd_set(cursimeter_crowd* crowd, size_t index,
                                                      const cursimeter_runner* runner,
                                                      cursimeter_error* error);

/* What drawing needs, without a copy of the runner. */
typedef struct cursimeter_crowd_reading {
    size_t size;
    double position[3]; /* m */
    double velocity[3]; /* m/s, its own */
    double speed;       /* m/s */
    double distance;    /* m walked since spawning */
    double yaw;         /* rad */
    int32_t state;      /* index among CURSIMETER_STATES of its chart */
    int32_t grounded;   /* 0 or 1 */
} cursimeter_crowd_reading;
#define CURSIMETER_CROWD_READING_INIT \
    { sizeof(cursimeter_crowd_reading), {0, 0, 0}, {0, 0, 0}, 0, 0, 0, 0, 0 }
CURSIMETER_API cursimeter_status cursimeter_crowd_read(const cursimeter_crowd* crowd, size_t index,
                                                       cursimeter_crowd_reading* out);
/* Writes x, y, z of `count` runners from `first` on, 3 `count` numbers, m. */
CURSIMETER_API cursimeter_status cursimeter_crowd_positions(const cursimeter_crowd* crowd, size_t first,
                                                            size_t count, double* out);

/* What one tick tells of a crowd. Made once and used again in every tick. */
typedef struct cursimeter_crowd_report cursimeter_crowd_report;
/* Room for so many events of a tick, 96 bytes each. Of 1,000 runners that players steer, about 90 events happen in a sixtieth
 * of a second, seldom more than 450. */
CURSIMETER_API cursimeter_status cursimeter_crowd_report_new(size_t most_events,
                                                             cursimeter_crowd_report** out,
                                                             cursimeter_error* error);
CURSIMETER_API void cursimeter_crowd_report_free(cursimeter_crowd_report* report);

/* Moves the `count` runners from `first` on by one tick of `seconds`, 0 to 0.1, each by its intent of the array. `terrain` null:
 * open flat ground. Takes memory where a tick has more intents or changes than all ticks before with this report, and none
 * otherwise. CURSIMETER_BAD_ARGUMENT, and nobody has moved: an intent without its size, or whose changes are null or too many;
 * the error names the first. CURSIMETER_BAD_INPUT: some ticks were refused, see the summary. */
CURSIMETER_API cursimeter_status cursimeter_crowd_advance(cursimeter_crowd* crowd, size_t first,
                                                          const cursimeter_intent* intents, size_t count,
                                                          const cursimeter_terrain* terrain, double seconds,
                                                          cursimeter_crowd_report* report,
                                                          cursimeter_error* error);

typedef struct cursimeter_crowd_event {
    size_t runner; /* index */
    cursimeter_event event;
} cursimeter_crowd_event;
/* Of the last tick, in the order of the runners, those of one in the order of time. */
CURSIMETER_API const cursimeter_crowd_event* cursimeter_crowd_events(const cursimeter_crowd_report* report,
                                                                     size_t* count);

typedef struct cursimeter_crowd_summary {
    size_t size;
    size_t advanced;        /* runners that were moved on */
    size_t refused;         /* runners that were not: bad `seconds` */
    size_t first_refused;   /* the index of the first of them */
    size_t events_lost;     /* events that did not fit */
    size_t intents_mended;  /* intents from which something was left out */
    size_t instants_capped; /* runners whose tick held more instants than it may */
    int32_t first_refusal;  /* see cursimeter_refusal_name */
    int32_t dt_shortened;   /* 1: `seconds` was above 0.1; only that much was simulated */
} cursimeter_crowd_summary;
#define CURSIMETER_CROWD_SUMMARY_INIT \
    { sizeof(cursimeter_crowd_summary), 0, 0, 0, 0, 0, 0, 0, 0 }
CURSIMETER_API cursimeter_status cursimeter_crowd_summarise(const cursimeter_crowd_report* report,
                                                            cursimeter_crowd_summary* out);

#ifdef __cplusplus
}
#endif

#endif
