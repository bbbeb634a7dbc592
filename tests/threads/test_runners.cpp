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

TEST_CASE("parts of a crowd are moved on by several threads at once, as by one") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    constexpr std::size_t runners = 40, parts = 4;
    Crowd alone(chart), shared(chart);
    std::vector<Intent> intents(runners);
    for (std::size_t i = 0; i < runners; ++i) {
        alone.add(Placement{{0.0, 0.0, 0.0}, static_cast<double>(i)});
        shared.add(alone.runner(i));
    }
    CrowdReport report;
    std::array<CrowdReport, parts> reports;
    for (std::size_t tick = 0; tick < 300; ++tick) {
        for (std::size_t i = 0; i < runners; ++i) {
            intents[i].move = {1.0, 0.0};
            intents[i].held = (tick + i) % 60 < 20 ? 1U : 0U;
            intents[i].look.yaw += i % 2 == 0 ? 0.01 : 0.0;
        }
        advance_all(alone, intents, Seconds{1.0 / 60.0}, report);
        std::vector<std::thread> threads;
        for (std::size_t part = 0; part < parts; ++part) {
            threads.emplace_back([&, part] {
                const std::span<const Intent> own(intents.data() + part * runners / parts, runners / parts);
                advance_part(shared, part * runners / parts, own, Seconds{1.0 / 60.0}, reports[part]);
            });
        }
        for (std::thread& thread : threads) {
            thread.join();
        }
    }
    for (std::size_t i = 0; i < runners; ++i) {
        CHECK(digest(shared.runner(i)) == digest(alone.runner(i)));
    }
}
