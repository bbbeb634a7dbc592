#include <set>

#include "support/random_chart.hpp"
#include "support/worlds.hpp"

using namespace support;

/// A game seen from the side: in a world that is the same all along y, nothing leads a runner out of the plane y = 0.
namespace {

/// Boxes, ramps, a ceiling and a platform in round numbers, 100 m deep.
CourseSpec deep_world(RandomChart& random) {
    CourseSpec course = floor_only();
    double x = 2.0;
    for (int i = 0; i < 8; ++i) {
        const double length = random.one_of({0.5, 1.0, 2.0, 3.0}),
                     height = random.one_of({0.2, 0.35, 0.5, 1.0, 2.0});
        switch (i % 4) {
            case 0:
                course.boxes.push_back({{x, -50.0, 0.0}, {x + length, 50.0, height}, Degrees{0.0}});
                break;
            case 1:
                course.ramps.push_back(
                    {.from = {x, 0.0, 0.0}, .to = {x + length, 0.0, height}, .width = 100.0});
                break;
            case 2:
                course.ceilings.push_back({{x, -50.0, 1.0 + height}, {x + length, 50.0, 1.0 + height}});
                break;
            default:
                course.platforms.push_back({.size = {length, 100.0, 0.3},
                                            .path = {{x, 0.0, height}, {x + 3.0, 0.0, height + 1.0}},
                                            .speed = 1.5});
        }
        x += length + random.one_of({0.0, 0.5, 1.5});
    }
    course.boxes.push_back({{x + 2.0, -50.0, 0.0}, {x + 3.0, 50.0, 6.0}, Degrees{0.0}});
    course.boxes.push_back({{-3.0, -50.0, 0.0}, {-2.0, 50.0, 6.0}, Degrees{0.0}});
    return course;
}

}  // namespace

TEST_CASE("who is steered in a plane of a deep world stays in it to the bit, in every kind of state") {
    std::set<StateKind> kinds;
    int jumped = 0, bumped = 0;
    for (unsigned seed = 1; seed <= 90; ++seed) {
        RandomChart random(seed);
        ChartSpec spec = random.chart();
        spec.zones.clear();
        const Chart chart = compile(spec);
        CourseTerrain terrain(Course(deep_world(random)), chart);
        Runner runner = spawn(chart);
        const double dt = 1.0 / random.one_of({10.0, 37.0, 60.0, 144.0});
        Intent intent;
        intent.facing = Facing::movement;
        double time = 0.0;
        while (time < 8.0) {
            if (random.chance(15)) {
                intent.move.forward = random.one_of({-1.0, -0.5, 0.0, 1.0, 1.0});
                intent.look.pitch = random.one_of({-0.5, 0.0, 0.3});
                intent.held = static_cast<std::uint32_t>(random.one_of({0, 1, 2, 3, 5, 6, 4}));
            }
            if (random.chance(2)) {
                push(runner, {.direction = {random.one_of({-1.0, 1.0}), 0.0, 0.0},
                              .strength = 5.0,
                              .lift = random.one_of({0.0, 0.5}),
                              .seconds = 0.3});
            }
            terrain.set_time(time);
            const Report report = advance(chart, runner, intent, terrain, Seconds{dt});
            time += dt;
            for (const Event& event : report.events()) {
                jumped += event.kind == EventKind::jumped ? 1 : 0;
                bumped += event.kind == EventKind::bumped ? 1 : 0;
            }
            kinds.insert(chart.kind(runner.state()));
            INFO("seed " << seed << ", at " << time << " s, in " << chart.name(runner.state()));
            REQUIRE(runner.position().y == 0.0);
            REQUIRE(runner.velocity().y == 0.0);
        }
    }
    CHECK(kinds.size() >= 5);
    CHECK(jumped > 50);
    CHECK(bumped > 100);
}
