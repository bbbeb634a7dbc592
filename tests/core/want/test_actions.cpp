#include <catch2/catch.hpp>

#include "support/bearer.hpp"

using namespace support;

namespace {

/// A chart in which the action's state is seen at once: "run" while it is on.
ChartSpec switch_chart(PressMode mode) {
    ChartSpec spec = walker({.forward = 1.0, .side = {}, .back = {}});
    spec.actions = {{.name = "run", .press = mode}};
    spec.rank = {"run", "walk"};
    spec.states.push_back(state("run", {.forward = 2.0, .side = {}, .back = {}}));
    spec.states[1].enter = Condition{"run on"};
    return spec;
}

}  // namespace

TEST_CASE("a held action is on while its key is down, a toggled one changes at each press") {
    for (const PressMode mode : {PressMode::hold, PressMode::toggle}) {
        const Chart chart = compile(switch_chart(mode));
        const ActionId run = chart.action("run");
        Runner runner = spawn(chart);
        static_cast<void>(tick(chart, runner, {}, {run}));
        CHECK(runner.on(run));
        static_cast<void>(tick(chart, runner, {}));
        CHECK(runner.on(run) == (mode == PressMode::toggle));
        static_cast<void>(tick(chart, runner, {}, {run}));
        CHECK(runner.on(run) == (mode == PressMode::hold));
    }
}

TEST_CASE("hammering 50 times a second for 20 s loses nothing and doubles nothing") {
    for (const PressMode mode : {PressMode::hold, PressMode::toggle}) {
        const Chart chart = compile(switch_chart(mode));
        const ActionId run = chart.action("run");
        for (const double dt : {0.001, 1.0 / 144.0, 1.0 / 60.0, 0.05, 0.1}) {
            Runner runner = spawn(chart);
            IntentBuilder input;
            std::size_t pressed = 0, released = 0, entered = 0;
            const int ticks = static_cast<int>(std::lround(20.0 / dt));
            int next = 0;  // presses at 0.02 k, releases 10 ms later: 2000 edges
            for (int i = 0; i < ticks; ++i) {
                const double begin = i * dt, end = (i + 1) * dt;
                for (; next < 2000 && next * 0.01 < end - 1e-12; ++next) {
                    const double at = next * 0.01 - begin;
                    REQUIRE((next % 2 == 0 ? input.press(run, at) : input.release(run, at)));
                }
                const Report report = advance(chart, runner, input.intent(), Seconds{dt});
                REQUIRE_FALSE(report.intent_mended);
                REQUIRE(report.events_lost == 0);
                pressed += count(report, EventKind::pressed);
                released += count(report, EventKind::released);
                entered += count(report, EventKind::entered);
                input.next_tick();
            }
            CAPTURE(dt);
            CHECK(pressed == 1000);
            CHECK(released == 1000);
            CHECK_FALSE(runner.on(run));  // an even number of presses
            CHECK(entered == (mode == PressMode::hold ? 2000 : 1000));
        }
    }
}

TEST_CASE("pressing and releasing within one tick is seen, with its times") {
    const Chart chart = compile(switch_chart(PressMode::hold));
    const ActionId run = chart.action("run");
    Runner runner = spawn(chart);
    IntentBuilder input;
    input.move_to({1.0, 0.0}, 0.0);
    input.press(run, 0.02);
    input.release(run, 0.05);
    const Report report = advance(chart, runner, input.intent(), Seconds{0.1});
    CHECK(count(report, EventKind::entered) == 2);
    CHECK(near(find(report, EventKind::pressed)->at, 0.02, 1e-15));
    CHECK(near(find(report, EventKind::released)->at, 0.05, 1e-15));
    // 30 ms at 2 m/s, 70 ms at 1 m/s.
    CHECK(near(runner.position().x, 0.03 * 2.0 + 0.07 * 1.0, 1e-15));
}

TEST_CASE("two presses in one tick toggle twice") {
    const Chart chart = compile(switch_chart(PressMode::toggle));
    const ActionId run = chart.action("run");
    Runner runner = spawn(chart);
    IntentBuilder input;
    for (const double at : {0.01, 0.03}) {
        input.press(run, at);
        input.release(run, at + 0.01);
    }
    const Report report = advance(chart, runner, input.intent(), Seconds{0.05});
    CHECK(count(report, EventKind::pressed) == 2);
    CHECK(count(report, EventKind::entered) == 2);
    CHECK_FALSE(runner.on(run));
}

TEST_CASE("press and release at the very same time: the press is not lost") {
    ChartSpec spec = switch_chart(PressMode::hold);
    spec.states[1].enter = Condition{"run pressed"};
    spec.states[1].stay = Condition{"time < 0.5"};
    const Chart chart = compile(spec);
    const ActionId run = chart.action("run");
    Runner runner = spawn(chart);
    IntentBuilder input;
    input.press(run, 0.0);
    input.release(run, 0.0);
    const Report report = advance(chart, runner, input.intent(), Seconds{0.01});
    CHECK(count(report, EventKind::pressed) == 1);
    CHECK(count(report, EventKind::released) == 1);
    CHECK(chart.name(runner.state()) == "run");
    CHECK_FALSE(runner.on(run));
}

TEST_CASE("a press exactly on the border of two ticks counts once, on either side") {
    const Chart chart = compile(switch_chart(PressMode::toggle));
    const ActionId run = chart.action("run");
    Runner late = spawn(chart), early = late;
    const Change at_end[] = {Change::press(run, 0.02)};
    const Change at_start[] = {Change::press(run, 0.0)};
    Intent with_end, with_start, held;
    with_end.changes = at_end;
    with_start.changes = at_start;
    held.hold(run);
    CHECK(count(advance(chart, late, with_end, Seconds{0.02}), EventKind::pressed) == 1);
    CHECK(count(advance(chart, late, held, Seconds{0.02}), EventKind::pressed) == 0);
    CHECK(count(advance(chart, early, {}, Seconds{0.02}), EventKind::pressed) == 0);
    CHECK(count(advance(chart, early, with_start, Seconds{0.02}), EventKind::pressed) == 1);
    CHECK(late.on(run));
    CHECK(early.on(run));
    CHECK(near(late.time_in_state().value, early.time_in_state().value, 1e-12));
}

TEST_CASE("a player overrides the press mode at run time") {
    const Chart chart = compile(switch_chart(PressMode::hold));
    const ActionId run = chart.action("run");
    Runner runner = spawn(chart);
    set_press_mode(runner, run, PressMode::toggle);
    CHECK(runner.press_mode(run) == PressMode::toggle);
    static_cast<void>(tick(chart, runner, {}, {run}));
    static_cast<void>(tick(chart, runner, {}));
    CHECK(runner.on(run));
    CHECK(chart.name(runner.state()) == "run");
    // Back to hold with the key up: off, at the next tick.
    set_press_mode(runner, run, PressMode::hold);
    CHECK_FALSE(runner.on(run));
    static_cast<void>(tick(chart, runner, {}));
    CHECK(chart.name(runner.state()) == "walk");
    CHECK(chart.press_mode(run) == PressMode::hold);
}

TEST_CASE("repeated presses of a key that is down, and releases of one that is up, change nothing") {
    const Chart chart = compile(switch_chart(PressMode::toggle));
    const ActionId run = chart.action("run");
    Runner runner = spawn(chart);
    const Change changes[] = {Change::release(run, 0.0), Change::press(run, 0.001), Change::press(run, 0.002),
                              Change::release(run, 0.003), Change::release(run, 0.004)};
    Intent intent;
    intent.changes = changes;
    const Report report = advance(chart, runner, intent, Seconds{0.01});
    CHECK(count(report, EventKind::pressed) == 1);
    CHECK(count(report, EventKind::released) == 1);
    CHECK(runner.on(run));
}

TEST_CASE("a full builder says so, and the next tick's start puts it right") {
    const Chart chart = compile(switch_chart(PressMode::hold));
    const ActionId run = chart.action("run");
    Runner runner = spawn(chart);
    IntentBuilder input;
    for (std::size_t i = 0; i < limits::changes_per_intent; ++i) {
        CHECK(input.move_to({1.0, 0.0}, 0.0));
    }
    CHECK_FALSE(input.press(run, 0.01));
    static_cast<void>(advance(chart, runner, input.intent(), Seconds{0.02}));
    CHECK_FALSE(runner.on(run));
    input.next_tick();
    static_cast<void>(advance(chart, runner, input.intent(), Seconds{0.02}));
    CHECK(runner.on(run));
}
