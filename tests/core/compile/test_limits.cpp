#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/reload.hpp>

#include "support/full_chart.hpp"
#include "support/play.hpp"

using namespace cursimeter;
using namespace support;

namespace {

std::uint8_t last(std::size_t limit) {
    return static_cast<std::uint8_t>(limit - 1);
}

}  // namespace

TEST_CASE("a full chart compiles, and every state of it can be entered by its key") {
    const ChartSpec spec = full_chart();
    const Chart chart = compile(spec);
    CHECK(chart.state_count() == limits::states);
    Play play(chart);
    for (std::size_t i = 1; i < limits::states; ++i) {
        CAPTURE(i);
        play.intent.move = {i % 2 == 0 ? 1.0 : 0.0, 0.0};
        play.intent.held = key_bit(ActionId{static_cast<std::uint8_t>(i / 2)});
        play.until(play.runner().clock().value + 0.5);
        CHECK(chart.name(play.runner().state()) == numbered("s", i));
        CHECK(play.last_change().find(numbered("s", i)) == 0);
        CHECK(play.runner().speed() == (i % 2 == 0 ? 1.0 + 0.125 * static_cast<double>(i) : 0.0));
    }
    ChartSpec more = spec;
    more.states.back().stay->any_of[0].push_back("speed < 101");
    CHECK(complaint([&] { static_cast<void>(compile(more)); }) ==
          "states: the conditions read 257 different comparisons and latches; there can be 256: take 1 "
          "out, or let one do the work of several");
}

TEST_CASE("many alternatives of many states are all tried") {
    // 64 states with 18 clauses each: 64 x 63 x 18 attempts, more than 16 bits can count.
    ChartSpec spec = full_chart();
    for (std::size_t i = 1; i < limits::states; ++i) {
        StateSpec& state = spec.states[i];
        std::vector<std::string> clause = state.enter->any_of[0];
        clause.resize(2);  // its key, moving or not
        state.stay = Condition({clause});
        std::vector<std::string> never = clause;
        never.push_back("speed > 101");
        state.enter->any_of.assign(17, never);
        state.enter->any_of.push_back(clause);
    }
    const Chart chart = compile(spec);
    Play play(chart);
    for (std::size_t i = 1; i < limits::states; ++i) {
        CAPTURE(i);
        play.intent.move = {i % 2 == 0 ? 1.0 : 0.0, 0.0};
        play.intent.held = key_bit(ActionId{static_cast<std::uint8_t>(i / 2)});
        play.until(play.runner().clock().value + 0.5);
        CHECK(chart.name(play.runner().state()) == numbered("s", i));
    }
}

TEST_CASE("the last of each kind works as the first does, at any tick length") {
    const Chart chart = compile(full_chart());
    const MeterId meter{last(limits::meters)};
    const CooldownId cooldown{last(limits::cooldowns)};
    const BlockId ban{last(limits::blocks)};
    const StateId state{last(limits::states)};
    for (const double dt : tick_lengths) {
        CAPTURE(dt);
        Play play(chart, dt);
        play.intent.held = key_bit(ActionId{last(limits::actions)});
        play.until(2.0);
        CHECK(play.runner().state() == state);
        CHECK(near(read_meter(chart, play.runner(), meter).level, 84.0, 1e-9));  // 8 a second
        CHECK_FALSE(read_cooldown(chart, play.runner(), cooldown).ready);
        CHECK(block(chart, play.runner(), ban) == 1);
        play.until(2.5);
        CHECK(play.runner().state() != state);
        CHECK(play.last_change() == "s0: blocked: b15");
        CHECK(unblock(chart, play.runner(), ban) == 0);
        play.intent.held = 0;
        play.until(4.9);
        play.intent.held = key_bit(ActionId{last(limits::actions)});
        play.until(4.99);
        CHECK(play.runner().state() != state);  // waits for its cooldown
        play.until(5.1);
        CHECK(play.runner().state() == state);
        for (std::uint8_t i = 0; i < limits::modifiers; ++i) {
            const auto kind = static_cast<std::uint8_t>(limits::modifier_kinds - 1 - i);
            CHECK(grant(chart, play.runner(), ModifierId{kind}));
        }
        CHECK_FALSE(grant(chart, play.runner(), ModifierId{0}));
        CHECK(near(read_speed(chart, play.runner()).target, 0.0, 1e-12));
        play.intent.move = {1.0, 0.0};
        play.until(6.0);
        CHECK(play.runner().speed() == 1.0 + 0.125 * (last(limits::states) + limits::modifiers));
    }
}

TEST_CASE("a runner of a full chart is carried over to another order of everything") {
    const ChartSpec spec = full_chart();
    const Chart chart = compile(spec);
    ChartSpec other = spec;
    std::reverse(other.actions.begin(), other.actions.end());
    std::reverse(other.meters.begin(), other.meters.end());
    std::reverse(other.cooldowns.begin(), other.cooldowns.end());
    std::reverse(other.modifiers.begin(), other.modifiers.end());
    std::reverse(other.blocks.begin(), other.blocks.end());
    std::reverse(other.states.begin(), other.states.end());
    const Chart turned = compile(other);
    Play play(chart);
    play.intent.held = key_bit(chart.action("a31"));
    play.until(2.0);
    REQUIRE(block(chart, play.runner(), chart.block("b3")) == 1);
    REQUIRE(grant(chart, play.runner(), chart.modifier("k2")));
    const CarriedOver carried = carry_over(chart, play.runner(), turned);
    CHECK(carried.lost.empty());
    Runner now = carried.runner;
    CHECK(turned.name(now.state()) == "s63");
    CHECK(now.on(turned.action("a31")));
    CHECK(read_meter(turned, now, turned.meter("m11")).level ==
          read_meter(chart, play.runner(), chart.meter("m11")).level);
    CHECK_FALSE(read_cooldown(turned, now, turned.cooldown("c15")).ready);
    CHECK(blocked(turned, now, turned.block("b3")) == 1);
    CHECK(remove(turned, now, turned.modifier("k2")));
}
