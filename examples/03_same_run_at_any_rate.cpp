// One drill, three tick rates, one run: the states change at the same times to the microsecond.
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/run.hpp>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/bearer.toml").chart;
    const Drill drill = load_drill("demo/drills/quay_boards.toml", chart).drill;
    for (const double rate : {20.0, 60.0, 240.0}) {
        const survey::Run run = survey::run(chart, drill, survey::even_ticks(rate, drill));
        const survey::Visit& second_run = run.visits.at(3);
        std::printf("%3.0f Hz: %s again at %.6f s, %.6f m in all\n", rate,
                    chart.name(second_run.state).c_str(), second_run.at, run.runner.distance());
    }
}
// expected output:
//  20 Hz: sprint again at 19.720855 s, 162.019743 m in all
//  60 Hz: sprint again at 19.720855 s, 162.019743 m in all
// 240 Hz: sprint again at 19.720855 s, 162.019743 m in all
