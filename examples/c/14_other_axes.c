/* A game with y up, centimetres, left-handed axes and yaw in degrees: converted at the boundary, there and back. */
#include <cursimeter/cursimeter.h>
#include <stdio.h>

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart;
    if (cursimeter_chart_load("demo/charts/bearer.toml", &chart, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    cursimeter_convention game = CURSIMETER_CONVENTION_INIT;
    game.forward = 3; /* +z */
    game.up = 2;      /* +y */
    game.left_handed = 1;
    game.clockwise_yaw = 1;
    game.metres = 0.01;
    game.radians = 3.14159265358979 / 180;
    cursimeter_runner runner;
    cursimeter_intent intent = CURSIMETER_INTENT_INIT;
    cursimeter_reading reading = CURSIMETER_READING_INIT;
    cursimeter_spawn(chart, NULL, &runner, error);
    intent.forward = 1;
    for (int camera_yaw_in_degrees = 0; camera_yaw_in_degrees <= 90; camera_yaw_in_degrees += 90) {
        float shown[3];
        intent.yaw = cursimeter_yaw_from_game(&game, camera_yaw_in_degrees);
        for (int tick = 0; tick < 120; ++tick) {
            cursimeter_advance(chart, &runner, &intent, NULL, 1.0 / 60.0, NULL);
        }
        cursimeter_read(chart, &runner, &reading);
        cursimeter_to_game_f(&game, CURSIMETER_LENGTH, reading.position, shown);
        printf("looking at %2d degrees: %3.0f to the right, %3.0f up, %3.0f ahead, in cm\n",
               camera_yaw_in_degrees, (double)shown[0] + 0.0, (double)shown[1], (double)shown[2]);
    }
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
looking at  0 degrees:   0 to the right,   0 up, 456 ahead, in cm
looking at 90 degrees: 452 to the right,   0 up, 484 ahead, in cm
*/
