#include <array>
#include <catch2/catch.hpp>
#include <thread>

#include "support/worlds.hpp"

using namespace support;

namespace {

/// Four runners on as many threads, all doing the same, as one alone does.
template <class Run>
void as_alone(const Runner& start, const Run& run) {
    Runner alone = start;
    run(alone);
    std::array<Runner, 4> crowd{start, start, start, start};
    std::vector<std::thread> threads;
    for (Runner& runner : crowd) {
        threads.emplace_back([&run, &runner] { run(runner); });
    }
    for (std::thread& thread : threads) {
        thread.join();
    }
    for (const Runner& runner : crowd) {
        CHECK(digest(runner) == digest(alone));
    }
}

}  // namespace

TEST_CASE("one chart serves runners on several threads at once, each as if alone") {
    const Chart chart = compile(bearer(ease(0.1, 0.2, 0.3)));
    as_alone(spawn(chart), [&chart](Runner& runner) {
        for (int i = 0; i < 3000; ++i) {
            static_cast<void>(tick(chart, runner, {1.0, 0.001 * (i % 500)}, {ActionId{0}}, 0.01, 0.002 * i));
        }
    });
}

TEST_CASE("one course serves runners on several threads at once") {
    CourseSpec spec = floor_only();
    spec.boxes.push_back({{5.0, -5.0, 0.0}, {10.0, 5.0, 0.3}, Degrees{0.0}});
    spec.ramps.push_back({{12.0, 0.0, 0.0}, {20.0, 0.0, 3.0}, 6.0});
    const Course course(spec);
    const Chart chart = compile(leaper());
    const CourseTerrain terrain(course, chart);
    as_alone(spawn(chart, {{0.0, 0.0, 0.0}, 0.0}), [&](Runner& runner) {
        Intent intent;
        intent.move = {1.0, 0.0};
        for (int i = 0; i < 600; ++i) {
            intent.held = i % 50 < 25 ? 1U : 0U;
            static_cast<void>(advance(chart, runner, intent, terrain, Seconds{1.0 / 60.0}));
        }
        CHECK(runner.position().x > 15.0);
    });
}
