/* The C interface as JavaScript can call it: numbers and addresses in, numbers out by rows of doubles. cursimeter.js is the only
 * caller, and knows the orders. */
#include <cursimeter/cursimeter.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static cursimeter_error* error;
static cursimeter_report report;

static cursimeter_error* errors(void) {
    error = error != NULL ? error : cursimeter_error_new();
    return error;
}
const char* flat_error(void) {
    return cursimeter_error_text(errors());
}
cursimeter_chart* flat_chart(const char* text, const char* name) {
    cursimeter_chart* chart = NULL;
    cursimeter_chart_parse(text, strlen(text), name, &chart, errors());
    return chart;
}
int flat_find(const cursimeter_chart* chart, int list, const char* name) {
    return cursimeter_find(chart, list, name, errors());
}
cursimeter_terrain* flat_course(const cursimeter_chart* chart, const char* file) {
    cursimeter_terrain* terrain = NULL;
    cursimeter_terrain_load(file, chart, &terrain, errors());
    return terrain;
}
/* `from`: x, y, z, yaw. */
cursimeter_runner* flat_spawn(const cursimeter_chart* chart, const double* from) {
    const cursimeter_placement placement = {{from[0], from[1], from[2]}, from[3]};
    cursimeter_runner* runner = aligned_alloc(128, sizeof *runner);
    if (runner != NULL && cursimeter_spawn(chart, &placement, runner, errors()) != CURSIMETER_OK) {
        free(runner);
        runner = NULL;
    }
    return runner;
}
cursimeter_runner* flat_copy(const cursimeter_runner* runner) {
    cursimeter_runner* copy = aligned_alloc(128, sizeof *copy);
    if (copy != NULL) {
        *copy = *runner;
    }
    return copy;
}
/* `wants`: forward, side, yaw, pitch, held, facing, seconds. Writes up to 128 events of 8 numbers: at, value, kind, subject,
 * list, cause, term, which. Returns how many, or -1 - refusal. */
int flat_advance(const cursimeter_chart* chart, cursimeter_runner* runner, const double* wants,
                 const cursimeter_terrain* terrain, double* events) {
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    intent.forward = wants[0];
    intent.side = wants[1];
    intent.yaw = wants[2];
    intent.pitch = wants[3];
    intent.held = (uint32_t)wants[4];
    intent.facing = (int32_t)wants[5];
    report.size = sizeof report;
    if (cursimeter_advance(chart, runner, &intent, terrain, wants[6], &report) != CURSIMETER_OK) {
        return -1 - report.refusal;
    }
    for (uint32_t i = 0; i < report.event_count; ++i) {
        const cursimeter_event* event = &report.events[i];
        const double row[8] = {event->at,   event->value, event->kind, event->subject,
                               event->list, event->cause, event->term, event->which};
        memcpy(events + 8 * i, row, sizeof row);
    }
    return (int)report.event_count;
}
/* Writes 16 numbers in the order of `fields` in cursimeter.js. */
void flat_read(const cursimeter_chart* chart, const cursimeter_runner* runner, double* out) {
    cursimeter_reading now = CURSIMETER_READING_INIT;
    cursimeter_read(chart, runner, &now);
    const double row[16] = {now.position[0],   now.position[1], now.position[2], now.velocity[0],
                            now.velocity[1],   now.velocity[2], now.speed,       now.speed_target,
                            now.distance,      now.yaw,         now.pitch,       now.clock,
                            now.time_in_state, now.state,       now.grounded,    now.by_wall};
    memcpy(out, row, sizeof row);
}
/* Writes level, capacity, fraction, spent. Returns 0 for a meter that there is not. */
int flat_meter(const cursimeter_chart* chart, const cursimeter_runner* runner, int meter, double* out) {
    cursimeter_meter now;
    if (cursimeter_read_meter(chart, runner, meter, &now, errors()) != CURSIMETER_OK) {
        return 0;
    }
    const double row[4] = {now.level, now.capacity, now.fraction, now.spent};
    memcpy(out, row, sizeof row);
    return 1;
}
/* `push`: direction, strength, lift, seconds, locks. */
int flat_push(const cursimeter_chart* chart, cursimeter_runner* runner, const double* push) {
    cursimeter_push_spec spec = CURSIMETER_PUSH_INIT;
    memcpy(spec.direction, push, sizeof spec.direction);
    spec.strength = push[3];
    spec.lift = push[4];
    spec.seconds = push[5];
    spec.locks = push[6] != 0;
    return cursimeter_push(chart, runner, &spec, errors());
}
int flat_grant(const cursimeter_chart* chart, cursimeter_runner* runner, int modifier) {
    return cursimeter_grant(chart, runner, modifier, 0, 1.0, errors());
}
/* 16 hexadecimal digits. */
const char* flat_digest(const cursimeter_runner* runner) {
    static char text[17];
    snprintf(text, sizeof text, "%016llx", (unsigned long long)cursimeter_digest(runner));
    return text;
}
const char* flat_cause(const cursimeter_chart* chart, int cause, int term) {
    static char text[512];
    cursimeter_describe_cause(chart, cause, term, text, sizeof text);
    return text;
}
