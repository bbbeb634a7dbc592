// A bearer in 20 lines: load a chart, hand over what is held, advance, read what happened.
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/cursimeter.hpp>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/bearer.toml").chart;
    const ActionId sprint = chart.action("sprint");
    Runner runner = spawn(chart);
    for (int tick = 0; tick < 600; ++tick) {  // ten seconds at 60 ticks a second
        Intent intent;
        intent.move = {.forward = 1.0, .side = 0.0};
        intent.hold(sprint);
        const Report report = advance(chart, runner, intent, Seconds{1.0 / 60.0});
        for (const Event& event : report.events()) {
            if (event.kind == EventKind::entered) {
                std::printf("%s (%s)\n", subject_name(chart, event).c_str(),
                            chart.describe(event.cause).c_str());
            }
        }
    }
    std::printf("%.2f m, stamina %.1f\n", runner.position().x,
                read_meter(chart, runner, chart.meter("stamina")).level);
}
// expected output:
// sprint (enter: sprint on)
// walk (stay failed: stamina > 0)
// 56.31 m, stamina 17.2
