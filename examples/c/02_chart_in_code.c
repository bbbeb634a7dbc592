/* A chart without a file: text of the game's own, from its archive or made as it runs; every mistake at once. */
#include <cursimeter/cursimeter.h>
#include <stdio.h>
#include <string.h>

static const char eel[] =
    "format = 1\n"
    "name = \"eel\"\n"
    "rank = [\"hurry\", \"walk\"]\n"
    "[actions.hurry]\n"
    "press = \"toggle\"\n"
    "[meters.breath]\n"
    "capacity = 40\n"
    "refill = { rate = 10, wait = 0.5 }\n"
    "spent = { at = 0, until = 20 }\n"
    "[states.walk]\n"
    "kind = \"ground\"\n"
    "speed = { forward = 2, side = 1.8, back = 1.5 }\n"
    "gain = { law = \"ramp\", up = 8 }\n"
    "[states.hurry]\n"
    "like = \"walk\"\n"
    "speed = { forward = 5 }\n"
    "enter = [\"hurry on\", \"moving forward\"]\n"
    "drain = { breath = 20 }\n";

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart;
    if (cursimeter_chart_parse(eel, strlen(eel), "eel", &chart, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    const int hurry = cursimeter_find(chart, CURSIMETER_ACTIONS, "hurry", error);
    const cursimeter_change tap[2] = {{0.005, CURSIMETER_PRESS, hurry, 0, 0},
                                      {0.012, CURSIMETER_RELEASE, hurry, 0, 0}};
    cursimeter_runner runner;
    static cursimeter_report report;
    double time = 0;
    report.size = sizeof report;
    cursimeter_spawn(chart, NULL, &runner, error);
    for (int tick = 0; tick < 100; ++tick) {
        cursimeter_intent intent = CURSIMETER_INTENT_INIT;
        intent.forward = 1;
        intent.changes = tap;
        intent.change_count = tick == 0 ? 2 : 0; /* 5 ms into the first tick: toggled on */
        cursimeter_advance(chart, &runner, &intent, NULL, 0.05, &report);
        for (uint32_t i = 0; i < report.event_count; ++i) {
            const cursimeter_event* event = &report.events[i];
            if (event->list == CURSIMETER_METERS) {
                printf("%.4f s  %s %s\n", time + event->at,
                       cursimeter_name(chart, CURSIMETER_METERS, (size_t)event->subject),
                       cursimeter_event_name(event->kind));
            }
        }
        time += report.seconds;
    }
    cursimeter_chart_free(chart);

    /* A typing slip, and a latch that would never open. */
    char wrong[sizeof eel];
    memcpy(wrong, eel, sizeof eel);
    memcpy(strstr(wrong, "like = \"walk"), "like = \"wlak", 12);
    memcpy(strstr(wrong, "until = 20"), "until = 50", 10);
    cursimeter_chart_parse(wrong, strlen(wrong), "eel", &chart, error);
    printf("%s\n", cursimeter_error_text(error));
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
0.0125 s  breath draining
2.0125 s  breath emptied
2.0125 s  breath spent
2.0125 s  breath rested
4.5125 s  breath recovered
4.5125 s  breath draining
eel:9:19: meters.breath.spent.until: 50 is above the capacity 40; the meter would stay spent for ever; let it open at the capacity or below
eel:15:1: states.hurry.like: no state is named 'wlak'; did you mean 'walk'?
*/
