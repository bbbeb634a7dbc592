/* A character in a save game: a line of text that today's chart reads to the bit, and tomorrow's by names. */
#include <cursimeter/cursimeter.h>
#include <stdio.h>
#include <string.h>

static void play(const cursimeter_chart* chart, cursimeter_runner* runner) {
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    cursimeter_reading reading = CURSIMETER_READING_INIT;
    cursimeter_meter stamina;
    intent.forward = 1;
    intent.held = 1u << cursimeter_find(chart, CURSIMETER_ACTIONS, "sprint", NULL);
    for (int tick = 0; tick < 60; ++tick) {
        cursimeter_advance(chart, runner, &intent, NULL, 1.0 / 60, NULL);
    }
    cursimeter_read(chart, runner, &reading);
    cursimeter_read_meter(chart, runner, cursimeter_find(chart, CURSIMETER_METERS, "stamina", NULL), &stamina,
                          NULL);
    printf("%s at %.3f m, stamina %.1f\n", cursimeter_name(chart, CURSIMETER_STATES, (size_t)reading.state),
           reading.position[0], stamina.level);
}

int main(void) {
    static cursimeter_runner keeper, loaded;
    static char text[20000], saved[4000], read_back[4000];
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart *today, *tomorrow;
    char* broth;
    FILE* file;
    if (cursimeter_chart_load("demo/charts/keeper.toml", &today, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    cursimeter_spawn(today, NULL, &keeper, error);
    cursimeter_grant(today, &keeper, cursimeter_find(today, CURSIMETER_MODIFIERS, "broth", error), 0, 1,
                     error);
    play(today, &keeper);

    /* Saved, and played on: the same with the runner that was loaded. */
    if (cursimeter_save_runner(today, &keeper, saved, sizeof saved, NULL, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    file = fopen("keeper.save", "wb");
    if (file == NULL || fputs(saved, file) < 0 || fclose(file) != 0) {
        return 1;
    }
    play(today, &keeper);
    file = fopen("keeper.save", "rb");
    if (file == NULL || fgets(read_back, sizeof read_back, file) == NULL) {
        return 1;
    }
    fclose(file);
    if (cursimeter_restore_runner(today, read_back, &loaded, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    play(today, &loaded);
    printf("the same to the bit: %s\n",
           cursimeter_digest(&loaded) == cursimeter_digest(&keeper) ? "yes" : "no");
    cursimeter_chart_free(today);

    /* The next version of the game has another chart. */
    file = fopen("demo/charts/keeper.toml", "rb");
    if (file == NULL) {
        return 1;
    }
    text[fread(text, 1, sizeof text - 1, file)] = '\0';
    fclose(file);
    broth = strstr(text, "[modifiers.broth]");
    if (broth == NULL) {
        return 1;
    }
    memcpy(broth, "[modifiers.soups]", strlen("[modifiers.soups]"));
    if (cursimeter_chart_parse(text, strlen(text), "keeper.toml", &tomorrow, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    if (cursimeter_restore_runner(tomorrow, read_back, &loaded, error) == CURSIMETER_NO) {
        printf("%s\n", cursimeter_error_text(error));
    }
    play(tomorrow, &loaded);
    cursimeter_chart_free(tomorrow);
    cursimeter_error_free(error);
    remove("keeper.save");
    return 0;
}
/* expected output:
sprint at 4.785 m, stamina 88.1
sprint at 11.385 m, stamina 76.0
sprint at 11.385 m, stamina 76.0
the same to the bit: yes
modifier 'broth' is not in the new chart
sprint at 10.796 m, stamina 76.0
*/
