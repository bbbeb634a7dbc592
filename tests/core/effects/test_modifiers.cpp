#include <algorithm>
#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "support/modifiers.hpp"

using namespace cursimeter;
using namespace support;

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
