#include <algorithm>
#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "support/play.hpp"

using namespace cursimeter;
using namespace support;

namespace {

ModifierSpec modifier(const std::string& name, std::optional<double> seconds, double times) {
    ModifierSpec spec;
    spec.name = name;
    spec.seconds = seconds;
    spec.affects = {{.what = "speed", .times = times}};
    return spec;
}

/// Walking at 2 m/s with no gain: the speed is the target.
ChartSpec plain(std::vector<ModifierSpec> modifiers) {
    ChartSpec spec = walker({.forward = 2.0});
    spec.modifiers = std::move(modifiers);
    return spec;
}

double speed(const Chart& chart, Play& play) {
    play.settle();
    CHECK(near(read_speed(chart, play.runner()).target, play.runner().speed(), 1e-12));
    return play.runner().speed();
}

}  // namespace

TEST_CASE("a modifier lasts its seconds, then fades out, at any tick length") {
    ModifierSpec winded = modifier("winded", 3.0, 0.5);
    winded.fade_out = 1.0;
    const Chart chart = compile(plain({winded}));
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.move = {1.0, 0.0};
        play.until(1.0);
        REQUIRE(grant(chart, play.runner(), chart.modifier("winded")));
        CHECK(speed(chart, play) == 1.0);
        play.until(3.999);
        CHECK(play.runner().speed() == 1.0);
        play.until(4.5 - 1e-6);
        // Steps of 0.02 s, each with the value of its middle: half a second in, step 25 of 50.
        CHECK(play.runner().speed() == Approx(2.0 * (1.0 - 0.5 * 0.51)).margin(1e-9));
        play.until(6.0);
        CHECK(play.runner().speed() == 2.0);
        // 2 m/s, then 1 m/s for 3 s, then rising evenly for 1 s.
        CHECK(play.runner().distance() == Approx(2.0 + 3.0 + 1.5 + 2.0).margin(2e-6));
        REQUIRE(play.times(EventKind::began).size() == 1);
        REQUIRE(play.times(EventKind::ended).size() == 1);
        CHECK(near(play.times(EventKind::began)[0], 1.0, 1e-9));
        CHECK(near(play.times(EventKind::ended)[0], 5.0, 1e-6));
    }
}

TEST_CASE("a fade that is turned back goes on from where it is") {
    ModifierSpec gust = modifier("gust", std::nullopt, 2.0);
    gust.fade_in = 1.0;
    gust.fade_out = 2.0;
    const Chart chart = compile(plain({gust}));
    Play play(chart);
    play.intent.move = {1.0, 0.0};
    const ModifierId id = chart.modifier("gust");
    REQUIRE(grant(chart, play.runner(), id));
    play.until(0.5);
    CHECK(remove(chart, play.runner(), id));
    play.until(1.0);  // half way up, then down for 0.5 s of the 1 s that half of fade_out takes
    CHECK(near(read_modifier(chart, play.runner(), id).strength, 0.25, 0.011));
    REQUIRE(grant(chart, play.runner(), id));
    play.until(1.75 + 1e-3);
    CHECK(read_modifier(chart, play.runner(), id).strength == 1.0);
    CHECK(play.runner().speed() == 4.0);
    CHECK(remove(chart, play.runner(), id, 0, Removal::at_once));
    CHECK(speed(chart, play) == 2.0);
    CHECK_FALSE(read_modifier(chart, play.runner(), id).active);
    CHECK_FALSE(remove(chart, play.runner(), id));
}

TEST_CASE("adds, factors, sets and limits compose in one order, whatever the order of granting") {
    std::vector<ModifierSpec> specs{modifier("a", 9.0, 1.3), modifier("b", 9.0, 0.7), modifier("c", 9.0, 1.0),
                                    modifier("d", 9.0, 1.1)};
    specs[2].affects = {{.what = "speed", .adds = 1.5}};
    const Chart chart = compile(plain(specs));
    std::vector<std::uint8_t> order{0, 1, 2, 3};
    std::optional<std::uint64_t> first;
    do {
        Play play(chart);
        play.intent.move = {1.0, 0.0};
        for (const std::uint8_t index : order) {
            REQUIRE(grant(chart, play.runner(), ModifierId{index}));
        }
        CHECK(speed(chart, play) == (2.0 + 1.5) * (1.3 * 0.7 * 1.1));
        first = first.value_or(digest(play.runner()));
        CHECK(digest(play.runner()) == *first);
    } while (std::next_permutation(order.begin(), order.end()));

    specs[0].affects = {{.what = "speed", .sets = 5.0}};
    specs[1].affects = {{.what = "speed", .sets = 4.0}};
    specs[3].affects = {{.what = "speed", .at_least = 1.0, .at_most = 3.0}};
    const Chart other = compile(plain(specs));
    Play play(other);
    play.intent.move = {1.0, 0.0};
    REQUIRE(grant(other, play.runner(), ModifierId{0}));
    CHECK(speed(other, play) == 5.0);
    REQUIRE(grant(other, play.runner(), ModifierId{1}));
    CHECK(speed(other, play) == 4.0);  // of several, the lowest
    REQUIRE(grant(other, play.runner(), ModifierId{3}));
    CHECK(speed(other, play) == 3.0);
}

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

TEST_CASE(
    "modifiers change gain, jump, gravity, steering and bursts, and everything is the chart's afterwards") {
    ChartSpec spec = walker({.forward = 4.0}, ramp(8.0, 8.0, 8.0));
    ModifierSpec mud = modifier("mud", std::nullopt, 1.0);
    mud.affects = {{.what = "gain", .times = 0.5}};
    spec.modifiers = {mud};
    const Chart chart = compile(spec);
    Play play(chart);
    REQUIRE(grant(chart, play.runner(), ModifierId{0}));
    play.intent.move = {1.0, 0.0};
    play.until(0.5);
    CHECK(near(play.runner().speed(), 2.0, 1e-9));
    CHECK(remove(chart, play.runner(), ModifierId{0}));
    play.until(0.75);
    CHECK(near(play.runner().speed(), 4.0, 1e-9));

    StateSpec fall;
    fall.name = "fall";
    fall.kind = StateKind::air;
    fall.air.rise_gravity = 20.0;
    fall.enter = Condition{"not grounded"};
    StateSpec hop = fall;
    hop.name = "hop";
    hop.launch.heights = std::vector<double>{1.0};
    hop.enter = Condition{"jump pressed"};
    hop.stay = Condition{"not grounded"};
    StateSpec dash;
    dash.name = "dash";
    dash.kind = StateKind::burst;
    dash.burst.speed = 10.0;
    dash.burst.seconds = 0.2;
    dash.enter = Condition{"dash pressed"};
    spec.actions = {{.name = "jump"}, {.name = "dash"}};
    spec.states.insert(spec.states.end(), {fall, hop, dash});
    spec.rank = {"dash", "hop", "fall", "walk"};
    spec.modifiers[0].affects = {
        {.what = "jump", .adds = 0.5}, {.what = "gravity", .times = 0.5}, {.what = "burst", .sets = 15.0}};
    const Chart leaps = compile(spec);
    const auto height = [&](bool modified) {
        Play high(leaps);
        if (modified) {
            REQUIRE(grant(leaps, high.runner(), ModifierId{0}));
        }
        high.intent.hold(leaps.action("jump"));
        double most = 0.0;
        for (int i = 1; i < 200; ++i) {
            high.until(0.01 * i);
            most = std::max(most, high.runner().position().z);
        }
        return most;
    };
    CHECK(near(height(false), 1.0, 1e-3));
    CHECK(
        near(height(true), 3.0, 2e-3));  // 1.5 m high under the chart's gravity, twice that under half of it
    Play fast(leaps);
    REQUIRE(grant(leaps, fast.runner(), ModifierId{0}));
    fast.intent.hold(leaps.action("dash"));
    fast.until(0.1);
    CHECK(near(fast.runner().position().x, 1.5, 1e-9));
}

TEST_CASE("a modifier may follow another: staggered, then slow") {
    ModifierSpec staggered = modifier("staggered", 0.5, 0.0);
    staggered.then = "slow";
    const Chart chart = compile(plain({staggered, modifier("slow", 2.0, 0.5)}));
    for (const double dt : tick_lengths) {
        Play play(chart, dt);
        play.intent.move = {1.0, 0.0};
        REQUIRE(grant(chart, play.runner(), chart.modifier("staggered")));
        play.until(0.4);
        CHECK(play.runner().speed() == 0.0);
        play.until(2.4);
        CHECK(play.runner().speed() == 1.0);
        play.until(3.0);
        CHECK(play.runner().speed() == 2.0);
        CHECK(near(play.runner().distance(), 2.0 + 1.0, 2e-6));
    }
}

TEST_CASE("the speed target is told part by part") {
    ModifierSpec boost = modifier("boost", std::nullopt, 1.5);
    ModifierSpec cap = modifier("cap", std::nullopt, 1.0);
    cap.affects = {{.what = "speed", .at_most = 2.5}};
    const Chart chart = compile(plain({boost, cap}));
    Play play(chart);
    play.intent.move = {0.5, 0.0};
    REQUIRE(grant(chart, play.runner(), chart.modifier("boost")));
    REQUIRE(grant(chart, play.runner(), chart.modifier("cap")));
    play.settle();
    const SpeedReading reading = read_speed(chart, play.runner());
    CHECK(near(reading.target, 1.25, 1e-12));
    double sum = 0.0, factor = 1.0;
    bool limited = false;
    for (std::size_t i = 0; i < reading.count; ++i) {
        sum += reading.parts[i].adds;
        factor *= reading.parts[i].times;
        limited = limited || reading.parts[i].kind == SpeedPartKind::limit;
    }
    CHECK(near(sum * factor, reading.target, 1e-12));
    CHECK(limited);
}

TEST_CASE("mistakes in modifiers are told with their mends") {
    const auto of = [](const std::function<void(ModifierSpec&)>& change) {
        ModifierSpec spec = modifier("winded", 2.0, 0.5);
        change(spec);
        return complaint([&] { static_cast<void>(compile(plain({spec}))); });
    };
    CHECK(of([](ModifierSpec& m) { m.affects[0].what = "sped"; }) ==
          "modifiers.winded.affects[1].what: 'sped' is nothing that can be changed; did you mean 'speed'?");
    CHECK(of([](ModifierSpec& m) { m.affects[0].what = "drain.stamina"; }) ==
          "modifiers.winded.affects[1].what: no meter is named 'stamina'; there is none yet");
    CHECK(of([](ModifierSpec& m) { m.affects[0].times.reset(); }) ==
          "modifiers.winded.affects[1]: changes nothing; say adds, times, sets, at_least or at_most");
    CHECK(of([](ModifierSpec& m) { m.then = "gone"; }) ==
          "modifiers.winded.then: no modifier is named 'gone'; known: winded");
    CHECK(of([](ModifierSpec& m) { m.most = 3; }) ==
          "modifiers.winded.most: only stacking \"count\", or `build`, has stacks; say stacking = \"count\"");
    CHECK(of([](ModifierSpec& m) { m.build = 0.2; }).find("stacks build and shed with `while` only") !=
          std::string::npos);
    CHECK(of([](ModifierSpec& m) { m.fade_in = 3.0; }).find("is longer than its seconds, 2") !=
          std::string::npos);
    CHECK(of([](ModifierSpec& m) {
              m.while_holds = Condition{"grounded"};
          }).find("a modifier that holds while something does has no time of its own") != std::string::npos);
    const Chart chart = compile(plain({modifier("winded", 2.0, 0.5)}));
    Runner runner = spawn(chart);
    const std::uint64_t before = digest(runner);
    CHECK(complaint([&] { grant(chart, runner, ModifierId{0}, {.source = 0, .strength = 3.0}); }) ==
          "grant: source 0 with strength 3 is out of range; give a source of 0 to 250 and a strength of 0.01 "
          "to "
          "2.55");
    CHECK_THROWS_AS(grant(chart, runner, ModifierId{7}), ChartError);
    CHECK(digest(runner) == before);
}
