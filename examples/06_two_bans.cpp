// Two systems ban sprinting, each for its own reason; each lifts only its own.
#include <cstdio>
#include <cursimeter/advance.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/effects.hpp>

using namespace cursimeter;

namespace {

void walk_on(const Chart& chart, Runner& keeper, const Intent& intent, const char* what) {
    std::printf("%s\n", what);
    for (int tick = 0; tick < 30; ++tick) {
        const Report report = advance(chart, keeper, intent, Seconds{1.0 / 60.0});
        for (const Event& event : report.events()) {
            if (event.kind == EventKind::entered) {
                std::printf("    %s (%s)\n", subject_name(chart, event).c_str(),
                            chart.describe(event.cause).c_str());
            }
        }
    }
}

}  // namespace

int main() {
    const Chart chart = load_chart("demo/charts/keeper.toml").chart;
    const BlockId conversation = chart.block("conversation"), narrow_pier = chart.block("narrow_pier");
    Runner keeper = spawn(chart);
    Intent intent;
    intent.move.forward = 1.0;
    intent.hold(chart.action("sprint"));
    walk_on(chart, keeper, intent, "the keeper sprints");
    block(chart, keeper, narrow_pier);
    walk_on(chart, keeper, intent, "onto the narrow pier");
    block(chart, keeper, conversation);
    unblock(chart, keeper, narrow_pier);
    walk_on(chart, keeper, intent, "off it, but talking");
    const Possibility sprint = could_enter(chart, keeper, chart.state("sprint"));
    std::printf("    sprint? %s\n", sprint.possible ? "yes" : chart.describe(sprint.cause).c_str());
    unblock(chart, keeper, conversation);
    walk_on(chart, keeper, intent, "the talk is over, the key still down");
    intent.held = 0;
    walk_on(chart, keeper, intent, "the key goes up");
    intent.hold(chart.action("sprint"));
    walk_on(chart, keeper, intent, "and down again");
}
// expected output:
// the keeper sprints
//     sprint (enter: sprint on)
// onto the narrow pier
//     walk (blocked: narrow_pier)
// off it, but talking
//     sprint? blocked: conversation
// the talk is over, the key still down
// the key goes up
// and down again
//     sprint (enter: sprint on)
