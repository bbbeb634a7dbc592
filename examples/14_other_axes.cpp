// A game with y up, centimetres, left-handed axes and yaw in degrees: converted at the boundary, there and back.
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/convention.hpp>
#include <cursimeter/cursimeter.hpp>

int main() {
    const cursimeter::Converter converter({.forward = cursimeter::Axis::z,
                                           .up = cursimeter::Axis::y,
                                           .left_handed = true,
                                           .clockwise_yaw = true,
                                           .metres = 0.01,
                                           .radians = 3.14159265358979 / 180});
    const cursimeter::Chart chart = cursimeter::load_chart("demo/charts/bearer.toml").chart;
    cursimeter::Runner runner = cursimeter::spawn(chart);
    cursimeter::Intent intent;
    intent.move.forward = 1.0;
    for (const double camera_yaw_in_degrees : {0.0, 90.0}) {
        intent.look.yaw = converter.yaw_from_game(camera_yaw_in_degrees);
        for (int tick = 0; tick < 120; ++tick) {
            static_cast<void>(cursimeter::advance(chart, runner, intent, cursimeter::Seconds{1.0 / 60.0}));
        }
        const glm::vec3 shown = converter.to_game_floats(runner.position());
        std::printf("looking at %2.0f degrees: %3.0f to the right, %3.0f up, %3.0f ahead, in cm\n",
                    camera_yaw_in_degrees, static_cast<double>(shown.x) + 0.0, static_cast<double>(shown.y),
                    static_cast<double>(shown.z));
    }
}
// expected output:
// looking at  0 degrees:   0 to the right,   0 up, 456 ahead, in cm
// looking at 90 degrees: 452 to the right,   0 up, 484 ahead, in cm
