#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/drill/drill.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/reload.hpp>

#include "support/play.hpp"
#include "support/random_chart.hpp"

using namespace cursimeter;
using namespace support;

namespace {

ChartSpec first_version() {
    ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    spec.actions.push_back({.name = "crouch", .press = PressMode::toggle});
    spec.meters.push_back({.name = "broth", .capacity = 10.0});
    spec.cooldowns = {{.name = "dash", .seconds = 2.0, .charges = 3}};
    StateSpec dash;
    dash.name = "dash";
    dash.kind = StateKind::burst;
    dash.burst.speed = 10.0;
    dash.burst.seconds = 0.1;
    dash.cooldown = "dash";
    dash.enter = Condition{"crouch pressed"};
    spec.states.push_back(dash);
    spec.rank = {"dash", "sprint", "walk"};
    spec.modifiers = {{.name = "winded", .seconds = 5.0, .affects = {{.what = "speed", .times = 0.5}}},
                      {.name = "tide", .affects = {{.what = "speed", .times = 2.0}}}};
    spec.blocks = {{.name = "talk", .bans = {"sprint"}}, {.name = "stun", .bans = {"movement"}}};
    return spec;
}

}  // namespace

TEST_CASE("a chart that is the same but for its name goes on as if nothing had been") {
    const Chart before = compile(first_version());
    ChartSpec spec = first_version();
    spec.name = "bearer_two";
    const Chart after = compile(spec);
    for (const double at : {0.05, 1.0, 2.3, 9.0, 9.4}) {
        CAPTURE(at);
        Play a(before), b(before);
        for (Play* play : {&a, &b}) {
            play->intent.move = {1.0, 0.3};
            play->intent.hold(before.action("sprint"));
            play->until(at);
        }
        CarriedOver carried = carry_over(before, b.runner(), after);
        CHECK(carried.lost.empty());
        Play c(after);
        c.runner() = carried.runner;
        c.intent = b.intent;
        a.until(15.0);
        c.until(15.0);
        const glm::dvec3 apart = a.runner().position() - c.runner().position();
        CHECK(std::hypot(apart.x, apart.y) < 1e-6);
        CHECK(a.runner().state() == c.runner().state());
        CHECK(near(read_meter(before, a.runner(), MeterId{0}).level,
                   read_meter(after, c.runner(), MeterId{0}).level, 1e-4));
    }
}

TEST_CASE("everything is carried over by name, what the new chart lacks is listed") {
    const Chart before = compile(first_version());
    ChartSpec spec = first_version();
    // Another order, a smaller meter, fewer charges, things renamed.
    std::swap(spec.meters[0], spec.meters[1]);
    std::swap(spec.actions[0], spec.actions[1]);
    std::swap(spec.modifiers[0], spec.modifiers[1]);
    spec.meters[1].capacity = 40.0;
    spec.meters[1].spent.reset();
    spec.cooldowns[0].charges = 2;
    spec.modifiers[0].name = "current";
    spec.blocks = {{.name = "talk", .bans = {"sprint"}}};
    const Chart after = compile(spec);

    Play play(before);
    play.intent.hold(before.action("crouch"));
    play.until(0.3);
    play.intent.hold(before.action("sprint"));
    set_press_mode(play.runner(), before.action("sprint"), PressMode::toggle);
    REQUIRE(grant(before, play.runner(), before.modifier("winded"), {.source = 3, .strength = 0.5}));
    REQUIRE(grant(before, play.runner(), before.modifier("tide")));
    block(before, play.runner(), before.block("talk"));
    block(before, play.runner(), before.block("talk"));
    block(before, play.runner(), before.block("stun"));
    play.until(1.0);
    const double left = cooldown_left(before, play.runner(), CooldownId{0}).value;
    const CarriedOver carried = carry_over(before, play.runner(), after);
    Runner runner = carried.runner;
    CHECK(carried.lost == std::vector<std::string>{"modifier 'tide' is not in the new chart",
                                                   "block 'stun' is not in the new chart"});
    CHECK(runner.on(after.action("crouch")));
    CHECK(runner.press_mode(after.action("sprint")) == PressMode::toggle);
    CHECK(runner.press_mode(after.action("crouch")) == PressMode::toggle);
    CHECK(read_meter(after, runner, after.meter("stamina")).level == 40.0);
    CHECK(read_meter(after, runner, after.meter("broth")).level == 10.0);
    CHECK(read_cooldown(after, runner, CooldownId{0}).charges == 1);
    CHECK(near(cooldown_left(after, runner, CooldownId{0}).value, left, 1e-6));
    CHECK(read_modifier(after, runner, after.modifier("winded")).strength == 0.5);
    CHECK_FALSE(read_modifier(after, runner, after.modifier("current")).active);
    CHECK(blocked(after, runner, after.block("talk")) == 2);
    CHECK(remove(after, runner, after.modifier("winded"), 3));
    CHECK_THROWS_AS(static_cast<void>(carry_over(after, play.runner(), before)), ChartError);
}

TEST_CASE("a runner in a state that is gone goes on in the first that may be") {
    const Chart before = compile(first_version());
    ChartSpec spec = first_version();
    spec.states.pop_back();
    spec.rank = {"sprint", "walk"};
    const Chart after = compile(spec);
    Play play(before);
    play.intent.move = {1.0, 0.0};
    play.intent.hold(before.action("crouch"));
    play.until(0.05);
    REQUIRE(play.runner().state() == before.state("dash"));
    const CarriedOver carried = carry_over(before, play.runner(), after);
    CHECK(carried.lost == std::vector<std::string>{"state 'dash' is not in the new chart: 'walk' instead"});
    Play next(after);
    next.runner() = carried.runner;
    next.intent = play.intent;
    next.until(1.0);
    CHECK(next.runner().state() == after.state("walk"));
    CHECK(near(next.runner().speed(), 2.4, 1e-9));
}

TEST_CASE("a chart in another order of everything goes on in the same way, whatever the runner was doing") {
    for (unsigned seed = 1; seed <= 150; ++seed) {
        CAPTURE(seed);
        RandomChart random(seed);
        const ChartSpec spec = random.chart();
        const DrillSpec steps = random.drill(spec, 4.0);
        ChartSpec turned = spec;
        std::reverse(turned.actions.begin(), turned.actions.end());
        std::reverse(turned.meters.begin(), turned.meters.end());
        std::reverse(turned.cooldowns.begin(), turned.cooldowns.end());
        std::reverse(turned.modifiers.begin(), turned.modifiers.end());
        std::reverse(turned.states.begin(), turned.states.end());
        const Chart chart = compile(spec), other = compile(turned);
        const Drill drill(steps, chart), again(steps, other);
        Runner runner = drill.spawn(chart);
        DrillPlayer player(drill, runner), other_player(again, runner);
        const double dt = 1.0 / 60.0;
        const int change = 30 + static_cast<int>(seed % 90);
        for (int i = 0; i < change; ++i) {
            static_cast<void>(other_player.intent(i * dt, (i + 1) * dt));
            static_cast<void>(advance(chart, runner, player.intent(i * dt, (i + 1) * dt), Seconds{dt}));
        }
        const CarriedOver stays = carry_over(chart, runner, chart), goes = carry_over(chart, runner, other);
        REQUIRE(goes.lost.empty());
        Runner one = stays.runner, two = goes.runner;
        for (int i = change; i < 238; ++i) {
            static_cast<void>(advance(chart, one, player.intent(i * dt, (i + 1) * dt), Seconds{dt}));
            static_cast<void>(advance(other, two, other_player.intent(i * dt, (i + 1) * dt), Seconds{dt}));
            REQUIRE(goes.ids(one.state()) == two.state());
            const glm::dvec3 apart = one.position() - two.position();
            REQUIRE(std::hypot(apart.x, apart.y, apart.z) <= 1e-6);
            for (std::uint8_t m = 0; m < chart.meter_count(); ++m) {
                REQUIRE(near(read_meter(chart, one, MeterId{m}).level,
                             read_meter(other, two, *goes.ids(MeterId{m})).level, 1e-6));
            }
        }
    }
}
