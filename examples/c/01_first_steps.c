/* A bearer from C: load a chart, hand over what is held, advance, read what happened. */
#include <cursimeter/cursimeter.h>
#include <stdio.h>

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart;
    if (cursimeter_chart_load("demo/charts/bearer.toml", &chart, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    const int sprint = cursimeter_find(chart, CURSIMETER_ACTIONS, "sprint", error);
    cursimeter_runner runner;
    cursimeter_spawn(chart, NULL, &runner, error);
    static cursimeter_report report;
    report.size = sizeof report;
    for (int tick = 0; tick < 600; ++tick) { /* ten seconds at 60 ticks a second */
        cursimeter_intent intent = CURSIMETER_INTENT_INIT;
        intent.forward = 1;
        intent.held = 1u << sprint;
        cursimeter_advance(chart, &runner, &intent, NULL, 1.0 / 60.0, &report);
        for (uint32_t i = 0; i < report.event_count; ++i) {
            const cursimeter_event* event = &report.events[i];
            if (event->kind == CURSIMETER_ENTERED) {
                char cause[80];
                cursimeter_describe_cause(chart, event->cause, event->term, cause, sizeof cause);
                printf("%s (%s)\n", cursimeter_name(chart, CURSIMETER_STATES, (size_t)event->subject), cause);
            }
        }
    }
    cursimeter_reading reading = CURSIMETER_READING_INIT;
    cursimeter_meter stamina;
    cursimeter_read(chart, &runner, &reading);
    cursimeter_read_meter(chart, &runner, cursimeter_find(chart, CURSIMETER_METERS, "stamina", error),
                          &stamina, error);
    printf("%.2f m, stamina %.1f\n", reading.position[0], stamina.level);
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
sprint (enter: sprint on)
walk (stay failed: stamina > 0)
56.31 m, stamina 17.2
*/
