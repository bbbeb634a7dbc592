#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "support/bearer.hpp"
#include "support/worlds.hpp"

using namespace support;

/// States whose speed is 0 in some direction or in all: bracing, aiming, a turret. Whatever the look does, they stand.
namespace {

const std::vector<GainSpec> every_law{GainSpec{},
                                      ramp(12.0, 16.0, 10.0),
                                      ease(0.2, 0.1, 0.15),
                                      curve({{0.0, 0.0}, {0.2, 0.5}, {0.5, 1.0}}, {{0.0, 1.0}, {0.4, 0.0}}),
                                      at_once(ramp(12.0, 16.0, 10.0)),
                                      at_once(ease(0.2, 0.1, 0.15))};

bool is_number(const Runner& runner) {
    const glm::dvec3 at = runner.position(), velocity = runner.velocity();
    return std::isfinite(at.x + at.y + at.z + velocity.x + velocity.y + velocity.z + runner.speed() +
                         runner.distance());
}

ChartSpec one_state(StateKind kind, SpeedSpec speed, const GainSpec& gain) {
    ChartSpec spec = walker(speed, gain);
    spec.states[0].kind = kind;
    return spec;
}

}  // namespace

TEST_CASE("who has no speed stands, whatever the mouse does") {
    for (const StateKind kind : {StateKind::ground, StateKind::fly}) {
        for (const GainSpec& law : every_law) {
            if (law.law == GainLaw::curve) {
                continue;  // is a fraction of a forward speed, and refused without one
            }
            const Chart chart = compile(one_state(kind, {.forward = 0.0, .side = 0.0, .back = 0.0}, law));
            const CourseTerrain floor(Course(floor_only()), chart);
            for (const bool in_world : {false, true}) {
                Runner runner = spawn(chart);
                Intent intent;
                intent.move = {1.0, 0.5};
                for (int tick = 0; tick < 120; ++tick) {
                    intent.look = {0.02 * tick, 0.01 * (tick % 40)};
                    static_cast<void>(in_world ? advance(chart, runner, intent, floor, Seconds{1.0 / 60.0})
                                               : advance(chart, runner, intent, Seconds{1.0 / 60.0}));
                    REQUIRE(is_number(runner));
                }
                CHECK(runner.distance() == 0.0);
                CHECK(runner.speed() == 0.0);
            }
        }
    }
}

TEST_CASE("speeds of 0 in some directions: all stay numbers, under restless hands") {
    std::mt19937 random(3);
    const auto one_in = [&](unsigned count) { return random() % count == 0; };
    for (const StateKind kind : {StateKind::ground, StateKind::fly, StateKind::air}) {
        for (const GainSpec& law : every_law) {
            for (unsigned speeds = 0; speeds < 8; ++speeds) {
                ChartSpec spec = one_state(kind,
                                           {.forward = (speeds & 1U) != 0 ? 3.0 : 0.0,
                                            .side = (speeds & 2U) != 0 ? 2.0 : 0.0,
                                            .back = (speeds & 4U) != 0 ? 1.0 : 0.0},
                                           law);
                if (kind == StateKind::air) {
                    spec = walker({.forward = 3.0}, law);
                    spec.states.push_back(one_state(kind, {.forward = speeds * 0.5}, GainSpec{}).states[0]);
                    spec.states[1].name = "fall";
                    spec.states[1].enter = Condition{"not grounded"};
                    spec.rank = {"fall", "walk"};
                }
                if (law.law == GainLaw::curve && !(*spec.states[0].speed.forward > 0.0)) {
                    continue;
                }
                const Chart chart = compile(spec);
                const CourseTerrain floor(Course(floor_only()), chart);
                for (const bool in_world : {false, true}) {
                    CAPTURE(static_cast<int>(kind), speeds, in_world);
                    Runner runner = spawn(chart, {{0.0, 0.0, kind == StateKind::air ? 5.0 : 0.0}, 0.0});
                    Intent intent;
                    for (int tick = 0; tick < 300; ++tick) {
                        if (one_in(10)) {
                            const double sticks[] = {-1.0, 0.0, 0.0, 0.5, 1.0};
                            intent.move = {sticks[random() % 5], sticks[random() % 5]};
                        }
                        intent.look.yaw += one_in(20) ? 1.5 : 0.01;
                        intent.look.pitch = one_in(2) ? 0.3 : 0.0;
                        static_cast<void>(in_world
                                              ? advance(chart, runner, intent, floor, Seconds{1.0 / 60.0})
                                              : advance(chart, runner, intent, Seconds{1.0 / 60.0}));
                        REQUIRE(is_number(runner));
                    }
                }
            }
        }
    }
}
