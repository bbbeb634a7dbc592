// Lock-on: circling a moving boat. The look follows it inside the ticks; side steps use the chart's side speed.
#include <cmath>
#include <cstdio>
#include <cursimeter/advance.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/show/body_facing.hpp>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/keeper.toml").chart;
    for (const double rate : {20.0, 60.0, 240.0}) {
        Runner keeper = spawn(chart);
        BodyFacing body(keeper.yaw(), 6.0);
        Focus boat{{8.0, 0.0, 0.0}, {0.5, 0.0, 0.0}, 1.6};
        Intent intent;
        intent.focus = &boat;
        intent.move.side = 1.0;
        for (int tick = 0; tick < static_cast<int>(rate) * 12; ++tick) {
            boat.position.x = 8.0 + 0.5 * keeper.clock().value;
            static_cast<void>(advance(chart, keeper, intent, Seconds{1.0 / rate}));
            body.follow(keeper, intent.facing, Seconds{1.0 / rate});
        }
        const glm::dvec3 apart = glm::dvec3(14.0, 0.0, 0.0) - keeper.position();
        std::printf("%3.0f Hz: %.2f m/s, %.3f m from the boat, body within %.2f rad of the look\n", rate,
                    keeper.speed(), std::hypot(apart.x, apart.y), std::fabs(body.yaw() - keeper.yaw()));
    }
}
// expected output:
//  20 Hz: 2.10 m/s, 10.132 m from the boat, body within 0.00 rad of the look
//  60 Hz: 2.10 m/s, 10.132 m from the boat, body within 0.00 rad of the look
// 240 Hz: 2.10 m/s, 10.132 m from the boat, body within 0.00 rad of the look
