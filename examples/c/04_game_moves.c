/* The game's own collision: propose says where the runner wants to be, the game moves it, settle hears what really
 * happened. Here the world is a floor with a wall at x = 5 m. */
#include <cursimeter/cursimeter.h>
#include <stdio.h>

/* All of this game's physics: nothing gets past the wall. */
static void move_in_game(const cursimeter_plan_reading* plan, double from_x, double moved[3],
                         cursimeter_contacts* contacts) {
    const cursimeter_contacts nothing = CURSIMETER_CONTACTS_INIT;
    const double room = 5.0 - plan->radius - from_x;
    int i;
    for (i = 0; i < 3; ++i) {
        moved[i] = plan->displacement[i];
    }
    *contacts = nothing;
    if (moved[0] > room) {
        moved[0] = room;
        contacts->barriers[0][0] = -1.0;
        contacts->barrier_count = 1;
    }
}

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart;
    if (cursimeter_chart_load("demo/charts/bearer.toml", &chart, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    cursimeter_runner runner;
    cursimeter_reading reading = CURSIMETER_READING_INIT;
    cursimeter_contacts contacts = CURSIMETER_CONTACTS_INIT;
    cursimeter_plan* plan = cursimeter_plan_new(); /* one for each character, used again in every tick */
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    static cursimeter_report report;
    report.size = sizeof report;
    cursimeter_spawn(chart, NULL, &runner, error);
    intent.forward = 1;
    for (int tick = 0; tick < 180; ++tick) {
        cursimeter_plan_reading wanted = CURSIMETER_PLAN_READING_INIT;
        double moved[3];
        cursimeter_propose(chart, &runner, &intent, &contacts, 1.0 / 60.0, plan, &wanted);
        cursimeter_read(chart, &runner, &reading);
        move_in_game(&wanted, reading.position[0], moved, &contacts);
        cursimeter_settle(chart, &runner, plan, moved, &contacts, &report);
        for (uint32_t i = 0; i < report.event_count; ++i) {
            printf("%.3f s: %s, %.2f m/s\n", (tick + 1) / 60.0, cursimeter_event_name(report.events[i].kind),
                   report.events[i].value);
        }
    }
    cursimeter_read(chart, &runner, &reading);
    printf("stands at %.2f m, %.2f m/s\n", reading.position[0], reading.speed);
    cursimeter_plan_free(plan);
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
2.050 s: bumped, 2.40 m/s
stands at 4.65 m, 0.00 m/s
*/
