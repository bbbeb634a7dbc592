#include <catch2/catch.hpp>
#include <cmath>
#include <cursimeter/saved_runner.hpp>

#include "support/deeds.hpp"
#include "support/random_chart.hpp"
#include "support/restless_hands.hpp"
#include "support/share.hpp"
#include "support/worlds.hpp"
#include "survey/numbers_at_limits.hpp"

using namespace support;

/// Whatever number a key allows, however far from sense, every quantity of a runner stays a number, and what was saved can be read again.
namespace {

CourseSpec obstacles() {
    CourseSpec spec = floor_only();
    spec.boxes.push_back({{2.0, -3.0, 0.0}, {6.0, 3.0, 0.3}, Degrees{20.0}});
    spec.boxes.push_back({{-8.0, -3.0, 0.0}, {-6.0, 3.0, 3.0}, Degrees{0.0}});
    spec.walls.push_back({{-10.0, 4.0, 0.0}, {20.0, 4.0, 0.0}, 5.0, 0.3});
    return spec;
}

void must_be_numbers(const Chart& chart, const Runner& runner, const Report& report) {
    const glm::dvec3 at = runner.position(), velocity = runner.velocity(), moved = report.displacement;
    REQUIRE(std::isfinite(at.x + at.y + at.z + velocity.x + velocity.y + velocity.z));
    REQUIRE(std::isfinite(runner.speed() + runner.distance() + moved.x + moved.y + moved.z));
    for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
        const double level = read_meter(chart, runner, MeterId{i}).level;
        REQUIRE((level >= 0.0 && level <= chart.capacity(MeterId{i})));
    }
    for (const Event& event : report.events()) {
        REQUIRE(std::isfinite(event.at + event.value));
    }
}

}  // namespace

TEST_CASE("with any number that a key allows a runner's quantities are numbers") {
    const Course course(obstacles());
    for (unsigned seed = 1; seed <= share_of(120); ++seed) {
        const Chart chart = compile(at_limits(RandomChart(seed).chart(), Limits::any, seed));
        const CourseTerrain terrain(course, chart);
        const double some_rates[] = {10.0, 30.0, 60.0, 240.0};
        const Seconds dt{1.0 / some_rates[seed % 4]};
        for (const bool in_world : {false, true}) {
            CAPTURE(seed, in_world);
            Runner runner = spawn(chart);
            RestlessHands hands(chart, seed);
            Deeds deeds(seed);
            for (int tick = 1; tick <= 400; ++tick) {
                deeds.perhaps(chart, runner, dt);
                const Intent intent = hands.next(dt.value);
                must_be_numbers(chart, runner,
                                in_world ? advance(chart, runner, intent, terrain, dt)
                                         : advance(chart, runner, intent, dt));
                if (tick % 100 == 0) {
                    const RestoredRunner restored = restore_runner(chart, save_runner(chart, runner));
                    REQUIRE(restored.exact);
                    REQUIRE(digest(restored.runner) == digest(runner));
                }
            }
        }
    }
}
