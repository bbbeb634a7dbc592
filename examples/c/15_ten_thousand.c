/* A procession of 10,000 bearers on the shore: each goes its own round of four posts, thinks ten times a second, and sprints
 * on long stretches. One call moves all of them on. */
#include <cursimeter/cursimeter_crowd.h>
#include <stdio.h>

enum { bearers = 10000 };
static cursimeter_intent intents[bearers];
static double places[bearers][3];
static int post[bearers];
static int passed, spent;

static void think(int i, uint32_t sprint) {
    const double side = 8.0 + i % 9, x = 3.0 * (i % 100), y = 3.0 * (i / 100); /* m */
    const double posts[4][2] = {{x + side, y}, {x + side, y + side}, {x, y + side}, {x, y}};
    double ahead = posts[post[i]][0] - places[i][0], aside = posts[post[i]][1] - places[i][1];
    if (ahead * ahead + aside * aside < 1) {
        post[i] = (post[i] + 1) % 4;
        ++passed;
        ahead = posts[post[i]][0] - places[i][0];
        aside = posts[post[i]][1] - places[i][1];
    }
    intents[i].forward = 1;
    intents[i].yaw = cursimeter_arc_tangent(aside, ahead); /* the same bits on every machine */
    intents[i].held = side > 12 ? sprint : 0;
}

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart;
    cursimeter_crowd* crowd;
    cursimeter_crowd_report* report;
    if (cursimeter_chart_load("demo/charts/bearer.toml", &chart, error) != CURSIMETER_OK ||
        cursimeter_crowd_new(chart, &crowd, error) != CURSIMETER_OK ||
        cursimeter_crowd_report_new(20000, &report, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    const uint32_t sprint = 1u << cursimeter_find(chart, CURSIMETER_ACTIONS, "sprint", error);
    for (int i = 0; i < bearers; ++i) {
        const cursimeter_intent still = CURSIMETER_INTENT_INIT;
        const cursimeter_placement start = {{3.0 * (i % 100), 3.0 * (i / 100), 0}, 0};
        cursimeter_crowd_spawn(crowd, &start, NULL, error);
        intents[i] = still;
    }
    for (int tick = 0; tick < 900; ++tick) { /* a quarter of a minute */
        size_t count;
        cursimeter_crowd_positions(crowd, 0, bearers, places[0]);
        for (int i = tick % 6; i < bearers; i += 6) {
            think(i, sprint);
        }
        cursimeter_crowd_advance(crowd, 0, intents, bearers, NULL, 1.0 / 60, report, error);
        const cursimeter_crowd_event* events = cursimeter_crowd_events(report, &count);
        for (size_t i = 0; i < count; ++i) {
            spent += events[i].event.kind == CURSIMETER_SPENT ? 1 : 0;
        }
    }
    cursimeter_runner last;
    cursimeter_crowd_get(crowd, bearers - 1, &last);
    printf("%d posts passed; %d times somebody was spent\n", passed, spent);
    printf("the last bearer: %016llx\n", (unsigned long long)cursimeter_digest(&last));
    cursimeter_crowd_report_free(report);
    cursimeter_crowd_free(crowd);
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
38889 posts passed; 8888 times somebody was spent
the last bearer: 486e55706069d15c
*/
