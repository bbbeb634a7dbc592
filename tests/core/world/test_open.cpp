#include <catch2/catch.hpp>
#include <cmath>
#include <limits>

#include "support/all_ways.hpp"
#include "support/beside.hpp"
#include "support/counting_world.hpp"
#include "support/deeds.hpp"
#include "support/random_chart.hpp"
#include "support/restless_hands.hpp"
#include "support/worlds.hpp"

using namespace support;

/// A world that says where it is open is asked nothing else there, and the run is the same.
namespace {

/// A floor with low crates, so far apart that half of the way is open, with mud, a slope and a lift.
CourseSpec scattered() {
    CourseSpec spec = floor_only();
    for (int i = 0; i < 400; ++i) {
        const double x = 8.0 * (i % 20 - 10), y = 8.0 * (i / 20.0 - 10.0);
        spec.boxes.push_back({{x, std::round(y), 0.0},
                              {x + 2.0, std::round(y) + 2.0, 0.25 * (i % 5 + 1)},
                              Degrees{9.0 * (i % 7)}});
    }
    spec.ramps.push_back({{4.0, 4.0, 0.0}, {12.0, 4.0, 2.0}, 3.0, 0.5});
    ZoneSpec mud;
    mud.kind = "mud";
    mud.from = {-6.0, -20.0, -1.0};
    mud.to = {-2.0, 20.0, 2.0};
    mud.pace = 0.5;
    spec.zones.push_back(mud);
    spec.platforms.push_back({{4.0, 4.0, 0.5}, {{-12.0, 0.0, 0.5}, {-12.0, 0.0, 4.0}}, 1.5, 0.0});
    return spec;
}

struct Told {
    int ticks = 0, quiet = 0;  ///< quiet: in which nothing but an open box was asked for
};

/// Each tick with a world that says where it is open, and with one that does not.
void compare_worlds(const Chart& chart, const Course& course, unsigned seed, double rate, Told& all) {
    CourseTerrain terrain(course, chart);
    CountingWorld telling(terrain, true), silent(terrain, false);
    RestlessHands hands(chart, seed);
    Deeds deeds(seed);
    Runner runner = spawn(chart, {{0.0, 0.0, 3.0}, 0.0});
    const Seconds dt{1.0 / rate};
    CAPTURE(seed, rate);
    for (int tick = 0; tick * dt.value < 10.0; ++tick) {
        const Intent intent = hands.next(dt.value);
        deeds.perhaps(chart, runner, dt);
        terrain.set_time(runner.clock().value);
        telling.forget();
        Runner other = runner;
        const Report one = advance(chart, runner, intent, telling, dt),
                     two = advance(chart, other, intent, silent, dt);
        ++all.ticks;
        all.quiet +=
            telling.open_questions > 0 && telling.sweeps + telling.overlaps + telling.zone_questions == 0 ? 1
                                                                                                          : 0;
        const glm::dvec3 apart = runner.position() - other.position(),
                         faster = runner.velocity() - other.velocity();
        const double far = std::max({std::fabs(apart.x), std::fabs(apart.y), std::fabs(apart.z),
                                     std::fabs(faster.x), std::fabs(faster.y), std::fabs(faster.z)});
        // A way of several chords adds up in another order.
        if (!are_alike(one, two) || runner.state() != other.state() || !(far < 1e-8)) {
            FAIL_CHECK("at " << runner.clock().value << " s they part by " << far << " in "
                             << chart.name(runner.state()) << ", " << chart.name(other.state()));
            return;
        }
    }
}

/// A world with a floor at 0 that tells an untruth of it.
class Lying final : public Terrain {
  public:
    Lying(const Terrain& world, LevelFloor told) : world_(world), told_(told) {}
    [[nodiscard]] bool sweep(const Sweep& sweep, Hit& hit) const noexcept override {
        return world_.sweep(sweep, hit);
    }
    [[nodiscard]] bool overlap(const Capsule& body, const glm::dvec3& feet, double at,
                               Overlap& overlap) const noexcept override {
        return world_.overlap(body, feet, at, overlap);
    }
    [[nodiscard]] bool is_open(const glm::dvec3&, const glm::dvec3&,
                               LevelFloor& floor) const noexcept override {
        floor = told_;
        return true;
    }

  private:
    const Terrain& world_;
    LevelFloor told_;
};

}  // namespace

TEST_CASE("a world that says where it is open gives the same run as one that does not") {
    ChartSpec spec = all_ways();
    spec.zones = {"mud"};
    const Chart chart = compile(spec);
    const Course course{scattered()};
    Told all;
    for (const double rate : {10.0, 20.0, 60.0, 144.0}) {
        for (unsigned seed = 1; seed <= 8; ++seed) {
            compare_worlds(chart, course, seed, rate, all);
        }
    }
    for (unsigned seed = 1; seed <= 60; ++seed) {
        compare_worlds(compile(RandomChart(seed).chart()), course, seed, seed % 2 == 0 ? 60.0 : 25.0, all);
    }
    CHECK(all.ticks > 40000);
    CHECK(all.quiet * 3 > all.ticks);
}

TEST_CASE("on an open floor a tick asks the world for one box, and the body stays a skin above it") {
    const Chart chart = compile(all_ways());
    const CourseTerrain floor(Course{floor_only()}, chart);
    CountingWorld world(floor, true);
    Runner runner = spawn(chart);
    Intent intent;
    intent.move.forward = 1.0;
    for (int tick = 0; tick < 600; ++tick) {
        world.forget();
        intent.look.yaw += 0.02 * std::sin(0.1 * tick);
        static_cast<void>(advance(chart, runner, intent, world, Seconds{1.0 / 60.0}));
        if (tick > 60) {
            CAPTURE(tick);
            REQUIRE(world.open_questions == 1);
            REQUIRE(world.sweeps + world.overlaps + world.zone_questions + world.motion_questions == 0);
            REQUIRE(near(runner.position().z, 1e-4, 1e-12));
        }
    }
    CHECK(runner.distance() > 20.0);
}

TEST_CASE("a world that is wrong about its floor does no harm to who stands on the true one") {
    const Chart chart = compile(all_ways());
    const CourseTerrain floor(Course{floor_only()}, chart);
    constexpr double infinite = std::numeric_limits<double>::infinity();
    for (const double height : {std::nan(""), infinite, -infinite, 1e300, -0.5, 0.5, 1e-6}) {
        CAPTURE(height);
        const Lying world(floor, {height, 7});
        Runner runner = spawn(chart);
        Intent intent;
        intent.move.forward = 1.0;
        for (int tick = 0; tick < 60; ++tick) {
            static_cast<void>(advance(chart, runner, intent, world, Seconds{1.0 / 60.0}));
        }
        CHECK(std::isfinite(runner.position().x + runner.position().y + runner.position().z));
        CHECK(std::fabs(runner.speed()) < 100.0);
    }
}
