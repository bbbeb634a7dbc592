#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/random_drill.hpp"

using namespace support;

namespace {

GainSpec random_gain(std::mt19937& random) {
    std::uniform_real_distribution<double> unit(0.0, 1.0);
    switch (static_cast<int>(unit(random) * 4.0)) {
        case 0:
            return ramp(1.0 + 40.0 * unit(random), 1.0 + 40.0 * unit(random), 1.0 + 40.0 * unit(random));
        case 1:
            return ease(0.01 + unit(random), 0.01 + unit(random), 0.01 + unit(random));
        case 2: {
            const double knee = 0.1 + 0.8 * unit(random);
            return curve({{0.0, 0.0}, {0.3 * unit(random) + 0.01, knee}, {0.5, 1.0}},
                         {{0.0, 1.0}, {0.3 * unit(random) + 0.01, knee}, {0.4, 0.0}});
        }
        default: {
            GainSpec gain;
            gain.law = GainLaw::instant;
            return gain;
        }
    }
}

ChartSpec random_chart(std::mt19937& random) {
    std::uniform_real_distribution<double> unit(0.0, 1.0);
    const std::vector<std::string> terms{"a on",           "not a on",         "b on",       "moving",
                                         "not moving",     "a pressed",        "speed > 2",  "speed < 1.5",
                                         "stamina >= 10",  "stamina < 60",     "time < 0.4", "time > 1",
                                         "moving forward", "not stamina spent"};
    ChartSpec spec;
    spec.name = "random";
    spec.actions = {{.name = "a"}, {.name = "b", .press = PressMode::toggle}};
    spec.meters = {stamina()};
    for (const char* name : {"s0", "s1", "s2", "s3", "s4"}) {
        StateSpec made = state(
            name,
            {.forward = 8.0 * unit(random) + 0.1, .side = 5.0 * unit(random), .back = 3.0 * unit(random)},
            random_gain(random));
        std::vector<std::string> enter{terms[static_cast<std::size_t>(unit(random) * 14.0)]};
        made.enter = Condition(std::vector<std::vector<std::string>>{enter});
        if (unit(random) < 0.5) {
            made.stay = Condition{terms[static_cast<std::size_t>(unit(random) * 14.0)]};
        }
        if (unit(random) < 0.4) {
            made.drain = {{"stamina", 30.0 * unit(random)}};
        }
        if (unit(random) < 0.3) {
            made.drain_per_metre = {{"stamina", 5.0 * unit(random)}};
        }
        spec.states.push_back(made);
        spec.rank.push_back(name);
    }
    spec.states.back().enter.reset();
    spec.states.back().stay.reset();
    return spec;
}

}  // namespace

TEST_CASE("random charts and inputs: always valid, in order, continuous and within the chart's speeds") {
    std::mt19937 random(99);
    int told = 0;
    for (int round = 0; round < 150; ++round) {
        const ChartSpec spec = random_chart(random);
        const Chart chart = compile(spec);
        double fastest = 0.0;
        for (const StateSpec& made : spec.states) {
            fastest = std::max({fastest, *made.speed.forward, *made.speed.side, *made.speed.back});
        }
        const Drill drill(random_drill(random, chart, 20.0, 0.4), chart);
        const survey::Run run = survey::run(chart, drill, random_ticks(random, 20.0));
        if (run.events_lost > 0) {
            continue;  // states that undo each other; what is left of their events proves nothing
        }
        ++told;
        double last = 0.0;
        std::uint8_t state = run.visits.front().state.index;
        for (const survey::TimedEvent& event : run.events) {
            REQUIRE(event.at >= last - 1e-9);
            last = event.at;
            if (event.event.kind == EventKind::left) {
                REQUIRE(event.event.subject == state);
            } else if (event.event.kind == EventKind::entered) {
                REQUIRE(event.event.subject != state);
                state = event.event.subject;
            }
        }
        CHECK(state == run.runner.state().index);
        for (std::size_t i = 1; i < run.samples.size(); ++i) {
            const survey::Sample &before = run.samples[i - 1], &now = run.samples[i];
            const double dt = now.at - before.at;
            REQUIRE(std::isfinite(now.position.x + now.position.y + now.speed + now.distance));
            REQUIRE(now.speed <= fastest + 1e-7);
            REQUIRE(near(std::hypot(now.velocity.x, now.velocity.y), now.speed, 1e-9));
            const double moved =
                std::hypot(now.position.x - before.position.x, now.position.y - before.position.y);
            REQUIRE(now.distance >= before.distance);
            REQUIRE(moved <= now.distance - before.distance + 1e-9);
            REQUIRE(now.distance - before.distance <= fastest * dt + 1e-7);
            REQUIRE(now.levels[0] >= 0.0);
            REQUIRE(now.levels[0] <= 100.0);
        }
    }
    CHECK(told > 100);
}

TEST_CASE("an unrelated runner never changes another's run, and a copy goes on as the original") {
    std::mt19937 random(5);
    const Chart chart = compile(random_chart(random));
    const Drill drill(random_drill(random, chart, 10.0), chart);
    const auto ends = survey::even_ticks(60.0, Seconds{10.0});
    const survey::Run alone = survey::run(chart, drill, ends);
    Runner runner = drill.spawn(chart), other = spawn(chart), copy = runner;
    DrillPlayer player(drill, runner);
    double begin = 0.0;
    for (std::size_t i = 0; i < ends.size(); ++i) {
        const Intent intent = player.intent(begin, ends[i]);
        const Seconds dt{ends[i] - begin};
        copy = runner;
        static_cast<void>(advance(chart, runner, intent, dt));
        static_cast<void>(tick(chart, other, {1.0, 0.3}, {ActionId{0}}));
        static_cast<void>(advance(chart, copy, intent, dt));
        REQUIRE(digest(copy) == digest(runner));
        begin = ends[i];
    }
    CHECK(digest(runner) == alone.digest);
}
