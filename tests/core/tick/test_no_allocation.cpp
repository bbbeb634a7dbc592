#include <catch2/catch.hpp>
#include <cursimeter/controls/controls.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/show/blend.hpp>
#include <cursimeter/show/body_facing.hpp>
#include <cursimeter/show/observers.hpp>
#include <cursimeter/show/present.hpp>

#include "game_mover.hpp"
#include "support/all_ways.hpp"
#include "support/counting_new.hpp"
#include "support/worlds.hpp"

using namespace support;

TEST_CASE("advance allocates nothing, over 100,000 ticks of every kind") {
    ChartSpec spec = bearer(ease(0.1, 0.2, 0.3));
    spec.states[1].drain_per_metre = {{"stamina", 0.3}};
    spec.states[1].gain = curve({{0.0, 0.0}, {0.5, 1.0}}, {{0.0, 1.0}, {0.2, 0.0}});
    const Chart chart = compile(spec);
    const ActionId sprint = chart.action("sprint");
    Runner runner = spawn(chart);
    IntentBuilder input;
    std::size_t events = 0;
    const std::size_t before = allocations();
    for (int i = 0; i < 100000; ++i) {
        if (i % 37 == 0) {
            input.press(sprint, 0.003);
        }
        if (i % 37 == 20) {
            input.release(sprint, 0.004);
        }
        input.look_to({.yaw = 0.001 * i, .pitch = 0.0}, 0.001);
        input.move_to({.forward = i % 100 < 80 ? 1.0 : 0.0, .side = 0.001 * (i % 300)}, 0.002);
        const Report report = advance(chart, runner, input.intent(), Seconds{1.0 / 60.0});
        events += report.event_count;
        input.next_tick();
    }
    const std::size_t after = allocations();
    CHECK(after == before);
    CHECK(events > 5000);
    // The counter itself works.
    void* probe = ::operator new(3);  // a plain call, which no compiler may leave out
    CHECK(allocations() == after + 1);
    ::operator delete(probe);
}

TEST_CASE("advance, propose and settle allocate nothing in a world") {
    const Chart chart = compile(all_ways());
    CourseSpec spec = floor_only();
    spec.boxes.push_back({{4.0, -3.0, 0.0}, {8.0, 3.0, 0.3}, Degrees{20.0}});
    spec.walls.push_back({{-10.0, 2.0, 0.0}, {20.0, 2.0, 0.0}, 5.0, 0.3});
    spec.platforms.push_back({{3.0, 3.0, 0.4}, {{0.0, -6.0, 0.5}, {8.0, -6.0, 2.0}}, 2.0, 0.0});
    const Course course(spec);
    CourseTerrain terrain(course, chart);
    const GameMover mover(terrain, Seconds{1.0 / 60.0});
    Runner runner = spawn(chart), moved_by_game = runner;
    Contacts contacts;
    IntentBuilder input;
    std::size_t events = 0;
    const std::size_t before = allocations();
    for (int i = 0; i < 20000; ++i) {
        const ActionId action{static_cast<std::uint8_t>(i / 31 % 5)};
        if (i % 31 == 0) {
            input.press(action, 0.003);
        }
        if (i % 31 == 17) {
            input.release(action, 0.002);
        }
        input.look_to({.yaw = 0.01 * (i / 50), .pitch = 0.2}, 0.001);
        input.move_to({.forward = i % 100 < 80 ? 1.0 : 0.0, .side = 0.0}, 0.002);
        terrain.set_time(i / 60.0);
        const Report report = advance(chart, runner, input.intent(), terrain, Seconds{1.0 / 60.0});
        const Plan plan = propose(chart, moved_by_game, input.intent(), contacts, Seconds{1.0 / 60.0});
        const glm::dvec3 moved = mover.move(plan, moved_by_game.position(), contacts);
        events += report.event_count + settle(chart, moved_by_game, plan, moved, contacts).event_count;
        input.next_tick();
    }
    CHECK(allocations() == before);
    CHECK(events > 2000);
}

TEST_CASE("grants, bans, spending, controls and what is shown allocate nothing") {
    ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    spec.states[0].stride = 0.7;
    spec.modifiers = {
        {.name = "winded", .seconds = 0.5, .fade_out = 0.3, .affects = {{.what = "speed", .times = 0.5}}},
        {.name = "pull",
         .most = 4,
         .while_holds = Condition{"sprint on"},
         .build = 0.1,
         .shed = 0.1,
         .affects = {{.what = "speed", .adds = 0.5}}}};
    spec.blocks = {{.name = "talk", .bans = {"sprint"}}};
    const Chart chart = compile(spec);
    ControlsSpec settings;
    settings.name = "usual";
    settings.bindings = {{"sprint", {"key.shift"}}, {"move_forward", {"key.w"}}};
    Controls controls(chart, settings);
    const InputId shift = controls.input("key.shift"), forward_key = controls.input("key.w");
    Runner runner = spawn(chart);
    BodyFacing body(0.0, 3.0);
    Blend blend(runner.state());
    std::size_t steps = 0, modifiers = 0;
    const auto count = [](void* context, const Chart&, const Runner&, const Event&) {
        ++*static_cast<std::size_t*>(context);
    };
    Observers observers;
    REQUIRE(observers.add(EventKind::footstep, count, &steps));
    REQUIRE(observers.add(EventKind::stacked, count, &modifiers));
    const std::size_t before = allocations();
    for (int i = 0; i < 20000; ++i) {
        if (i % 50 == 0) {
            controls.press(forward_key, 0.001);
            controls.press(shift, 0.002);
            static_cast<void>(grant(chart, runner, ModifierId{0}));
            static_cast<void>(try_spend(chart, runner, MeterId{0}, 5.0));
        }
        if (i % 50 == 30) {
            controls.release(shift, 0.003);
            static_cast<void>(remove(chart, runner, ModifierId{0}));
        }
        static_cast<void>(i % 120 == 0 ? block(chart, runner, BlockId{0}) : 0);
        static_cast<void>(i % 120 == 60 ? unblock(chart, runner, BlockId{0}) : 0);
        controls.turn(i % 7 - 3.0, 0.0);
        const Report report = advance(chart, runner, controls.intent(), Seconds{1.0 / 60.0});
        controls.next_tick(Seconds{1.0 / 60.0});
        observers.tell(chart, runner, report);
        blend.follow(report);
        body.follow(runner, Facing::movement, Seconds{1.0 / 60.0});
        static_cast<void>(present(chart, runner));
        static_cast<void>(read_speed(chart, runner));
        static_cast<void>(could_enter(chart, runner, StateId{1}));
    }
    CHECK(allocations() == before);
    CHECK(steps > 500);
    CHECK(modifiers > 500);
}
