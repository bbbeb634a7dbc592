#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/leaper.hpp"
#include "support/random_drill.hpp"
#include "support/same_run.hpp"

using namespace support;

TEST_CASE("a jump of h metres: v^2 = 2 g h, v/g up, sqrt(2 h / fall gravity) down, the forward run kept") {
    const Chart chart = compile(leaper());
    const double up = std::sqrt(2.0 * 20.0 * 1.6) / 20.0;  // 0.4 s
    const double down = std::sqrt(2.0 * 1.6 / 30.0);
    for (const double rate : rates) {
        CAPTURE(rate);
        const survey::Run run =
            run_at(chart, Script(3.0).move(0.0, ahead).hold(1.0, "jump").release(1.05, "jump"), rate);
        const survey::TimedEvent jumped = event(run, EventKind::jumped),
                                 landed = event(run, EventKind::landed);
        CHECK(near(jumped.at, 1.0, 1e-9));
        CHECK(near(jumped.event.value, 8.0, 1e-12));
        CHECK(near(landed.at, 1.0 + up + down, 1e-9));
        CHECK(near(landed.event.value, 30.0 * down, 1e-9));
        REQUIRE(run.visits.size() == 4);  // run, jump, fall, run
        CHECK(near(run.visits[2].at, 1.0 + up, 1e-9));
        CHECK(chart.describe(run.visits[2].cause) == "stay failed: rise > 0");
        CHECK(chart.describe(run.visits[3].cause) == "enter: grounded");
        // 5 m/s after 0.25 s and 0.625 m; the jump neither slows nor speeds it.
        CHECK(near(run.runner.position().x, 0.625 + 5.0 * 2.75, 1e-9));
        CHECK(run.runner.position().z == 0.0);
    }
    const survey::Run fine = run_at(chart, Script(3.0).hold(1.0, "jump"), 10000.0);
    CHECK(near(highest(fine), 1.6, 1e-6));
}

TEST_CASE("as many jumps as there are heights, and not one more, the ground gives them back") {
    const Chart chart = compile(leaper());
    Script script(4.0);
    for (double at = 0.2; at < 0.85; at += 0.1) {
        script.hold(at, "jump").release(at + 0.05, "jump");
    }
    script.hold(3.0, "jump");
    for (const double rate : rates) {
        CAPTURE(rate);
        const survey::Run run = run_at(chart, script, rate);
        REQUIRE(count(run, EventKind::jumped) == 3);
        CHECK(near(event(run, EventKind::jumped, 1).at, 0.3, 1e-9));
        CHECK(near(event(run, EventKind::jumped, 1).event.value, std::sqrt(2.0 * 20.0 * 0.9), 1e-12));
        CHECK(near(event(run, EventKind::jumped, 2).event.value, 8.0, 1e-12));
        // 0.1 s at 8 m/s under 20 m/s^2 is 0.7 m; 0.9 m more; then down under 30 m/s^2.
        const double landing = 0.3 + 6.0 / 20.0 + std::sqrt(2.0 * 1.6 / 30.0);
        CHECK(near(event(run, EventKind::landed).at, landing, 1e-9));
    }
}

TEST_CASE("a press shortly before the landing jumps at the landing, an earlier one is forgotten") {
    ChartSpec spec = leaper();
    spec.actions[0].buffer = 0.12;
    spec.states[2].launch.heights = std::vector<double>{1.6};
    const Chart chart = compile(spec);
    const double landing = 0.5 + 0.4 + std::sqrt(3.2 / 30.0);
    for (const double rate : rates) {
        CAPTURE(rate);
        const survey::Run caught = run_at(
            chart, Script(2.0).hold(0.5, "jump").release(0.6, "jump").hold(landing - 0.1, "jump"), rate);
        REQUIRE(count(caught, EventKind::jumped) == 2);
        CHECK(near(event(caught, EventKind::jumped, 1).at, landing, 1e-6));
        const survey::Run forgotten = run_at(
            chart, Script(2.0).hold(0.5, "jump").release(0.6, "jump").hold(landing - 0.13, "jump"), rate);
        CHECK(count(forgotten, EventKind::jumped) == 1);
    }
}

TEST_CASE("releasing the key early cuts the jump: at once to `least`, later in between") {
    ChartSpec spec = leaper();
    spec.states[2].launch.least = 0.4;
    spec.states[2].launch.by = "jump";
    const Chart chart = compile(spec);
    const auto height = [&](double held) {
        const survey::Run run =
            run_at(chart, Script(2.0).hold(0.5, "jump").release(0.5 + held, "jump"), 2000.0);
        return highest(run);
    };
    CHECK(near(height(1e-6), 0.4, 1e-4));
    CHECK(near(height(0.5), 1.6, 1e-4));
    // After 0.2 s: 4 m/s and 1.2 m are left to go under 20 * 1.6/0.4 = 80 m/s^2: 0.1 m more.
    CHECK(near(height(0.2), 1.3, 1e-4));
}

TEST_CASE("falling gets no faster than the terminal speed") {
    ChartSpec spec = leaper();
    spec.states[2].launch.heights = std::vector<double>{40.0};
    const Chart chart = compile(spec);
    for (const double rate : {20.0, 144.0}) {
        const survey::Run run = run_at(chart, Script(8.0).hold(0.0, "jump"), rate);
        CHECK(near(event(run, EventKind::landed).event.value, 25.0, 1e-9));
        // 2 s up; 25/30 s to terminal speed over 25^2/60 m, the rest at 25 m/s.
        const double landing = 2.0 + 25.0 / 30.0 + (40.0 - 625.0 / 60.0) / 25.0;
        CHECK(near(event(run, EventKind::landed).at, landing, 1e-9));
    }
}

TEST_CASE("steering in the air turns and brakes, but adds no speed beyond its limit") {
    ChartSpec spec = leaper();
    for (StateSpec* air : {&spec.states[1], &spec.states[2]}) {
        air->speed = {.forward = 2.0, .side = {}, .back = {}};
        air->air.steer = 8.0;
    }
    const Chart chart = compile(spec);
    for (const double rate : rates) {
        CAPTURE(rate);
        // Run at 5 m/s, jump, keep pushing ahead: 5 m/s stay 5 m/s although the limit is 2.
        const survey::Run kept = run_at(chart, Script(1.6).move(0.0, ahead).hold(1.0, "jump"), rate);
        CHECK(near(kept.runner.velocity().x, 5.0, 1e-9));
        // From a stand: 2 m/s after 0.25 s, never more.
        const survey::Run slow = run_at(chart, Script(0.9).hold(0.3, "jump").move(0.4, ahead), rate);
        const glm::dvec3 v = slow.runner.velocity();
        CHECK(near(v.x, 2.0, 1e-9));
        for (const survey::Sample& sample : slow.samples) {
            CHECK(std::hypot(sample.velocity.x, sample.velocity.y) <= 2.0 + 1e-9);
        }
        // Backwards: 5 to -2 m/s at 8 m/s^2 takes 0.875 s; after 0.5 s it is at 1 m/s.
        const survey::Run back = run_at(
            chart, Script(1.6).move(0.0, ahead).hold(1.0, "jump").move(1.1, {.forward = -1.0, .side = 0.0}),
            rate);
        CHECK(near(back.runner.velocity().x, 1.0, 1e-9));
    }
}

TEST_CASE("a jump costs stamina, and does not happen without") {
    ChartSpec spec = leaper();
    spec.meters = {{.name = "stamina", .capacity = 100.0, .start = 40.0, .refill = {}, .spent = {}}};
    spec.states[2].cost = {{"stamina", 15.0}};
    const Chart chart = compile(spec);
    Script script(8.0);
    for (double at = 0.5; at < 7.0; at += 1.5) {
        script.hold(at, "jump").release(at + 0.1, "jump");
    }
    for (const double rate : {20.0, 144.0}) {
        const survey::Run run = run_at(chart, script, rate);
        CHECK(count(run, EventKind::jumped) == 2);
        CHECK(read_meter(chart, run.runner, chart.meter("stamina")).level == 10.0);
    }
    CHECK(chart.term_path({CauseKind::enter, 0}).empty() == false);
}

TEST_CASE("random input in a chart that jumps: one run at every tick rate") {
    ChartSpec spec = leaper();
    spec.actions[0].buffer = 0.1;
    spec.states[2].launch.least = 0.4;
    spec.states[2].launch.by = "jump";
    for (StateSpec* air : {&spec.states[1], &spec.states[2]}) {
        air->speed = {.forward = 3.0, .side = {}, .back = {}};
        air->air.steer = 8.0;
        air->air.brake = 1.0;
    }
    const Chart chart = compile(spec);
    std::mt19937 random(5);
    for (int round = 0; round < 5; ++round) {
        const Drill drill(random_drill(random, chart, 30.0, 0.5), chart);
        const survey::Run base = survey::run(chart, drill, survey::even_ticks(1000.0, Seconds{30.0}), false);
        CHECK(count(base, EventKind::jumped) > 5);
        for (const double rate : {20.0, 30.0, 60.0, 144.0, 240.0}) {
            CAPTURE(round, rate);
            check_same_run(chart, base,
                           survey::run(chart, drill, survey::even_ticks(rate, Seconds{30.0}), false));
        }
        check_same_run(chart, base, survey::run(chart, drill, random_ticks(random, 30.0), false));
    }
}

TEST_CASE("in the air without a wanted move the chart's brake takes speed away, and stops at none") {
    ChartSpec spec = leaper();
    for (StateSpec& state : spec.states) {
        state.air.brake = 4.0;
    }
    const Chart chart = compile(spec);
    for (const double rate : rates) {
        CAPTURE(rate);
        // 5 m/s at the jump; braked for 0.4 s of its 0.73 s.
        const Script jump = Script(1.5).move(0.0, ahead).hold(1.0, "jump").move(1.1, {});
        const survey::Run run = run_at(chart, jump, rate);
        CHECK(near(run.runner.velocity().x, 5.0 - 4.0 * 0.4, 1e-9));
        CHECK(near(run.runner.position().x, 0.625 + 5.0 * (1.1 - 0.25) + 5.0 * 0.4 - 0.5 * 4.0 * 0.16, 1e-9));
    }
    // 1 m/s is gone after 0.25 s.
    ChartSpec slow = spec;
    slow.states[0].speed.forward = 1.0;
    const Chart creeper = compile(slow);
    const survey::Run run =
        run_at(creeper, Script(1.6).move(0.0, ahead).hold(1.0, "jump").move(1.1, {}), 60.0);
    CHECK(run.runner.velocity().x == 0.0);
}
