#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/crowd.hpp>
#include <cursimeter/effects.hpp>
#include <functional>
#include <map>

#include "support/all_ways.hpp"
#include "support/beside.hpp"
#include "support/counting_world.hpp"
#include "support/modifiers.hpp"
#include "support/worlds.hpp"

using namespace support;

/// What a game does to a runner between two ticks counts from the next tick on, whatever the hands do: a mouse that moves in every
/// tick is no reason to look at it later.
namespace {

Chart chart_of_changes() {
    ChartSpec spec = all_ways();
    spec.modifiers = {modifier("haste", 5.0, 1.5), modifier("mire", std::nullopt, 0.5)};
    spec.blocks = {{.name = "rooted", .bans = {"movement"}}, {.name = "winded", .bans = {"sprint"}}};
    return compile(spec);
}

using Deed = std::function<void(const Chart&, Runner&)>;

/// All that a game can do, by the name of the call.
const std::map<std::string, Deed>& changes() {
    static const std::map<std::string, Deed> all{
        {"push that fades",
         [](const Chart&, Runner& runner) {
             push(runner, {.direction = {1.0, -1.0, 0.0}, .strength = 4.0, .seconds = 0.3});
         }},
        {"push at once",
         [](const Chart&, Runner& runner) {
             push(runner, {.direction = {0.0, 1.0, 0.0}, .strength = 4.0});
         }},
        {"push up", [](const Chart&, Runner& runner) { push(runner, {.strength = 5.0, .lift = 1.0}); }},
        {"push that locks",
         [](const Chart&, Runner& runner) {
             push(runner, {.strength = 4.0, .seconds = 0.3, .locks = true});
         }},
        {"try_spend",
         [](const Chart& chart, Runner& runner) {
             CHECK(try_spend(chart, runner, chart.meter("stamina"),
                             read_meter(chart, runner, chart.meter("stamina")).level));
         }},
        {"grant of a meter",
         [](const Chart& chart, Runner& runner) { grant(chart, runner, chart.meter("stamina"), 50.0); }},
        {"grant of a modifier",
         [](const Chart& chart, Runner& runner) { CHECK(grant(chart, runner, chart.modifier("haste"))); }},
        {"remove",
         [](const Chart& chart, Runner& runner) {
             CHECK(remove(chart, runner, chart.modifier("mire"), 0, Removal::at_once));
         }},
        {"try_use",
         [](const Chart& chart, Runner& runner) { CHECK(try_use(chart, runner, chart.cooldown("dash"))); }},
        {"block of movement",
         [](const Chart& chart, Runner& runner) { block(chart, runner, chart.block("rooted")); }},
        {"block of an action",
         [](const Chart& chart, Runner& runner) { block(chart, runner, chart.block("winded")); }},
        {"hold_action", [](const Chart& chart,
                           Runner& runner) { hold_action(chart, runner, chart.action("crouch"), true); }},
        {"force_state",
         [](const Chart& chart, Runner& runner) { force_state(chart, runner, chart.state("jump")); }},
        {"set_press_mode",
         [](const Chart& chart, Runner& runner) {
             set_press_mode(runner, chart.action("sprint"), PressMode::toggle);
         }},
        {"place",
         [](const Chart& chart, Runner& runner) {
             place(chart, runner, {{3.0, 4.0, 0.0}, 1.0});
         }},
    };
    return all;
}

/// A runner that turns in every tick, after a second of it.
struct Hands {
    Intent intent;
    explicit Hands(bool sprints, const Chart& chart) {
        intent.move = {1.0, 0.2};
        intent.held = sprints ? key_bit(chart.action("sprint")) : 0U;
    }
    const Intent& next() {
        intent.look.yaw += 0.013;
        return intent;
    }
};

void check_alike(const Chart& chart, const Runner& one, const Runner& other) {
    const glm::dvec3 apart = one.position() - other.position(), faster = one.velocity() - other.velocity();
    CHECK(near(apart.x, 0.0, 1e-8));
    CHECK(near(apart.y, 0.0, 1e-8));
    CHECK(near(apart.z, 0.0, 1e-8));
    CHECK(near(faster.x, 0.0, 1e-8));
    CHECK(near(faster.y, 0.0, 1e-8));
    CHECK(near(faster.z, 0.0, 1e-8));
    CHECK(chart.name(one.state()) == chart.name(other.state()));
    CHECK(near(read_meter(chart, one, chart.meter("stamina")).level,
               read_meter(chart, other, chart.meter("stamina")).level, 1e-9));
}

}  // namespace

TEST_CASE("under a mouse what a game does to a runner counts from the next tick on") {
    const Chart chart = chart_of_changes();
    const CourseTerrain course(Course{floor_only()}, chart);
    const CountingWorld silent(course);
    const Seconds dt{1.0 / 60.0};
    for (const Terrain* terrain : {static_cast<const Terrain*>(nullptr), static_cast<const Terrain*>(&course),
                                   static_cast<const Terrain*>(&silent)}) {
        const auto go = [&](Runner& runner, const Intent& intent) {
            return terrain != nullptr ? advance(chart, runner, intent, *terrain, dt)
                                      : advance(chart, runner, intent, dt);
        };
        for (const bool sprints : {false, true}) {
            for (const auto& [name, change] : changes()) {
                CAPTURE(name, sprints, terrain == &course, terrain == &silent);
                Hands hands(sprints, chart);
                Runner runner = spawn(chart);
                REQUIRE(grant(chart, runner, chart.modifier("mire")));
                for (int tick = 0; tick < 60; ++tick) {
                    static_cast<void>(go(runner, hands.next()));
                }
                change(chart, runner);
                for (int tick = 0; tick < 30; ++tick) {
                    CAPTURE(tick);
                    Intent same = hands.next();
                    const cursimeter::Change nothing = cursimeter::Change::look_to(same.look, 0.0);
                    Runner plain = runner;
                    const Report one = go(runner, same);
                    same.changes = std::span(&nothing, 1);
                    const Report two = go(plain, same);
                    CHECK(are_alike(one, two));
                    check_alike(chart, runner, plain);
                }
            }
        }
    }
}

TEST_CASE("under a mouse what a game does to a runner of a crowd counts from the next tick on") {
    const Chart chart = chart_of_changes();
    const Seconds dt{1.0 / 60.0};
    for (const auto& [name, deed] : changes()) {
        const Deed& change = deed;
        CAPTURE(name);
        Hands hands(true, chart);
        Crowd crowd(chart);
        crowd.add(spawn(chart));
        crowd.add(spawn(chart));
        crowd.change(0, [&](Runner& runner) { REQUIRE(grant(chart, runner, chart.modifier("mire"))); });
        Runner alone = crowd.runner(0);
        std::vector<Intent> intents(2);
        CrowdReport report;
        const auto step = [&] {
            intents[0] = intents[1] = hands.next();
            Intent same = intents[0];
            const cursimeter::Change nothing = cursimeter::Change::look_to(same.look, 0.0);
            same.changes = std::span(&nothing, 1);
            advance_all(crowd, intents, dt, report);
            static_cast<void>(advance(chart, alone, same, dt));
        };
        for (int tick = 0; tick < 60; ++tick) {
            step();
        }
        crowd.change(0, [&](Runner& runner) { change(chart, runner); });
        change(chart, alone);
        for (int tick = 0; tick < 10; ++tick) {
            CAPTURE(tick);
            step();
            const Runner one = crowd.runner(0);
            const glm::dvec3 apart = one.position() - alone.position();
            CHECK(near(apart.x, 0.0, 1e-6));
            CHECK(near(apart.y, 0.0, 1e-6));
            CHECK(near(apart.z, 0.0, 1e-6));
            CHECK(chart.name(one.state()) == chart.name(alone.state()));
        }
    }
}
