#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "link/client/view_world.hpp"
#include "link/scene.hpp"

/// Views of others, while news of them are late, beside what is solid.
using namespace support;

namespace {

/// A yard with a wall across it at x = 20, of which there is a way round at y > 6; and a roof to fall on.
Course yard() {
    CourseSpec spec;
    spec.name = "yard";
    spec.boxes.push_back({.from = {-50, -50, -1}, .to = {100, 50, 0}});
    spec.boxes.push_back({.from = {20, -50, 0}, .to = {21, 6, 5}});
    return Course(spec);
}

/// How deep in a solid the second client showed the first, at most, m.
double deepest_view(bool with_world, double loss, std::uint64_t seed, bool pushed) {
    rehearsal::Plan plan;
    plan.clients = 2;
    plan.server.seats = 2;
    plan.seed = seed;
    plan.up.delay = plan.down.delay = Seconds{0.075};
    plan.down.loss = loss;
    plan.frame_rate = 60.0;
    rehearsal::Scene scene = hands_scene(1, 30.0, seed);
    scene.course = yard();
    rehearsal::Rehearsal game(scene, plan);
    CourseTerrain world(*scene.course, scene.chart);
    rehearsal::Random random(seed);
    game.before_tick([&](link::Server& server) {
        for (const link::RunnerKey key : server.runners()) {
            // Again and again it runs at the wall, and is thrown at it.
            if (server.now().value % 90 == 0) {
                server.teleport(
                    key, {{random.between(10.0, 17.0), random.between(-9.0, 9.0), random.between(0.0, 3.0)},
                          random.between(-1.0, 1.0)});
            }
            if (pushed && random.chance(0.03)) {
                push(server.runner(key), {.direction = {1.0, random.between(-0.5, 0.5), 0.0},
                                          .strength = random.between(3.0, 12.0),
                                          .lift = 0.2,
                                          .seconds = 0.6});
            }
        }
    });
    double deepest = 0.0;
    for (double time = 2.0; time < 25.0; time += 1.0 / 60.0) {
        game.run_until(time);
        link::Client& client = game.client(1);
        if (!with_world) {
            client.set_view_world(nullptr);
        }
        for (const link::RunnerKey key : client.others()) {
            const auto shown = client.shown(key);
            REQUIRE(shown);
            const Capsule body = scene.chart.body(shown->runner.state());
            Overlap overlap;
            // A little above the ground, which is told to a centimetre.
            if (shown->waiting && world.overlap({body.radius, body.height - 0.1},
                                                shown->position + glm::dvec3{0.0, 0.0, 0.1}, 0.0, overlap)) {
                deepest = std::max(deepest, overlap.depth);
            }
        }
    }
    return deepest;
}

}  // namespace

TEST_CASE("While news of others are late they are not carried into what is solid", "[long]") {
    double without = 0.0, with = 0.0;
    for (std::uint64_t seed = 1; seed <= 6; ++seed) {
        for (const bool pushed : {false, true}) {
            without = std::max(without, deepest_view(false, 0.3, seed, pushed));
            with = std::max(with, deepest_view(true, 0.3, seed, pushed));
        }
    }
    CAPTURE(without, with);
    CHECK(without > 0.4);
    CHECK(with < 0.08);
}

TEST_CASE(
    "A body that is kept out goes along what it meets, over what it can step on, and stands on floors") {
    const Course course = yard();
    const Chart& chart = bearer_chart();
    const CourseTerrain world(course, chart);
    const Capsule body{0.35, 1.8};
    const auto kept = [&](bool grounded, const glm::dvec3& from, const glm::dvec3& to) {
        return link::kept_out(world, body, grounded, 0.35, from, to);
    };
    // Straight at the wall: it stops before it. Aslant: the rest of the way leads along it.
    CHECK(kept(true, {18, 0, 0}, {22, 0, 0}).x == Approx(20.0 - 0.35).margin(0.05));
    const glm::dvec3 along = kept(true, {18, 0, 0}, {22, 2, 0});
    CHECK(along.x == Approx(19.65).margin(0.05));
    CHECK(along.y == Approx(2.0).margin(0.05));
    // In free air nothing is changed, to the bit, nor where there is a way round.
    CHECK(kept(true, {0, 0, 0}, {3, 1, 0}) == glm::dvec3(3, 1, 0));
    CHECK(kept(true, {18, 8, 0}, {23, 8, 0}) == glm::dvec3(23, 8, 0));
    // The ground is no wall for whoever walks on it, and stops whoever falls.
    CHECK(kept(true, {0, 0, 0.004}, {3, 0, -0.006}) == glm::dvec3(3, 0, -0.006));
    CHECK(kept(false, {0, 0, 2}, {1, 0, -3}).z == Approx(0.0).margin(0.08));
    CHECK(kept(false, {0, 0, 2}, {1, 0, -3}).x == Approx(1.0).margin(0.05));
    // A wall at 45 degrees: along it, in x and y alike.
    CourseSpec aslant;
    aslant.name = "aslant";
    aslant.boxes.push_back({.from = {4, -20, 0}, .to = {5, 20, 5}, .yaw = Degrees{45.0}});
    aslant.boxes.push_back(
        {.from = {-30, -5, 2.0}, .to = {-20, 5, 2.5}});  // a beam, two metres above the ground
    const Course yards(aslant);
    const CourseTerrain turned(yards, chart);
    const glm::dvec3 from{1, -1, 0};
    for (const glm::dvec3& way : {glm::dvec3{5, 0, 0}, glm::dvec3{5, 2, 0}, glm::dvec3{5, -2, 0}}) {
        const glm::dvec3 gone = link::kept_out(turned, body, true, 0.35, from, from + way) - from;
        // What leads along the wall, by (-1, 1, 0), is kept whole; the rest ends at it.
        CHECK(gone.y - gone.x == Approx(way.y - way.x).margin(0.05));
        CHECK(gone.x + gone.y == Approx(std::min(way.x + way.y, 4.5 - 0.82 * std::sqrt(2.0))).margin(0.05));
    }
    // Whoever is less high than the beam goes under it, standing or flying; whoever is higher does not.
    CHECK(link::kept_out(turned, body, true, 0.35, {-35, 0, 0}, {-25, 0, 0}).x == -25.0);
    CHECK(link::kept_out(turned, body, false, 0.35, {-35, 0, 0.1}, {-25, 0, 0.1}).x == -25.0);
    CHECK(link::kept_out(turned, body, true, 0.35, {-35, 0, 0.5}, {-25, 0, 0.5}).x < -30.0);
    // A low body is raised by no more than it has room for.
    CHECK(link::kept_out(turned, {0.35, 0.8}, true, 0.35, {-35, 0, 1.15}, {-25, 0, 1.15}).x == -25.0);
    // Nowhere to go is no way.
    CHECK(kept(true, {5, 5, 0}, {5, 5, 0}) == glm::dvec3(5, 5, 0));
}
