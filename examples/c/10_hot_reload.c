/* The chart changes while its runner lives: everything is carried over by name. */
#include <cursimeter/cursimeter.h>
#include <stdio.h>
#include <string.h>

static cursimeter_runner keeper;

/* A game watches the file instead, and loads it anew when it was saved. */
static void replace(char* text, size_t room, const char* old, const char* by) {
    static char rest[20000];
    char* at = strstr(text, old);
    if (at != NULL) {
        snprintf(rest, sizeof rest, "%s", at + strlen(old));
        snprintf(at, room - (size_t)(at - text), "%s%s", by, rest);
    }
}

static void second(const cursimeter_chart* chart) {
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    cursimeter_reading reading = CURSIMETER_READING_INIT;
    cursimeter_meter stamina;
    intent.forward = 1;
    intent.held = 1u << cursimeter_find(chart, CURSIMETER_ACTIONS, "sprint", NULL);
    for (int tick = 0; tick < 60; ++tick) {
        cursimeter_advance(chart, &keeper, &intent, NULL, 1.0 / 60, NULL);
    }
    cursimeter_read(chart, &keeper, &reading);
    cursimeter_read_meter(chart, &keeper, cursimeter_find(chart, CURSIMETER_METERS, "stamina", NULL),
                          &stamina, NULL);
    printf("%s: %.2f m/s, stamina %.0f of %.0f\n",
           cursimeter_name(chart, CURSIMETER_STATES, (size_t)reading.state), reading.speed, stamina.level,
           stamina.capacity);
}

int main(void) {
    static char text[20000];
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart *chart, *tuned;
    FILE* file = fopen("demo/charts/keeper.toml", "rb");
    if (file == NULL) {
        return 1;
    }
    text[fread(text, 1, sizeof text - 1, file)] = '\0';
    fclose(file);
    if (cursimeter_chart_parse(text, strlen(text), "keeper.toml", &chart, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    cursimeter_spawn(chart, NULL, &keeper, error);
    cursimeter_grant(chart, &keeper, cursimeter_find(chart, CURSIMETER_MODIFIERS, "broth", error), 0, 1,
                     error);
    second(chart);

    replace(text, sizeof text, "speed  = { forward = 6 }", "speed  = { forward = 7.5 }");
    replace(text, sizeof text, "capacity = 100", "capacity = 60");
    replace(text, sizeof text, "[modifiers.broth]", "[modifiers.soup]");
    if (cursimeter_chart_parse(text, strlen(text), "keeper.toml", &tuned, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    if (cursimeter_carry_over(chart, &keeper, tuned, &keeper, error) == CURSIMETER_NO) {
        printf("%s\n", cursimeter_error_text(error));
    }
    cursimeter_chart_free(chart);
    second(tuned);
    cursimeter_chart_free(tuned);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
sprint: 6.60 m/s, stamina 88 of 100
modifier 'broth' is not in the new chart
sprint: 7.50 m/s, stamina 48 of 60
*/
