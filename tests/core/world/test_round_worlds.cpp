#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/random_chart.hpp"

using namespace support;

/// Random charts in worlds as people build them: boxes on a grid of half metres, exactly as high as a step or as a step's half,
/// turned by nothing or by 45 degrees, with ramps and low ceilings. Whatever can coincide does.
namespace {

CourseSpec round_world(RandomChart& dice) {
    CourseSpec spec;
    spec.name = "round";
    spec.boxes.push_back({{-60.0, -60.0, -1.0}, {60.0, 60.0, 0.0}, Degrees{0.0}});
    const auto size = [&] { return dice.one_of({0.5, 1.0, 2.0, 4.0}); };
    for (unsigned left = 4 + dice.below(10); left > 0; --left) {
        const double x = -8.0 + 0.5 * dice.below(32), y = -8.0 + 0.5 * dice.below(32);
        const double wide = size(), deep = size(), high = dice.one_of({0.25, 0.35, 0.5, 1.0, 2.0, 3.0});
        if (x < 1.0 && x + wide > -1.0 && y < 1.0 && y + deep > -1.0) {
            continue;  // where it begins
        }
        if (dice.chance(15)) {
            const double under = dice.one_of({1.0, 1.5, 2.0});
            spec.boxes.push_back({{x, y, under}, {x + wide, y + deep, under + 0.5}, Degrees{0.0}});
        } else {
            spec.boxes.push_back(
                {{x, y, -0.5}, {x + wide, y + deep, high}, Degrees{dice.chance(80) ? 0.0 : 45.0}});
        }
    }
    for (unsigned left = dice.below(3); left > 0; --left) {
        const double x = 2.0 + 0.5 * dice.below(10), y = -6.0 + 0.5 * dice.below(20);
        spec.ramps.push_back(
            {{x, y, 0.0}, {x + dice.one_of({2.0, 4.0}), y, dice.one_of({0.5, 1.0, 2.0})}, 2.0, 0.5});
    }
    return spec;
}

/// Whether two runs have the same events within 1 ms and end within 1 mm.
bool same_run(const survey::Run& a, const survey::Run& b) {
    const auto same = [](const survey::TimedEvent& one, const survey::TimedEvent& other) {
        return one.event.kind == other.event.kind && one.event.subject == other.event.subject &&
               std::fabs(one.at - other.at) <= 1e-3;
    };
    const glm::dvec3 apart = a.runner.position() - b.runner.position();
    return std::equal(a.events.begin(), a.events.end(), b.events.begin(), b.events.end(), same) &&
           std::sqrt(apart.x * apart.x + apart.y * apart.y + apart.z * apart.z) <= 1e-3;
}

}  // namespace

TEST_CASE("in worlds of round numbers most runs of three seconds are one run at every rate", "[long]") {
    int runs = 0, differ = 0;
    for (unsigned seed = 1; seed <= 1200; ++seed) {
        RandomChart dice(seed);
        const ChartSpec spec = dice.chart();
        const DrillSpec drill_spec = dice.drill(spec, 3.0);
        const Chart chart = compile(spec);
        const Drill drill(drill_spec, chart);
        const Course course(round_world(dice));
        const auto run_at = [&](double rate) {
            const survey::Run run =
                survey::run(chart, drill, course, survey::even_ticks(rate, Seconds{3.0}), false);
            double last = 0.0;
            for (const survey::TimedEvent& event : run.events) {
                REQUIRE(event.at >= last - 1e-9);
                last = event.at;
            }
            return run;
        };
        const survey::Run base = run_at(60.0);
        // States that undo each other hop within the gap that is kept to the ground: left out.
        const bool undone = std::any_of(
            base.events.begin(), base.events.end(),
            [](const survey::TimedEvent& event) { return event.event.kind == EventKind::held_back; });
        if (undone) {
            continue;
        }
        ++runs;
        differ +=
            same_run(base, run_at(20.0)) && same_run(base, run_at(37.0)) && same_run(base, run_at(240.0)) ? 0
                                                                                                          : 1;
    }
    CAPTURE(runs, differ);
    CHECK(runs > 600);
    CHECK(differ * 64 <= runs);
}
