#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/bearer.hpp"

using namespace support;

namespace {

/// "entered NAME: cause" for each state change of a report.
std::vector<std::string> changes(const Chart& chart, const Report& report) {
    std::vector<std::string> lines;
    for (const Event& event : report.events()) {
        if (event.kind == EventKind::entered) {
            lines.push_back(subject_name(chart, event) + ", " + chart.describe(event.cause));
        }
    }
    return lines;
}

using StateLines = std::vector<std::string>;

}  // namespace

TEST_CASE("each change of state names its cause") {
    const Chart chart = compile(bearer());
    const ActionId sprint = chart.action("sprint");
    Runner runner = spawn(chart);
    CHECK(chart.name(runner.state()) == "walk");
    CHECK(changes(chart, tick(chart, runner, {1.0, 0.0}, {sprint})) ==
          StateLines{"sprint, enter: sprint on"});
    CHECK(changes(chart, tick(chart, runner, {-1.0, 0.0}, {sprint})) ==
          StateLines{"walk, stay failed: moving forward"});
    CHECK(changes(chart, tick(chart, runner, {1.0, 0.0}, {sprint})) ==
          StateLines{"sprint, enter: moving forward"});
    CHECK(changes(chart, tick(chart, runner, {1.0, 0.0}, {})) == StateLines{"walk, stay failed: sprint on"});
}

TEST_CASE("a cause leads to its term's place in the spec") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    const Report entered = tick(chart, runner, {1.0, 0.0}, {chart.action("sprint")});
    CHECK(chart.term_path(find(entered, EventKind::entered)->cause) == "states.sprint.enter[1]");
    const Report left = tick(chart, runner, {0.0, 1.0}, {chart.action("sprint")});
    CHECK(chart.term_path(find(left, EventKind::entered)->cause) == "states.sprint.stay[2]");
    CHECK(chart.term_path(Cause{CauseKind::start, 0}).empty());
}

TEST_CASE("sprint held while moving backward: what the chart says, here nothing, and no drain") {
    const Chart chart = compile(bearer());
    Runner runner = spawn(chart);
    pass(chart, runner, {-1.0, 0.0}, 2.0, 0.01, {chart.action("sprint")});
    CHECK(chart.name(runner.state()) == "walk");
    CHECK(runner.speed() == 1.6);
    CHECK(read_meter(chart, runner, MeterId{0}).level == 100.0);
}

TEST_CASE("the rank decides between states that may both be taken") {
    ChartSpec spec = walker({.forward = 1.0, .side = {}, .back = {}});
    spec.actions = {{.name = "a"}, {.name = "b"}};
    spec.rank = {"high", "low", "walk"};
    spec.states.push_back(state("low", {.forward = 1.0, .side = {}, .back = {}}));
    spec.states.push_back(state("high", {.forward = 1.0, .side = {}, .back = {}}));
    spec.states[1].enter = Condition{"a on"};
    spec.states[2].enter = Condition{"b on"};
    const Chart chart = compile(spec);
    const ActionId a = chart.action("a"), b = chart.action("b");
    Runner runner = spawn(chart);
    CHECK(changes(chart, tick(chart, runner, {}, {a, b})) == StateLines{"high, enter: b on"});
    CHECK(changes(chart, tick(chart, runner, {}, {a})) == StateLines{"low, stay failed: b on"});
    // A higher state interrupts a lower one that could stay.
    CHECK(changes(chart, tick(chart, runner, {}, {a, b})) == StateLines{"high, enter: b on"});
    CHECK(changes(chart, tick(chart, runner, {}, {})) == StateLines{"walk, stay failed: b on"});
}

TEST_CASE("`from` limits where a state may be entered, and states lead on to one another at one instant") {
    ChartSpec spec = walker({.forward = 1.0, .side = {}, .back = {}});
    spec.actions = {{.name = "go"}};
    spec.rank = {"third", "second", "walk"};
    spec.states.push_back(state("second", {.forward = 2.0, .side = {}, .back = {}}));
    spec.states.push_back(state("third", {.forward = 3.0, .side = {}, .back = {}}));
    spec.states[1].enter = Condition{"go on"};
    spec.states[2].enter = Condition{"go on"};
    spec.states[2].from = {{"second"}};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    const Report report = tick(chart, runner, {1.0, 0.0}, {chart.action("go")}, 0.1);
    CHECK(changes(chart, report) == StateLines{"second, enter: go on", "third, follows"});
    CHECK(report.events()[1].at == 0.0);
    CHECK(near(runner.position().x, 0.3, 1e-15));
}

TEST_CASE(
    "a state that was left does not come back in the same instant, so no chart can hang or flicker in one") {
    ChartSpec spec = walker({.forward = 1.0, .side = {}, .back = {}});
    spec.actions = {{.name = "go"}};
    spec.rank = {"ping", "pong", "walk"};
    spec.states.push_back(state("ping", {.forward = 1.0, .side = {}, .back = {}}));
    spec.states.push_back(state("pong", {.forward = 1.0, .side = {}, .back = {}}));
    for (std::size_t i = 1; i < 3; ++i) {
        spec.states[i].enter = Condition{"go on"};
        spec.states[i].stay = Condition{"not go on"};  // wants to be left at once
    }
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    const Report report = tick(chart, runner, {}, {chart.action("go")}, 0.0);
    std::vector<std::size_t> entries(3);
    for (const Event& event : report.events()) {
        entries[event.subject] += event.kind == EventKind::entered ? 1 : 0;
    }
    CHECK(entries == std::vector<std::size_t>{0, 1, 1});  // walk, ping, pong: and ping waits
    CHECK(count(report, EventKind::held_back) == 1);
    // Tried again every 10 ms, and told of once.
    const Report later = tick(chart, runner, {}, {chart.action("go")}, 0.095);
    CHECK(later.instants == 9);
    CHECK(count(later, EventKind::entered) == 18);  // the one that waited, and walk, which it leads on to
    CHECK(count(later, EventKind::held_back) == 0);
    CHECK_FALSE(later.instants_capped);
}

TEST_CASE("a chart whose states undo each other's speed changes a hundred times a second at most") {
    // Below 3 m/s it speeds up, from there on it slows down: in the limit the changes have no end.
    ChartSpec spec = walker({.forward = 5.0, .side = {}, .back = {}}, ramp(10.0, 10.0, 10.0));
    spec.rank = {"slow", "walk"};
    spec.states.push_back(state("slow", {.forward = 1.0, .side = {}, .back = {}}, ramp(10.0, 10.0, 10.0)));
    spec.states[1].enter = Condition{"speed >= 3"};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    for (int i = 0; i < 60; ++i) {
        const Report report = tick(chart, runner, {1.0, 0.0}, {}, 0.05);
        REQUIRE_FALSE(report.instants_capped);
        REQUIRE(count(report, EventKind::entered) <= 2 * 5 + 2);
        REQUIRE(near(runner.clock().value, 0.05 * (i + 1), 1e-9));
        if (i >= 10) {
            REQUIRE(near(runner.speed(), 3.0, 0.11));  // 10 m/s^2 for 10 ms
        }
    }
}

TEST_CASE("terms on time and speed hold from their exact instants on") {
    ChartSpec spec = walker({.forward = 4.0, .side = {}, .back = {}}, ramp(8.0, 8.0, 8.0));
    spec.rank = {"lunge", "jog", "walk"};
    spec.actions = {{.name = "lunge"}};
    spec.states.push_back(state("jog", {.forward = 4.0, .side = {}, .back = {}}, ramp(8.0, 8.0, 8.0)));
    spec.states.push_back(state("lunge", {.forward = 4.0, .side = {}, .back = {}}, ramp(8.0, 8.0, 8.0)));
    spec.states[1].enter = Condition{"speed > 3 m/s"};
    spec.states[2].enter = Condition{"lunge pressed"};
    spec.states[2].stay = Condition{"time < 0.18 s"};
    const Chart chart = compile(spec);
    DrillSpec drill;
    drill.name = "d";
    drill.seconds = 2.0;
    StepSpec go, press, stop;
    go.at = 0.1;
    go.move = Move{1.0, 0.0};
    press.at = 1.0;
    press.press = {"lunge"};
    stop.at = 1.5;
    stop.move = Move{};
    drill.steps = {go, press, stop};
    for (const double rate : {20.0, 77.0, 1000.0}) {
        const survey::Run run =
            survey::run(chart, Drill(drill, chart), survey::even_ticks(rate, Seconds{2.0}));
        REQUIRE(run.visits.size() == 5);
        CHECK(chart.name(run.visits[1].state) == "jog");
        CHECK(near(run.visits[1].at, 0.1 + 3.0 / 8.0, 1e-8));
        CHECK(chart.describe(run.visits[1].cause) == "enter: speed > 3 m/s");
        CHECK(chart.name(run.visits[2].state) == "lunge");
        CHECK(near(run.visits[2].at, 1.0, 1e-11));
        CHECK(near(run.visits[3].at, 1.18, 1e-11));
        CHECK(chart.describe(run.visits[3].cause) == "stay failed: time < 0.18 s");
        CHECK(chart.name(run.visits[4].state) == "walk");
        CHECK(near(run.visits[4].at, 1.5 + 1.0 / 8.0, 1e-8));
    }
}

TEST_CASE("a press is used up by the state that it brings about") {
    ChartSpec spec = walker({.forward = 1.0, .side = {}, .back = {}});
    spec.actions = {{.name = "go"}};
    spec.rank = {"far", "near", "walk"};
    spec.states.push_back(state("near", {.forward = 1.0, .side = {}, .back = {}}));
    spec.states.push_back(state("far", {.forward = 1.0, .side = {}, .back = {}}));
    spec.states[1].enter = Condition{"go pressed"};
    spec.states[2].enter = Condition{"go pressed"};
    spec.states[2].from = {{"near"}};
    const Chart chart = compile(spec);
    const ActionId go = chart.action("go");
    Runner runner = spawn(chart);
    CHECK(changes(chart, tick(chart, runner, {}, {go})) == StateLines{"near, enter: go pressed"});
    CHECK(changes(chart, tick(chart, runner, {}, {})).empty());
    CHECK(changes(chart, tick(chart, runner, {}, {go})) == StateLines{"far, enter: go pressed"});
}

TEST_CASE("like takes over what is not said, through a chain, whatever the order of the states") {
    ChartSpec spec;
    spec.name = "chain";
    spec.rank = {"c", "b", "a"};
    spec.actions = {{.name = "b"}, {.name = "c"}};
    StateSpec a = state("a", {.forward = 3.0, .side = 2.0, .back = 1.0}, ramp(10.0, 10.0, 5.0));
    StateSpec b, c;
    b.name = "b";
    b.like = "a";
    b.speed.forward = 4.0;
    b.enter = Condition{"b on"};
    c.name = "c";
    c.like = "b";
    c.speed.back = 0.5;
    c.gain.law = GainLaw::instant;
    c.enter = Condition{"c on"};
    spec.states = {c, b, a};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    static_cast<void>(tick(chart, runner, {1.0, 0.0}, {chart.action("c")}));
    CHECK(runner.velocity().x == 4.0);  // b's forward, at once by c's own law
    static_cast<void>(tick(chart, runner, {0.0, 1.0}, {chart.action("c")}));
    CHECK(near(runner.speed(), 2.0, 1e-14));  // a's side
    static_cast<void>(tick(chart, runner, {-1.0, 0.0}, {chart.action("c")}));
    CHECK(runner.speed() == 0.5);
    // b takes a's ramp over.
    Runner other = spawn(chart);
    static_cast<void>(tick(chart, other, {1.0, 0.0}, {chart.action("b")}, 0.1));
    CHECK(near(other.speed(), 1.0, 1e-14));
}

TEST_CASE("if no state may be taken, the present one is kept") {
    ChartSpec spec = walker({.forward = 1.0, .side = {}, .back = {}});
    spec.actions = {{.name = "go"}};
    spec.states[0].enter = Condition{"go on"};
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    CHECK(changes(chart, tick(chart, runner, {1.0, 0.0})).empty());
    CHECK(chart.name(runner.state()) == "walk");
}

TEST_CASE("the first state is the first in rank that may follow any") {
    ChartSpec spec = bearer();
    spec.states[1].enter = Condition{"not moving"};
    CHECK(compile(spec).name(spawn(compile(spec)).state()) == "sprint");
    spec.states[1].from = {{"walk"}};
    CHECK(compile(spec).name(spawn(compile(spec)).state()) == "walk");
}
