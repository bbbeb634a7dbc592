#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "support/play.hpp"

using namespace cursimeter;
using namespace support;

namespace {

ChartSpec talker() {
    ChartSpec spec = bearer();
    spec.meters[0].refill.reset();
    spec.blocks = {{.name = "conversation", .bans = {"sprint"}},
                   {.name = "narrow", .bans = {"sprint"}, .resume = Resume::held},
                   {.name = "stun", .bans = {"movement"}}};
    return spec;
}

}  // namespace

TEST_CASE("two systems ban the same thing, and each lifts only its own") {
    const Chart chart = compile(talker());
    Play play(chart);
    const BlockId conversation = chart.block("conversation"), narrow = chart.block("narrow");
    play.intent.move = {1.0, 0.0};
    play.intent.hold(chart.action("sprint"));
    play.until(1.0);
    CHECK(play.runner().state() == chart.state("sprint"));
    CHECK(block(chart, play.runner(), narrow) == 1);
    CHECK(block(chart, play.runner(), narrow) == 2);
    play.until(1.1);
    CHECK(play.runner().state() == chart.state("walk"));
    CHECK(play.last_change() == "walk: blocked: narrow");
    CHECK(block(chart, play.runner(), conversation) == 1);
    CHECK(unblock(chart, play.runner(), narrow) == 1);
    CHECK(unblock(chart, play.runner(), narrow) == 0);
    CHECK(unblock(chart, play.runner(), narrow) == -1);
    play.until(1.2);
    CHECK(play.runner().state() == chart.state("walk"));
    CHECK(blocked(chart, play.runner(), conversation) == 1);
    CHECK(chart.describe(could_enter(chart, play.runner(), chart.state("sprint")).cause) ==
          "blocked: conversation");
    CHECK(unblock(chart, play.runner(), conversation) == 0);
    play.until(1.3);  // the conversation's `resume` is press: the held key counts after another press
    CHECK(play.runner().state() == chart.state("walk"));
    play.intent.held = 0;
    play.until(1.4);
    play.intent.hold(chart.action("sprint"));
    play.until(1.5);
    CHECK(play.runner().state() == chart.state("sprint"));
}

TEST_CASE("an action that is held goes on at once where the block says so") {
    const Chart chart = compile(talker());
    for (const bool pressed_before : {true, false}) {
        Play play(chart);
        play.intent.move = {1.0, 0.0};
        if (pressed_before) {
            play.intent.hold(chart.action("sprint"));
        }
        play.until(0.5);
        block(chart, play.runner(), chart.block("narrow"));
        play.until(0.6);
        play.intent.hold(chart.action("sprint"));
        play.until(1.0);
        CHECK(play.runner().state() == chart.state("walk"));
        unblock(chart, play.runner(), chart.block("narrow"));
        play.until(1.1);
        CHECK(play.runner().state() == chart.state("sprint"));
    }
}

TEST_CASE("a release during a ban is never lost: no key is stuck") {
    const Chart chart = compile(talker());
    for (const char* name : {"conversation", "narrow"}) {
        Play play(chart);
        play.intent.move = {1.0, 0.0};
        play.intent.hold(chart.action("sprint"));
        play.until(0.5);
        block(chart, play.runner(), chart.block(name));
        play.until(0.6);
        play.intent.held = 0;
        play.until(0.7);
        unblock(chart, play.runner(), chart.block(name));
        play.until(1.0);
        CHECK(play.runner().state() == chart.state("walk"));
        CHECK_FALSE(play.runner().on(chart.action("sprint")));
    }
}

TEST_CASE("keys are told of whatever is banned, and a release during a ban cuts a jump short") {
    ChartSpec spec = talker();
    spec.actions.push_back({.name = "jump"});
    StateSpec hop;
    hop.name = "hop";
    hop.kind = StateKind::air;
    hop.air.rise_gravity = 20.0;
    hop.launch = {.heights = std::vector<double>{2.0}, .least = 0.5, .by = "jump"};
    hop.enter = Condition{"jump pressed"};
    hop.stay = Condition{"not grounded"};
    spec.states.push_back(hop);
    spec.rank = {"hop", "sprint", "walk"};
    spec.blocks[0].bans = {"jump"};
    const Chart chart = compile(spec);
    const auto height = [&](bool banned) {
        Play play(chart);
        play.intent.hold(chart.action("jump"));
        play.until(0.05);
        if (banned) {
            block(chart, play.runner(), chart.block("conversation"));
        }
        play.intent.held = 0;
        double most = 0.0;
        for (int i = 6; i < 100; ++i) {
            play.until(0.01 * i);
            most = std::max(most, play.runner().position().z);
        }
        CHECK(play.times(EventKind::pressed).size() == 1);
        CHECK(play.times(EventKind::released).size() == 1);
        return most;
    };
    CHECK(height(true) < 1.2);
    CHECK(height(true) == height(false));
}

TEST_CASE("a block whose count is full refuses and changes nothing") {
    const Chart chart = compile(talker());
    Runner runner = spawn(chart);
    for (int i = 1; i <= 255; ++i) {
        REQUIRE(block(chart, runner, chart.block("stun")) == i);
    }
    const std::uint64_t before = digest(runner);
    CHECK(block(chart, runner, chart.block("stun")) == -1);
    CHECK(digest(runner) == before);
}

TEST_CASE("a ban on movement brings the runner to rest by its gain, and says why") {
    ChartSpec spec = talker();
    spec.states[0].gain = ramp(10.0, 10.0, 5.0);
    const Chart chart = compile(spec);
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.move = {1.0, 0.0};
        play.intent.hold(chart.action("sprint"));
        play.until(1.0);
        block(chart, play.runner(), chart.block("stun"));
        play.until(1.5);
        CHECK(play.last_change() == "walk: blocked: stun");
        CHECK(near(play.runner().speed(), 6.5 - 2.5, 1e-9));
        play.until(3.0);
        CHECK(play.runner().speed() == 0.0);
        unblock(chart, play.runner(), chart.block("stun"));
        play.until(3.1);
        CHECK(near(play.runner().speed(), 1.0, 1e-9));
        CHECK(play.runner().state() == chart.state("sprint"));  // the sprint key itself was never banned
    }
}

TEST_CASE("a banned state is left and not entered, where nothing else may be, it is kept") {
    ChartSpec spec = talker();
    spec.blocks[0].bans = {"sprint", "walk"};
    const Chart chart = compile(spec);
    Play play(chart);
    play.intent.move = {1.0, 0.0};
    play.until(0.2);
    block(chart, play.runner(), chart.block("conversation"));
    play.until(0.4);
    CHECK(play.runner().state() == chart.state("walk"));
    CHECK(play.times(EventKind::entered).empty());
}

TEST_CASE("mistakes in blocks are told with their mends") {
    ChartSpec spec = talker();
    spec.blocks[0].bans = {"sprnt"};
    CHECK(complaint([&] { static_cast<void>(compile(spec)); }) ==
          "blocks.conversation.bans[1]: no action and no state is named 'sprnt'; did you mean 'sprint'?");
    const Chart chart = compile(talker());
    CHECK(complaint([&] { static_cast<void>(chart.block("convesation")); }) ==
          "the chart has no block named 'convesation'; did you mean 'conversation'?");
    Runner runner = spawn(chart);
    CHECK_THROWS_AS(block(chart, runner, BlockId{5}), ChartError);
}
