/* The player's own settings: two keys for one action, a chord, a toggle in place of a hold; saved and loaded. */
#include <cursimeter/cursimeter_controls.h>
#include <stdio.h>
#include <string.h>

static const char settings[] =
    "format = 1\n"
    "name = \"left_handed\"\n"
    "[actions.sprint]\n"
    "press = \"toggle\"\n"
    "[[bind]]\n"
    "action = \"move_forward\"\n"
    "inputs = [\"key.i\"]\n"
    "[[bind]]\n"
    "action = \"sprint\"\n"
    "inputs = [\"key.shift\"]\n"
    "[[bind]]\n"
    "action = \"sprint\"\n"
    "inputs = [\"pad.left_stick\"]\n"
    "[[bind]]\n"
    "action = \"dash\"\n"
    "inputs = [\"key.shift\", \"key.space\"]\n";
static const char one_more[] =
    "[[bind]]\n"
    "action = \"oar\"\n"
    "inputs = [\"key.space\", \"key.shift\"]\n";

static cursimeter_chart* chart;
static cursimeter_runner keeper;
static cursimeter_controls* controls;

static void tick(const char* what) {
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    cursimeter_reading reading = CURSIMETER_READING_INIT;
    cursimeter_controls_intent(controls, &intent);
    cursimeter_advance(chart, &keeper, &intent, NULL, 0.1, NULL);
    cursimeter_controls_next_tick(controls, 0.1);
    cursimeter_read(chart, &keeper, &reading);
    printf("%-28s %s\n", what, cursimeter_name(chart, CURSIMETER_STATES, (size_t)reading.state));
}

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    if (cursimeter_chart_load("demo/charts/keeper.toml", &chart, error) != CURSIMETER_OK ||
        cursimeter_controls_parse(settings, strlen(settings), "settings.toml", chart, &controls, error) !=
            CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    const int shift = cursimeter_controls_input(controls, "key.shift");
    cursimeter_spawn(chart, NULL, &keeper, error);
    cursimeter_controls_apply_press_modes(controls, &keeper, error);
    cursimeter_controls_press(controls, cursimeter_controls_input(controls, "key.i"), 0.0, 0);
    cursimeter_controls_press(controls, shift, 0.02, 0);
    tick("shift goes down: on");
    cursimeter_controls_release(controls, shift, 0.01);
    tick("and up again: still on");
    cursimeter_controls_press(controls, cursimeter_controls_input(controls, "pad.left_stick"), 0.0, 0);
    tick("the pad's stick: off");
    cursimeter_controls_press(controls, shift, 0.0, 1);
    tick("shift used by the chat: no");
    cursimeter_controls_release_all(controls, 0.0);
    tick("the window loses its focus");

    /* The player's menu adds a binding. */
    char text[1000];
    snprintf(text, sizeof text, "%s%s", settings, one_more);
    cursimeter_controls_rebind(controls, text, strlen(text), "settings.toml", 0.0, error);
    printf("%s\n", cursimeter_controls_conflicts(controls));
    cursimeter_controls_free(controls);
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
shift goes down: on          sprint
and up again: still on       sprint
the pad's stick: off         walk
shift used by the chat: no   walk
the window loses its focus   walk
'dash' and 'oar' are both on key.shift + key.space
*/
