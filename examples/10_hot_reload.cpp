// The chart changes while its runner lives: everything is carried over by name.
#include <cstdio>
#include <cursimeter/advance.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/reload.hpp>

using namespace cursimeter;

int main() {
    ChartFile file = load_chart("demo/charts/keeper.toml");
    Runner keeper = spawn(file.chart);
    Intent intent;
    intent.move.forward = 1.0;
    intent.hold(file.chart.action("sprint"));
    static_cast<void>(grant(file.chart, keeper, file.chart.modifier("broth")));
    const auto second = [&](const Chart& chart) {
        for (int tick = 0; tick < 60; ++tick) {
            static_cast<void>(advance(chart, keeper, intent, Seconds{1.0 / 60.0}));
        }
        std::printf("%s: %.2f m/s, stamina %.0f of %.0f\n", chart.name(keeper.state()).c_str(),
                    keeper.speed(), read_meter(chart, keeper, chart.meter("stamina")).level,
                    chart.capacity(chart.meter("stamina")));
    };
    second(file.chart);

    ChartSpec tuned = file.spec;
    for (StateSpec& state : tuned.states) {
        if (state.name == "sprint") {
            state.speed.forward = 7.5;
        }
    }
    for (MeterSpec& meter : tuned.meters) {
        if (meter.name == "stamina") {
            meter.capacity = 60.0;
        }
    }
    for (ModifierSpec& modifier : tuned.modifiers) {
        if (modifier.name == "broth") {
            modifier.name = "soup";
        }
    }
    const Chart chart = compile(tuned);
    const CarriedOver carried = carry_over(file.chart, keeper, chart);
    for (const std::string& lost : carried.lost) {
        std::printf("%s\n", lost.c_str());
    }
    keeper = carried.runner;
    second(chart);
}
// expected output:
// sprint: 6.60 m/s, stamina 88 of 100
// modifier 'broth' is not in the new chart
// sprint: 7.50 m/s, stamina 48 of 60
