// A character in a save game: a line of text that today's chart reads to the bit, and tomorrow's by names.
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <fstream>

using namespace cursimeter;

int main() {
    const ChartFile today = load_chart("demo/charts/keeper.toml");
    Runner keeper = spawn(today.chart);
    Intent intent;
    intent.move.forward = 1.0;
    intent.hold(today.chart.action("sprint"));
    static_cast<void>(grant(today.chart, keeper, today.chart.modifier("broth")));
    const auto play = [&](const Chart& chart, Runner& runner) {
        for (int tick = 0; tick < 60; ++tick) {
            static_cast<void>(advance(chart, runner, intent, Seconds{1.0 / 60.0}));
        }
        std::printf("%s at %.3f m, stamina %.1f\n", chart.name(runner.state()).c_str(), runner.position().x,
                    read_meter(chart, runner, chart.meter("stamina")).level);
    };
    play(today.chart, keeper);

    // Saved, and played on: the same with the runner that was loaded.
    std::ofstream("keeper.save") << save_runner(today.chart, keeper);
    play(today.chart, keeper);
    std::string saved;
    std::ifstream("keeper.save") >> saved;
    Runner loaded = restore_runner(today.chart, saved).runner;
    play(today.chart, loaded);
    std::printf("the same to the bit: %s\n", digest(loaded) == digest(keeper) ? "yes" : "no");

    // The next version of the game has another chart.
    ChartSpec spec = today.spec;
    for (ModifierSpec& modifier : spec.modifiers) {
        if (modifier.name == "broth") {
            modifier.name = "soup";
        }
    }
    const Chart tomorrow = compile(spec);
    const RestoredRunner restored = restore_runner(tomorrow, saved);
    for (const std::string& lost : restored.lost) {
        std::printf("%s\n", lost.c_str());
    }
    loaded = restored.runner;
    play(tomorrow, loaded);
    std::remove("keeper.save");
}
// expected output:
// sprint at 4.785 m, stamina 88.1
// sprint at 11.385 m, stamina 76.0
// sprint at 11.385 m, stamina 76.0
// the same to the bit: yes
// modifier 'broth' is not in the new chart
// sprint at 10.796 m, stamina 76.0
