#include <catch2/catch.hpp>

#include "support/bearer.hpp"

using namespace support;

namespace {

DrillSpec simple(std::vector<StepSpec> steps) {
    DrillSpec spec;
    spec.name = "drill";
    spec.seconds = 10.0;
    spec.steps = std::move(steps);
    return spec;
}

StepSpec at(double seconds) {
    StepSpec step;
    step.at = seconds;
    return step;
}

}  // namespace

TEST_CASE("a drill lays its steps and repeats out in order of time") {
    const Chart chart = compile(bearer());
    StepSpec press = at(1.0), late = at(4.0);
    press.press = {"sprint"};
    late.move = Move{1.0, 0.0};
    DrillSpec spec = simple({press, late});
    spec.press_seconds = 0.2;
    StepSpec down = at(0.0), up = at(0.1);
    down.hold = {"sprint"};
    up.release = {"sprint"};
    spec.repeats = {{.from = 2.0, .every = 0.5, .times = 2, .steps = {down, up}}};
    const Drill drill(spec, chart);
    std::vector<std::pair<double, ChangeKind>> found;
    for (const Change& change : drill.changes()) {
        found.emplace_back(change.at, change.kind);
    }
    const std::vector<std::pair<double, ChangeKind>> expected{
        {1.0, ChangeKind::press},   {1.2, ChangeKind::release}, {2.0, ChangeKind::press},
        {2.1, ChangeKind::release}, {2.5, ChangeKind::press},   {2.6, ChangeKind::release},
        {4.0, ChangeKind::move}};
    CHECK(found == expected);
    CHECK(drill.length().value == 10.0);
}

TEST_CASE("a player hands each change to the tick in which it lies, once") {
    const Chart chart = compile(bearer());
    StepSpec first = at(0.0), border = at(0.1), inside = at(0.15);
    first.move = Move{0.5, 0.0};
    border.hold = {"sprint"};
    inside.look = LookSpec{Degrees{90.0}, Degrees{0.0}};
    const Drill drill(simple({first, border, inside}), chart);
    const Runner runner = drill.spawn(chart);
    DrillPlayer player(drill, runner);
    Intent intent = player.intent(0.0, 0.1);
    REQUIRE(intent.changes.size() == 1);
    CHECK(intent.move == Move{});
    intent = player.intent(0.1, 0.2);
    REQUIRE(intent.changes.size() == 2);
    CHECK(intent.move == Move{0.5, 0.0});
    CHECK(intent.held == 0);
    CHECK(intent.changes[0].at == 0.0);
    CHECK(near(intent.changes[1].at, 0.05, 1e-15));
    intent = player.intent(0.2, 0.3);
    CHECK(intent.changes.empty());
    CHECK(intent.held == 1);
    CHECK(near(intent.look.yaw, 1.5707963267948966, 1e-15));
}

TEST_CASE("a drill starts its runner where and how it says") {
    const Chart chart = compile(bearer());
    DrillSpec spec = simple({});
    spec.start.position = {1.0, 2.0, 3.0};
    spec.start.yaw = Degrees{180.0};
    spec.set_toggle = {"sprint"};
    const Runner runner = Drill(spec, chart).spawn(chart);
    CHECK(runner.position() == glm::dvec3(1.0, 2.0, 3.0));
    CHECK(near(runner.yaw(), 3.141592653589793, 1e-15));
    CHECK(runner.press_mode(chart.action("sprint")) == PressMode::toggle);
}

TEST_CASE("a drill that goes on from a saved runner has it in another chart too") {
    ChartSpec other = bearer();
    const Chart chart = compile(other);
    other.meters[0].capacity = 50.0;
    const Chart tuned = compile(other);
    Runner runner = spawn(chart, {{1.0, 2.0, 3.0}, 0.5});
    REQUIRE(try_spend(chart, runner, chart.meter("stamina"), 80.0));
    DrillSpec spec = simple({});
    spec.start.runner = save_runner(chart, runner);
    spec.start.time = 2.5;
    const Drill drill(spec, chart);
    REQUIRE(drill.saved());
    CHECK(drill.saved()->exact);
    CHECK(drill.begin() == Seconds{2.5});
    CHECK(digest(drill.spawn(chart)) == digest(runner));
    CHECK_FALSE(Drill(spec, tuned).saved()->exact);
    for (const Runner& taken : {drill.spawn(tuned), Drill(spec, tuned).spawn(tuned)}) {
        CHECK(taken.position() == glm::dvec3(1.0, 2.0, 3.0));
        CHECK(read_meter(tuned, taken, tuned.meter("stamina")).level == Approx(20.0));
    }
    CHECK(complaint([&] { require_fresh_start(drill); }) ==
          "start: 'drill' goes on from a saved runner, and here runners begin at rest, at 0 s; take out "
          "`runner` "
          "and `time`, and say `position`");
    spec.start.runner.reset();
    CHECK(complaint([&] { require_fresh_start(Drill(spec, chart)); }) ==
          "start: 'drill' goes on from 2.5 s, and here runners begin at rest, at 0 s; take out `runner` and "
          "`time`, and say `position`");
    require_fresh_start(Drill(simple({}), chart));
}

TEST_CASE("every mistake in a drill is told") {
    const Chart chart = compile(bearer());
    const auto about = [&](const DrillSpec& spec) {
        return complaint([&] { static_cast<void>(Drill(spec, chart)); });
    };
    StepSpec wrong = at(1.0);
    wrong.hold = {"sprnt"};
    CHECK(about(simple({wrong})) ==
          "step[1].hold[1]: the chart has no action named 'sprnt'; did you mean 'sprint'?");
    CHECK(about(simple({at(2.0), at(1.0)})) ==
          "step[2].at: 1 s comes after a step at 2 s; put the steps in order of time");
    CHECK(about(simple({at(11.0)})) ==
          "step[1].at: 11 s lies beyond the drill's end; the drill lasts `seconds` = 10");
    CHECK(about(simple({at(1.0), at(20.0), at(3.0)})) ==
          "step[2].at: 20 s lies beyond the drill's end; the drill lasts `seconds` = 10");
    CHECK(about(simple({at(20.0), at(3.0), at(11.0), at(12.0), at(13.0)})) ==
          "step[1].at: 20 s lies beyond the drill's end; the drill lasts `seconds` = 10\n"
          "step[3].at: 11 s lies beyond the drill's end; the drill lasts `seconds` = 10");
    DrillSpec repeat = simple({});
    repeat.repeats = {{.from = 1.0, .every = 0.1, .times = 2, .steps = {at(0.2)}}};
    CHECK(about(repeat) == "repeat[1].step[1].at: 0.2 s lies beyond the pass; a pass lasts `every` = 0.1 s");
    repeat.repeats = {{.from = 9.9, .every = 0.1, .times = 5, .steps = {at(0.0)}}};
    CHECK(about(repeat) ==
          "repeat[1]: its last pass begins at 10.3 s and lies beyond the drill's end; the drill lasts "
          "`seconds` = 10");
    DrillSpec mode = simple({});
    mode.set_hold = {"jump"};
    CHECK(about(mode) == "set_hold[1]: the chart has no action named 'jump'; known: sprint");
    DrillSpec length = simple({});
    length.seconds = 0.0;
    CHECK(about(length) == "seconds: 0 is out of range; 0 < seconds <= 86400 s");
    DrillSpec saved = simple({});
    saved.start.runner = "the one of yesterday";
    CHECK(about(saved) == "start.runner: is none; save_runner writes them");
    saved.start.runner = save_runner(chart, spawn(chart));
    CHECK(about(saved) == "(no complaint)");
    saved.start.position = {1.0, 0.0, 0.0};
    CHECK(about(saved) ==
          "start: has a place, and a runner that has a place of its own; take out `position` and `yaw`, or "
          "`runner`");
    saved.start.position = {};
    char& last = saved.start.runner->back();
    last = last == '0' ? '1' : '0';
    CHECK(about(saved) ==
          "start.runner: is damaged; it has to be kept letter by letter, as save_runner wrote it");
    saved.start.runner.reset();
    saved.start.time = -1.0;
    CHECK(about(saved) == "start.time: -1 is out of range; 0 <= time <= 86400 s");
}

TEST_CASE("a drill faces where it looks, or where it goes, all through") {
    ChartSpec wader;
    wader.name = "wader";
    wader.rank = {"walk"};
    wader.states = {state("walk", {.forward = 2.4, .side = 2.0, .back = 1.6}, ramp(12.0, 16.0, 10.0))};
    const Chart chart = compile(wader);
    for (const double rate : {20.0, 60.0, 144.0}) {
        for (const Facing facing : {Facing::look, Facing::movement}) {
            CAPTURE(rate, facing);
            StepSpec back = at(0.0), side = at(2.0);
            back.move = Move{-1.0, 0.0};
            side.move = Move{0.0, 1.0};
            DrillSpec spec = simple({back, side});
            spec.start.facing = facing;
            const Drill drill(spec, chart);
            Runner runner = drill.spawn(chart);
            DrillPlayer player(drill, runner);
            const auto play_until = [&](double from, double to) {
                for (auto tick = static_cast<std::uint64_t>(from * rate);
                     tick_end(rate, 0.0, tick) < to + 1e-9; ++tick) {
                    const double begin = tick == 0 ? 0.0 : tick_end(rate, 0.0, tick - 1);
                    const double end = tick_end(rate, 0.0, tick);
                    const Intent intent = player.intent(begin, end);
                    CHECK(intent.facing == facing);
                    static_cast<void>(advance(chart, runner, intent, Seconds{end - begin}));
                }
            };
            play_until(0.0, 2.0);
            const double speed = facing == Facing::movement ? 2.4 : 1.6;
            CHECK(runner.speed() == Approx(speed).epsilon(1e-12));
            CHECK(runner.position().x == Approx(-(2.0 * speed - speed * speed / 24.0)).epsilon(1e-9));
            play_until(2.0, 4.0);
            CHECK(runner.velocity().y == Approx(facing == Facing::movement ? -2.4 : -2.0).epsilon(1e-9));
        }
    }
}
