// Bars, and what exhaustion does: the numbers that a game's interface reads after each tick.
#include <cstdio>
#include <cursimeter/advance.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/effects.hpp>

using namespace cursimeter;

int main() {
    const Chart chart = load_chart("demo/charts/keeper.toml").chart;
    const MeterId stamina = chart.meter("stamina");
    Runner keeper = spawn(chart);
    Intent intent;
    intent.move.forward = 1.0;
    intent.hold(chart.action("sprint"));
    for (int tick = 1; tick <= 60 * 16; ++tick) {
        const Report report = advance(chart, keeper, intent, Seconds{1.0 / 60.0});
        for (const Event& event : report.events()) {
            if (event.kind == EventKind::began || event.kind == EventKind::ended) {
                std::printf("         %s %s\n", subject_name(chart, event).c_str(),
                            to_string(event.kind).data());
            }
        }
        if (tick % 120 == 0) {
            const MeterReading bar = read_meter(chart, keeper, stamina);
            std::printf("%4.1f s  stamina %3.0f %%%s  %.2f m/s\n", keeper.clock().value, 100.0 * bar.fraction,
                        bar.spent ? " spent" : "", keeper.speed());
        }
    }
    const double drunk = grant(chart, keeper, stamina, 50.0);  // a potion
    std::printf("a potion gave %.1f\n", drunk);
    std::printf("a push of the bell rope for 20: %s\n",
                try_spend(chart, keeper, stamina, 20.0) ? "yes" : "no");
    std::printf("and for 200: %s\n", try_spend(chart, keeper, stamina, 200.0) ? "yes" : "no");
}
// expected output:
//  2.0 s  stamina  76 %  6.00 m/s
//  4.0 s  stamina  52 %  6.00 m/s
//  6.0 s  stamina  27 %  6.00 m/s
//  8.0 s  stamina   3 %  6.00 m/s
//          staggered began
//          staggered ended
//          winded began
// 10.0 s  stamina  20 % spent  1.68 m/s
// 12.0 s  stamina  12 %  4.43 m/s
//          staggered began
//          winded ended
//          staggered ended
//          winded began
// 14.0 s  stamina   6 % spent  1.68 m/s
// 16.0 s  stamina  22 %  4.20 m/s
// a potion gave 50.0
// a push of the bell rope for 20: yes
// and for 200: no
