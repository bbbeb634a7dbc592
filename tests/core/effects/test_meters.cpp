#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>
#include <random>

#include "support/bearer.hpp"

using namespace support;

namespace {

/// Times of a run's events of one kind.
std::vector<double> times(const survey::Run& run, EventKind kind) {
    std::vector<double> found;
    for (const survey::TimedEvent& event : run.events) {
        if (event.event.kind == kind) {
            found.push_back(event.at);
        }
    }
    return found;
}

/// Sprint ahead from time 0 on, for the whole drill.
DrillSpec sprint_drill(double seconds) {
    DrillSpec drill;
    drill.name = "sprint";
    drill.seconds = seconds;
    StepSpec step;
    step.hold = {"sprint"};
    step.move = Move{1.0, 0.0};
    drill.steps = {step};
    return drill;
}

survey::Run run_sprint(const ChartSpec& spec, double seconds, double rate = 60.0) {
    const Chart chart = compile(spec);
    const Drill drill(sprint_drill(seconds), chart);
    return survey::run(chart, drill, survey::even_ticks(rate, Seconds{seconds}));
}

}  // namespace

TEST_CASE("time to empty is capacity over drain, time to the latch's release is wait + until / rate") {
    for (const double rate : {20.0, 60.0, 144.0, 1000.0}) {
        const survey::Run run = run_sprint(bearer(), 20.0, rate);
        const double empty = 100.0 / 12.0;
        const double released = empty + 0.7 + 30.0 / 18.0;
        CAPTURE(rate);
        REQUIRE(times(run, EventKind::emptied).size() >= 2);
        CHECK(near(times(run, EventKind::emptied)[0], empty, 1e-11));
        CHECK(near(times(run, EventKind::spent)[0], empty, 1e-11));
        CHECK(near(times(run, EventKind::recovered)[0], released, 1e-11));
        CHECK(near(times(run, EventKind::emptied)[1], released + 30.0 / 12.0, 1e-11));
        CHECK(run.lowest[0] == 0.0);
        // Three sprints in 20 s: no flicker at zero.
        CHECK(run.visits.size() == 7);
    }
}

TEST_CASE("a full meter fills exactly to its capacity, and says so once") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    const ActionId sprint = chart.action("sprint");
    pass(chart, runner, {1.0, 0.0}, 1.0, 0.016, {sprint});
    CHECK(near(read_meter(chart, runner, chart.meter("stamina")).level, 88.0, 1e-9));
    std::size_t filled = 0;
    for (int i = 0; i < 200; ++i) {
        filled += count(tick(chart, runner, {1.0, 0.0}), EventKind::filled);
    }
    CHECK(filled == 1);
    CHECK(read_meter(chart, runner, chart.meter("stamina")).level == 100.0);
    CHECK(read_meter(chart, runner, chart.meter("stamina")).fraction == 1.0);
}

TEST_CASE("standing still with sprint held drains nothing") {
    ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    spec.states[1].enter = Condition{"sprint on"};
    spec.states[1].stay = Condition{"sprint on"};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    const ActionId sprint = chart.action("sprint");
    pass(chart, runner, {}, 5.0, 0.01, {sprint});
    CHECK(chart.name(runner.state()) == "sprint");
    CHECK(read_meter(chart, runner, chart.meter("stamina")).level == 100.0);
    // The drain begins at 0.1 m/s, 0.1 / 12 s after the move.
    pass(chart, runner, {1.0, 0.0}, 1.0, 0.01, {sprint});
    CHECK(near(read_meter(chart, runner, chart.meter("stamina")).level, 100.0 - 12.0 * (1.0 - 0.1 / 12.0),
               1e-7));
}

TEST_CASE("drain_above sets how fast is really moving, 0 drains while standing") {
    for (const double above : {0.0, 0.5, 3.0}) {
        ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
        spec.states[1].enter = Condition{"sprint on"};
        spec.states[1].stay = Condition{"sprint on"};
        spec.states[1].drain_above = above;
        const Chart chart = compile(spec);
        Runner runner = spawn(chart);
        const ActionId sprint = chart.action("sprint");
        pass(chart, runner, {}, 1.0, 0.01, {sprint});
        const double standing = above == 0.0 ? 12.0 : 0.0;
        CHECK(near(read_meter(chart, runner, chart.meter("stamina")).level, 100.0 - standing, 1e-7));
        pass(chart, runner, {1.0, 0.0}, 1.0, 0.01, {sprint});
        CHECK(near(read_meter(chart, runner, chart.meter("stamina")).level,
                   100.0 - standing - 12.0 * (1.0 - above / 12.0), 1e-7));
    }
}

TEST_CASE("a drain by the metre follows the distance really walked, through every gain law") {
    for (const GainSpec& gain : {GainSpec{}, ramp(3.0, 4.0, 5.0), ease(0.4, 0.3, 0.2),
                                 curve({{0.0, 0.0}, {0.5, 0.3}, {1.5, 1.0}}, {{0.0, 1.0}, {1.0, 0.0}})}) {
        ChartSpec spec = bearer(gain);
        spec.states[1].drain = {};
        spec.states[1].drain_per_metre = {{"stamina", 2.0}};
        spec.states[1].drain_above = 0.0;
        const survey::Run run = run_sprint(spec, 20.0);
        REQUIRE(times(run, EventKind::emptied).size() >= 1);
        for (const survey::TimedEvent& event : run.events) {
            if (event.event.kind == EventKind::left && event.at > 0.0) {
                CHECK(near(event.event.value, 50.0, 1e-8));  // 100 / 2 m
                break;
            }
        }
    }
}

TEST_CASE("drains per second and per metre add up, also while speeding up") {
    ChartSpec spec = bearer(ramp(2.0, 2.0, 2.0));
    spec.states[1].drain_per_metre = {{"stamina", 3.0}};
    spec.states[1].drain_above = 0.0;
    // 12 t + 3 t^2 = 100 while v = 2 t: t = -2 + sqrt(4 + 100 / 3), which is before top speed.
    const double empty = -2.0 + std::sqrt(4.0 + 100.0 / 3.0);
    spec.states[1].speed.forward = 50.0;
    for (const double rate : {20.0, 60.0, 1000.0}) {
        const survey::Run run = run_sprint(spec, 5.0, rate);
        REQUIRE(times(run, EventKind::emptied).size() == 1);
        CHECK(near(times(run, EventKind::emptied)[0], empty, 1e-10));
    }
}

TEST_CASE("without `bars` a spent meter bars nothing, and draining an empty meter stays at 0") {
    ChartSpec spec = bearer();
    spec.meters[0].spent->bars = false;
    spec.states[1].enter = Condition{"sprint on"};
    spec.states[1].stay = Condition{"sprint on"};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    pass(chart, runner, {1.0, 0.0}, 12.0, 0.016, {chart.action("sprint")});
    CHECK(chart.name(runner.state()) == "sprint");
    CHECK(read_meter(chart, runner, chart.meter("stamina")).level == 0.0);
    CHECK(read_meter(chart, runner, chart.meter("stamina")).spent);
}

TEST_CASE("a latch above zero closes and opens at its own levels") {
    ChartSpec spec = bearer();
    spec.meters[0].spent = SpentSpec{.at = 20.0, .until = 50.0};
    spec.states[1].stay = Condition{"sprint on"};
    const survey::Run run = run_sprint(spec, 12.0);
    CHECK(times(run, EventKind::emptied).empty());
    CHECK(near(times(run, EventKind::spent).at(0), 80.0 / 12.0, 1e-11));
    CHECK(near(times(run, EventKind::recovered).at(0), 80.0 / 12.0 + 0.7 + 30.0 / 18.0, 2e-7));
}

TEST_CASE("`start` sets the first level, starting at or below `at` starts spent") {
    ChartSpec spec = bearer();
    spec.meters[0].start = 40.0;
    const Chart chart = compile(spec);
    const Runner runner = spawn(chart);
    CHECK(read_meter(chart, runner, MeterId{0}).level == 40.0);
    CHECK_FALSE(read_meter(chart, runner, MeterId{0}).spent);
    spec.meters[0].start = 0.0;
    const Chart empty = compile(spec);
    CHECK(read_meter(empty, spawn(empty), MeterId{0}).spent);
}

TEST_CASE("comparisons are exact on both sides of a level, and percent is of the capacity") {
    ChartSpec spec = bearer();
    spec.meters[0].capacity = 50.0;
    spec.meters[0].spent.reset();
    spec.states[1].enter = Condition{"sprint on", "stamina >= 20%"};
    spec.states[1].stay = Condition{"sprint on", "stamina >= 10"};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    const ActionId sprint = chart.action("sprint");
    double left_at = -1.0;
    for (int i = 0; i < 100 && left_at < 0.0; ++i) {
        const Report report = tick(chart, runner, {1.0, 0.0}, {sprint}, 0.1);
        if (const Event* event = find(report, EventKind::rested)) {
            left_at = runner.clock().value - report.seconds + event->at;
            CHECK(near(event->value, 10.0, 1e-10));
        }
    }
    CHECK(near(left_at, 40.0 / 12.0, 1e-9));
    const std::vector<MeterThreshold> thresholds = chart.thresholds(MeterId{0});
    REQUIRE(thresholds.size() == 1);
    CHECK(thresholds[0].level == 10.0);
}

TEST_CASE("levels stay within their bounds by every bit, whatever is pressed") {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> unit(0.0, 1.0);
    for (int round = 0; round < 40; ++round) {
        ChartSpec spec = bearer(round % 2 == 0 ? ramp(20.0 * unit(random) + 1.0, 16.0, 10.0) : GainSpec{});
        spec.meters[0].capacity = 0.1 + 30.0 * unit(random);
        spec.meters[0].spent =
            SpentSpec{.at = 0.0, .until = spec.meters[0].capacity * (0.1 + 0.9 * unit(random))};
        spec.meters[0].refill =
            RefillSpec{.rate = 100.0 * unit(random) + 0.1, .wait = round % 3 == 0 ? 0.0 : unit(random)};
        spec.states[1].enter = Condition{"sprint on"};
        spec.states[1].stay = Condition{"sprint on"};
        spec.states[1].drain = {{"stamina", 100.0 * unit(random)}};
        const Chart chart = compile(spec);
        Runner runner = spawn(chart);
        IntentBuilder input;
        for (int i = 0; i < 1000; ++i) {
            const double dt = 0.001 + 0.099 * unit(random);
            if (unit(random) < 0.4) {
                input.press(ActionId{0}, dt * unit(random) * 0.5);
            }
            if (unit(random) < 0.4) {
                input.release(ActionId{0}, dt * (0.5 + unit(random) * 0.5));
            }
            input.move_to({unit(random), 0.0}, dt);
            static_cast<void>(advance(chart, runner, input.intent(), Seconds{dt}));
            input.next_tick();
            const double level = read_meter(chart, runner, MeterId{0}).level;
            REQUIRE(level >= 0.0);
            REQUIRE(level <= spec.meters[0].capacity);
        }
    }
}

TEST_CASE("a level within rounding of one that the chart names is that level, from both sides") {
    ChartSpec spec = walker({.forward = 2.0});
    MeterSpec meter = stamina();
    meter.refill.reset();
    meter.thresholds = {{.name = "low", .level = 25.0}};
    spec.meters = {meter};
    const Chart chart = compile(spec);
    const MeterId id = chart.meter("stamina");
    const double rounding = 100.0 * 0x1p-42;
    for (const double off : {0.9 * rounding, -0.9 * rounding, 0.0}) {
        CAPTURE(off);
        Runner runner = spawn(chart);
        REQUIRE(try_spend(chart, runner, id, 75.0 - off));
        CHECK(read_meter(chart, runner, id).level == 25.0);
    }
    for (const double off : {1e-6, -1e-6}) {
        Runner runner = spawn(chart);
        REQUIRE(try_spend(chart, runner, id, 75.0 - off));
        CHECK(near(read_meter(chart, runner, id).level, 25.0 + off, 1e-12));
        CHECK(read_meter(chart, runner, id).level != 25.0);
    }
}
