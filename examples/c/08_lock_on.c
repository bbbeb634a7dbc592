/* Lock-on: circling a moving boat. The look follows it inside the ticks; side steps use the chart's side speed. */
#include <cursimeter/cursimeter.h>
#include <math.h>
#include <stdio.h>

int main(void) {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart;
    if (cursimeter_chart_load("demo/charts/keeper.toml", &chart, error) != CURSIMETER_OK) {
        fprintf(stderr, "%s\n", cursimeter_error_text(error));
        return 1;
    }
    const double rates[] = {20, 60, 240};
    for (int i = 0; i < 3; ++i) {
        cursimeter_runner keeper;
        cursimeter_reading reading = CURSIMETER_READING_INIT;
        cursimeter_focus boat = {{8, 0, 0}, {0.5, 0, 0}, 1.6};
        cursimeter_intent intent = CURSIMETER_INTENT_INIT;
        intent.focus = &boat;
        intent.side = 1;
        cursimeter_spawn(chart, NULL, &keeper, error);
        for (int tick = 0; tick < (int)rates[i] * 12; ++tick) {
            boat.position[0] = 8 + 0.5 * reading.clock;
            cursimeter_advance(chart, &keeper, &intent, NULL, 1 / rates[i], NULL);
            cursimeter_read(chart, &keeper, &reading);
        }
        printf("%3.0f Hz: %.2f m/s, %.3f m from the boat\n", rates[i], reading.speed,
               hypot(14 - reading.position[0], reading.position[1]));
    }
    cursimeter_chart_free(chart);
    cursimeter_error_free(error);
    return 0;
}
/* expected output:
 20 Hz: 2.10 m/s, 10.132 m from the boat
 60 Hz: 2.10 m/s, 10.132 m from the boat
240 Hz: 2.10 m/s, 10.132 m from the boat
*/
