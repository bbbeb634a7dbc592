// The same kind of chart without a file: plain values, compiled once; every mistake at once.
#include <cstdio>
#include <cursimeter/cursimeter.hpp>

using namespace cursimeter;

namespace {

ChartSpec eel_spec() {
    StateSpec walk;
    walk.name = "walk";
    walk.kind = StateKind::ground;
    walk.speed = {.forward = 2.0, .side = 1.8, .back = 1.5};
    walk.gain.law = GainLaw::ramp;
    walk.gain.up = 8.0;
    StateSpec hurry;
    hurry.name = "hurry";
    hurry.like = "walk";  // takes over what it does not say
    hurry.speed.forward = 5.0;
    hurry.enter = Condition{"hurry on", "moving forward"};
    hurry.drain = {{.meter = "breath", .rate = 20.0}};
    ChartSpec spec;
    spec.name = "eel";
    spec.rank = {"hurry", "walk"};
    spec.actions = {{.name = "hurry", .press = PressMode::toggle}};
    spec.meters = {{.name = "breath",
                    .capacity = 40.0,
                    .start = {},
                    .refill = RefillSpec{.rate = 10.0, .wait = 0.5},
                    .spent = SpentSpec{.at = 0.0, .until = 20.0}}};
    spec.states = {walk, hurry};
    return spec;
}

}  // namespace

int main() {
    const Chart chart = compile(eel_spec());
    Runner runner = spawn(chart, {.position = {0.0, 0.0, 0.0}, .yaw = 0.0});
    IntentBuilder input;
    input.move_to({.forward = 1.0, .side = 0.0});
    input.press(chart.action("hurry"), 0.005);  // 5 ms into the first tick: toggled on
    input.release(chart.action("hurry"), 0.012);
    double time = 0.0;
    for (int tick = 0; tick < 100; ++tick) {
        const Report report = advance(chart, runner, input.intent(), Seconds{0.05});
        for (const Event& event : report.events()) {
            if (subject_of(event.kind) == EventSubject::meter) {
                std::printf("%.4f s  %s %s\n", time + event.at, subject_name(chart, event).c_str(),
                            to_string(event.kind).data());
            }
        }
        time += report.seconds;
        input.next_tick();
    }

    ChartSpec wrong = eel_spec();
    wrong.states[1].like = "wlak";
    wrong.meters[0].spent->until = 50.0;
    try {
        static_cast<void>(compile(wrong));
    } catch (const ChartError& error) {
        std::printf("%s\n", error.what());
    }
}
// expected output:
// 0.0125 s  breath draining
// 2.0125 s  breath emptied
// 2.0125 s  breath spent
// 2.0125 s  breath rested
// 4.5125 s  breath recovered
// 4.5125 s  breath draining
// states.hurry.like: no state is named 'wlak'; did you mean 'walk'?
// meters.breath.spent.until: 50 is above the capacity 40; the meter would stay spent for ever; let it open at the capacity or below
