#include <algorithm>
#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "support/modifiers.hpp"

using namespace cursimeter;
using namespace support;

TEST_CASE("stacking: refresh, extend, count, strongest, separate") {
    std::vector<ModifierSpec> specs;
    for (const Stacking stacking :
         {Stacking::refresh, Stacking::extend, Stacking::count, Stacking::strongest, Stacking::separate}) {
        specs.push_back(modifier("m" + std::to_string(specs.size()), 2.0, 2.0));
        specs.back().stacking = stacking;
    }
    specs[2].most = 3;
    const Chart chart = compile(plain(specs));
    const auto twice = [&](std::uint8_t index, double strength, double& fast, std::vector<double>& ends) {
        Play play(chart);
        play.intent.move = {1.0, 0.0};
        REQUIRE(grant(chart, play.runner(), ModifierId{index}));
        play.until(1.0);
        REQUIRE(grant(chart, play.runner(), ModifierId{index}, {.source = 0, .strength = strength}));
        fast = speed(chart, play);
        play.until(8.0);
        CHECK(play.runner().speed() == 2.0);
        ends = play.times(EventKind::ended);
    };
    double fast = 0.0;
    std::vector<double> ends;
    twice(0, 1.0, fast, ends);
    CHECK((fast == 4.0 && ends.size() == 1 && near(ends[0], 3.0, 1e-6)));
    twice(1, 1.0, fast, ends);
    CHECK((fast == 4.0 && ends.size() == 1 && near(ends[0], 4.0, 1e-6)));
    twice(2, 1.0, fast, ends);
    CHECK((fast == 8.0 && ends.size() == 1 && near(ends[0], 3.0, 1e-6)));
    twice(3, 0.5, fast, ends);  // the weaker one changes nothing
    CHECK((fast == 4.0 && ends.size() == 1 && near(ends[0], 2.0, 1e-6)));
    twice(3, 1.5, fast, ends);
    CHECK((fast == 5.0 && ends.size() == 1 && near(ends[0], 3.0, 1e-6)));
    twice(4, 1.0, fast, ends);
    CHECK((fast == 8.0 && ends.size() == 2 && near(ends[0], 2.0, 1e-6) && near(ends[1], 3.0, 1e-6)));

    Play play(chart);
    play.intent.move = {1.0, 0.0};
    for (int i = 0; i < 6; ++i) {
        REQUIRE(grant(chart, play.runner(), ModifierId{2}));
    }
    CHECK(speed(chart, play) == 16.0);  // three stacks at most
    CHECK(read_modifier(chart, play.runner(), ModifierId{2}).stacks == 3);
}

TEST_CASE("each source removes only its own") {
    const Chart chart = compile(plain({modifier("slow", std::nullopt, 0.5)}));
    Play play(chart);
    play.intent.move = {1.0, 0.0};
    REQUIRE(grant(chart, play.runner(), ModifierId{0}, {.source = 1, .strength = 1.0}));
    REQUIRE(grant(chart, play.runner(), ModifierId{0}, {.source = 2, .strength = 0.4}));
    CHECK(speed(chart, play) == 1.0);  // counts once, at the strongest
    CHECK_FALSE(remove(chart, play.runner(), ModifierId{0}, 3));
    CHECK(remove(chart, play.runner(), ModifierId{0}, 1));
    CHECK(near(speed(chart, play), 2.0 * 0.8, 1e-12));
    CHECK(remove(chart, play.runner(), ModifierId{0}, 2));
    CHECK(speed(chart, play) == 2.0);
}

TEST_CASE(
    "however many grant a refreshing modifier, it counts once, takes one place and ends with the last") {
    const ModifierSpec still = modifier("still", std::nullopt, 1.5), brief = modifier("brief", 2.0, 2.0);
    const Chart chart = compile(plain({still, brief}));
    const ModifierId held = chart.modifier("still"), timed = chart.modifier("brief");
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.move = {1.0, 0.0};
        for (std::uint8_t source = 0; source < limits::holders + 1; ++source) {
            CHECK(grant(chart, play.runner(), held, {.source = source, .strength = source == 3 ? 1.0 : 0.5}));
        }
        play.until(1.0);
        CHECK(play.runner().speed() == 3.0);  // 2 m/s, once, at the strongest
        CHECK(read_modifier(chart, play.runner(), held).stacks == 1);
        CHECK(remove(chart, play.runner(), held, 3));
        CHECK_FALSE(remove(chart, play.runner(), held, 3));
        play.until(2.0);
        CHECK(play.runner().speed() == 2.5);  // at half strength: the others still hold it
        for (std::uint8_t source = 0; source < limits::holders + 1; ++source) {
            CHECK(read_modifier(chart, play.runner(), held).active);
            CHECK(remove(chart, play.runner(), held, source) == (source != 3));
        }
        play.until(3.0);
        CHECK(play.runner().speed() == 2.0);
        CHECK(play.times(EventKind::began) == std::vector<double>{0.0});
        CHECK(play.times(EventKind::ended).size() == 1);
        // What ends by itself has room for any number of granters, and each starts the time again.
        for (int i = 0; i < 40; ++i) {
            CHECK(grant(chart, play.runner(), timed, {.source = static_cast<std::uint8_t>(i)}));
        }
        play.until(4.0);
        CHECK(grant(chart, play.runner(), timed, {.source = 200}));
        play.until(5.9);
        CHECK(play.runner().speed() == 4.0);
        play.until(6.1);
        CHECK(play.runner().speed() == 2.0);
        CHECK(play.times(EventKind::began).size() == 2);
        CHECK(near(play.times(EventKind::ended).back(), 6.0, 2e-6));
    }
    Runner runner = spawn(chart);
    for (std::uint8_t source = 0; source < limits::holders + 1; ++source) {
        CHECK(grant(chart, runner, held, {.source = source}));
    }
    const std::uint64_t before = digest(runner);
    CHECK_FALSE(grant(chart, runner, held, {.source = 99}));
    CHECK(digest(runner) == before);
    CHECK(grant(chart, runner, timed));
}

TEST_CASE(
    "what holds while something does takes back its fading place, however full the list of granters is") {
    ModifierSpec tide = modifier("tide", std::nullopt, 2.0);
    tide.while_holds = Condition{"oar on"};
    tide.fade_out = 1.0;
    ChartSpec spec = plain({tide, modifier("still", std::nullopt, 1.0)});
    spec.actions = {{.name = "oar"}};
    const Chart chart = compile(spec);
    Play play(chart);
    play.intent.move = {1.0, 0.0};
    for (std::uint8_t source = 0; source < limits::holders + 1; ++source) {
        REQUIRE(grant(chart, play.runner(), chart.modifier("still"), {.source = source}));
    }
    play.intent.hold(chart.action("oar"));
    play.until(0.5);
    CHECK(play.runner().speed() == 4.0);
    play.intent.held = 0;
    play.until(1.0);
    CHECK(play.runner().speed() < 4.0);
    play.intent.hold(chart.action("oar"));
    play.until(1.2);
    CHECK(play.runner().speed() == 4.0);
}

TEST_CASE("removed at once and granted again before the next tick is one stack, not two") {
    ModifierSpec tide = modifier("tide", std::nullopt, 2.0);
    tide.stacking = Stacking::count;
    tide.most = 4;
    const Chart chart = compile(plain({tide}));
    Play play(chart);
    play.intent.move = {1.0, 0.0};
    for (int i = 0; i < 3; ++i) {
        REQUIRE(grant(chart, play.runner(), ModifierId{0}));
    }
    CHECK(speed(chart, play) == 16.0);
    CHECK(remove(chart, play.runner(), ModifierId{0}, 0, Removal::at_once));
    REQUIRE(grant(chart, play.runner(), ModifierId{0}));
    CHECK(speed(chart, play) == 4.0);
    CHECK(read_modifier(chart, play.runner(), ModifierId{0}).stacks == 1);
    std::vector<EventKind> told;
    for (const Played& played : play.events()) {
        told.push_back(played.event.kind);
    }
    CHECK(told == std::vector<EventKind>{EventKind::stacked, EventKind::ended, EventKind::began});
    CHECK(remove(chart, play.runner(), ModifierId{0}, 0, Removal::at_once));
    CHECK(read_speed(chart, play.runner()).target == 2.0);  // at once, before any tick
    CHECK(speed(chart, play) == 2.0);
    CHECK_FALSE(read_modifier(chart, play.runner(), ModifierId{0}).active);
}

TEST_CASE("a weaker grant takes the place of a stronger one that is fading out") {
    ModifierSpec cold = modifier("cold", 1.0, 0.5);
    cold.stacking = Stacking::strongest;
    cold.fade_out = 1.0;
    const Chart chart = compile(plain({cold}));
    Play play(chart);
    play.intent.move = {1.0, 0.0};
    REQUIRE(grant(chart, play.runner(), ModifierId{0}));
    play.until(1.5);
    REQUIRE(grant(chart, play.runner(), ModifierId{0}, {.source = 0, .strength = 0.4}));
    play.until(2.4);
    CHECK(near(play.runner().speed(), 2.0 * 0.8, 1e-12));
    play.until(3.6);
    CHECK(play.runner().speed() == 2.0);
}

TEST_CASE("what the chart wants and has no place for is crowded out, what holds while something does waits") {
    std::vector<ModifierSpec> specs;
    for (std::size_t i = 0; i < limits::modifiers; ++i) {
        specs.push_back(modifier("m" + std::to_string(i), std::nullopt, 1.0));
        specs.back().affects = {{.what = "jump", .times = 1.1}};
    }
    specs.push_back(modifier("winded", 1.0, 0.5));
    ModifierSpec tide = modifier("tide", std::nullopt, 2.0);
    tide.while_holds = Condition{"moving"};
    specs.push_back(tide);
    ChartSpec spec = plain(specs);
    spec.meters = {stamina()};
    spec.meters[0].spent->grants = "winded";
    const Chart chart = compile(spec);
    Play play(chart);
    for (std::uint8_t i = 0; i < limits::modifiers; ++i) {
        REQUIRE(grant(chart, play.runner(), ModifierId{i}));
    }
    play.intent.move = {1.0, 0.0};
    CHECK(try_spend(chart, play.runner(), MeterId{0}, 100.0));
    CHECK(speed(chart, play) == 2.0);
    REQUIRE(play.times(EventKind::crowded).size() == 1);
    play.until(0.5);
    CHECK(play.times(EventKind::crowded).size() == 1);
    CHECK(remove(chart, play.runner(), ModifierId{0}));
    CHECK(speed(chart, play) == 4.0);  // there is a place now
    for (std::uint8_t i = 1; i < limits::modifiers; ++i) {
        CHECK(read_modifier(chart, play.runner(), ModifierId{i}).active);
    }
}

TEST_CASE("a full table refuses and changes nothing") {
    std::vector<ModifierSpec> specs;
    for (std::size_t i = 0; i < limits::modifiers + 1; ++i) {
        specs.push_back(modifier("m" + std::to_string(i), std::nullopt, 1.1));
    }
    const Chart chart = compile(plain(specs));
    Runner runner = spawn(chart);
    for (std::uint8_t i = 0; i < limits::modifiers; ++i) {
        REQUIRE(grant(chart, runner, ModifierId{i}));
    }
    const std::uint64_t before = digest(runner);
    CHECK_FALSE(grant(chart, runner, ModifierId{static_cast<std::uint8_t>(limits::modifiers)}));
    CHECK(digest(runner) == before);
    CHECK(grant(chart, runner, ModifierId{0}));  // one that is there already
}

TEST_CASE("stacks build while a key is held, shed afterwards, and go on from where they are") {
    ModifierSpec thrust;
    thrust.name = "thrust";
    thrust.most = 5;
    thrust.while_holds = Condition{"oar on"};
    thrust.build = 0.3;
    thrust.shed = 0.5;
    thrust.affects = {{.what = "speed", .adds = 1.0}};
    ChartSpec spec = plain({thrust});
    spec.actions = {{.name = "oar"}};
    const Chart chart = compile(spec);
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.move = {1.0, 0.0};
        play.intent.hold(chart.action("oar"));
        play.until(1.0);  // stacks at 0, 0.3, 0.6, 0.9
        CHECK(play.runner().speed() == 6.0);
        play.intent.held = 0;
        play.until(2.1);  // one less at 1.5 and at 2.0
        CHECK(play.runner().speed() == 4.0);
        play.intent.hold(chart.action("oar"));
        play.until(3.5);  // up again from two: at 2.4, 2.7, 3.0, and no further than five
        CHECK(play.runner().speed() == 7.0);
        play.intent.held = 0;
        play.until(6.1);
        CHECK(play.runner().speed() == 2.0);
        const std::vector<double> expected{0.3, 0.6, 0.9, 1.5, 2.0, 2.4, 2.7, 3.0, 4.0, 4.5, 5.0, 5.5};
        const std::vector<double> stacked = play.times(EventKind::stacked);
        REQUIRE(stacked.size() == expected.size());
        for (std::size_t i = 0; i < expected.size(); ++i) {
            CHECK(near(stacked[i], expected[i], 2e-6));
        }
        REQUIRE(play.times(EventKind::ended).size() == 1);
        CHECK(near(play.times(EventKind::ended)[0], 6.0, 2e-6));
    }
}

TEST_CASE("the first stack waits for its time, and nothing is told of one that never came") {
    ModifierSpec chill;
    chill.name = "chill";
    chill.most = 3;
    chill.while_holds = Condition{"oar on"};
    chill.build = 0.5;
    chill.first = 1.5;
    chill.shed = 1.0;
    chill.affects = {{.what = "speed", .adds = 1.0}, {.what = "jump", .sets = 1.0}};
    ChartSpec spec = plain({chill});
    spec.actions = {{.name = "oar"}};
    spec.states[0].enter = Condition();
    StateSpec stiff = state("stiff", {.forward = 20.0});
    stiff.enter = Condition{"chill active"};
    spec.states.push_back(stiff);
    spec.rank.insert(spec.rank.begin(), "stiff");
    const Chart chart = compile(spec);
    const ModifierId id = chart.modifier("chill");
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.move = {1.0, 0.0};
        play.intent.hold(chart.action("oar"));
        play.until(1.4);
        CHECK_FALSE(read_modifier(chart, play.runner(), id).active);
        CHECK(read_modifier(chart, play.runner(), id).stacks == 0);
        CHECK(read_modifier(chart, play.runner(), id).strength == 0.0);
        CHECK(play.runner().speed() == 2.0);
        play.intent.held = 0;
        play.until(1.45);  // never came
        CHECK(play.times(EventKind::began).empty());
        CHECK(play.times(EventKind::ended).empty());
        play.intent.hold(chart.action("oar"));
        play.until(2.9);
        CHECK(play.runner().speed() == 2.0);
        play.until(3.0);  // at 2.95
        CHECK(play.runner().speed() == 21.0);
        play.until(4.0);  // at 3.45 and 3.95
        CHECK(play.runner().speed() == 23.0);
        play.intent.held = 0;
        play.until(8.0);  // down at 5, 6, 7
        CHECK(play.runner().speed() == 2.0);
        REQUIRE(play.times(EventKind::began).size() == 1);
        CHECK(near(play.times(EventKind::began)[0], 2.95, 2e-6));
        CHECK(play.times(EventKind::stacked).size() == 4);
        REQUIRE(play.times(EventKind::ended).size() == 1);
        CHECK(near(play.times(EventKind::ended)[0], 7.0, 2e-6));
    }
    spec.modifiers[0].build.reset();
    spec.modifiers[0].most = 1;
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "modifiers.chill.first: is the wait for the first stack, and no stacks build; say build = ..., or "
          "take it "
          "out");
}

TEST_CASE("whoever of many lets go, the strongest of the others counts") {
    const Chart chart = compile(plain({modifier("haste", std::nullopt, 1.5)}));
    const ModifierId haste{0};
    const std::vector<double> strengths{0.5, 0.2, 0.9, 0.3, 0.1};
    for (std::uint8_t leaves = 0; leaves < 5; ++leaves) {
        CAPTURE(static_cast<int>(leaves));
        Play play(chart);
        play.intent.move = {1.0, 0.0};
        for (std::uint8_t source = 0; source < 5; ++source) {
            REQUIRE(grant(chart, play.runner(), haste, {.source = source, .strength = strengths[source]}));
        }
        CHECK(near(speed(chart, play), 2.0 * (1.0 + 0.5 * 0.9), 1e-12));
        REQUIRE(remove(chart, play.runner(), haste, leaves));
        CHECK(near(speed(chart, play), 2.0 * (1.0 + 0.5 * (leaves == 2 ? 0.5 : 0.9)), 1e-12));
    }
}
