#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/random_drill.hpp"
#include "support/same_run.hpp"

using namespace support;

namespace {

/// Charts of every gain law, with what their conditions and drains read mixed in.
std::vector<ChartSpec> charts() {
    std::vector<ChartSpec> list{
        bearer(), bearer(ramp(12.0, 16.0, 10.0)), bearer(ease(0.12, 0.08, 0.2)),
        bearer(curve({{0.0, 0.0}, {0.2, 0.5}, {0.7, 1.0}}, {{0.0, 1.0}, {0.1, 0.4}, {0.3, 0.0}}))};
    for (std::size_t i = 0; i < 4; ++i) {
        ChartSpec spec = list[i];
        spec.states[1].drain_per_metre = {{"stamina", 0.9}};
        spec.actions.push_back({.name = "tread", .press = PressMode::toggle});
        StateSpec tread = state("tread", {.forward = 1.0, .side = 0.7, .back = 0.4}, ease(0.1, 0.2, 0.3));
        tread.enter = Condition{"tread on", "speed < 3"};
        tread.stay = Condition{"tread on", "time < 2.5"};
        spec.states.push_back(tread);
        spec.rank = {"tread", "sprint", "walk"};
        list.push_back(spec);
    }
    return list;
}

}  // namespace

TEST_CASE("one drill gives one run at 20 to 1000 ticks a second and at random tick lengths") {
    std::mt19937 random(2026);
    for (const ChartSpec& spec : charts()) {
        const Chart chart = compile(spec);
        const Drill drill(random_drill(random, chart, 60.0), chart);
        const survey::Run base = survey::run(chart, drill, survey::even_ticks(1000.0, Seconds{60.0}), false);
        CHECK(base.events.size() > 40);
        for (const double rate : {20.0, 30.0, 60.0, 144.0, 240.0}) {
            CAPTURE(rate);
            check_same_run(chart, base,
                           survey::run(chart, drill, survey::even_ticks(rate, Seconds{60.0}), false));
        }
        for (int round = 0; round < 3; ++round) {
            check_same_run(chart, base, survey::run(chart, drill, random_ticks(random, 60.0), false));
        }
    }
}

TEST_CASE("ten minutes stay within a micrometre and a microsecond") {
    std::mt19937 random(7);
    const Chart chart = compile(charts()[5]);
    const Drill drill(random_drill(random, chart, 600.0), chart);
    const survey::Run fine = survey::run(chart, drill, survey::even_ticks(1000.0, Seconds{600.0}), false);
    const survey::Run coarse = survey::run(chart, drill, survey::even_ticks(20.0, Seconds{600.0}), false);
    check_same_run(chart, fine, coarse);
}

TEST_CASE("input exactly when a meter empties, a wait ends or a latch opens: one answer at every rate") {
    const Chart chart = compile(bearer());
    const double empty = 100.0 / 12.0, wait_over = empty + 0.7, recovered = wait_over + 30.0 / 18.0;
    for (const double at : {empty, wait_over, recovered, recovered + 2.5}) {
        DrillSpec spec;
        spec.name = "coincidence";
        spec.seconds = 20.0;
        StepSpec go, stop;
        go.hold = {"sprint"};
        go.move = Move{1.0, 0.0};
        stop.at = at;
        stop.release = {"sprint"};
        spec.steps = {go, stop};
        const Drill drill(spec, chart);
        const survey::Run base = survey::run(chart, drill, survey::even_ticks(1000.0, Seconds{20.0}), false);
        for (const double rate : {20.0, 30.0, 33.3, 60.0, 120.0, 144.0, 240.0, 999.0}) {
            CAPTURE(at, rate);
            check_same_run(chart, base,
                           survey::run(chart, drill, survey::even_ticks(rate, Seconds{20.0}), false));
        }
    }
}

TEST_CASE("hammering gives one run at every rate") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    DrillSpec spec;
    spec.name = "hammer";
    spec.seconds = 25.0;
    StepSpec go, down, up;
    go.move = Move{1.0, 0.0};
    down.hold = {"sprint"};
    up.at = 0.01;
    up.release = {"sprint"};
    spec.steps = {go};
    spec.repeats = {{.from = 1.0, .every = 0.02, .times = 1000, .steps = {down, up}}};
    const Drill drill(spec, chart);
    const survey::Run base = survey::run(chart, drill, survey::even_ticks(1000.0, Seconds{25.0}), false);
    std::size_t pressed = 0;
    for (const survey::TimedEvent& event : base.events) {
        pressed += event.event.kind == EventKind::pressed ? 1 : 0;
    }
    CHECK(pressed == 1000);
    CHECK(base.lowest[0] >= 0.0);
    for (const double rate : {20.0, 60.0, 144.0}) {
        check_same_run(chart, base,
                       survey::run(chart, drill, survey::even_ticks(rate, Seconds{25.0}), false));
    }
}
