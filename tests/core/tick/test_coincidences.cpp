#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/play.hpp"
#include "support/same_run.hpp"

using namespace support;

/// Round numbers that fall together: cases that random charts have found, kept as small as they became.
namespace {

DrillSpec drill_of(double seconds, std::vector<StepSpec> steps) {
    DrillSpec drill;
    drill.name = "coincidence";
    drill.seconds = seconds;
    drill.steps = std::move(steps);
    return drill;
}

StepSpec coincident_step(double time) {
    StepSpec step;
    step.at = time;
    return step;
}

StepSpec move_at(double time, double forward) {
    StepSpec step = coincident_step(time);
    step.move = Move{forward, 0.0};
    return step;
}

/// One run at every rate. Returns the one at 60 ticks a second.
survey::Run same_at_all_rates(const ChartSpec& spec, const DrillSpec& drill_spec) {
    const Chart chart = compile(spec);
    const Drill drill(drill_spec, chart);
    const Seconds length = drill.length();
    const survey::Run base = survey::run(chart, drill, survey::even_ticks(60.0, length), false);
    for (const double rate : {10.0, 20.0, 37.0, 144.0, 240.0, 1000.0}) {
        CAPTURE(rate);
        check_same_run(chart, base, survey::run(chart, drill, survey::even_ticks(rate, length), false));
    }
    return base;
}

std::size_t entries(const survey::Run& run, const Chart& chart, const std::string& state) {
    std::size_t count = 0;
    for (const survey::Visit& visit : run.visits) {
        count += chart.name(visit.state) == state ? 1 : 0;
    }
    return count;
}

StateSpec of_kind(const std::string& name, StateKind kind, double forward) {
    StateSpec spec = state(name, {.forward = forward, .side = {}, .back = {}});
    spec.kind = kind;
    return spec;
}

}  // namespace

TEST_CASE("a state that keeps the speed at which it was entered stays") {
    for (const char* term : {"speed > 4.2", "speed >= 4.2"}) {
        for (const GainSpec& gain : {ramp(10.0, 10.0, 10.0), ease(0.2, 0.2, 0.2),
                                     curve({{0.0, 0.0}, {0.2, 0.5}, {0.5, 1.0}}, {{0.0, 1.0}, {0.4, 0.0}})}) {
            for (const StateKind kind : {StateKind::slide, StateKind::air, StateKind::burst}) {
                ChartSpec spec = walker({.forward = 8.5, .side = {}, .back = {}}, gain);
                StateSpec leap = of_kind("leap", kind, 8.5);
                leap.slide.friction = 0.0;
                leap.burst = {.along = std::vector<Along>{Along::velocity},
                              .speed = 4.2,
                              .metres = {},
                              .seconds = 60.0,
                              .after = {},
                              .gravity = {}};
                leap.enter = Condition{term};
                leap.stay =
                    kind == StateKind::burst ? std::optional(Condition{"speed >= 4.2"}) : std::nullopt;
                spec.states.push_back(leap);
                spec.rank = {"leap", "walk"};
                CAPTURE(term, kind == StateKind::slide, kind == StateKind::air);
                const survey::Run run = same_at_all_rates(spec, drill_of(5.0, {move_at(0.0, 1.0)}));
                CHECK(run.visits.size() == 2);
            }
        }
    }
}

TEST_CASE("a press and a release at times that ticks end at are one run") {
    for (const double first : {7.85, 7.9, 1.0, 0.5}) {
        ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
        spec.actions.push_back({.name = "dash"});
        StateSpec dash = of_kind("dash", StateKind::burst, 6.0);
        dash.burst.metres = 0.5;
        dash.burst.seconds = 0.05;
        dash.enter = Condition{"dash pressed"};
        StateSpec brace = of_kind("brace", StateKind::ground, 1.0);
        brace.enter = Condition{"dash released", "not sprint on"};
        brace.stay = Condition{"time < 0.1"};
        spec.states.insert(spec.states.end(), {dash, brace});
        spec.rank = {"dash", "brace", "sprint", "walk"};
        StepSpec press = coincident_step(first), again = coincident_step(first + 0.05);
        press.press = {"dash"};
        again.press = {"dash"};
        DrillSpec drill = drill_of(first + 2.0, {move_at(0.0, 1.0), press, again});
        drill.press_seconds = 0.05;
        CAPTURE(first);
        const survey::Run run = same_at_all_rates(spec, drill);
        CHECK(entries(run, compile(spec), "dash") >= 1);
    }
}

TEST_CASE("a landing and a time that fall together are one instant") {
    // 5 m/s upward under 10 m/s^2: a second in the air.
    ChartSpec spec = walker({.forward = 4.0, .side = {}, .back = {}});
    spec.body.gravity = 10.0;
    spec.actions = {{.name = "jump"}};
    StateSpec jump = of_kind("jump", StateKind::air, 4.0);
    jump.launch.heights = std::vector<double>{1.25};
    jump.enter = Condition{"jump pressed"};
    jump.stay = Condition{"time < 1"};
    StateSpec roll = of_kind("roll", StateKind::ground, 2.0);
    roll.enter = Condition{"grounded", "not moving"};
    roll.from = std::vector<std::string>{"jump"};
    spec.states.insert(spec.states.end(), {jump, roll});
    spec.rank = {"jump", "roll", "walk"};
    for (const double start : {0.1, 0.5, 1.0 / 3.0}) {
        StepSpec press = coincident_step(start);
        press.press = {"jump"};
        const survey::Run run = same_at_all_rates(spec, drill_of(start + 2.0, {press}));
        CHECK(entries(run, compile(spec), "roll") == 1);
    }
}

TEST_CASE("states that undo each other change calmly, at one pace, and are told of once") {
    ChartSpec spec = bearer();
    spec.meters[0].refill->wait = 0.0;
    spec.meters[0].spent.reset();
    spec.states[1].enter = spec.states[1].stay = Condition{"sprint on", "moving forward", "stamina > 0"};
    StepSpec go = move_at(0.0, 1.0);
    go.hold = {"sprint"};
    const survey::Run run = same_at_all_rates(spec, drill_of(20.0, {go}));
    CHECK(run.events_lost == 0);
    std::size_t told = 0;
    for (const survey::TimedEvent& event : run.events) {
        told += event.event.kind == EventKind::held_back ? 1 : 0;
    }
    CHECK(told == 1);
    double shortest = 1.0, sprinted = 0.0;
    for (std::size_t i = 2; i + 1 < run.visits.size(); ++i) {
        shortest = std::min(shortest, run.visits[i].seconds);
        sprinted += run.visits[i].state == StateId{1} ? run.visits[i].seconds : 0.0;
    }
    CHECK(shortest >= shortest_return.value - 1e-9);
    // Nothing is free: what is drained at 12 a second has been refilled at 18 while it walked.
    const double rest = 20.0 - 100.0 / 12.0;
    CHECK(sprinted / rest == Approx(18.0 / 30.0).margin(0.01));
}

TEST_CASE("meters that scale each other flow the same at every rate") {
    ChartSpec spec = bearer();
    spec.meters[0].refill->scale = {{.by = "breath", .factors = std::vector<double>{0.25, 1.5}}};
    spec.meters.push_back({.name = "breath", .capacity = 50.0, .refill = RefillSpec{.rate = 5.0}});
    spec.meters[1].drain_scale = {{.by = "stamina", .factors = std::vector<double>{1.5, 0.5}}};
    spec.states[1].drain.push_back({"breath", 9.0});
    std::vector<StepSpec> steps{move_at(0.0, 1.0)};
    for (double time = 0.5; time < 20.0; time += 1.5) {
        StepSpec press = coincident_step(time), turn = coincident_step(time + 0.35);
        press.hold = {"sprint"};
        turn.release = {"sprint"};
        turn.look = LookSpec{Degrees{45.0 * time}, Degrees{0.0}};
        steps.push_back(press);
        steps.push_back(turn);
    }
    same_at_all_rates(spec, drill_of(20.0, steps));
}

TEST_CASE("footsteps come at the same times under every law") {
    for (const GainSpec& gain : {ramp(10.0, 10.0, 10.0), ease(0.2, 0.2, 0.2),
                                 curve({{0.0, 0.0}, {0.2, 0.5}, {0.5, 1.0}}, {{0.0, 1.0}, {0.4, 0.0}})}) {
        ChartSpec spec = bearer(gain);
        spec.states[0].stride = 0.8;
        spec.states[1].stride = 1.0;
        std::vector<StepSpec> steps{move_at(0.0, 1.0)};
        for (double time = 0.5; time < 9.0; time += 0.5) {
            StepSpec step = coincident_step(time);
            (static_cast<int>(time * 2.0) % 2 == 0 ? step.release : step.hold).push_back("sprint");
            steps.push_back(step);
        }
        same_at_all_rates(spec, drill_of(9.0, steps));
    }
}

TEST_CASE("at the end of a tick a meter that is empty reads as spent") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    const MeterId stamina = chart.meter("stamina");
    Intent intent;
    intent.move = {1.0, 0.0};
    intent.hold(chart.action("sprint"));
    for (int i = 0; i < 100; ++i) {  // 100 / 12 s in all
        static_cast<void>(advance(chart, runner, intent, Seconds{1.0 / 12.0}));
    }
    const MeterReading reading = read_meter(chart, runner, stamina);
    CHECK(reading.level == Approx(0.0).margin(1e-9));
    CHECK(reading.spent == (reading.level <= 0.0));
    static_cast<void>(advance(chart, runner, intent, Seconds{0.001}));
    CHECK(read_meter(chart, runner, stamina).spent);
}

TEST_CASE("a flier's rise under an ease meets its value when the closed form says") {
    // Climbing at 4 m/s with a half-life of 0.2 s, it rises by 3 m/s after two of them.
    ChartSpec spec = walker({.forward = 5.0, .side = {}, .back = {}});
    spec.actions = {{.name = "up"}};
    StateSpec fly = of_kind("fly", StateKind::fly, 5.0);
    fly.gain = ease(0.2, 0.2, 0.2);
    fly.fly = {.by_look = {}, .up = "up", .down = {}, .climb = 4.0, .dive = {}, .sink = {}};
    fly.enter = Condition{"up on"};
    StateSpec soar = fly;
    soar.name = "soar";
    soar.enter = Condition{"up on", "rise > 3"};
    spec.states.insert(spec.states.end(), {fly, soar});
    spec.rank = {"soar", "fly", "walk"};
    StepSpec press = coincident_step(0.5);
    press.hold = {"up"};
    const survey::Run run = same_at_all_rates(spec, drill_of(2.0, {press}));
    REQUIRE(run.visits.size() == 3);
    CHECK(run.visits[2].at == Approx(0.9).margin(1e-9));
}

TEST_CASE("what the game has done and a mark that is due just after a tick's start are one instant") {
    const Chart chart = compile(bearer());
    const MeterId stamina = chart.meter("stamina");
    Runner runner = spawn(chart);
    Intent intent;
    intent.move = {1.0, 0.0};
    intent.hold(chart.action("sprint"));
    const double empty = 100.0 / 12.0, before = 5e-10;
    while (runner.clock().value < empty - 0.05) {
        static_cast<void>(advance(chart, runner, intent, Seconds{0.04}));
    }
    static_cast<void>(advance(chart, runner, intent, Seconds{empty - before - runner.clock().value}));
    CHECK(runner.state() == chart.state("sprint"));
    intent.held = 0;  // let go half a nanosecond before it is empty
    const Report report = advance(chart, runner, intent, Seconds{0.01});
    CHECK(count(report, EventKind::emptied) == 1);
    CHECK(report.instants == 1);
    CHECK(read_meter(chart, runner, stamina).spent);
}

TEST_CASE("what comes within an instant after the end of a segment belongs to it") {
    // Two states undo each other while nothing is wanted, at times that are round like those of the keys, and the runner
    // comes to a standstill, 8 m/s at 10 m/s^2, when a return and a release are due. It goes aslant, so that rounding leaves
    // a jump of some 1e-15 m/s at the standstill.
    ChartSpec spec = walker({.forward = 2.0, .side = {}, .back = {}}, ramp(10.0, 20.0, 10.0));
    spec.actions = {{.name = "sprint"}};
    StateSpec dart = of_kind("dart", StateKind::ground, 8.0);
    dart.gain = ramp(40.0, 10.0, 10.0);
    dart.enter = Condition(std::vector<std::vector<std::string>>{{"speed < 4"}, {"grounded"}});
    dart.stay = Condition{"moving forward"};
    spec.states.push_back(dart);
    spec.rank = {"dart", "walk"};
    StepSpec hold = coincident_step(0.1), release = coincident_step(1.8);
    hold.hold = {"sprint"};
    release.release = {"sprint"};
    const Chart chart = compile(spec);
    for (int degrees = 0; degrees < 360; degrees += 5) {
        StepSpec aslant = coincident_step(0.0);
        aslant.look = LookSpec{Degrees{1.0 * degrees}, Degrees{0.0}};
        aslant.move = Move{0.7071067811865476, 0.7071067811865476};
        for (const double off : {-8e-10, 0.0, 1e-15, 1e-12, 1e-10, 8e-10}) {
            CAPTURE(degrees, off);
            release.at = 1.8 + off;
            const Drill drill(drill_of(2.0, {aslant, hold, move_at(1.0, 0.0), release}), chart);
            const survey::Run base = survey::run(chart, drill, survey::even_ticks(60.0, Seconds{2.0}), false);
            REQUIRE(base.events.size() > 100);
            std::vector<double> ends = survey::even_ticks(50.0, Seconds{1.7});
            ends.insert(ends.end(), {1.7749241337004142, 1.8157706333780558, 1.9, 2.0});
            check_same_run(chart, base, survey::run(chart, drill, ends, false));
        }
    }
}
