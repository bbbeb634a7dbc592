#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "support/play.hpp"

using namespace cursimeter;
using namespace support;

namespace {

/// A dash of 0.1 s on each press.
ChartSpec dasher(CooldownSpec cooldown) {
    ChartSpec spec = walker({.forward = 2.0});
    spec.actions = {{.name = "dash"}, {.name = "hop"}};
    cooldown.name = "dash";
    spec.cooldowns = {cooldown};
    StateSpec dash;
    dash.name = "dash";
    dash.kind = StateKind::burst;
    dash.burst.speed = 10.0;
    dash.burst.seconds = 0.1;
    dash.cooldown = "dash";
    dash.enter = Condition{"dash pressed"};
    spec.states.push_back(dash);
    spec.rank = {"dash", "walk"};
    return spec;
}

void press(const Chart& chart, Play& play, const char* action, double at) {
    play.until(at);
    play.intent.hold(chart.action(action));
    play.until(at + 0.01);
    play.intent.held &= ~key_bit(chart.action(action));
}

std::size_t entered(const Chart& chart, const Play& play, const char* state) {
    std::size_t count = 0;
    for (const Played& played : play.events()) {
        count +=
            played.event.kind == EventKind::entered && subject_name(chart, played.event) == state ? 1 : 0;
    }
    return count;
}

}  // namespace

TEST_CASE("charges come back one after the other, or all at once") {
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        const Chart one = compile(dasher({.name = {}, .seconds = 1.0, .charges = 3}));
        Play play(one, dt);
        for (const double at : {0.2, 0.4, 0.6, 0.8}) {
            press(one, play, "dash", at);
        }
        CHECK(entered(one, play, "dash") == 3);
        CHECK(read_cooldown(one, play.runner(), CooldownId{0}).charges == 0);
        CHECK_FALSE(read_cooldown(one, play.runner(), CooldownId{0}).ready);
        play.until(0.95);
        CHECK(near(read_cooldown(one, play.runner(), CooldownId{0}).left.value, 0.25, 1e-6));
        CHECK(near(read_cooldown(one, play.runner(), CooldownId{0}).fraction, 0.75, 1e-6));
        play.until(4.0);
        REQUIRE(play.times(EventKind::ready).size() == 3);
        for (std::size_t i = 0; i < 3; ++i) {
            CHECK(near(play.times(EventKind::ready)[i], 1.2 + static_cast<double>(i), 2e-6));
        }

        const Chart all =
            compile(dasher({.name = {}, .seconds = 1.0, .charges = 3, .recharge = Recharge::all}));
        Play other(all, dt);
        press(all, other, "dash", 0.2);
        press(all, other, "dash", 0.4);
        other.until(3.0);
        REQUIRE(other.times(EventKind::ready).size() == 1);
        CHECK(near(other.times(EventKind::ready)[0], 1.2, 2e-6));
        CHECK(read_cooldown(all, other.runner(), CooldownId{0}).charges == 3);
    }
}

TEST_CASE("a cooldown may begin as its state ends") {
    const Chart chart = compile(dasher({.name = {}, .seconds = 1.0, .begins = Begins::end}));
    Play play(chart);
    press(chart, play, "dash", 0.2);
    play.until(0.25);
    CHECK(read_cooldown(chart, play.runner(), CooldownId{0}).fraction == 0.0);
    CHECK_FALSE(read_cooldown(chart, play.runner(), CooldownId{0}).ready);
    play.until(2.0);
    REQUIRE(play.times(EventKind::ready).size() == 1);
    CHECK(near(play.times(EventKind::ready)[0], 1.3, 2e-6));
}

TEST_CASE("`also` is a common lock-out") {
    ChartSpec spec = dasher({.name = {}, .seconds = 3.0, .also = "leap"});
    spec.cooldowns.push_back({.name = "hop", .seconds = 2.0, .also = "leap"});
    spec.cooldowns.push_back({.name = "leap", .seconds = 0.5});
    StateSpec hop = spec.states.back();
    hop.name = "hop";
    hop.cooldown = "hop";
    hop.enter = Condition{"hop pressed"};
    spec.states.push_back(hop);
    spec.rank = {"dash", "hop", "walk"};
    const Chart chart = compile(spec);
    Play play(chart);
    press(chart, play, "dash", 0.1);
    press(chart, play, "hop", 0.4);  // locked out until 0.6
    CHECK(entered(chart, play, "hop") == 0);
    press(chart, play, "hop", 0.7);
    CHECK(entered(chart, play, "hop") == 1);

    spec.cooldowns[2].begins = Begins::end;  // from the end of the dash at 0.2: until 0.7
    const Chart from_end = compile(spec);
    Play other(from_end);
    press(from_end, other, "dash", 0.1);
    press(from_end, other, "hop", 0.65);
    CHECK(entered(from_end, other, "hop") == 0);
    press(from_end, other, "hop", 0.75);
    CHECK(entered(from_end, other, "hop") == 1);
    spec.cooldowns[2].also = "dash";
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }).find("'leap' has an `also` of its own") !=
          std::string::npos);
}

TEST_CASE("a failed attempt costs nothing and says why") {
    ChartSpec spec = dasher({.name = {}, .seconds = 1.0});
    spec.meters = {stamina()};
    spec.meters[0].start = 20.0;
    spec.meters[0].refill.reset();
    spec.states.back().cost = {{"stamina", 15.0}};
    const Chart chart = compile(spec);
    Play play(chart);
    const auto refusals = [&] {
        std::vector<std::string> texts;
        for (const Played& played : play.events()) {
            if (played.event.kind == EventKind::refused) {
                texts.push_back(subject_name(chart, played.event) + " " + chart.describe(played.event.cause));
            }
        }
        return texts;
    };
    press(chart, play, "dash", 0.1);
    CHECK(refusals().empty());
    press(chart, play, "dash", 0.5);
    CHECK(refusals() == std::vector<std::string>{"dash fails: stamina >= 15"});
    static_cast<void>(grant(chart, play.runner(), MeterId{0}, 30.0));
    press(chart, play, "dash", 0.6);
    CHECK(refusals().back() == "dash fails: dash ready");
    CHECK(read_meter(chart, play.runner(), MeterId{0}).level == 35.0);
    play.until(1.05);
    CHECK(could_enter(chart, play.runner(), chart.state("dash")).cause.kind == CauseKind::fails);
    play.until(1.2);
    CHECK(could_enter(chart, play.runner(), chart.state("dash")).possible);
}

TEST_CASE("a press that waits in a buffer is refused when the buffer is over") {
    ChartSpec spec = dasher({.name = {}, .seconds = 1.0});
    spec.actions[0].buffer = 0.3;
    const Chart chart = compile(spec);
    Play play(chart);
    press(chart, play, "dash", 0.1);
    press(chart, play, "dash", 0.9);  // waits until 1.1, when it is ready
    play.until(1.15);
    CHECK(entered(chart, play, "dash") == 2);
    CHECK(play.times(EventKind::refused).empty());
    press(chart, play, "dash", 1.3);
    play.until(2.0);
    REQUIRE(play.times(EventKind::refused).size() == 1);
    CHECK(near(play.times(EventKind::refused)[0], 1.6, 2e-6));
}

TEST_CASE("modifiers change the pace of a wait that is under way, the game gives charges back") {
    ChartSpec spec = dasher({.name = {}, .seconds = 2.0, .charges = 2});
    ModifierSpec brisk;
    brisk.name = "brisk";
    brisk.seconds = 0.5;
    brisk.affects = {{.what = "cooldown.dash", .times = 2.0}};
    spec.modifiers = {brisk};
    const Chart chart = compile(spec);
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        press(chart, play, "dash", 0.2);
        play.until(1.0);
        REQUIRE(grant(chart, play.runner(), ModifierId{0}));
        CHECK(near(read_cooldown(chart, play.runner(), CooldownId{0}).left.value, 0.6, 1e-6));
        play.until(4.0);  // 1.2 s were left: 0.5 s at twice the pace take 1 s of them
        REQUIRE(play.times(EventKind::ready).size() == 1);
        CHECK(near(play.times(EventKind::ready)[0], 1.7, 3e-6));
        press(chart, play, "dash", 4.0);
        press(chart, play, "dash", 4.2);
        CHECK(read_cooldown(chart, play.runner(), CooldownId{0}).charges == 0);
        CHECK(refund(chart, play.runner(), CooldownId{0}, 5) == 2);
        CHECK(read_cooldown(chart, play.runner(), CooldownId{0}).charges == 2);
        CHECK(refund(chart, play.runner(), CooldownId{0}) == 0);
    }
    // A fade does not touch it: the pace is the chart's again as the fade begins.
    spec.modifiers[0].fade_out = 1.0;
    spec.modifiers[0].fade_in = 0.2;
    const Chart fading = compile(spec);
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(fading, dt);
        press(fading, play, "dash", 0.2);
        play.until(1.0);
        REQUIRE(grant(fading, play.runner(), ModifierId{0}));
        play.until(4.0);
        REQUIRE(play.times(EventKind::ready).size() == 1);
        CHECK(near(play.times(EventKind::ready)[0], 1.7, 3e-6));
    }
    Runner runner = spawn(chart);
    CHECK(complaint([&] { refund(chart, runner, CooldownId{0}, -1); }) ==
          "refund: -1 is no number of charges; give 0 or more");
}

TEST_CASE("the game may force a state, free of cost and charge") {
    ChartSpec spec = dasher({.name = {}, .seconds = 1.0});
    spec.meters = {stamina()};
    spec.states.back().cost = {{"stamina", 15.0}};
    const Chart chart = compile(spec);
    Play play(chart);
    play.until(0.5);
    const Report report = force_state(chart, play.runner(), chart.state("dash"));
    REQUIRE(find(report, EventKind::entered) != nullptr);
    CHECK(chart.describe(find(report, EventKind::entered)->cause) == "forced");
    play.until(0.55);
    CHECK(play.runner().state() == chart.state("dash"));
    CHECK(near(play.runner().position().x, 0.5, 1e-9));
    CHECK(read_meter(chart, play.runner(), MeterId{0}).level == 100.0);
    CHECK(read_cooldown(chart, play.runner(), CooldownId{0}).ready);
    play.until(0.7);
    CHECK(play.runner().state() == chart.state("walk"));
    CHECK(near(play.runner().position().x, 1.0, 1e-9));
}
