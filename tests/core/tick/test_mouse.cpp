#include <catch2/catch.hpp>
#include <random>

#include "support/beside.hpp"
#include "support/deeds.hpp"
#include "support/random_chart.hpp"
#include "support/restless_hands.hpp"
#include "support/worlds.hpp"

using namespace support;

/// Random charts under a mouse that moves in every tick: each tick by whatever short way there is, and by the plain one, which
/// a change that changes nothing asks for.
namespace {

/// Blocks in any direction, a few of them in everybody's way.
CourseSpec blocks() {
    std::mt19937 random(4);
    const auto between = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    };
    CourseSpec spec;
    spec.name = "blocks";
    spec.boxes.push_back({{-500.0, -500.0, -1.0}, {500.0, 500.0, 0.0}, Degrees{0.0}});
    for (int i = 0; i < 900; ++i) {
        const double x = std::round(between(-120.0, 120.0)), y = std::round(between(-120.0, 120.0));
        const double right = x + between(0.5, 4.0), top = y + between(0.5, 4.0);
        const double high = between(0.0, 1.0) < 0.4 ? 0.25 : between(0.1, 2.5);
        spec.boxes.push_back({{x, y, 0.0}, {right, top, high}, Degrees{between(0.0, 90.0)}});
    }
    return spec;
}

struct Compared {
    int ticks = 0, hairs = 0;
};

/// Plays 12 s; with a terrain, in it.
void compare_ways(unsigned seed, const Course* course, Compared& all) {
    RandomChart dice(seed);
    const Chart chart = compile(dice.chart());
    std::optional<CourseTerrain> terrain;
    if (course != nullptr) {
        terrain.emplace(*course, chart);
    }
    const double rates[] = {20.0, 30.0, 60.0, 144.0, 240.0};
    const Seconds dt{1.0 / rates[seed % 5]};
    Seconds length = dt;
    const auto go = [&](Runner& runner, const Intent& intent) {
        return terrain ? advance(chart, runner, intent, *terrain, length)
                       : advance(chart, runner, intent, length);
    };
    RestlessHands hands(chart, seed);
    Deeds deeds(seed);
    CAPTURE(seed);
    Runner quick = spawn(chart, {{0.0, 0.0, terrain ? 3.0 : 0.0}, 0.0});
    for (int tick = 0; tick * dt.value < 12.0; ++tick) {
        // Now and then a tick of no length: what is due in its moment belongs to it.
        length = tick % 8 == 7 ? Seconds{0.0} : dt;
        Intent intent = hands.next(length.value);
        intent.look.yaw += tick % 8 == 7 ? 1e-3 : 0.0;
        Intent same = intent;
        const Change nothing = Change::look_to(intent.look, 0.0);
        same.changes = std::span(&nothing, 1);
        deeds.perhaps(chart, quick, dt);
        const Runner before = quick;
        Runner plain = quick;
        const Report one = go(quick, intent), other = go(plain, same);
        ++all.ticks;
        const glm::dvec3 apart = quick.position() - plain.position();
        const double far = std::sqrt(apart.x * apart.x + apart.y * apart.y + apart.z * apart.z);
        if (terrain && (!are_alike(one, other) || far > 2e-4) &&
            is_hair(chart, before, same, *terrain, length, one, quick)) {
            ++all.hairs;
            continue;
        }
        const double longer = std::fabs(quick.distance() - plain.distance());
        if (!are_alike(one, other) || quick.state() != plain.state() || far > (terrain ? 2e-4 : 1e-8) ||
            longer > (terrain ? 1e-3 : 1e-8)) {
            FAIL_CHECK("they part by " << far << " m, ways by " << longer << " m, states "
                                       << chart.name(quick.state()) << ", " << chart.name(plain.state()));
            return;
        }
    }
}

}  // namespace

TEST_CASE("under a mouse random charts go the short way to the same place on open ground") {
    Compared all;
    for (unsigned seed = 1; seed <= 250; ++seed) {
        compare_ways(seed, nullptr, all);
    }
    compare_ways(10402, nullptr, all);  // the ways of a flier's nods
    CHECK(all.ticks > 250000);
}

TEST_CASE("under a mouse random charts go the short way to the same place in a world") {
    const Course course{blocks()};
    Compared all;
    for (unsigned seed = 1; seed <= 150; ++seed) {
        compare_ways(seed, &course, all);
    }
    compare_ways(3269, &course, all);  // grazes a wall
    CHECK(all.ticks > 150000);
    CHECK(all.hairs * 10000 < all.ticks);
}
