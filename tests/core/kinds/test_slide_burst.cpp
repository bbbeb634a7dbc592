#include "support/leaper.hpp"
#include "support/random_drill.hpp"
#include "support/same_run.hpp"

using namespace support;

namespace {

/// The leaper with a slide: from 4 m/s, +2 m/s up to 8, 4 m/s^2 of friction, until 2 m/s.
ChartSpec slider() {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "crouch"});
    spec.cooldowns = {{.name = "slide", .seconds = 2.0}};
    StateSpec slide = kind("slide", StateKind::slide);
    slide.low = true;
    slide.slide = {.boost = 2.0, .boost_limit = 8.0, .friction = 4.0, .slope = {}, .top = {}};
    slide.enter = Condition{"crouch on", "grounded", "speed >= 4"};
    slide.stay = Condition{"crouch on", "grounded", "speed > 2"};
    slide.cooldown = "slide";
    add_first(spec, slide);
    return spec;
}

ChartSpec dasher(BurstSpec burst) {
    ChartSpec spec = leaper();
    spec.actions.push_back({.name = "dash"});
    StateSpec dash = kind("dash", StateKind::burst);
    dash.burst = std::move(burst);
    dash.enter = Condition{"dash pressed"};
    dash.stay = Condition{};
    add_first(spec, dash);
    return spec;
}

BurstSpec dash_of(double metres, double seconds) {
    BurstSpec burst;
    burst.metres = metres;
    burst.seconds = seconds;
    return burst;
}

/// Where the dash went, from its entry to the next state.
glm::dvec3 dashed(const survey::Run& run, const Chart& chart) {
    glm::dvec3 from(0.0), to(0.0);
    for (const survey::Sample& sample : run.samples) {
        if (chart.name(sample.state) == "dash") {
            to = sample.position;
        } else if (to == glm::dvec3(0.0)) {
            from = sample.position;
        }
    }
    return to - from;
}

}  // namespace

TEST_CASE("a slide: boosted on entry, braked by friction, v^2 / 2a long") {
    const Chart chart = compile(slider());
    for (const double rate : rates) {
        CAPTURE(rate);
        const survey::Run run =
            run_at(chart, Script(4.0).move(0.0, ahead).hold(1.0, "crouch").release(2.9, "crouch"), rate);
        REQUIRE(run.visits.size() == 3);
        CHECK(chart.name(run.visits[1].state) == "slide");
        CHECK(near(run.visits[1].seconds, (7.0 - 2.0) / 4.0, 1e-6));
        CHECK(near(run.visits[1].distance, (49.0 - 4.0) / 8.0, 1e-6));
        CHECK(chart.describe(run.visits[2].cause) == "stay failed: speed > 2");
    }
}

TEST_CASE("no slide from too little speed, none while its cooldown runs, no boost beyond its limit") {
    ChartSpec spec = slider();
    const Chart chart = compile(spec);
    const survey::Run slow =
        run_at(chart, Script(2.0).move(0.0, {.forward = 0.7, .side = 0.0}).hold(1.0, "crouch"), 60.0);
    CHECK(slow.visits.size() == 1);
    Script hammered(4.0);
    hammered.move(0.0, ahead);
    for (double at = 1.0; at < 3.9; at += 0.1) {
        hammered.hold(at, "crouch").release(at + 0.05, "crouch");
    }
    for (const double rate : rates) {
        const survey::Run run = run_at(chart, hammered, rate);
        int slides = 0;
        for (const survey::Visit& visit : run.visits) {
            slides += chart.name(visit.state) == "slide" ? 1 : 0;
        }
        CHECK(slides == 2);  // at 1.0 and, 2 s later, at 3.0
        CHECK(near(event(run, EventKind::ready).at, 3.0, 1e-6));
    }
    spec.states.back().slide.boost_limit = 5.5;
    const Chart limited = compile(spec);
    const survey::Run run = run_at(limited, Script(1.2).move(0.0, ahead).hold(1.0, "crouch"), 100.0);
    CHECK(near(run.samples[101].speed, 5.5 - 0.04, 1e-9));
}

TEST_CASE("a dash goes its metres in its seconds, by any tick") {
    for (const auto& [metres, seconds] :
         {std::pair(3.0, 0.18), std::pair(8.0, 0.002), std::pair(40.0, 4.0)}) {
        const Chart chart = compile(dasher(dash_of(metres, seconds)));
        for (const double rate : rates) {
            CAPTURE(metres, rate);
            const survey::Run run = run_at(chart, Script(6.0).hold(0.5, "dash").release(0.6, "dash"), rate);
            REQUIRE(run.visits.size() == 3);
            CHECK(near(run.visits[1].seconds, seconds, 1e-9));
            CHECK(near(run.visits[1].distance, metres, 1e-9));
            CHECK(near(run.runner.position().x, metres, 1e-9));
            CHECK(chart.term_path(run.visits[2].cause) == "states.dash.burst.seconds");
            CHECK(run.runner.speed() == 0.0);  // after = target: no move is wanted
        }
    }
}

TEST_CASE("a dash takes the first direction that exists, never none") {
    BurstSpec burst = dash_of(3.0, 0.2);
    burst.along = std::vector<Along>{Along::input, Along::velocity, Along::away, Along::look};
    const Chart chart = compile(dasher(burst));
    const auto direction = [&](const Script& script) { return dashed(run_at(chart, script, 1000.0), chart); };
    const glm::dvec3 left =
        direction(Script(1.0).move(0.5, {.forward = 0.0, .side = -1.0}).hold(0.5, "dash"));
    CHECK(near(left.y, 3.0, 0.02));
    CHECK(near(left.x, 0.0, 1e-6));
    // No input, no speed, no wall: the look, which points 60 degrees up and half left: it takes off.
    const glm::dvec3 up = direction(Script(1.0).look(0.2, 45.0, 60.0).hold(0.5, "dash"));
    CHECK(near(up.z, 3.0 * std::sqrt(0.75), 0.02));
    CHECK(near(up.x, 3.0 * 0.5 * std::sqrt(0.5), 0.02));
    // Straight down, on the ground: along the ground where it faces instead.
    const glm::dvec3 down = direction(Script(1.0).look(0.2, 90.0, -90.0).hold(0.5, "dash"));
    CHECK(near(down.y, 3.0, 0.02));
    CHECK(down.z == 0.0);
    // Coasting: along the velocity.
    const glm::dvec3 coasting =
        direction(Script(1.0).move(0.0, {.forward = -1.0, .side = 0.0}).move(0.45, {}).hold(0.5, "dash"));
    CHECK(near(coasting.x, -3.0, 0.02));
}

TEST_CASE("after a dash: target, keep and stop are computed from the state then") {
    const auto speed_after_dash = [](After after, double rate) {
        BurstSpec burst = dash_of(3.0, 0.2);
        burst.after = after;
        const Chart chart = compile(dasher(burst));
        const Drill drill(Script(0.7001).move(0.0, ahead).hold(0.5, "dash").drill, chart);
        std::vector<double> ends = survey::even_ticks(rate, Seconds{0.7001});
        return survey::run(chart, drill, ends).runner.speed();
    };
    for (const double rate : {20.0, 60.0, 240.0}) {
        // 0.1 ms after its end, at 20 m/s^2.
        CHECK(near(speed_after_dash(After::target, rate), 5.0, 0.0021));
        CHECK(near(speed_after_dash(After::keep, rate), 15.0, 0.0021));
        CHECK(near(speed_after_dash(After::stop, rate), 0.0, 0.0021));
    }
}

TEST_CASE("a dash cannot start during itself, and a tick of 100 ms holds all of it") {
    const Chart chart = compile(dasher(dash_of(1.0, 0.05)));
    Script script(1.0);
    for (double at = 0.2; at < 0.24; at += 0.01) {
        script.hold(at, "dash").release(at + 0.005, "dash");
    }
    for (const double rate : rates) {
        const survey::Run run = run_at(chart, script, rate);
        CHECK(run.visits.size() == 3);
        CHECK(near(run.runner.position().x, 1.0, 1e-9));
    }
}

TEST_CASE("a dash in the air: level without gravity, falling with it") {
    BurstSpec burst = dash_of(3.0, 0.2);
    const Chart level = compile(dasher(burst));
    burst.gravity = true;
    const Chart falling = compile(dasher(burst));
    const Script script = Script(0.8).hold(0.1, "jump").hold(0.5, "dash");  // at the apex, 1.6 m
    const auto height = [&](const Chart& chart) {
        return run_at(chart, script, 100.0).samples[70].position.z;  // at 0.7 s, the end of the dash
    };
    CHECK(near(height(level), 1.6, 1e-9));
    CHECK(near(height(falling), 1.6 - 0.5 * 20.0 * 0.04, 1e-9));
}

TEST_CASE("a dash during a knockback goes its own way, and the push goes on beside it") {
    const Chart chart = compile(dasher(dash_of(3.0, 0.2)));
    for (const double dt : {0.001, 1.0 / 60.0, 0.1}) {
        Runner runner = spawn(chart);
        push(runner, {.direction = {0.0, 1.0, 0.0}, .strength = 6.0, .seconds = 0.5, .locks = true});
        pass(chart, runner, ahead, 0.1, dt);
        // No move counts while it locks: the dash goes where the runner faces.
        pass(chart, runner, {.forward = 0.0, .side = 1.0}, 0.4, dt, {chart.action("dash")});
        CHECK(near(runner.position().y, 1.5, 1e-6));
        CHECK(near(runner.position().x, 3.0, 1e-6));
    }
}

TEST_CASE("a state above a dash in the rank interrupts it, one below does not") {
    const auto states = [](bool above) {
        ChartSpec spec = dasher(dash_of(4.0, 0.8));
        spec.actions.push_back({.name = "brace"});
        StateSpec brace = state("brace", {.forward = 0.0, .side = {}, .back = {}});
        brace.enter = Condition{"brace on"};
        spec.states.push_back(brace);
        spec.rank.insert(spec.rank.begin() + (above ? 0 : 1), "brace");
        const Chart chart = compile(spec);
        const survey::Run run = run_at(chart, Script(2.0).hold(0.5, "dash").hold(0.7, "brace"), 60.0);
        return near(run.visits[1].seconds, 0.2, 1e-6);
    };
    CHECK(states(true));
    CHECK_FALSE(states(false));
}

TEST_CASE("a burst's numbers are checked") {
    BurstSpec both = dash_of(3.0, 0.2);
    both.speed = 10.0;
    CHECK(complaint([&] { static_cast<void>(compile(dasher(both))); }) ==
          "states.dash.burst: speed and metres both say how far it goes; say one of speed = ... (m/s) and "
          "metres = ...");
    BurstSpec none;
    CHECK(complaint([&] { static_cast<void>(compile(dasher(none))); }).find("a burst needs its seconds") !=
          std::string::npos);
}

TEST_CASE("random input in a chart that slides and dashes: one run at every tick rate") {
    ChartSpec spec = slider();
    spec.actions.push_back({.name = "dash", .press = PressMode::hold, .buffer = 0.1});
    spec.meters = {stamina()};
    spec.cooldowns.push_back({.name = "dash", .seconds = 0.8});
    StateSpec dash = kind("dash", StateKind::burst);
    dash.burst = dash_of(2.0, 0.15);
    dash.cooldown = "dash";
    dash.cost = {{"stamina", 20.0}};
    dash.enter = Condition{"dash pressed"};
    add_first(spec, dash);
    const Chart chart = compile(spec);
    std::mt19937 random(11);
    for (int round = 0; round < 5; ++round) {
        const Drill drill(random_drill(random, chart, 30.0, 0.4), chart);
        const survey::Run base = survey::run(chart, drill, survey::even_ticks(1000.0, Seconds{30.0}), false);
        CHECK(base.visits.size() > 20);
        for (const double rate : {20.0, 30.0, 60.0, 144.0, 240.0}) {
            CAPTURE(round, rate);
            check_same_run(chart, base,
                           survey::run(chart, drill, survey::even_ticks(rate, Seconds{30.0}), false));
        }
    }
}

TEST_CASE("a dash along the velocity goes at the dash's speed, in the air as well") {
    BurstSpec burst = dash_of(3.0, 0.2);
    burst.along = std::vector<Along>{Along::velocity};
    const Chart chart = compile(dasher(burst));
    // At the apex the velocity is level: 5 m/s ahead.
    const survey::Run run =
        run_at(chart, Script(1.7).move(0.0, ahead).hold(1.0, "jump").hold(1.4, "dash"), 1000.0);
    CHECK(near(dashed(run, chart).x, 3.0, 0.02));
    CHECK(near(dashed(run, chart).z, 0.0, 0.02));
}

TEST_CASE("a dash that stops has stopped when the states after it are tried") {
    BurstSpec burst = dash_of(3.0, 0.2);
    burst.after = After::stop;
    ChartSpec spec = dasher(burst);
    StateSpec rest = state("rest", {.forward = 5.0}, ramp(20.0, 20.0, 20.0));
    rest.enter = Condition{"speed < 1", "grounded"};
    add_first(spec, rest);
    std::swap(spec.rank[0], spec.rank[1]);  // the dash first
    const Chart chart = compile(spec);
    for (const double rate : rates) {
        CAPTURE(rate);
        const survey::Run run = run_at(chart, Script(0.75).move(0.0, ahead).hold(0.5, "dash"), rate);
        REQUIRE(run.visits.size() == 4);  // rest, run, dash, rest: none after the dash before the last
        CHECK(chart.name(run.visits.back().state) == "rest");
        CHECK(near(run.visits.back().at, 0.7, 1e-9));
    }
}
