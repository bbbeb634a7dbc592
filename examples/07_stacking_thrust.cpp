// Thrust that builds up stack by stack while the oar is pulled, and coasts down afterwards.
#include <cstdio>
#include <cursimeter/advance.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/effects.hpp>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/keeper.toml").chart;
    for (const double pulled : {0.5, 2.0}) {
        Runner keeper = spawn(chart);
        Intent intent;
        intent.move.forward = 1.0;
        double fastest = 0.0, coasting = 0.0;
        int most = 0;
        for (int tick = 0; tick < 600; ++tick) {
            intent.held = tick / 60.0 < pulled ? key_bit(chart.action("oar")) : 0;
            const Report report = advance(chart, keeper, intent, Seconds{1.0 / 60.0});
            const ModifierReading pull = read_modifier(chart, keeper, chart.modifier("pull"));
            most = pull.stacks > most ? pull.stacks : most;
            fastest = keeper.speed() > fastest ? keeper.speed() : fastest;
            coasting += intent.held == 0 && pull.active ? report.seconds : 0.0;
        }
        std::printf("pulled for %.1f s: %d stacks, %.2f m/s at most, coasting for %.1f s\n", pulled, most,
                    fastest, coasting);
    }
}
// expected output:
// pulled for 0.5 s: 2 stacks, 2.40 m/s at most, coasting for 1.2 s
// pulled for 2.0 s: 5 stacks, 4.00 m/s at most, coasting for 3.0 s
