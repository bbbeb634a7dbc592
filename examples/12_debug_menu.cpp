// What a debug menu asks: a chart's numbers, whether it is sound, why a state is not taken, the values that would give
// another number, and a recording of what just happened.
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/survey/check.hpp>
#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/fit.hpp>
#include <cursimeter/survey/take.hpp>

using namespace cursimeter;

int main() {
    const ChartFile bearer = load_chart("demo/charts/bearer.toml");
    const survey::Figure sprint = survey::figure(bearer.spec, "sprint.distance");
    std::printf("%s %.2f %s\n", sprint.name.c_str(), sprint.value, sprint.unit.c_str());
    std::printf("%zu findings\n", survey::check(bearer.spec).size());

    // The game goes on meanwhile; a recorder with its room set aside keeps the last moments.
    const Chart& chart = bearer.chart;
    Runner runner = spawn(chart);
    survey::TakeRecorder take(chart, runner, {format_chart(bearer.spec), {}, "ten seconds"});
    Intent intent;
    intent.move = {1.0, 0.0};
    intent.hold(chart.action("sprint"));
    const Seconds dt{1.0 / 60.0};
    for (int tick = 0; tick < 600; ++tick) {
        static_cast<void>(take.begin(runner, intent, dt));
        static_cast<void>(advance(chart, runner, intent, dt));
        static_cast<void>(take.end(runner));
    }
    const Possibility possible = could_enter(chart, runner, chart.state("sprint"));
    std::printf("sprint now: %s\n", possible.possible ? "yes" : chart.describe(possible.cause).c_str());
    std::printf("replayed: %s\n", survey::replay(survey::read_take(take.bytes()), chart, nullptr).first
                                      ? "differs"
                                      : "the same");

    survey::FitPlan plan;
    plan.wishes = {survey::read_wish("sprint.distance = 40 m", bearer.spec)};
    plan.vary = {survey::read_fit_range("states.sprint.drain.stamina", bearer.spec)};
    const survey::Fit fit = survey::fit(bearer.spec, plan);
    std::printf("%s %.3f -> %.3f\n", fit.values[0].path.c_str(), fit.values[0].before, fit.values[0].after);
}
// expected output:
// sprint.distance 51.80 m
// 0 findings
// sprint now: fails: not stamina spent
// replayed: the same
// states.sprint.drain.stamina 12.000 -> 15.343
