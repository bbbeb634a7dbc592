#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "support/all_ways.hpp"
#include "support/beside.hpp"
#include "support/counting_world.hpp"
#include "support/leaper.hpp"
#include "support/worlds.hpp"

using namespace support;

/// A tick in a world that nothing happens in goes one straight line. A change that changes nothing makes a tick take the plain
/// way instead: both must come to the same.
namespace {

/// A floor with steps, slopes, walls, low ceilings and mud, so near to one another that one is met every second or two.
CourseSpec crowded(unsigned seed) {
    std::mt19937 random(seed);
    const auto between = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    };
    CourseSpec spec;
    spec.name = "crowded";
    spec.boxes.push_back({{-60.0, -60.0, -1.0}, {60.0, 60.0, 0.0}, Degrees{0.0}});
    for (int i = 0; i < 120; ++i) {
        const double x = std::round(between(-50.0, 50.0)), y = std::round(between(-50.0, 50.0));
        const double high = between(0.0, 1.0) < 0.4 ? 0.25 : between(0.1, 2.5);
        spec.boxes.push_back(
            {{x, y, 0.0}, {x + between(0.5, 4.0), y + between(0.5, 4.0), high}, Degrees{between(0.0, 90.0)}});
    }
    for (int i = 0; i < 20; ++i) {
        const double x = between(-50.0, 50.0), y = between(-50.0, 50.0);
        spec.ramps.push_back(
            {{x, y, 0.0}, {x + between(-6.0, 6.0), y + between(2.0, 6.0), between(0.5, 2.0)}, 3.0, 0.5});
        spec.ceilings.push_back({{y, x, 1.3}, {y + 3.0, x + 3.0, 1.3}, 0.3});
    }
    for (int i = 0; i < 10; ++i) {
        ZoneSpec mud;
        mud.kind = "mud";
        mud.from = {between(-50.0, 50.0), between(-50.0, 50.0), -1.0};
        mud.to = {mud.from[0] + 4.0, mud.from[1] + 4.0, 2.0};
        mud.pace = 0.5;
        spec.zones.push_back(mud);
    }
    return spec;
}

struct Outcome {
    int ticks = 0, states = 0, events = 0, moments = 0;
    double worst = 0.0;  ///< m between the places
    int hairs = 0;       ///< ticks in which they differ, and a millimetre decides
};

Outcome compare(const Chart& chart, const CourseSpec& course, double rate, unsigned seed) {
    std::mt19937 random(seed);
    const auto between = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    };
    const Course world{course};
    const CourseTerrain terrain(world, chart);
    Runner quick = spawn(chart, {{0.0, 0.0, 3.0}, 0.0});
    Intent intent;
    double keys = 0.0, turning = 0.0;
    Outcome outcome;
    const Seconds dt{1.0 / rate};
    for (int i = 0; i < 20.0 * rate; ++i) {
        if ((keys -= dt.value) <= 0.0) {
            keys = between(0.1, 0.5);
            intent.move = between(0.0, 1.0) < 0.15 ? Move{} : Move{between(-0.3, 1.0), between(-0.6, 0.6)};
            intent.held = between(0.0, 1.0) < 0.4 ? 0U
                                                  : static_cast<std::uint32_t>(random()) &
                                                        static_cast<std::uint32_t>(random()) & 31U;
            turning = between(0.0, 1.0) < 0.3 ? 0.0 : between(-2.0, 2.0);
        }
        intent.look.yaw += turning * dt.value;
        const Runner before = quick;
        Runner plain = quick;
        Intent same = intent;
        const Change nothing = Change::look_to(intent.look, 0.0);
        same.changes = std::span(&nothing, 1);
        const Report one = advance(chart, quick, intent, terrain, dt);
        const Report other = advance(chart, plain, same, terrain, dt);
        ++outcome.ticks;
        if (!are_alike(one, other) && is_hair(chart, before, same, terrain, dt, one, quick)) {
            ++outcome.hairs;
            continue;
        }
        const glm::dvec3 apart = quick.position() - plain.position();
        outcome.worst =
            std::max(outcome.worst, std::sqrt(apart.x * apart.x + apart.y * apart.y + apart.z * apart.z));
        outcome.states += quick.state() != plain.state() ? 1 : 0;
        outcome.events += are_alike(one, other) ? 0 : 1;
        for (std::size_t k = 0; k < std::min(one.event_count, other.event_count); ++k) {
            outcome.moments += std::fabs(one.event_table[k].at - other.event_table[k].at) > 1e-4 ? 1 : 0;
        }
    }
    return outcome;
}

}  // namespace

TEST_CASE("a straight tick in a world comes to what the plain one comes to") {
    ChartSpec spec = all_ways();
    spec.zones = {"mud"};
    for (StateSpec& state : spec.states) {
        state.stride = state.kind == StateKind::ground ? 0.7 : 0.0;
    }
    const Chart chart = compile(spec);
    Outcome all;
    for (const double rate : {20.0, 30.0, 60.0, 144.0}) {
        for (unsigned seed = 1; seed <= 6; ++seed) {
            CAPTURE(rate, seed);
            const Outcome outcome = compare(chart, crowded(seed), rate, seed);
            CHECK(outcome.states == 0);
            CHECK(outcome.events == 0);
            CHECK(outcome.moments == 0);
            CHECK(outcome.worst < 1e-4);  // the body's skin
            all.ticks += outcome.ticks;
            all.hairs += outcome.hairs;
        }
    }
    CHECK(all.ticks > 30000);
    CHECK(all.hairs * 10000 < all.ticks);  // one in 300,000, over more seeds
}

TEST_CASE("a platform far away changes no bit of a run, and one at hand carries") {
    const Chart chart = compile(all_ways());
    CourseSpec still = crowded(3), moving = crowded(3);
    const auto end_of = [&](const CourseSpec& course) {
        const CourseTerrain terrain(Course(course), chart);
        Runner runner = spawn(chart, {{0.0, 0.0, 3.0}, 0.0});
        Intent intent;
        intent.move = {1.0, 0.0};
        for (int i = 0; i < 600; ++i) {
            intent.look.yaw += i % 200 < 100 ? 0.02 : -0.03;
            intent.held = i % 90 < 5 ? 1U : 0U;
            static_cast<void>(advance(chart, runner, intent, terrain, Seconds{1.0 / 60.0}));
        }
        return digest(runner);
    };
    const auto lift = [](double x) {
        return PlatformSpec{{4.0, 4.0, 0.5}, {{x, 0.0, 0.5}, {x, 0.0, 4.0}}, 1.5, 0.0};
    };
    moving.platforms = {lift(300.0)};
    CHECK(end_of(moving) == end_of(still));
    CourseSpec carrying = floor_only();
    carrying.platforms = {lift(0.0)};
    CourseTerrain terrain(Course(carrying), chart);
    Runner runner = spawn(chart, {{0.0, 0.0, 0.6}, 0.0});
    for (int i = 0; i < 60; ++i) {
        terrain.set_time(i / 60.0);
        static_cast<void>(advance(chart, runner, Intent{}, terrain, Seconds{1.0 / 60.0}));
    }
    CHECK(near(runner.position().z, 2.0, 1e-3));  // 0.5 m + 1 s at 1.5 m/s
}

TEST_CASE("a world is asked for what moves once or twice a tick") {
    ChartSpec spec = all_ways();
    spec.zones = {"mud"};
    const Chart chart = compile(spec);
    const CourseTerrain course(Course(crowded(2)), chart);
    CountingWorld terrain(course);
    Runner runner = spawn(chart, {{0.0, 0.0, 3.0}, 0.0});
    Intent intent;
    intent.move = {1.0, 0.0};
    for (int i = 0; i < 6000; ++i) {
        intent.look.yaw += i % 300 < 150 ? 0.02 : -0.03;
        intent.held = i % 90 < 5 ? 1U : i % 400 < 30 ? 4U : 0U;
        terrain.forget();
        static_cast<void>(advance(chart, runner, intent, terrain, Seconds{1.0 / 60.0}));
        REQUIRE(terrain.motion_questions >= 1);
        REQUIRE(terrain.motion_questions <= 2);
    }
}

TEST_CASE("a tick in which nothing is met asks a world for two sweeps, once for zones and once for motion") {
    const Chart chart = compile(all_ways());
    const CourseTerrain floor(Course{floor_only()}, chart);
    CountingWorld world(floor);
    Runner runner = spawn(chart);
    Intent intent;
    intent.move.forward = 1.0;
    for (int tick = 0; tick < 300; ++tick) {
        world.forget();
        intent.look.yaw += 0.02 * std::sin(0.1 * tick);
        static_cast<void>(advance(chart, runner, intent, world, Seconds{1.0 / 60.0}));
        if (tick > 60) {
            CAPTURE(tick);
            REQUIRE(world.sweeps == 2);
            REQUIRE(world.overlaps == 0);
            REQUIRE(world.zone_questions == 1);
            REQUIRE(world.motion_questions == 1);
        }
    }
}

TEST_CASE("where much is met a world is asked for some two hundred sweeps in a tick at most") {
    const Chart chart = compile(all_ways());
    int most = 0;
    for (unsigned seed = 1; seed <= 6; ++seed) {
        const CourseTerrain terrain(Course{crowded(seed)}, chart);
        CountingWorld world(terrain);
        Runner runner = spawn(chart, {{0.0, 0.0, 3.0}, 0.0});
        std::mt19937 random(seed);
        Intent intent;
        for (int tick = 0; tick < 1200; ++tick) {
            world.forget();
            intent.move.forward = 1.0;
            intent.held = tick % 40 == 0 ? static_cast<std::uint32_t>(random()) & 31U : intent.held;
            intent.look.yaw += 0.03;
            static_cast<void>(advance(chart, runner, intent, world, Seconds{1.0 / 60.0}));
            most = std::max(most, world.sweeps);
        }
    }
    CHECK(most > 20);
    CHECK(most <= 250);
}
