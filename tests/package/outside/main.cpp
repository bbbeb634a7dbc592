#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/survey/run.hpp>

int main(int, char** argv) {
    using namespace cursimeter;
    const Chart chart = load_chart(argv[1]).chart;
    Runner runner = spawn(chart);
    Intent intent;
    intent.move.forward = 1.0;
    for (int i = 0; i < 60; ++i) {
        static_cast<void>(advance(chart, runner, intent, Seconds{1.0 / 60.0}));
    }
    std::printf("%s walked %.1f m/s in %s, self-test %s\n", chart.name().c_str(), runner.speed(),
                chart.name(runner.state()).c_str(), numeric_self_test().ok() ? "passed" : "failed");
    return static_cast<int>(survey::even_ticks(10.0, Seconds{1.0}).size()) - 10;
}
