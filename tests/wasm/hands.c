/* What tests/wasm/hands.js plays, through the native library: prints a digest for each chart and rate. */
#include <cursimeter/cursimeter.h>
#include <stdio.h>

static uint32_t dice = 7;
static uint32_t below(uint32_t count) {
    dice = dice * 1103515245u + 12345u;
    return (dice >> 16) % count;
}

int main(void) {
    const char* names[] = {"bearer", "eel", "gannet", "keeper"};
    const int rates[] = {20, 60, 144};
    cursimeter_error* error = cursimeter_error_new();
    for (int i = 0; i < 12; ++i) {
        char file[100];
        cursimeter_chart* chart;
        cursimeter_terrain* course = NULL;
        cursimeter_runner runner;
        cursimeter_intent intent = CURSIMETER_INTENT_INIT;
        snprintf(file, sizeof file, "demo/charts/%s.toml", names[i % 4]);
        if (cursimeter_chart_load(file, &chart, error) != CURSIMETER_OK ||
            (i % 2 == 0 &&
             cursimeter_terrain_load("demo/courses/relay.toml", chart, &course, error) != CURSIMETER_OK) ||
            cursimeter_spawn(chart, NULL, &runner, error) != CURSIMETER_OK) {
            fprintf(stderr, "%s\n", cursimeter_error_text(error));
            return 1;
        }
        const uint32_t known = (1u << cursimeter_count(chart, CURSIMETER_ACTIONS)) - 1;
        for (int tick = 0; tick < 2000; ++tick) {
            if (tick % 7 == 0) {
                intent.forward = below(3) / 2.0;
                intent.side = below(5) / 4.0 - 0.5;
                intent.held = below(16) & known;
                intent.facing = (int32_t)below(2);
            }
            intent.yaw += below(100) / 1000.0 - 0.05;
            cursimeter_terrain_set_time(course, tick / (double)rates[i / 4]);
            cursimeter_advance(chart, &runner, &intent, course, 1.0 / rates[i / 4], NULL);
        }
        printf("%s %d %016llx\n", names[i % 4], rates[i / 4], (unsigned long long)cursimeter_digest(&runner));
        cursimeter_terrain_free(course);
        cursimeter_chart_free(chart);
    }
    cursimeter_error_free(error);
    return 0;
}
