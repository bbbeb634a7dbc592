#include <catch2/catch.hpp>

#include "support/bearer.hpp"

using namespace support;

namespace {

/// The diagnostics of a chart whose sprint has this one enter term.
std::string complaint_about(const std::string& term) {
    ChartSpec spec = bearer();
    spec.states[1].enter = Condition{term};
    return complaint([&] { static_cast<void>(compile(spec)); });
}

bool accepted(const std::string& term) {
    return complaint_about(term) == "(no complaint)";
}

}  // namespace

TEST_CASE("every form of a term is read, with or without spaces and units") {
    for (const char* term :
         {"sprint on",         "not sprint on",  "sprint pressed",  "sprint released",  "moving",
          "not moving",        "moving forward", "moving sideways", "moving backward",  "grounded",
          "not stamina spent", "stamina >= 10",  "stamina>=10",     "stamina > 0",      "stamina < 99.5",
          "stamina <= 20 %",   "stamina>25%",    "speed > 4.5",     "speed >= 4.5 m/s", "speed<2m/s",
          "time < 0.18",       "time >= 2 s",    "not time < 1s",   "  sprint   on  "}) {
        CAPTURE(term);
        CHECK(accepted(term));
    }
}

TEST_CASE("each mistake in a term is told with its place and a mend") {
    CHECK(complaint_about("sprnt on") ==
          "states.sprint.enter[1]: 'sprnt on': no action is named 'sprnt'; did you mean 'sprint'?");
    CHECK(
        complaint_about("stamna > 3") ==
        "states.sprint.enter[1]: 'stamna > 3': nothing that can be compared is named 'stamna'; did you mean "
        "'stamina'?");
    CHECK(complaint_about("stamina = 3") ==
          "states.sprint.enter[1]: 'stamina = 3': '=' is not a comparison; use <, <=, > or >=");
    CHECK(complaint_about("speed > 4.5 km/h") ==
          "states.sprint.enter[1]: 'speed > 4.5 km/h': 'km/h' is not a unit for this; speeds are in m/s");
    CHECK(complaint_about("time < 3 ms") ==
          "states.sprint.enter[1]: 'time < 3 ms': 'ms' is not a unit for this; times are in s");
    CHECK(complaint_about("stamina > 3 m") ==
          "states.sprint.enter[1]: 'stamina > 3 m': 'm' is not a unit for this; levels have no unit, or % of "
          "the "
          "capacity");
    CHECK(
        complaint_about("speed > fast") ==
        "states.sprint.enter[1]: 'speed > fast': 'fast' is not a number of 0 or more; write it such as 4.5");
    CHECK(complaint_about("speed > -1") ==
          "states.sprint.enter[1]: 'speed > -1': '-1' is not a number of 0 or more; write it such as 4.5");
    CHECK(complaint_about("stamina >= 101") ==
          "states.sprint.enter[1]: 'stamina >= 101': stamina holds at most 100; compare with less than 100");
    CHECK(complaint_about("stamina > 100%") ==
          "states.sprint.enter[1]: 'stamina > 100%': stamina holds at most 100; compare with less than 100");
    CHECK(
        complaint_about("not groundd") ==
        "states.sprint.enter[1]: 'not groundd' is not a known fact or comparison; did you mean 'grounded'?");
    CHECK(complaint_about("groundd") ==
          "states.sprint.enter[1]: 'groundd' is not a known fact or comparison; did you mean 'grounded'?");
    CHECK(complaint_about("moving fowrard") ==
          "states.sprint.enter[1]: 'moving fowrard' is not a known fact or comparison; did you mean 'moving "
          "forward'?");
    CHECK(complaint_about("").find("'' is not a known fact or comparison") != std::string::npos);
    CHECK(complaint_about("not").find("'not' is not a known fact or comparison") != std::string::npos);
    CHECK(complaint_about("breath spent") ==
          "states.sprint.enter[1]: 'breath spent': no meter is named 'breath'; known: stamina");
}

TEST_CASE("a latch must exist to be read, and terms of one list must not contradict") {
    ChartSpec spec = bearer();
    spec.meters[0].spent.reset();
    spec.states[1].enter = Condition{"not stamina spent"};
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "states.sprint.enter[1]: 'not stamina spent': meter 'stamina' has no spent latch; say "
          "meters.stamina.spent = { at = 0, until = ... }");
    spec = bearer();
    spec.states[0].enter = Condition{"stamina spent"};
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) == "(no complaint)");
    spec.states[1].enter = Condition{"stamina spent"};  // which sprint, draining it, may not be
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "states.sprint.enter[1]: 'stamina spent' contradicts 'not stamina spent', which comes with "
          "states.sprint.drain.stamina; take it out: with it this list can never hold");
    spec = bearer();
    spec.states[1].enter = Condition{"sprint on", "not sprint on"};
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "states.sprint.enter[2]: 'not sprint on' contradicts another term of this list; take one of them "
          "out; all "
          "terms of a list must hold together");
}

TEST_CASE("what a kind needs to last contradicts a term of stay, said or taken from enter") {
    ChartSpec spec = bearer();
    StateSpec& dash = spec.states[1];
    dash.kind = StateKind::burst;
    dash.burst.speed = 10.0;
    dash.burst.seconds = 0.2;
    dash.enter = Condition{"sprint on"};
    dash.stay = Condition(std::vector<std::vector<std::string>>{{"sprint on"}, {"moving", "time >= 0.2"}});
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "states.sprint.stay[2][2]: 'time >= 0.2' contradicts 'time < 0.2', which comes with "
          "states.sprint.burst.seconds; take it out: with it this list can never hold");
    spec = bearer();
    StateSpec& run = spec.states[1];
    run.kind = StateKind::wall;
    run.enter = Condition{"not wall"};
    run.stay.reset();
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "states.sprint.enter[1]: 'not wall' contradicts 'wall', which comes with states.sprint.wall.reach; "
          "take it out: with it this list can never hold");
}

TEST_CASE("the time that enter asks for is that of the state before, and does not keep the new one") {
    for (const bool burst : {false, true}) {
        CAPTURE(burst);
        ChartSpec spec = bearer();
        StateSpec& sprint = spec.states[1];
        sprint.enter = Condition{"sprint on", "not time < 0.5 s"};
        sprint.stay.reset();
        if (burst) {
            sprint.kind = StateKind::burst;
            sprint.burst.speed = 10.0;
            sprint.burst.seconds = 0.25;
        }
        const Chart chart = compile(spec);
        Runner runner = spawn(chart);
        std::vector<std::pair<std::string, double>> entered;
        for (int i = 0; i < 120; ++i) {
            Intent intent;
            intent.move = {1.0, 0.0};
            intent.held = i < 90 ? key_bit(chart.action("sprint")) : 0;
            const Report report = advance(chart, runner, intent, Seconds{1.0 / 60.0});
            for (const Event& event : report.events()) {
                if (event.kind == EventKind::entered) {
                    entered.emplace_back(chart.name(StateId{static_cast<std::uint8_t>(event.subject)}),
                                         i / 60.0 + event.at);
                }
            }
        }
        // Held all along it sprints from 0.5 s until the key goes up; a burst is over after its 0.25 s, and comes again 0.5 s later.
        const std::vector<std::pair<std::string, double>> expected =
            burst ? std::vector<std::pair<std::string, double>>{{"sprint", 0.5},
                                                                {"walk", 0.75},
                                                                {"sprint", 1.25},
                                                                {"walk", 1.5}}
                  : std::vector<std::pair<std::string, double>>{{"sprint", 0.5}, {"walk", 1.5}};
        REQUIRE(entered.size() == expected.size());
        for (std::size_t i = 0; i < entered.size(); ++i) {
            CHECK(entered[i].first == expected[i].first);
            CHECK(std::abs(entered[i].second - expected[i].second) < 1e-9);
        }
    }
}

TEST_CASE("any of several lists may hold, an empty list among them is a mistake") {
    ChartSpec spec = bearer();
    spec.actions.push_back({.name = "rush"});
    spec.states[1].enter =
        Condition(std::vector<std::vector<std::string>>{{"sprint on", "moving"}, {"rush on"}});
    spec.states[1].stay.reset();
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    static_cast<void>(tick(chart, runner, {}, {chart.action("sprint")}));
    CHECK(chart.name(runner.state()) == "walk");
    static_cast<void>(tick(chart, runner, {}, {chart.action("rush")}));
    CHECK(chart.name(runner.state()) == "sprint");
    static_cast<void>(tick(chart, runner, {1.0, 0.0}, {chart.action("sprint")}));
    CHECK(chart.name(runner.state()) == "sprint");
    static_cast<void>(tick(chart, runner, {0.0, 0.0}, {chart.action("sprint")}));
    CHECK(chart.name(runner.state()) == "walk");

    spec.states[0].enter = Condition(std::vector<std::vector<std::string>>{{"moving"}, {}});
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "states.walk.enter[2]: this list of terms is empty; write [] alone for \"always\", or leave the "
          "empty list "
          "out");
}

TEST_CASE("stay that is not said is enter without its momentary terms") {
    ChartSpec spec = bearer();
    spec.states[1].enter = Condition{"sprint pressed", "moving"};
    spec.states[1].stay.reset();
    const Chart chart = compile(spec);
    Runner runner = spawn(chart);
    static_cast<void>(tick(chart, runner, {1.0, 0.0}, {chart.action("sprint")}));
    static_cast<void>(tick(chart, runner, {1.0, 0.0}, {}));
    CHECK(chart.name(runner.state()) == "sprint");
    static_cast<void>(tick(chart, runner, {}, {}));
    CHECK(chart.name(runner.state()) == "walk");
}

TEST_CASE("as many derived facts as documented, and not one more") {
    ChartSpec spec = bearer();
    spec.states[1].drain = {};
    spec.states[1].stay = Condition{"sprint on"};
    std::vector<std::string> terms;
    for (std::size_t i = 0; i < limits::derived_facts; ++i) {
        terms.push_back("speed > " + std::to_string(i + 1));
    }
    spec.states[1].enter = Condition(std::vector<std::vector<std::string>>{terms});
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) == "(no complaint)");
    terms.push_back("time > 1");
    spec.states[1].enter = Condition(std::vector<std::vector<std::string>>{terms});
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "states: the conditions read 257 different comparisons and latches; there can be 256: take 1 "
          "out, or let one do the work of several");
}
