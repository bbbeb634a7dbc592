/* A game seen from the side: runners stay in the plane y = 0 to the bit, ledges let them through from below, and a held
 * crouch drops through. Right is +x, up is +z; what the game draws is (x, z). */
#include <cursimeter/cursimeter.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

/* Boxes of the picture are deep enough that nobody gets round them. */
static const char solid_text[] =
    "format = 1\n"
    "name = \"breakwater\"\n"
    "[[box]]\n"
    "from = [-20, -50, -1]\n"
    "to = [40, 50, 0]\n"
    "[[box]]\n"
    "from = [20, -50, 0]\n"
    "to = [21, 50, 4]\n";
static const char ledge_text[] =
    "format = 1\n"
    "name = \"ledges\"\n"
    "[[box]]\n"
    "from = [6, -50, 0.9]\n"
    "to = [9, 50, 1]\n";
static const double ledge_top = 1; /* m */

static cursimeter_terrain *solid, *ledges;
static int drops; /* the runner that moves now lets itself through */

/* What is solid, and ledges that hold only who comes from above. */
static int sweep(void* user, const cursimeter_sweep* asked, cursimeter_hit* out) {
    const int met = cursimeter_terrain_sweep(solid, asked, out) == CURSIMETER_OK;
    cursimeter_hit ledge;
    (void)user;
    if (!drops && asked->motion[2] < 0 && cursimeter_terrain_sweep(ledges, asked, &ledge) == CURSIMETER_OK &&
        (!met || ledge.fraction < out->fraction) && asked->from[2] >= ledge_top - 0.001) {
        *out = ledge;
        out->surface += 1000; /* another surface than the solid of that number */
        return 1;
    }
    return met;
}
static int overlap(void* user, const cursimeter_sweep* body, cursimeter_overlap* out) {
    (void)user;
    return cursimeter_terrain_overlap(solid, body, out) == CURSIMETER_OK;
}

static cursimeter_chart* chart;
static cursimeter_terrain* level;
static cursimeter_runner eel;
static double farthest_from_plane;

/* The stick's way along x, exactly in the plane: it looks along +x and goes backward. */
static void play(const char* what, double stick, uint32_t held, double seconds) {
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    cursimeter_reading at = CURSIMETER_READING_INIT;
    intent.forward = stick;
    intent.facing = 1; /* forward is wherever it goes, so both ways are as fast */
    intent.held = held;
    drops = (held & (1u << cursimeter_find(chart, CURSIMETER_ACTIONS, "crouch", NULL))) != 0;
    for (int tick = 0; tick < (int)(seconds * 60 + 0.5); ++tick) {
        cursimeter_advance(chart, &eel, &intent, level, 1.0 / 60, NULL);
        cursimeter_read(chart, &eel, &at);
        farthest_from_plane = fmax(farthest_from_plane, fabs(at.position[1]));
    }
    printf("%-32s x %5.2f, z %4.2f, %s\n", what, at.position[0], at.position[2],
           cursimeter_name(chart, CURSIMETER_STATES, (size_t)at.state));
}

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_world world = CURSIMETER_WORLD_INIT;
    cursimeter_push_spec wave = CURSIMETER_PUSH_INIT;
    world.sweep = sweep;
    world.overlap = overlap;
    if (cursimeter_chart_load("demo/charts/eel.toml", &chart, error) != CURSIMETER_OK ||
        cursimeter_terrain_parse(solid_text, strlen(solid_text), "solid", chart, &solid, error) !=
            CURSIMETER_OK ||
        cursimeter_terrain_parse(ledge_text, strlen(ledge_text), "ledges", chart, &ledges, error) !=
            CURSIMETER_OK ||
        cursimeter_terrain_new(&world, &level, error) != CURSIMETER_OK ||
        cursimeter_spawn(chart, NULL, &eel, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    const uint32_t jump = 1u << cursimeter_find(chart, CURSIMETER_ACTIONS, "jump", error);
    const uint32_t crouch = 1u << cursimeter_find(chart, CURSIMETER_ACTIONS, "crouch", error);
    const uint32_t dash = 1u << cursimeter_find(chart, CURSIMETER_ACTIONS, "dash", error);
    play("walks under the ledge", 1, 0, 2.9);
    play("jumps up through it", 0, jump, 0.4);
    play("stands on it", 0, 0, 1);
    play("crouches: drops through", 0, crouch, 0.6);
    play("goes back", -1, 0, 0.6);
    play("turns", 1, 0, 1.5);
    play("dashes along the breakwater", 1, dash, 1);
    play("and into the wall", 1, 0, 4);
    wave.direction[0] = -1;
    wave.strength = 6;
    wave.lift = 0.5;
    wave.seconds = 0.4;
    cursimeter_push(chart, &eel, &wave, error);
    play("thrown back by a wave", 0, 0, 2);
    printf("away from the plane: %g m\n", farthest_from_plane);
    cursimeter_terrain_free(level);
    cursimeter_terrain_free(ledges);
    cursimeter_terrain_free(solid);
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
walks under the ledge            x  7.24, z 0.00, walk
jumps up through it              x  8.28, z 1.03, fall
stands on it                     x  8.55, z 1.00, walk
crouches: drops through          x  8.55, z 0.00, crouch
goes back                        x  7.29, z 0.00, walk
turns                            x 10.66, z 0.00, walk
dashes along the breakwater      x 19.35, z 0.00, walk
and into the wall                x 19.70, z 0.00, walk
thrown back by a wave            x 18.66, z 0.00, walk
away from the plane: 0 m
*/
